"""The patterns that ship with Gingham, read from a text file of names and shorthand."""

from __future__ import annotations

from functools import lru_cache
from importlib.resources import files

from gingham.core.music.meter import Meter
from gingham.core.patterns.pattern import Pattern
from gingham.core.patterns.shorthand import parse_pattern


@lru_cache(maxsize=1)
def builtin() -> tuple[tuple[str, Pattern], ...]:
    """All built-in patterns as (name, pattern), in the order of the file."""
    text = (files("gingham.data") / "patterns.txt").read_text(encoding="utf-8")
    rows = [line.split("|", 1) for line in text.splitlines() if line.strip() and not line.startswith("#")]
    return tuple((name.strip(), parse_pattern(line.strip())) for name, line in rows)


def for_meter(of: Meter) -> tuple[tuple[str, Pattern], ...]:
    """The built-in patterns in one meter."""
    return tuple((name, pattern) for name, pattern in builtin() if pattern.meter == of)
