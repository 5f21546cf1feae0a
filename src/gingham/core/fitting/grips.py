"""The grip of every chord of a piece: chosen for the hand, then anew where a pluck meets a muted string.

The first choice knows nothing of patterns, so that an edit of a pattern changes only the chords that cannot
be plucked as they are held, and nothing flickers while a player types.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from fractions import Fraction
from functools import lru_cache
from math import ceil

import msgspec

from gingham.core.fitting.assign import Setting, assign
from gingham.core.fitting.held import Held
from gingham.core.fitting.placing import Stretch
from gingham.core.fitting.strokes import Carry, Known, play
from gingham.core.fitting.thumb import bass_one
from gingham.core.patterns.pattern import Pattern, Pluck, Sweep
from gingham.core.pieces.chordline import Span
from gingham.core.pieces.piece import Piece
from gingham.core.shapes.context import Grip, Key, Wish, change_cost, grips_for, ways_to_hold
from gingham.core.shapes.search import shapes_for
from gingham.core.shapes.shape import Shape, misfit

_LOOKED_AT = 24  # shapes of a chord that are tried for a pattern
_GOOD_ENOUGH = (
    3  # so many that can be plucked as they are: the easiest of them between its neighbours is taken
)
_LOST_ROOT = 1  # weighs as one silenced pluck
_BETWEEN = 0.55  # what a change weighs against the effort of a shape, as in shapes.context


class Use(msgspec.Struct, frozen=True, gc=False):
    """A pattern that is played on a chord, with the rules that hold there."""

    pattern: Pattern
    setting: Setting


def wish_of(piece: Piece, span: Span) -> Wish | None:
    """What the player wants held on a span; None for silence.

    A pinned shape is kept even if no hand can hold it, but not if the instrument has no such places.
    """
    if span.chord is None:
        return None
    if span.shape is None or misfit(span.shape, piece.instrument, piece.capo) is not None:
        return Wish(span.chord)
    return Wish(span.chord, span.shape, span.fingers)


def first_grips(piece: Piece, sections: Iterable[Sequence[Span]]) -> dict[Key, Grip | None]:
    """The grips of all sections, whatever is plucked: together, or each chord for itself."""
    progressions = [
        [wish for span in spans if (wish := wish_of(piece, span)) is not None] for spans in sections
    ]
    if piece.rules.shapes == "alone":
        progressions = [[wish] for progression in progressions for wish in progression]
    return _agreeing(grips_for(progressions, piece.instrument, piece.capo))


def _agreeing(grips: dict[Key, Grip | None]) -> dict[Key, Grip | None]:
    """One fingering for one symbol in one shape: the player's where there is one, else the first chosen."""
    known: dict[tuple[str, object], Grip] = {}
    for (symbol, _shape, fingers), grip in sorted(grips.items(), key=lambda item: item[0][2] is None):
        if grip is not None and (fingers is not None or (symbol, grip.shape) not in known):
            known.setdefault((symbol, grip.shape), grip)
    return {
        key: grip if grip is None or key[2] is not None else known[key[0], grip.shape]
        for key, grip in grips.items()
    }


def faults(wish: Wish, grip: Grip, use: Use) -> int:
    """How many plucks of the pattern meet a muted string, and whether the thumb loses the root."""
    lost = _LOST_ROOT * _loses_root(wish, grip, use.setting) if _has_thumb(use.pattern) else 0
    if plainly_plucked(grip, use):
        return lost
    setting = use.setting
    assignment, played = assign(wish.chord, grip, use.pattern, setting)
    bar, carry, muted = played.meter.bar, Carry(), 0
    for number in range(ceil(played.length / bar)):
        length = min(bar, played.length - number * bar)
        stretch = Stretch(Fraction(0), length, number * bar, not number, True)
        fitted = play(played, stretch, assignment, setting.instrument, setting.capo, carry, Known())
        muted += sum(problem.code == "muted-string" for problem in fitted.problems)
        carry = fitted.carry
    return muted + lost


def _has_thumb(pattern: Pattern) -> bool:
    return any(isinstance(stroke, Pluck) and stroke.finger == "p" for _, stroke in pattern.strokes())


@lru_cache(maxsize=4096)
def _loses_root(wish: Wish, grip: Grip, setting: Setting) -> bool:
    """Whether the first bass sounds neither the root nor the slash bass, though the rule asks for it."""
    instrument = setting.instrument
    if setting.rules.first.kind != "root" or instrument.strings <= 4:
        return False
    string = bass_one(Held(wish.chord, grip.shape, instrument, setting.capo), setting.rules).string
    midi = grip.shape.midi(string, instrument)
    return midi is not None and midi % 12 != wish.chord.bass_note.pitch_class


def plainly_plucked(grip: Grip, use: Use) -> bool:
    """Whether it can be seen at a glance that no pluck meets a muted string: all of them are the thumb's own.

    False says only that one has to look.
    """
    rules = use.setting.rules
    if rules.fingers.kind not in ("home", "shift") or rules.thumb.kind == "named" or use.setting.overrides:
        return False
    reach = use.setting.instrument.strings // 2
    for _index, stroke in use.pattern.strokes():
        if isinstance(stroke, Pluck) and not stroke.strings and (stroke.finger != "p" or not stroke.shift):
            reach = max(reach, use.setting.instrument.strings // 2 + stroke.shift)
        elif not isinstance(stroke, Sweep):
            return False
    count = len(grip.shape.frets)
    return all(fret is not None or count - index > reach for index, fret in enumerate(grip.shape.frets))


def tried(wish: Wish, piece: Piece) -> list[tuple[Grip, float]]:
    """Other ways to hold a chord with their effort, the easiest first."""
    out = []
    for ranked in shapes_for(wish.chord, piece.instrument, piece.capo, _LOOKED_AT):
        for way in ways_to_hold(ranked.shape, None):
            out.append((Grip(ranked.shape, way), ranked.effort - ranked.fretting.cost + way.cost))
    return out


def held_anew(
    wish: Wish, now: Grip, uses: Sequence[Use], near: Sequence[Grip], others: Sequence[tuple[Grip, float]]
) -> Grip:
    """A grip with fewer faults than `now`, the easiest between its neighbours; `now` if there is none."""
    best: list[tuple[Grip, float]] = []
    least = sum(faults(wish, now, use) for use in uses)
    known: dict[Shape, int] = {}
    for grip, effort in others:
        if grip.shape not in known:
            if sum(not found for found in known.values()) >= _GOOD_ENOUGH:
                break
            known[grip.shape] = sum(faults(wish, grip, use) for use in uses)
        found = known[grip.shape]
        if found < least:
            best, least = [], found
        if found == least:
            best.append((grip, effort))
    if known and least == sum(faults(wish, now, use) for use in uses):
        return now
    return min(best, key=lambda each: each[1] + _between(each[0], near))[0]


def _between(grip: Grip, near: Sequence[Grip]) -> float:
    """The mean of the changes from and to the neighbours."""
    if not near:
        return 0.0
    return _BETWEEN * sum(change_cost(other, grip) + change_cost(grip, other) for other in near) / len(near)
