"""Neighbours of a pattern: one thing changed, the thumb kept unless the change is the thumb's."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import suppress

import msgspec

from gingham.core.errors import EditError
from gingham.core.music.meter import count_at
from gingham.core.patterns.grid import fingers_in, halves_swapped, regridded, stroke_of
from gingham.core.patterns.pattern import Pattern, Pluck, Slot, changed, order
from gingham.core.reasons import Reason, Value
from gingham.core.values import replace


class Variation(msgspec.Struct, frozen=True, gc=False):
    """A neighbour of a pattern and what was changed."""

    reason: Reason
    pattern: Pattern


def neighbours(pattern: Pattern, hand: str = "pima") -> tuple[Variation, ...]:
    """All neighbours that a hand of these fingers can play, each once, the pattern not among them."""
    known: dict[tuple[Slot, ...], Variation] = {}
    makers = (_outer, _pinches, _left_out, _filled, _swaps, _denser, _sparser)
    for make in makers:
        for variation in make(pattern, hand):
            if variation.pattern != pattern:
                known.setdefault((variation.pattern.slots), variation)
    return tuple(known.values())


def _of(code: str, pattern: Pattern, **values: Value) -> Variation:
    return Variation(Reason.of(code, **values), pattern)


def _on_beats(pattern: Pattern) -> set[int]:
    """Places at which a counted beat begins."""
    meter = pattern.meter
    beats = set(meter.beat_starts)
    return {i for i, at in enumerate(pattern.starts[:-1]) if at % meter.bar in beats}


def _count(pattern: Pattern, index: int) -> str:
    return count_at(pattern.meter, pattern.starts[index] % pattern.meter.bar)


def _outer(pattern: Pattern, hand: str) -> Iterator[Variation]:
    """The highest finger on the outer string: always, by turns, or only the last time."""
    used = [f for f in fingers_in(pattern) if f != "p"]
    if not used:
        return
    finger = used[-1]
    at = [i for i in range(len(pattern.slots)) if (s := stroke_of(pattern, i, finger)) and not s.strings]
    for code, chosen in (("var-outer", at), ("var-outer-turns", at[1::2]), ("var-outer-last", at[-1:])):
        moved = pattern
        for index in chosen:
            stroke = stroke_of(moved, index, finger)
            if stroke is not None and stroke.shift > -2:
                moved = changed(moved, index, finger, replace(stroke, shift=stroke.shift - 1))
        yield _of(code, moved, finger=finger)


def _pinches(pattern: Pattern, hand: str) -> Iterator[Variation]:
    """The middle finger (the index where there is none) joins the thumb on a beat, on each, or the first."""
    finger = "m" if "m" in hand else "i"
    free = [i for i in sorted(_on_beats(pattern)) if _thumb_alone(pattern.slots[i])]
    for index in free:
        added = pattern.with_slot(index, order((*pattern.slots[index], Pluck(finger))))
        yield _of("var-pinch", added, finger=finger, count=_count(pattern, index))
    if len(free) > 1:
        every = pattern
        for index in free:
            every = every.with_slot(index, order((*every.slots[index], Pluck(finger))))
        yield _of("var-pinch-every", every, finger=finger)


def _thumb_alone(slot: Slot) -> bool:
    return len(slot) == 1 and isinstance(slot[0], Pluck) and slot[0].finger == "p"


def _left_out(pattern: Pattern, hand: str) -> Iterator[Variation]:
    """One finger's pluck less; the thumb stays."""
    for index, slot in enumerate(pattern.slots):
        for stroke in slot:
            if isinstance(stroke, Pluck) and stroke.finger != "p":
                rest = tuple(s for s in slot if s is not stroke)
                values: dict[str, Value] = {"finger": stroke.finger, "count": _count(pattern, index)}
                yield _of("var-left-out", pattern.with_slot(index, rest), **values)


def _filled(pattern: Pattern, hand: str) -> Iterator[Variation]:
    """Rests filled with the finger that has rested longest."""
    rests = [i for i, slot in enumerate(pattern.slots) if not slot]
    fingers = [f for f in hand if f in "ima"][:2]
    if not fingers:
        return
    full = pattern
    for index in rests:
        one = pattern.with_slot(index, (Pluck(_rested(pattern, index, fingers)),))
        yield _of("var-filled", one, count=_count(pattern, index))
        full = full.with_slot(index, (Pluck(_rested(full, index, fingers)),))
    if len(rests) > 1:
        yield _of("var-filled-all", full)


def _rested(pattern: Pattern, index: int, fingers: list[str]) -> str:
    """The finger whose last pluck before `index` (and next after it) is furthest away."""
    count = len(pattern.slots)

    def away(finger: str) -> int:
        plucked = [i for i in range(count) if stroke_of(pattern, i, finger)]
        return min((min((index - i) % count, (i - index) % count) for i in plucked), default=count)

    return max(fingers, key=away)


def _swaps(pattern: Pattern, hand: str) -> Iterator[Variation]:
    """The halves swapped, and index and middle changing places (the inner pair first)."""
    with suppress(EditError):
        yield _of("var-halves", halves_swapped(pattern))
    names = {"i": "m", "m": "i"}
    slots = tuple(
        order(
            tuple(
                replace(s, finger=names.get(s.finger, s.finger)) if isinstance(s, Pluck) else s for s in slot
            )
        )
        for slot in pattern.slots
    )
    yield _of("var-inside-out", replace(pattern, slots=slots))


def _denser(pattern: Pattern, hand: str) -> Iterator[Variation]:
    """Twice as many places, the new ones filled by fingers."""
    finer = {1: 2, 2: 4, 3: 6}
    if any(count not in finer for count in pattern.per_beat):
        return
    wide = regridded(replace(pattern, variants=()), tuple(finer[count] for count in pattern.per_beat)).pattern
    fingers = [f for f in hand if f in "ima"][:2]
    for index in range(1, len(wide.slots), 2):
        if fingers and not wide.slots[index] and (wide.slots[index - 1] or index % 4 == 3):
            wide = wide.with_slot(index, (Pluck(_rested(wide, index, fingers)),))
    yield _of("var-denser", wide)


def _sparser(pattern: Pattern, hand: str) -> Iterator[Variation]:
    """Only what falls on counted beats; the thumb on every other beat; the thumb once a bar."""
    beats = sorted(_on_beats(pattern))
    on_beats = tuple(slot if i in beats else () for i, slot in enumerate(pattern.slots))
    yield _of("var-beats-only", replace(pattern, slots=on_beats))
    for code, keeps in (("var-thumb-half", set(beats[::2])), ("var-thumb-once", set(beats[:1]))):
        slots = tuple(
            slot if i in keeps else tuple(s for s in slot if not (isinstance(s, Pluck) and s.finger == "p"))
            for i, slot in enumerate(pattern.slots)
        )
        yield _of(code, replace(pattern, slots=slots))
