"""The record in figures for its pictures: minutes by day, tempi by stage, where it goes wrong."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Mapping, Sequence
from datetime import date, timedelta
from fractions import Fraction
from typing import Literal

import msgspec

from gingham.core.errors import NumberError
from gingham.core.numbers import exact
from gingham.core.practice.attempt import Attempt, day_of
from gingham.core.practice.entries import Session, Tick
from gingham.core.practice.review import DayTempo, tempi, where_wrong

DayGroup = Literal["hand", "chords", "change", "whole"]
GROUPS: tuple[DayGroup, ...] = ("hand", "chords", "change", "whole")
_LAST_ROUNDS, _LONGEST_BAR = 40, 16
_LEAST_DAYS = 2


class DayMinutes(msgspec.Struct, frozen=True):
    """A day: minutes by what was practised, minutes of barre in its sessions."""

    day: date
    minutes: dict[DayGroup, float]
    barre: float = 0.0

    @property
    def total(self) -> float:
        """All minutes."""
        return sum(self.minutes.values())


class TempoLine(msgspec.Struct, frozen=True):
    """The fastest clean tempo of each day at one stage."""

    stage: str
    days: tuple[DayTempo, ...]


def days_of(
    attempts: Sequence[Attempt],
    sessions: Iterable[Session],
    groups: Mapping[str, str],
    today: date,
    count: int,
) -> list[DayMinutes]:
    """The last `count` days up to today, the empty ones too; `groups` says what a stage is about."""
    first = today - timedelta(days=count - 1)
    found: dict[date, dict[DayGroup, float]] = {}
    for attempt in reversed(attempts):
        day = attempt.day
        if day < first:
            break  # they are in order of writing
        if day <= today:
            group = _group(attempt, groups)
            minutes = found.setdefault(day, {})
            minutes[group] = minutes.get(group, 0.0) + attempt.seconds / 60.0
    barre: Counter[date] = Counter()
    for session in sessions:
        barre[day_of(session.began)] += round(session.barre_s)
    days = [first + timedelta(days=number) for number in range(count)]
    return [DayMinutes(day, found.get(day, {}), barre[day] / 60.0) for day in days]


def _group(attempt: Attempt, groups: Mapping[str, str]) -> DayGroup:
    """What an attempt was about; a change where its stage is not known any more but names one."""
    known = groups.get(attempt.stage, "change" if attempt.change else "whole")
    for group in GROUPS:
        if group == known:
            return group
    return "whole"


def tempo_lines(attempts: Sequence[Attempt], marks: Mapping[str, str], most: int) -> list[TempoLine]:
    """The stages that were clean on most days, each as it is now (`marks` by id), at least two days each."""
    by_stage: dict[str, list[Attempt]] = {}
    for attempt in attempts:
        if attempt.kind == "round" and marks.get(attempt.stage, attempt.mark) == attempt.mark:
            by_stage.setdefault(attempt.stage, []).append(attempt)
    lines = [TempoLine(stage, tuple(tempi(own))) for stage, own in by_stage.items()]
    lines = [line for line in lines if len(line.days) >= _LEAST_DAYS]
    return sorted(lines, key=lambda line: -len(line.days))[:most]


def recently_wrong(attempts: Sequence[Attempt], section: str) -> dict[int, int]:
    """In how many of the last forty attempts at a section something went wrong, by bar."""
    own = [a for a in attempts if a.section == section or not a.section][-_LAST_ROUNDS:]
    return {bar: count for (name, bar), count in where_wrong(own).items() if name == section}


def places_wrong(attempts: Sequence[Attempt], section: str, starts: Sequence[Fraction]) -> Counter[Fraction]:
    """How often it went wrong lately at each place of the bar; what lies between is the place before."""
    own = [attempt for attempt in attempts if attempt.section == section or not attempt.section]
    found: Counter[Fraction] = Counter()
    for attempt in own[-_LAST_ROUNDS:]:
        for spot in attempt.spots:
            at = _exact(spot.at)
            if spot.section == section and at is not None:
                found[max((start for start in starts if start <= at), default=Fraction(0))] += 1
    return found


def _exact(text: str) -> Fraction | None:
    try:
        return exact(text, 0, _LONGEST_BAR)
    except NumberError:
        return None


def tuned_first(attempts: Iterable[Attempt], ticks: Iterable[Tick], last: int) -> tuple[int, int]:
    """On how many of the last practised days the strings were tuned: (so many, of so many)."""
    practised = sorted({attempt.day for attempt in attempts})[-last:]
    tuned = {day_of(tick.made) for tick in ticks if tick.kind == "tuned"}
    return sum(day in tuned for day in practised), len(practised)
