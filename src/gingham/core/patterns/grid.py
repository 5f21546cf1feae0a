"""Edits of a pattern's grid: ranges of places, halves, rotation, other places per beat. Pure functions.

Edits of what is played keep the number of places; those that insert, delete or regrid do the same to every
variant, so that a pattern and its variants always agree.
"""

from __future__ import annotations

from collections.abc import Callable
from fractions import Fraction

import msgspec

from gingham.core.errors import EditError
from gingham.core.music.meter import Meter, slot_lengths
from gingham.core.patterns.pattern import (
    FINGERS,
    Ornament,
    OrnamentKind,
    Pattern,
    Pluck,
    Slot,
    Sweep,
    SweepKind,
    Variant,
    changed,
    order,
)
from gingham.core.values import replace

MOST_SLOTS = 512

Slots = tuple[Slot, ...]


class Regrid(msgspec.Struct, frozen=True, gc=False):
    """A pattern on another grid: `moved` are old places that had to move, `merged` those that met others."""

    pattern: Pattern
    moved: tuple[int, ...]
    merged: tuple[int, ...]


def _each(pattern: Pattern, change: Callable[[Slots], Slots]) -> Pattern:
    """The same change of places for the pattern and all its variants."""
    variants = tuple(Variant(v.when, change(v.slots)) for v in pattern.variants)
    return replace(pattern, slots=change(pattern.slots), variants=variants)


def rotated(pattern: Pattern, by: int) -> Pattern:
    """Everything `by` places later, what runs over the end at the start; break points stay where they are."""
    by %= len(pattern.slots)
    return pattern if by == 0 else replace(pattern, slots=pattern.slots[-by:] + pattern.slots[:-by])


def turned_round(pattern: Pattern, start: int, end: int) -> Pattern:
    """The places `start` to `end` (end exclusive) in reverse order."""
    middle = tuple(reversed(pattern.slots[start:end]))
    return replace(pattern, slots=pattern.slots[:start] + middle + pattern.slots[end:])


def pasted(pattern: Pattern, index: int, slots: Slots) -> Pattern:
    """`slots` over the places from `index` on; what does not fit before the end is left off."""
    room = slots[: len(pattern.slots) - index]
    return replace(pattern, slots=pattern.slots[:index] + room + pattern.slots[index + len(room) :])


def cleared(pattern: Pattern, start: int, end: int) -> Pattern:
    """Rests in the places `start` to `end` (end exclusive)."""
    return pasted(pattern, start, ((),) * (end - start))


def first_half_again(pattern: Pattern) -> Pattern:
    """The second half plays what the first half plays; EditError if there are no two equal halves."""
    return pasted(pattern, half_of(pattern), pattern.slots[: half_of(pattern)])


def halves_swapped(pattern: Pattern) -> Pattern:
    """The second half first; EditError if there are no two equal halves."""
    return rotated(pattern, half_of(pattern))


def half_of(pattern: Pattern) -> int:
    """The place at which the second half begins; EditError if no place begins in the middle."""
    middle = pattern.length / 2
    if middle not in pattern.starts:
        raise EditError("no-half")
    index = pattern.starts.index(middle)
    if index * 2 != len(pattern.slots):
        raise EditError("no-half")
    return index


def with_inserted(pattern: Pattern, index: int, count: int = 1) -> Pattern:
    """`count` rests before place `index`; everything after it comes later, the pattern gets longer."""
    if len(pattern.slots) + count > MOST_SLOTS:
        raise EditError("pattern-full", most=MOST_SLOTS)
    rests: Slots = ((),) * count
    longer = _each(pattern, lambda slots: slots[:index] + rests + slots[index:])
    return replace(longer, breaks=tuple(b + count if b > index else b for b in pattern.breaks))


def with_deleted(pattern: Pattern, start: int, end: int) -> Pattern:
    """Without the places `start` to `end` (end exclusive); EditError if none would be left."""
    if end - start >= len(pattern.slots):
        raise EditError("pattern-bare")
    shorter = _each(pattern, lambda slots: slots[:start] + slots[end:])
    moved = (b if b <= start else max(start, b - (end - start)) for b in pattern.breaks)
    breaks = tuple(sorted({b for b in moved if 0 < b < len(shorter.slots)}))
    return replace(shorter, breaks=breaks)


def twice(pattern: Pattern) -> Pattern:
    """The pattern two times over, as one pattern twice as long."""
    count = len(pattern.slots)
    if 2 * count > MOST_SLOTS:
        raise EditError("pattern-full", most=MOST_SLOTS)
    doubled = _each(pattern, lambda slots: slots * 2)
    return replace(doubled, breaks=(*pattern.breaks, *(b + count for b in pattern.breaks)))


def with_break(pattern: Pattern, index: int) -> Pattern:
    """The break point before place `index` put in, or taken out; the first place can have none."""
    if not 0 < index < len(pattern.slots):
        raise EditError("no-break")
    breaks = set(pattern.breaks) ^ {index}
    return replace(pattern, breaks=tuple(sorted(breaks)))


def accented_in(pattern: Pattern, start: int, end: int) -> Pattern:
    """One accent more on every stroke in `start` to `end` (end exclusive); after two none."""
    strokes = [stroke for slot in pattern.slots[start:end] for stroke in slot]
    level = (max((stroke.accent for stroke in strokes), default=0) + 1) % 3
    slots = tuple(tuple(replace(s, accent=level) for s in slot) for slot in pattern.slots[start:end])
    return pasted(pattern, start, slots)


