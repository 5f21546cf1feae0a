"""What the record shows: what is due, streaks, gains and a forecast, where it goes wrong. No cheering."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Sequence
from datetime import date, timedelta
from itertools import groupby
from math import ceil

import msgspec

from gingham.core.practice.attempt import Attempt, Spot
from gingham.core.practice.history import history
from gingham.core.practice.ladder import ROUND_S
from gingham.core.practice.stages import Stage

INTERVALS = (1, 2, 4, 8, 16, 32, 64)
"""Days until a stage that held is played again, growing with each time that it held."""
_FORECAST_DAYS, _FORECAST_LAST = 4, 10
_PRIOR = 2.0
_STANDS = 0.05  # beats a minute a day that are none
_RECENT = 20


class Due(msgspec.Struct, frozen=True):
    """When a stage is to be played again: `held` is how many days in a row it was clean then."""

    stage: str
    on: date
    last: date
    held: int

    def late_by(self, today: date) -> int:
        """How many days it is overdue; negative before."""
        return (today - self.on).days


class DayTempo(msgspec.Struct, frozen=True):
    """The fastest clean tempo of a day."""

    day: date
    tempo: int


class Forecast(msgspec.Struct, frozen=True):
    """Days of practice until the goal: from `least` to `most` (None: not at the present rate)."""

    least: int
    most: int | None
    gain: float
    """Beats a minute a day, the median."""


def current(stage: Stage, attempts: Iterable[Attempt]) -> list[Attempt]:
    """The attempts at a stage as it is now."""
    return [each for each in history(attempts).of(stage.id) if each.mark == stage.mark]


def rounds_of(attempts: Iterable[Attempt]) -> list[Attempt]:
    """Rounds only, those that were broken off early and clean left out."""
    return [a for a in attempts if a.kind == "round" and (not a.clean or a.seconds >= ROUND_S - 0.5)]


def streak(attempts: Sequence[Attempt]) -> tuple[int, int]:
    """Clean tries in a row: now, and at best."""
    now = best = 0
    for attempt in rounds_of(attempts):
        now = now + 1 if attempt.clean else 0
        best = max(best, now)
    return now, best


def due(stage: Stage, attempts: Sequence[Attempt]) -> Due | None:
    """When a stage that has held once is to be played again; None for one that never did.

    A day on which more rounds were clean than not doubles the interval, any other begins again with a day.
    """
    held, on, last, ever = 0, date.min, date.min, False
    for day, tries in groupby(rounds_of(current(stage, attempts)), key=lambda attempt: attempt.day):
        each = list(tries)
        clean = sum(attempt.clean for attempt in each)
        if clean > len(each) - clean:
            held = held + 1 if day >= on or not held else held  # played early: nothing is learned of keeping
            ever = True
        else:
            held = 0
        last, on = day, day + timedelta(days=INTERVALS[min(max(held - 1, 0), len(INTERVALS) - 1)])
    return Due(stage.id, on, last, held) if ever else None


def tempi(attempts: Iterable[Attempt]) -> list[DayTempo]:
    """The fastest clean tempo of each day on which there was one, in order of days."""
    best: dict[date, int] = {}
    for attempt in rounds_of(attempts):
        if attempt.clean and attempt.tempo:
            best[attempt.day] = max(best.get(attempt.day, 0), attempt.tempo)
    return [DayTempo(day, tempo) for day, tempo in sorted(best.items())]


def forecast(days: Sequence[DayTempo], goal: int) -> Forecast | None:
    """How many more days of practice to the goal, from the gains of the last ten; None from too few days."""
    recent = [each.tempo for each in days][-_FORECAST_LAST:]
    if len(recent) < _FORECAST_DAYS or recent[-1] >= goal:
        return None
    gains = sorted(
        (after - before) / (j - i)
        for i, before in enumerate(recent)
        for j, after in enumerate(recent)
        if j > i
    )
    low, middle, high = (gains[round(share * (len(gains) - 1))] for share in (0.25, 0.5, 0.75))
    way = goal - max(recent[-3:])
    if high <= _STANDS:
        return None
    return Forecast(max(1, ceil(way / high)), _days(way, low), round(middle, 2))


def _days(way: int, gain: float) -> int | None:
    return max(1, ceil(way / gain)) if gain > _STANDS else None


def clean_changes(attempts: Iterable[Attempt]) -> list[tuple[date, float]]:
    """Clean changes a minute, by day: the best of each."""
    best: dict[date, float] = {}
    for attempt in attempts:
        if attempt.kind == "count" and attempt.figures.count_s > 0:
            rate = 60.0 * attempt.figures.count / attempt.figures.count_s
            best[attempt.day] = max(best.get(attempt.day, 0.0), round(rate, 1))
    return sorted(best.items())


def weakness(clean: Sequence[bool], prior: float) -> float:
    """How likely a round fails, 0 to 1: from the last rounds, and `prior` where there are few."""
    recent = clean[-_RECENT:]
    failed = sum(not each for each in recent)
    return (failed + _PRIOR * prior) / (len(recent) + _PRIOR)


def rounds_at_change(
    stage: Stage, change: str, attempts: Iterable[Attempt], through: Iterable[str]
) -> list[bool]:
    """Every round that says something of a change (`C > G/B`), and whether the change was clean in it.

    The rounds of its own `stage` as it is now, and those of stages that go `through` it: there it failed if a
    spot names it.
    """
    past = history(attempts)
    own = [each for each in past.numbered(stage.id) if each[1].mark == stage.mark][-_RECENT:]
    out = [(index, attempt.clean) for index, attempt in own if attempt.kind == "round"]
    for other in through:
        for index, attempt in past.numbered(other)[-_RECENT:]:
            if attempt.kind in ("round", "run"):
                out.append((index, all(spot.change != change for spot in attempt.spots)))
    return [clean for _, clean in sorted(out)]


def where_wrong(attempts: Iterable[Attempt]) -> Counter[tuple[str, int]]:
    """How often something went wrong in each bar: (section, bar)."""
    return Counter((spot.section, spot.bar) for spot in _spots(attempts))


def kinds_wrong(attempts: Iterable[Attempt]) -> Counter[str]:
    """How often each kind of error came."""
    return Counter(error for attempt in attempts for error in attempt.errors)


def _spots(attempts: Iterable[Attempt]) -> list[Spot]:
    return [spot for attempt in attempts for spot in attempt.spots]
