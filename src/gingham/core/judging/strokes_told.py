"""How busy each finger is, which beats it stresses, and the silent strings that the thumb passes over."""

from __future__ import annotations

from itertools import pairwise

import msgspec

from gingham.core.errors import GinghamError
from gingham.core.fitting.fit import fit
from gingham.core.fitting.result import Result
from gingham.core.judging.speed import hand_limit
from gingham.core.music.meter import count_at, seconds
from gingham.core.patterns.pattern import FINGERS, Pluck, Stroke, Sweep
from gingham.core.pieces.edits import choose_pattern
from gingham.core.pieces.piece import NamedPattern
from gingham.core.values import replace

FOLLOWS = {"follow-i": "i", "follow-m": "m", "follow-a": "a"}
"""The profiles of accents in which one finger follows through."""


def plucks_a_second(result: Result) -> dict[str, float]:
    """How often each finger plucks in a second at the piece's tempo; a flat pick is `pick`."""
    piece = result.piece
    lasts_s = seconds(result.length(), piece.meter, piece.tempo)
    counts: dict[str, int] = {}
    for bar in result.bars:
        for event in bar.events:
            if event.plucked and not event.silent and event.finger:
                who = "pick" if event.pick else event.finger
                counts[who] = counts.get(who, 0) + 1
    names = (*FINGERS, "pick")
    return {name: counts[name] / lasts_s for name in names if name in counts} if lasts_s else {}


def stressed(result: Result) -> dict[str, tuple[str, ...]]:
    """Where each finger is louder, as it is counted: by written accents, and because it follows through."""
    pattern, meter = result.pattern, result.piece.meter
    follows = FOLLOWS.get(result.piece.sections[result.section].own.over(result.piece.rules).accents)
    out: dict[str, list[str]] = {}
    for slot, at in zip(pattern.slots, pattern.starts, strict=False):
        for stroke in slot:
            if isinstance(stroke, Pluck) and (stroke.accent or stroke.finger == follows):
                out.setdefault(stroke.finger, []).append(count_at(meter, at % meter.bar))
    return {finger: tuple(counts) for finger, counts in out.items()}


def passed_over(result: Result, index: int) -> tuple[int, ...]:
    """The silent strings of a chord that the thumb crosses on its way from one pluck to the next."""
    on = result.spans[index].assignment
    if on is None:
        return ()
    strings = [e.string for e in result.events_on(index) if e.finger == "p" and e.plucked]
    between = {s for one, other in pairwise(strings) for s in range(min(one, other) + 1, max(one, other))}
    return tuple(string for string in sorted(between, reverse=True) if on.fret(string) is None)


def swept_on(result: Result, index: int) -> bool:
    """Whether a brush or a chuck on the chord takes the fingers off their strings."""
    sweeps = ("chuck", "brush-down", "brush-up")
    return any(event.kind in sweeps for event in result.events_on(index))


class BrushCost(msgspec.Struct, frozen=True, gc=False):
    """The comfortable top speed as it is, and if the thumb made the brushes, in beats a minute."""

    fingers: int
    thumb: int


def thumb_brush_cost(result: Result) -> BrushCost | None:
    """What it costs if the thumb brushes in place of the fingers; None where no finger brushes downwards.

    The thumb has to come back from string 1 to its next bass. Fits once.
    """
    pattern = result.pattern
    slots = tuple(tuple(map(_by_thumb, slot)) for slot in pattern.slots)
    if slots == pattern.slots:
        return None
    level = result.piece.rules.level
    named = NamedPattern("by the thumb", replace(pattern, slots=slots))
    try:
        other = fit(choose_pattern(result.piece, result.section, named), result.section)
    except GinghamError:
        return None
    return BrushCost(hand_limit(result, level).tempo, hand_limit(other, level).tempo)


def _by_thumb(stroke: Stroke) -> Stroke:
    if isinstance(stroke, Sweep) and stroke.kind == "brush-down":
        return replace(stroke, kind="thumb-brush")
    return stroke
