"""The patterns that ship with Gingham, read from a text file of names and shorthand."""

from __future__ import annotations

from functools import lru_cache

from gingham.core.music.meter import Meter
from gingham.core.patterns.pattern import Pattern, Pluck, Slot, Sweep
from gingham.core.patterns.shorthand import parse_pattern
from gingham.data import FOLDER


@lru_cache(maxsize=1)
def builtin() -> tuple[tuple[str, Pattern], ...]:
    """All built-in patterns as (name, pattern), in the order of the file."""
    text = (FOLDER / "patterns.txt").read_text(encoding="utf-8")
    rows = [line.split("|", 1) for line in text.splitlines() if line.strip() and not line.startswith("#")]
    return tuple((name.strip(), parse_pattern(line.strip())) for name, line in rows)


def for_meter(meter: Meter) -> tuple[tuple[str, Pattern], ...]:
    """The built-in patterns in one meter."""
    return tuple((name, pattern) for name, pattern in builtin() if pattern.meter == meter)


def brush_pattern(meter: Meter) -> Pattern:
    """One slow brush of every string in a bar of any meter: to hear a shape."""
    rest: Slot = ()
    first: Slot = (Sweep("brush-down", (10, 1)),)
    return Pattern(meter, (1,), (first, *(rest for _ in meter.groups[1:])))


def pattern_for(meter: Meter) -> tuple[str, Pattern]:
    """A pattern to begin with in any meter: the first built-in one, else a thumb on every counted beat."""
    found = for_meter(meter)
    if found:
        return found[0]
    beats = tuple(
        (Pluck("p"),) if index % 2 == 0 else (Pluck("i"),) for index in range(2 * len(meter.groups))
    )
    return f"Plain {meter}", Pattern(meter, (2,), beats)