def swept(pattern: Pattern, index: int, kind: SweepKind, span: tuple[int, int] | None = None) -> Pattern:
    """A brush or chuck of `kind` in a place, or none any more if it is there already.

    It takes the place of the fingers, and of the thumb too where the thumb sweeps or the whole hand stops
    the strings; a thumb under a brush of the fingers stays.
    """
    slot = pattern.slots[index]
    if any(isinstance(s, Sweep) and s.kind == kind for s in slot):
        return pattern.with_slot(index, tuple(s for s in slot if not isinstance(s, Sweep)))
    keeps = kind in ("brush-down", "brush-up")
    kept = tuple(s for s in slot if keeps and isinstance(s, Pluck) and s.finger == "p")
    return pattern.with_slot(index, (*kept, Sweep(kind, span)))


def sweep_over(pattern: Pattern, index: int, start_by: int, end_by: int, strings: int) -> Pattern:
    """The sweep in a place over other strings: its first and its last string moved; whole strings at first.

    EditError if no sweep is there.
    """
    slot = pattern.slots[index]
    old = next((s for s in slot if isinstance(s, Sweep)), None)
    if old is None:
        raise EditError("no-sweep")
    first, last = old.span or ((1, strings) if old.kind == "brush-up" else (strings, 1))
    span = (min(max(1, first + start_by), strings), min(max(1, last + end_by), strings))
    return pattern.with_slot(index, tuple(replace(s, span=span) if s is old else s for s in slot))


def ornamented(
    pattern: Pattern, index: int, finger: str, kind: OrnamentKind, fret: int | None = None
) -> Pattern:
    """A hammer-on, pull-off or slide after a finger's pluck, or none any more if it has this one.

    EditError if the finger does not pluck there.
    """
    stroke = stroke_of(pattern, index, finger)
    if stroke is None:
        raise EditError("no-stroke")
    has = stroke.ornament is not None and stroke.ornament.kind == kind
    return changed(pattern, index, finger, replace(stroke, ornament=None if has else Ornament(kind, fret)))


def stroke_of(pattern: Pattern, index: int, finger: str) -> Pluck | None:
    """The pluck of a finger in a place; None if it does not pluck there."""
    found = (s for s in pattern.slots[index] if isinstance(s, Pluck) and s.finger == finger)
    return next(found, None)


def shifted_by(pattern: Pattern, index: int, finger: str, by: int) -> Pattern:
    """A finger's pluck one string over, at most two from its own; EditError if it does not pluck there."""
    stroke = stroke_of(pattern, index, finger)
    if stroke is None or stroke.strings:
        raise EditError("no-stroke")
    return changed(pattern, index, finger, replace(stroke, shift=min(2, max(-2, stroke.shift + by))))


def regridded(pattern: Pattern, per_beat: tuple[int, ...]) -> Regrid:
    """The pattern with other places per counted beat; MeterError if they cannot be counted.

    A stroke whose moment is no place of the new grid goes to the nearest place before it, and joins what is
    plucked there by other fingers.
    """
    count = _slots_for(pattern.meter, per_beat, pattern.length)
    bare = Pattern(pattern.meter, per_beat, ((),) * count)
    starts = bare.starts
    target = [max(i for i in range(count) if starts[i] <= at) for at in pattern.starts[:-1]]
    moved = tuple(
        i for i, slot in enumerate(pattern.slots) if slot and starts[target[i]] != pattern.starts[i]
    )
    merged: set[int] = set()

    def lay(slots: Slots) -> Slots:
        out: list[Slot] = [()] * count
        for index, slot in enumerate(slots):
            if slot:
                out[target[index]], met = _joined(out[target[index]], slot)
                merged.update({index} if met else ())
        return tuple(out)

    new = replace(bare, slots=lay(pattern.slots))
    breaks = tuple(starts.index(at) for at in (pattern.starts[b] for b in pattern.breaks) if at in starts)
    variants = tuple(Variant(v.when, lay(v.slots)) for v in pattern.variants)
    return Regrid(replace(new, breaks=breaks, variants=variants), moved, tuple(sorted(merged)))


def _joined(old: Slot, new: Slot) -> tuple[Slot, bool]:
    """Two slots in one: a finger that is there already keeps its stroke. Whether they met."""
    fingers = {s.finger for s in old if isinstance(s, Pluck)}
    added = tuple(s for s in new if not (isinstance(s, Pluck) and s.finger in fingers))
    return order((*old, *added)), bool(old)


def _slots_for(meter: Meter, per_beat: tuple[int, ...], length: Fraction) -> int:
    """How many places of a grid a length takes; the last may run over its end."""
    lengths = slot_lengths(meter, per_beat)
    count, at = 0, Fraction(0)
    while at < length:
        at += lengths[count % len(lengths)]
        count += 1
    return count


def fingers_in(pattern: Pattern) -> tuple[str, ...]:
    """The fingers that pluck anywhere in the pattern, thumb first."""
    used = {stroke.finger for _, stroke in pattern.strokes() if isinstance(stroke, Pluck)}
    return tuple(finger for finger in FINGERS if finger in used)
