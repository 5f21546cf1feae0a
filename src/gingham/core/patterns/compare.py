"""Two patterns compared place by place."""

from __future__ import annotations

from fractions import Fraction
from typing import Literal

import msgspec

from gingham.core.music.meter import count_at
from gingham.core.patterns.grid import rotated
from gingham.core.patterns.pattern import Pattern, Slot

ComparedKind = Literal["same", "added", "left-out", "changed"]


class Compared(msgspec.Struct, frozen=True, gc=False):
    """One moment of two patterns: `kind` is `same`, `added`, `left-out` or `changed`."""

    at: Fraction
    count: str
    kind: ComparedKind
    one: Slot
    other: Slot


def compare(one: Pattern, other: Pattern) -> tuple[Compared, ...]:
    """Every moment at which either of them plucks, over the longer one; the shorter one comes round.

    Meters may differ; moments are counted from the start, in the meter of `other`.
    """
    length = max(one.length, other.length)
    mine, theirs = _moments(one, length), _moments(other, length)
    out = []
    for at in sorted({*mine, *theirs}):
        a, b = mine.get(at, ()), theirs.get(at, ())
        out.append(Compared(at, count_at(other.meter, at % other.meter.bar), _kind(a, b), a, b))
    return tuple(out)


def differing_places(now: Pattern, other: Pattern) -> frozenset[int]:
    """The places of `other` that differ from `now`; none where their meters cannot be compared."""
    if other.meter != now.meter or other == now:
        return frozenset()
    moments = {each.at % other.length for each in compare(now, other) if each.kind != "same"}
    return frozenset(i for i, at in enumerate(other.starts[:-1]) if at in moments)


def _kind(one: Slot, other: Slot) -> ComparedKind:
    if one == other:
        return "same"
    return "added" if not one else "left-out" if not other else "changed"


def _moments(pattern: Pattern, length: Fraction) -> dict[Fraction, Slot]:
    """The plucked places up to `length`, by their time."""
    out: dict[Fraction, Slot] = {}
    turn = Fraction(0)
    while turn < length:
        for at, slot in zip(pattern.starts[:-1], pattern.slots, strict=True):
            if slot and turn + at < length:
                out[turn + at] = slot
        turn += pattern.length
    return out


def difference(one: Pattern, other: Pattern) -> int:
    """How many moments differ."""
    return sum(place.kind != "same" for place in compare(one, other))


def rotation_of(one: Pattern, other: Pattern) -> int | None:
    """By how many places `one` must be rotated to become `other`; None if no rotation does."""
    if one.meter != other.meter or one.per_beat != other.per_beat or len(one.slots) != len(other.slots):
        return None
    turns = range(1, len(one.slots))
    return next((by for by in turns if rotated(one, by).slots == other.slots), None)
