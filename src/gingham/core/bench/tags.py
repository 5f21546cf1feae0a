"""What a pattern is like, computed from its strokes: nothing here is typed by hand."""

from __future__ import annotations

from fractions import Fraction
from functools import lru_cache

import msgspec

from gingham.core.patterns.grid import fingers_in
from gingham.core.patterns.pattern import Pattern, Pluck, Sweep

DENSITIES = ("sparse", "medium", "dense")


class Tags(msgspec.Struct, frozen=True, gc=False):
    """The computed tags of a pattern.

    `strokes` are plucked places a bar (an exact fraction), `thumb` one of `beats`, `half`, `once`, `walking`,
    `free`, `none`.
    """

    meter: str
    fingers: tuple[str, ...]
    strokes: Fraction
    bars: Fraction
    pinches: int
    brushes: int
    chucks: int
    thumb: str
    density: str
    strings: int


@lru_cache(maxsize=1024)
def tags_of(pattern: Pattern) -> Tags:
    """The tags of a pattern."""
    plucked = sum(bool(slot) for slot in pattern.slots)
    bars = pattern.length / pattern.meter.bar
    per_beat = plucked / (bars * len(pattern.meter.groups))
    sweeps = [stroke.kind for _, stroke in pattern.strokes() if isinstance(stroke, Sweep)]
    density = DENSITIES[0] if per_beat <= 1 else DENSITIES[1] if per_beat <= 2 else DENSITIES[2]
    return Tags(
        str(pattern.meter),
        fingers_in(pattern),
        plucked / bars,
        bars,
        sum(len(slot) > 1 for slot in pattern.slots),
        sum(kind != "chuck" for kind in sweeps),
        sweeps.count("chuck"),
        thumb_rhythm(pattern),
        density,
        _strings(pattern),
    )


def thumb_rhythm(pattern: Pattern) -> str:
    """How often the thumb plays: on every beat, every other one, once a bar, walking, freely, never."""
    plucks = [(i, s) for i, s in pattern.strokes() if isinstance(s, Pluck) and s.finger == "p"]
    if not plucks:
        return "none"
    if (
        len({s.lane for _, s in plucks if s.lane is not None} | {s.strings for _, s in plucks if s.strings})
        > 2
    ):
        return "walking"
    meter = pattern.meter
    bars = -(-pattern.length // meter.bar)
    beats = [n * meter.bar + at for n in range(bars) for at in meter.beat_starts]
    beats = [at for at in beats if at < pattern.length]
    at = {pattern.starts[i] for i, _ in plucks}
    if at == set(beats):
        return "beats" if len(meter.groups) > 1 else "once"
    if at == {n * meter.bar for n in range(bars)}:
        return "once"
    if len(meter.groups) == 4 and at == set(beats[::2]):
        return "half"
    return "free"


def _strings(pattern: Pattern) -> int:
    """How many strings the instrument must have: three fingers of their own and the thumb ask for more."""
    fixed = [n for _, s in pattern.strokes() if isinstance(s, Pluck) for n in s.strings]
    ranges = [n for _, s in pattern.strokes() if isinstance(s, Sweep) and s.span for n in s.span]
    ringed = 5 if "a" in fingers_in(pattern) else 4
    return max([ringed, *fixed, *(n for n in ranges if n < 10)])
