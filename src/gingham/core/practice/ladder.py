"""The tempo ladder of a stage: small steps up when it is clean, one back when it is not.

It is a fold over the attempts at exactly this stage: whatever is edited, a rung is never reached by what was
another stage then. All tempi are counted beats a minute; all numbers are our own starting values.
"""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date
from itertools import groupby

import msgspec

from gingham.core.practice.attempt import Attempt
from gingham.core.practice.stages import Stage
from gingham.core.reasons import Reason

ROUND_S = 20.0
"""A round is the loop for at least so long, in seconds."""
CLEAN_NEEDED, WINDOW, FAILURES = 3, 4, 2
_STEP, _LEAST_STEP = 0.04, 2
_BACK_A_DAY = 2
_MARGIN = 0.9
_TEST_STEP = 0.08


class Ladder(msgspec.Struct, frozen=True):
    """Where a stage stands.

    `tempo` is the rung to play now, `best` the fastest that was cleared (0: none), `clean` how many of the
    last rounds on this rung were, of at most `WINDOW`; `failures` in a row. `reached` says that the goal was
    cleared on a stage as it is now. `why` is the last thing that moved it.
    """

    tempo: int
    floor: int
    goal: int
    best: int
    clean: int
    tries: int
    failures: int
    reached: bool
    why: Reason

    @property
    def missing(self) -> int:
        """Clean rounds that are missing for the next step."""
        return max(0, CLEAN_NEEDED - self.clean)


def step_of(tempo: int) -> int:
    """How far a step from this tempo goes: 4 %, and at least 2 beats a minute."""
    return max(_LEAST_STEP, int(_STEP * tempo + 0.5))


def step_up(tempo: int, goal: int) -> int:
    """The next rung."""
    return min(goal, tempo + step_of(tempo))


def step_down(tempo: int, floor: int) -> int:
    """The rung below: the fastest one from which a step leads here, or less."""
    below = tempo - _LEAST_STEP
    while below > floor and below + step_of(below) > tempo:
        below -= 1
    return max(floor, below)


def rungs(start: int, goal: int) -> tuple[int, ...]:
    """All rungs from a tempo to the goal."""
    out = [min(start, goal)]
    while out[-1] < goal:
        out.append(step_up(out[-1], goal))
    return tuple(out)


def start_tempo(stage: Stage, before: Ladder | None = None, strokes_before: float = 0.0) -> int:
    """Where a stage begins that was never tried.

    Its own guess; where it adds strokes to the stage `before`, at most the tempo that has as many strokes a
    second as that one had at its best.
    """
    tempo = stage.tempo
    if before is not None and before.best and stage.strokes > strokes_before > 0:
        tempo = min(tempo, int(before.best * strokes_before / stage.strokes))
    return min(stage.goal, max(stage.floor, tempo))


def trial_tempi(stage: Stage) -> tuple[int, ...]:
    """The tempi of the start test, each played once until the first that is uneven."""
    out = [stage.floor]
    while out[-1] < stage.goal:
        out.append(min(stage.goal, max(out[-1] + _LEAST_STEP, int(out[-1] * (1 + _TEST_STEP) + 0.5))))
    return tuple(out)


def after_test(stage: Stage, fastest_even: int) -> int:
    """Where a stage begins after the start test: the fastest even tempo less a margin."""
    return min(stage.goal, max(stage.floor, int(fastest_even * _MARGIN)))


def ladder(
    stage: Stage, attempts: Sequence[Attempt], today: date, *, start: int | None = None, tense: bool = False
) -> Ladder:
    """Where a stage stands after the attempts at it, oldest first; those at what it was before are left out.

    `start` is where it begins without any. While the hand is `tense` no step goes up.
    """
    own = [each for each in attempts if each.stage == stage.id and each.mark == stage.mark]
    climb = _Climb(stage, stage.tempo if start is None else start)
    for day, tries in groupby(own, key=lambda attempt: attempt.day):
        climb.begin_day(day)
        for attempt in tries:
            climb.take(attempt, tense=tense and attempt is own[-1])
    climb.begin_day(today)
    return climb.ladder()


class _Climb:
    """The fold."""

    def __init__(self, stage: Stage, start: int) -> None:
        self.stage, self.tempo = stage, min(stage.goal, max(stage.floor, start))
        self.window: list[bool] = []
        self.failures, self.best = 0, 0
        self.day: date | None = None
        self.top = self.tempo
        """The rung from which the next day steps back; a day with few rounds takes nothing off it."""
        self.why = Reason.of("ladder-start", tempo=self.tempo)

    def begin_day(self, day: date) -> None:
        """Each day begins two steps below the last one."""
        if self.day is not None and day > self.day:
            self._move(self._start(), "ladder-day")
        self.day = day if self.day is None else max(day, self.day)

    def _start(self) -> int:
        """Where a day begins."""
        tempo = self.top
        for _ in range(_BACK_A_DAY):
            tempo = step_down(tempo, self.stage.floor)
        return tempo

    def take(self, attempt: Attempt, *, tense: bool) -> None:
        """One attempt."""
        if attempt.kind == "test":
            self._move(after_test(self.stage, attempt.tempo), "ladder-test")
            return
        if attempt.kind != "round":
            return
        if attempt.tempo and attempt.tempo != self.tempo:  # the player's own choice goes before the rule
            self._move(attempt.tempo, "ladder-own")
        if not attempt.clean:
            self._failed()
        elif attempt.seconds >= ROUND_S - 0.5:
            self._clean(tense="tense" in attempt.errors or tense)

    def _failed(self) -> None:
        self.failures += 1
        self.window = [*self.window, False][-WINDOW:]
        if self.failures >= FAILURES:
            self._move(step_down(self.tempo, self.stage.floor), "ladder-back")

    def _clean(self, *, tense: bool) -> None:
        self.failures = 0
        self.window = [*self.window, True][-WINDOW:]
        if sum(self.window) < CLEAN_NEEDED:
            return
        self.best = max(self.best, self.tempo)
        if tense:
            self.why = Reason.of("ladder-tense", tempo=self.tempo)
        elif self.tempo < self.stage.goal:
            self._move(step_up(self.tempo, self.stage.goal), "ladder-up")
        else:
            self.why = Reason.of("ladder-goal", tempo=self.tempo)

    def _move(self, tempo: int, code: str) -> None:
        if code != "ladder-day" or tempo != self.tempo:
            self.why = Reason.of(code, before=self.tempo, tempo=tempo)
        self.tempo, self.window, self.failures = tempo, [], 0
        if code in ("ladder-own", "ladder-test"):
            self.top = tempo
        elif code == "ladder-up":
            self.top = max(self.top, tempo)
        elif code == "ladder-back" and tempo < self._start():
            self.top = step_up(step_up(tempo, self.stage.goal), self.stage.goal)

    def ladder(self) -> Ladder:
        """Where it stands."""
        stage = self.stage
        return Ladder(
            self.tempo, stage.floor, stage.goal, self.best, sum(self.window), len(self.window), self.failures,
            self.best >= stage.goal, self.why,
        )  # fmt: skip


def rest_beats(stage_ladder: Ladder) -> int:
    """Beats of rest between rounds: four to begin with, one less for each clean round on the rung."""
    return max(0, 4 - stage_ladder.clean - (1 if stage_ladder.best else 0))
