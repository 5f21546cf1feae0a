"""Whether the thumb keeps to the beats and the fingers to what lies between: where it is otherwise."""

from __future__ import annotations

from typing import Literal

import msgspec

from gingham.core.music.meter import count_at
from gingham.core.patterns.pattern import Pattern, Pluck, Sweep

Kind = Literal["empty", "finger", "pinch", "thumb-between"]


class OffTheRule(msgspec.Struct, frozen=True, gc=False):
    """A place of a pattern where the thumb is not alone on the beat, or plays between beats.

    `kind`: `empty` (nothing on a counted beat), `finger` (a finger alone there), `pinch` (a finger with the
    thumb), `thumb-between`. `counts` are the places, as they are counted.
    """

    kind: Kind
    counts: tuple[str, ...]


def off_the_rule(pattern: Pattern) -> tuple[OffTheRule, ...]:
    """The departures of a pattern from thumb on the beats, fingers between, by kind."""
    beats = set(pattern.meter.beat_starts)
    found: dict[Kind, list[str]] = {}
    bar = pattern.meter.bar
    for slot, at in zip(pattern.slots, pattern.starts, strict=False):
        fingers = {stroke.finger for stroke in slot if isinstance(stroke, Pluck)}
        swept = any(isinstance(stroke, Sweep) for stroke in slot)
        on_beat = at % bar in beats
        kind: Kind | None = None
        if on_beat:
            kind = (
                "empty" if not slot
                else "finger" if fingers and "p" not in fingers
                else "pinch" if "p" in fingers and len(fingers) > 1
                else None
            )  # fmt: skip
        elif "p" in fingers and not swept:
            kind = "thumb-between"
        if kind is not None:
            found.setdefault(kind, []).append(count_at(pattern.meter, at % bar))
    return tuple(OffTheRule(kind, tuple(counts)) for kind, counts in found.items())
