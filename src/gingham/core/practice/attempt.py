"""What is kept of practising: an attempt at a stage, where it came from, and what was wrong with it."""

from __future__ import annotations

from datetime import date
from functools import lru_cache
from typing import Literal

import msgspec

AttemptKind = Literal["round", "test", "run", "count"]
"""Rounds of a stage; the start test; a run without stopping; clean changes counted against the clock."""
Source = Literal["marked", "tapped", "heard"]
"""Marked by the player, tapped on keys, or heard in a take."""
Error = Literal["uneven", "strings", "change", "time", "tense", "stopped"]
"""Uneven plucks, wrong or missed strings, a late change, off the click, signs of tension, broken off."""
ERRORS: tuple[Error, ...] = ("uneven", "strings", "change", "time", "tense", "stopped")


class Spot(msgspec.Struct, frozen=True, omit_defaults=True, gc=False):
    """A place where something went wrong: section, bar, place in it (of a whole note, as text), what.

    A late change has its chords (`C > G/B`) and by how many milliseconds it was late.
    """

    section: str
    bar: int
    at: str
    error: Error
    change: str = ""
    ms: float = 0.0


class Figures(msgspec.Struct, frozen=True, omit_defaults=True, gc=False):
    """What a take measured: spread in milliseconds and decibels, the latest change in milliseconds.

    `held` of `total` plucks were on their strings; `count` is of clean changes in `count_s` seconds.
    """

    spread_ms: float = 0.0
    spread_db: float = 0.0
    change_ms: float = 0.0
    held: int = 0
    total: int = 0
    count: int = 0
    count_s: float = 0.0


class Attempt(msgspec.Struct, frozen=True, omit_defaults=True):
    """One try at a stage.

    `made` is when it ended (ISO, local time with its offset), `piece` the identity of the piece, `stage` and
    `mark` which stage and what exactly it asked for, `change` the chords of a change (`C > G/B`), `tempo` in
    counted beats a minute of `beat` (of a whole note; 0 without a tempo), `seconds` how long it was played.
    """

    made: str
    piece: str
    stage: str
    mark: str
    tempo: int
    clean: bool
    kind: AttemptKind = "round"
    source: Source = "marked"
    section: str = ""
    pattern: str = ""
    change: str = ""
    beat: str = "1/4"
    rounds: int = 1
    seconds: float = 0.0
    errors: tuple[Error, ...] = ()
    spots: tuple[Spot, ...] = ()
    figures: Figures = Figures()
    session: int = 0
    """The session it belongs to; 0 where there was none."""

    @property
    def day(self) -> date:
        """The day on which it was made, where it was made."""
        return day_of(self.made)


@lru_cache(maxsize=4096)
def day_of(made: str) -> date:
    """The day of a time as the log has it; the first of all days for one that cannot be read."""
    try:
        return date.fromisoformat(made[:10])
    except ValueError:
        return date.min
