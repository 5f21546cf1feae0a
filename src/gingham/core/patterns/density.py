"""Sparser and denser versions of a pattern, to support a singer or a band: the thumb keeps its way in all."""

from __future__ import annotations

from collections.abc import Callable
from typing import Literal

import msgspec

from gingham.core.patterns.pattern import Pattern, Pluck, Slot, Stroke
from gingham.core.values import replace

Density = Literal["thumb", "beats", "open-end", "filled"]
DENSITIES: tuple[Density, ...] = ("thumb", "beats", "open-end", "filled")
"""The thumb alone; what falls on counted beats; the last place before the end left open; rests filled."""


class DensityVersion(msgspec.Struct, frozen=True, gc=False):
    """A version of a pattern, and how many of its places are plucked."""

    kind: Density
    pattern: Pattern
    plucked: int


def density_versions(pattern: Pattern) -> tuple[DensityVersion, ...]:
    """Every version that is another pattern, from sparse to dense; none for one of bare strings."""
    made: tuple[tuple[Density, Pattern], ...] = (
        ("thumb", _kept(pattern, lambda index, stroke: _is_thumb(stroke))),
        ("beats", _kept(pattern, lambda index, stroke: _is_thumb(stroke) or index in _beats(pattern))),
        ("open-end", _open_end(pattern)),
        ("filled", _filled(pattern)),
    )
    out: list[DensityVersion] = []
    known = {pattern.slots}
    for kind, version in made:
        if version.slots not in known and any(version.slots):
            known.add(version.slots)
            out.append(DensityVersion(kind, version, plucked(version)))
    return tuple(sorted(out, key=lambda each: each.plucked))


def plucked(pattern: Pattern) -> int:
    """How many places are played."""
    return sum(bool(slot) for slot in pattern.slots)


def _is_thumb(stroke: Stroke) -> bool:
    return isinstance(stroke, Pluck) and stroke.finger == "p"


def _beats(pattern: Pattern) -> frozenset[int]:
    """The places on which a counted beat begins."""
    beats = set(pattern.meter.beat_starts)
    bar = pattern.meter.bar
    return frozenset(i for i, start in enumerate(pattern.starts[:-1]) if start % bar in beats)


def _kept(pattern: Pattern, keep: Callable[[int, Stroke], bool]) -> Pattern:
    def thin(slots: tuple[Slot, ...]) -> tuple[Slot, ...]:
        return tuple(tuple(s for s in slot if keep(index, s)) for index, slot in enumerate(slots))

    variants = tuple(replace(variant, slots=thin(variant.slots)) for variant in pattern.variants)
    return replace(pattern, slots=thin(pattern.slots), variants=variants)


def _open_end(pattern: Pattern) -> Pattern:
    """The last place of every bar left open, unless the thumb is there: room to breathe before the change."""
    bar, starts = pattern.meter.bar, pattern.starts
    last = {i for i, end in enumerate(starts[1:]) if end % bar == 0}
    return _kept(pattern, lambda index, stroke: index not in last or _is_thumb(stroke))


def _filled(pattern: Pattern) -> Pattern:
    """Every rest off the beat takes the finger that rests longest of those that pluck one string each."""
    fingers = [f for f in "ima" if any(isinstance(s, Pluck) and s.finger == f for _, s in pattern.strokes())]
    if not fingers:
        return pattern
    last = dict.fromkeys(fingers, -len(pattern.slots))
    out: list[Slot] = []
    for index, slot in enumerate(pattern.slots):
        taken = slot
        if not slot and index not in _beats(pattern):
            finger = min(fingers, key=lambda each: last[each])
            taken = (Pluck(finger),)
        for stroke in taken:
            if isinstance(stroke, Pluck) and stroke.finger in last:
                last[stroke.finger] = index
        out.append(taken)
    return replace(pattern, slots=tuple(out))
