"""The piece as it is played from beginning to end: its sections in the order of a form, and its ending."""

from __future__ import annotations

from fractions import Fraction

import msgspec

from gingham.core.fitting.cache import FitCache
from gingham.core.fitting.fingers import finger_strings
from gingham.core.fitting.fit import fit
from gingham.core.fitting.result import Assignment, Result
from gingham.core.patterns.pattern import Pattern, Pluck, Slot, Sweep
from gingham.core.pieces.chordline import ChordLine, ChordPlace
from gingham.core.pieces.piece import NamedPattern, Piece, Section
from gingham.core.pieces.rules import OwnRules
from gingham.core.values import replace

ENDING = "Ending"
_FADING_TIMES = 2


class Performance(msgspec.Struct, frozen=True, gc=False):
    """Fitted sections in the order in which they are played, each `times` times in a row.

    The ending is a section of its own behind the piece's. `fading` tells that the last turn gets softer and
    softer, `looping` that the form goes round.
    """

    results: tuple[Result, ...]
    times: tuple[int, ...]
    fading: bool = False
    looping: bool = False

    def loudness(self, turn: int, round: int) -> float:
        """The share of its loudness that a round of a turn (both from 0) has: less and less in a fade."""
        if not self.fading or turn != len(self.results) - 1:
            return 1.0
        return 1.0 - round / self.times[turn]

    @property
    def length(self) -> Fraction:
        """How long it all is (whole notes)."""
        return sum(
            (bar.length * times for r, times in zip(self.results, self.times, strict=True) for bar in r.bars),
            Fraction(0),
        )

    @property
    def bars(self) -> int:
        """The number of bars from beginning to end, pick-ups left out."""
        return sum(
            times * sum(bar.number > 0 for bar in r.bars)
            for r, times in zip(self.results, self.times, strict=True)
        )


def perform(piece: Piece, *, practice: bool = False, cache: FitCache | None = None) -> Performance:
    """The practice form of a piece, or the one of a performance, with sections that have chords."""
    shared = cache if cache is not None else FitCache()
    fitted: dict[str, Result] = {}
    results: list[Result] = []
    times: list[int] = []
    for turn in piece.turns(practice):
        if turn.section not in fitted:
            fitted[turn.section] = fit(piece, piece.section_index(turn.section), shared)
        if fitted[turn.section].bars:
            results.append(fitted[turn.section])
            times.append(turn.times)
    kind = piece.form(practice).ending
    if kind == "fade" and results:
        times[-1] += _FADING_TIMES
    last = _last_chord(results[-1]) if results else None
    if last is not None and kind in _ENDINGS:
        results.append(_ending(results[-1].piece, last, kind, shared))
        times.append(1)
    return Performance(tuple(results), tuple(times), kind == "fade", kind == "loop")


def _last_chord(result: Result) -> Assignment | None:
    return next((s.assignment for s in reversed(result.spans) if s.assignment is not None), None)


def _ending(piece: Piece, assignment: Assignment, kind: str, cache: FitCache) -> Result:
    """One bar on the last chord, fitted like any other."""
    slots = _ENDINGS[kind](assignment, _own_strings(piece, assignment))
    groups = piece.meter.groups  # in n/8 each eighth is a place, else two to a beat
    per_beat = groups if piece.meter.unit == 8 else (2,) * len(groups)
    pattern = Pattern(piece.meter, per_beat if len(set(per_beat)) > 1 else per_beat[:1], ())
    count = sum(per_beat)
    filled = (*slots[:count], *(() for _ in range(count - len(slots))))
    named = NamedPattern(ENDING, replace(pattern, slots=filled))
    line = ChordLine(((ChordPlace(assignment.chord.text, assignment.shape),),))
    ended = replace(
        piece,
        sections=(*piece.sections, Section(ENDING, line, ENDING, own=OwnRules(assignment.plan))),
        patterns=(*(p for p in piece.patterns if p.name != ENDING), named),
    )
    return fit(ended, len(piece.sections), cache)


def _own_strings(piece: Piece, assignment: Assignment) -> list[str]:
    """The fingers in use whose string sounds and that no other one, nor the thumb, has already."""
    taken = {assignment.basses[0].string} if assignment.basses else set()
    out = []
    first = assignment.basses[0].string if assignment.basses else piece.instrument.strings
    chosen = {name: choice for name, choice in assignment.fingers if choice.overridden}
    homes = finger_strings(  # an ending has one bass, so nobody moves over
        piece.instrument, assignment.plan, piece.rules.fingers, first, None, three=True
    )
    for name, usual in homes:
        choice = chosen.get(name, usual)
        if (
            name in piece.rules.hand
            and choice.string not in taken
            and assignment.fret(choice.string) is not None
        ):
            taken.add(choice.string)
            out.append(name)
    return out


def _ring(_on: Assignment, _fingers: list[str]) -> tuple[Slot, ...]:
    return ((Pluck("p", lane=1),),)


def _pinch(_on: Assignment, fingers: list[str]) -> tuple[Slot, ...]:
    return ((Pluck("p", lane=1), *(Pluck(finger) for finger in fingers)),)


def _roll(_on: Assignment, fingers: list[str]) -> tuple[Slot, ...]:
    return ((Pluck("p", lane=1),), *((Pluck(finger),) for finger in fingers))


def _brush(assignment: Assignment, _fingers: list[str]) -> tuple[Slot, ...]:
    return ((Sweep("thumb-brush", (assignment.basses[0].string, 1) if assignment.basses else None),),)


_ENDINGS = {"ring": _ring, "pinch": _pinch, "roll": _roll, "brush": _brush}
