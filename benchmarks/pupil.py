"""A player who practises, made of numbers: faults that the program is not told, learning, forgetting.

Stands in for a person in tests, in pictures and in the benchmark of plans. Everything is of the seed.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Mapping
from datetime import datetime, timedelta
from random import Random

from gingham.core.fitting.result import Result
from gingham.core.practice.attempt import Attempt, AttemptKind, Error, Figures, Spot
from gingham.core.practice.entries import Session, Tick
from gingham.core.practice.ladder import ROUND_S
from gingham.core.practice.plan import Planned
from gingham.core.practice.session import Item, change_name, ladders, pair_of, plan_session
from gingham.core.practice.stages import WITHOUT_TEMPO, Stage, cut_bars

_SPREAD = 4.0  # beats a minute over which a round goes from mostly clean to mostly not
_LEARNED, _FORGOTTEN = 0.004, 0.01
_PAUSE_S = 6.0


class Pupil:
    """Plays stages. `weak` is the share of the usual tempo at which each change is comfortable."""

    def __init__(self, comfort: float, weak: Mapping[tuple[str, str], float], seed: int = 1) -> None:
        self.comfort, self.weak, self.random = comfort, dict(weak), Random(seed)

    def comfortable(
        self, stage: Stage, results: Mapping[int, Result]
    ) -> tuple[float, tuple[str, str] | None]:
        """The tempo at which half the rounds are clean, and the change that holds it down."""
        worst: tuple[str, str] | None = None
        share = 1.0
        for pair in _changes(stage, results):
            if self.weak.get(pair, 1.0) < share:
                share, worst = self.weak[pair], pair
        return self.comfort * share, worst

    def play(
        self, stage: Stage, tempo: int, planned: Planned
    ) -> tuple[bool, tuple[Error, ...], tuple[Spot, ...]]:
        """One attempt: whether it was clean, and what was not."""
        most, worst = self.comfortable(stage, planned.results)
        clean = stage.kind in WITHOUT_TEMPO or self.random.random() < 1 / (
            1 + math.exp((tempo - most) / _SPREAD)
        )
        if worst is not None:
            self.weak[worst] = min(1.0, self.weak[worst] + _LEARNED)
        if clean:
            return True, (), ()
        error: Error = "change" if worst is not None else "uneven"
        section = planned.piece.sections[stage.section].name
        bar = _bar_of(worst, planned.results[stage.section])
        name = " > ".join(worst) if worst is not None else ""
        return False, (error,), (Spot(section, bar, "0", error, name, 140.0 if worst else 0.0),)

    def sleep(self) -> None:
        """A night takes a little of what was learned."""
        self.weak = {pair: share * (1 - _FORGOTTEN) for pair, share in self.weak.items()}


def _changes(stage: Stage, results: Mapping[int, Result]) -> list[tuple[str, str]]:
    """The changes that a round of a stage goes through."""
    if "p" in stage.muted and stage.kind != "strum":
        return []
    names: list[str] = []
    for passage in stage.passages:
        result = results[passage.section]
        for _, left, right, bar in cut_bars(result, passage):
            for index in bar.spans:
                span = result.spans[index].span
                begins = span.at if span.bar == bar.number else left
                if begins < right and span.chord is not None:
                    names.append(span.chord.text)
    pairs = [(one, other) for one, other in itertools.pairwise(names) if one != other]
    own = pair_of(stage)
    return [*pairs, *([own] if own is not None else [])]


def _bar_of(pair: tuple[str, str] | None, result: Result) -> int:
    names = [(s.span.chord.text if s.span.chord is not None else "", s.span.bar) for s in result.spans]
    for (one, _), (other, bar) in itertools.pairwise(names):
        if (one, other) == pair:
            return bar
    return names[0][1] if names else 1


class Week:
    """Days of sessions by the plan, and the record that they leave."""

    def __init__(self, pupil: Pupil, planned: Planned, piece: str, begin: datetime) -> None:
        self.pupil, self.planned, self.piece, self.now = pupil, planned, piece, begin
        self.attempts: list[Attempt] = []
        self.sessions: list[Session] = []
        self.ticks: list[Tick] = []
        self.plans: list[tuple[Item, ...]] = []

    def day(self, minutes: int) -> None:
        """One session as it is planned; then the night."""
        items = plan_session(minutes, self.planned, self.attempts, self.now.date())
        self.plans.append(items)
        began = self.now
        number = len(self.sessions) + 1
        self.ticks.append(Tick(_iso(self.now), "tuned", self.piece, {"6": 0.5}))
        for item in items:
            end = self.now + timedelta(minutes=item.minutes)
            stage = self.planned.stage(item.stage)
            while stage is not None and self.now + timedelta(seconds=ROUND_S + _PAUSE_S) <= end:
                self._attempt(stage, number, run=item.kind == "run")
            self.now = end
        self.sessions.append(
            Session(_iso(began), minutes, _iso(self.now), 60.0 * minutes, 0.0, "done", number)
        )
        self.now = datetime.combine(began.date() + timedelta(days=1), began.time(), began.tzinfo)
        self.pupil.sleep()

    def _attempt(self, stage: Stage, session: int, *, run: bool) -> None:
        standing = ladders(self.planned, self.attempts, self.now.date())[stage.id]
        clean, errors, spots = self.pupil.play(stage, standing.tempo, self.planned)
        self.now += timedelta(seconds=ROUND_S + _PAUSE_S)
        section = self.planned.piece.sections[stage.section]
        tempo = 0 if stage.kind in WITHOUT_TEMPO else standing.tempo
        kind: AttemptKind = "count" if stage.kind == "count" else "run" if run else "round"
        figures = Figures(count=round(standing.tempo / 6), count_s=60.0) if kind == "count" else Figures()
        self.attempts.append(
            Attempt(
                _iso(self.now), self.piece, stage.id, stage.mark, tempo, clean, kind,
                "marked", section.name, section.pattern, change_name(stage), "1/4", 4, ROUND_S, errors, spots,
                figures, session,
            )
        )  # fmt: skip


def _iso(when: datetime) -> str:
    return when.isoformat(timespec="seconds")
