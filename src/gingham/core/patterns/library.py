"""The patterns that ship with Gingham, read from a text file of names and shorthand."""

from __future__ import annotations

from functools import lru_cache

from gingham.core.music.meter import Meter, parse_meter
from gingham.core.patterns.pattern import Pattern, Pluck, Slot, Sweep
from gingham.core.patterns.shorthand import parse_pattern
from gingham.data import FOLDER


@lru_cache(maxsize=1)
def _lines() -> tuple[tuple[str, str, Meter], ...]:
    """Name, shorthand and meter of each, in the order of the file; shorthand is read when it is needed."""
    text = (FOLDER / "patterns.txt").read_text(encoding="utf-8")
    rows = [line.split("|", 1) for line in text.splitlines() if line.strip() and not line.startswith("#")]
    return tuple((name.strip(), line.strip(), parse_meter(line.split()[0])) for name, line in rows)


_read = lru_cache(maxsize=None)(parse_pattern)


@lru_cache(maxsize=1)
def builtin() -> tuple[tuple[str, Pattern], ...]:
    """All built-in patterns as (name, pattern), in the order of the file."""
    return tuple((name, _read(line)) for name, line, _ in _lines())


def is_builtin(name: str, pattern: Pattern) -> bool:
    """Whether this is the built-in pattern of that name; no other one is read for it."""
    return any(known == name and _read(line) == pattern for known, line, _ in _lines())


def for_meter(meter: Meter) -> tuple[tuple[str, Pattern], ...]:
    """The built-in patterns in one meter."""
    return tuple((name, _read(line)) for name, line, own in _lines() if own == meter)


def names_in(meter: Meter) -> tuple[str, ...]:
    """The names of the built-in patterns in one meter."""
    return tuple(name for name, _, own in _lines() if own == meter)


def named(name: str) -> Pattern:
    """The built-in pattern of a name. KeyError if there is none."""
    return _read({known: line for known, line, _ in _lines()}[name])


def brush_pattern(meter: Meter) -> Pattern:
    """One slow brush of every string in a bar of any meter: to hear a shape."""
    rest: Slot = ()
    first: Slot = (Sweep("brush-down", (10, 1)),)
    return Pattern(meter, (1,), (first, *(rest for _ in meter.groups[1:])))


def pattern_for(meter: Meter) -> tuple[str, Pattern]:
    """A pattern to begin with in any meter: the first built-in one, else a thumb on every counted beat."""
    found = names_in(meter)
    if found:
        return found[0], named(found[0])
    beats = tuple(
        (Pluck("p"),) if index % 2 == 0 else (Pluck("i"),) for index in range(2 * len(meter.groups))
    )
    return f"Plain {meter}", Pattern(meter, (2,), beats)
