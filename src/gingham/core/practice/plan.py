"""The stages of a whole piece in the player's order of learning, what a teacher has put into it first."""

from __future__ import annotations

import msgspec

from gingham.core.errors import GinghamError
from gingham.core.fitting.cache import FitCache
from gingham.core.fitting.fit import fit
from gingham.core.fitting.result import Result
from gingham.core.pieces.piece import Piece
from gingham.core.practice.making import Maker, by_turns, neighbours, seam_stage, sections_stages
from gingham.core.practice.orders import Learning
from gingham.core.practice.stages import Stage

USUAL = Learning()


class Planned(msgspec.Struct, frozen=True):
    """The stages of a piece, and every section as it is fitted."""

    piece: Piece
    learning: Learning
    stages: tuple[Stage, ...]
    results: dict[int, Result]

    def stage(self, id: str) -> Stage | None:
        """The stage of an id; None if the piece has it no more."""
        return next((stage for stage in self.stages if stage.id == id), None)


def plan(result: Result, learning: Learning = USUAL) -> tuple[Stage, ...]:
    """The stages for one fitted section; none if it has no chord that sounds."""
    maker = sections_stages(result, learning)
    return tuple(_ordered([maker], {}, learning)) if maker is not None else ()


def plan_piece(piece: Piece, learning: Learning = USUAL, cache: FitCache | None = None) -> Planned:
    """The stages of every section that has chords.

    `picking` has the picking hand of all sections first, then chords, changes, and everything; `chords` the
    chords and changes first, under the thumb alone; `mixed` both by turns, and `sections` one section after
    the other. Who sings from the start has the words as soon as the picking hand goes.
    """
    kept, results = cache if cache is not None else FitCache(), dict[int, Result]()
    for index, section in enumerate(piece.sections):
        if section.chords.bars:
            try:
                results[index] = fit(piece, index, kept)
            except GinghamError:
                continue  # Build says what is wrong with it
    played = [piece.section_index(turn.section) for turn in piece.turns(False)]
    following = neighbours(played)
    makers, seams = list[Maker](), dict[int, Stage]()
    for index in dict.fromkeys((*played, *results)):
        maker = sections_stages(results[index], learning) if index in results else None
        if maker is None:
            continue
        makers.append(maker)
        after = following.get(index)
        seam = seam_stage(results[index], results[after]) if after is not None and after in results else None
        if seam is not None:
            seams[index] = seam
    return Planned(piece, learning, tuple(_ordered(makers, seams, learning)), results)


def _ordered(makers: list[Maker], seams: dict[int, Stage], learning: Learning) -> list[Stage]:
    """The stages in order, the voice at the end, or its words behind the first section's picking hand."""
    voice = [stage for maker in makers[:1] for stage in maker.voice()]
    stages = _of_the_hands(makers, seams, learning.order)
    if learning.sing == "hum":
        return [*stages, *voice]
    hand = [
        i
        for i, stage in enumerate(stages)
        if stage.group == "hand" and stage.section == makers[0].result.section
    ]
    behind = hand[-1] + 1 if hand else len(stages)
    words = [stage for stage in voice if stage.kind == "words"]
    aloud = [stage for stage in voice if stage.kind == "aloud"]
    return [*stages[:behind], *words, *stages[behind:], *aloud]


def _of_the_hands(makers: list[Maker], seams: dict[int, Stage], order: str) -> list[Stage]:
    """Stages group by group or section by section; a pattern's layers are learned once."""
    hands = {id(maker): maker.hand() for maker in _with_new_hands(makers)}

    def rest(maker: Maker) -> list[Stage]:
        seam = seams.get(maker.result.section)
        return [*maker.own_bars(), maker.whole(), *([seam] if seam is not None else [])]

    written = [stage for maker in makers for stage in maker.written()]
    if order == "sections":
        per = [[*hands.get(id(m), ()), *m.chords(), *m.drills(), *rest(m)] for m in makers]
        return [*written, *(stage for each in per for stage in each)]
    if order == "mixed":
        turns = [[*by_turns(hands.get(id(m), ()), m.drills()), *m.chords(), *rest(m)] for m in makers]
        return [*written, *(stage for each in turns for stage in each)]
    hand = [stage for maker in makers for stage in hands.get(id(maker), ())]
    chords = [stage for maker in makers for stage in maker.chords()]
    drills = [stage for maker in makers for stage in maker.drills()]
    ends = [stage for maker in makers for stage in rest(maker)]
    if order == "chords":
        thumbs = [maker.thumb_all() for maker in makers]
        return [*written, *chords, *drills, *thumbs, *hand, *ends]
    return [*written, *hand, *chords, *drills, *ends]


def _with_new_hands(makers: list[Maker]) -> list[Maker]:
    """The sections whose pattern the hand has not learned in one before."""
    known, out = set[object](), list[Maker]()
    for maker in makers:
        if maker.result.pattern not in known:
            known.add(maker.result.pattern)
            out.append(maker)
    return out
