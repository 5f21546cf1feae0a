"""Rounds of a stage: played, marked with one key without stopping, kept in the record.

A stage without a tempo is practised in silence, a change is counted against the clock, and the start test
goes faster from round to round until it is no longer even.
"""

from __future__ import annotations

import time
from collections.abc import Callable

import msgspec
from PySide6.QtCore import QObject, QTimer, Signal

from gingham.app.sound.handcare import HandCare
from gingham.app.sound.staging import line_of
from gingham.app.sound.transport import Owner
from gingham.app.views.practice.desk import Desk
from gingham.app.views.practice.played import Played, stage_begun
from gingham.app.views.practice.slips import SLIPS, slip_at
from gingham.core.errors import NumberError
from gingham.core.listening.verdict import Verdict
from gingham.core.numbers import whole
from gingham.core.practice.attempt import Attempt, AttemptKind, Error, Figures, Spot
from gingham.core.practice.ladder import ROUND_S, rest_beats, trial_tempi
from gingham.core.practice.session import change_name
from gingham.core.practice.stages import STEPS, WITHOUT_TEMPO, Stage
from gingham.core.values import replace
from gingham.words.notices import notice
from gingham.words.practice import ERROR_NAMES, STEP_NAMES

_TEST_ROUND_S = 8.0
_WARM_S = 90.0
"""So long must have been played today before the start test."""
_TICK_MS = 250
_MOST_CHANGES = 400


class _Now(msgspec.Struct):
    """What is being practised: since when the present rounds run, and where the music is."""

    played: Played
    tempo: int
    since: float | None = None
    began: float | None = None
    section: int = 0
    bar: int = 0
    at: float = 0.0
    tested: int = -1
    step: int = 0

    @property
    def stage(self) -> Stage:
        """The stage."""
        return self.played.stage


class Rounds(QObject):
    """Plays what is chosen, and takes marks."""

    marked = Signal(object)
    """The Attempt that has been kept."""

    def __init__(self, desk: Desk, care: HandCare, clock: Callable[[], float] = time.monotonic) -> None:
        super().__init__(desk.as_parent())
        self._desk, self._care, self.clock = desk, care, clock
        self._now: _Now | None = None
        self.session = 0
        """The number of the session that attempts belong to."""
        self._counting: Played | None = None
        self._last: tuple[Played, float] | None = None
        """The stage that was stopped, and how long it had been played since its last mark."""
        self._timer = QTimer(self, interval=_TICK_MS)
        self._timer.timeout.connect(self._tick)
        transport = desk.playing.transport
        transport.moved.connect(self._moved)
        desk.view.session.answered.connect(self._counted)

    @property
    def stage(self) -> Stage | None:
        """The stage that is being practised."""
        return self._now.stage if self._now is not None else None

    @property
    def seconds(self) -> float:
        """How long it has been played since the last mark."""
        now = self._now
        return self.clock() - now.since if now is not None and now.since is not None else 0.0

    # Playing.

    def play_or_stop(self) -> None:
        """Begin the chosen stage, or end it; one in steps goes on to its next step."""
        stage, now = self._desk.stage, self._now
        if now is not None and now.stage.kind == "steps" and stage is now.stage:
            now.step = (now.step + 1) % len(STEPS)
            self._say_step()
        elif now is not None or self._desk.playing.transport.playing:
            self.stop()
        elif stage is not None:
            self._begin(stage)

    def begin(self) -> None:
        """Begin the chosen stage, whatever sounds now."""
        self.stop()
        if self._desk.stage is not None:
            self._begin(self._desk.stage)

    def stop(self) -> None:
        """Silence."""
        if self._desk.playing.transport.playing:
            self._desk.playing.transport.stop()
        else:
            self.stopped()

    def _begin(self, stage: Stage) -> None:
        tempo = self._desk.tempo(stage)
        self._last = None
        if stage.kind in WITHOUT_TEMPO or stage.kind == "count":
            self._now = _Now(stage_begun(self._desk, stage), tempo, since=self.clock(), began=self.clock())
            self._desk.view.show_playing(True)
            self._timer.start()
            self._say_step()
            return
        self._play(stage, tempo)

    def _play(self, stage: Stage, tempo: int, tested: int = -1) -> None:
        playing, plan = self._desk.playing, self._desk.plan
        standing = self._desk.standing.ladder(stage)
        rest = 0 if tested >= 0 else rest_beats(standing) if standing.tries or standing.best else 0
        options = replace(
            playing.transport.options, loop=True, muted=frozenset(), rest_beats=rest, shrinking=False
        )
        line = line_of(stage, plan.results)
        playing.transport.play_line(line, plan.piece, tempo, Owner.STAGE, options)
        self._now = _Now(stage_begun(self._desk, stage), tempo, tested=tested)
        self._timer.start()

    def stopped(self) -> None:
        """It has ended; what was played since the last mark can still be marked."""
        now = self._now
        if now is None:
            return
        self._last = (now.played, self.seconds)
        self._now = None
        self._timer.stop()
        self._desk.view.show_playing(False)

    def _moved(self, owner: Owner, section: int, bar: int, inside: float) -> None:
        now = self._now
        if now is None or owner != Owner.STAGE:
            return
        if now.since is None:
            now.since = now.began = self.clock()
        now.section, now.bar, now.at = section, bar, inside

    # Marking.

    def mark(self, letter: str) -> None:
        """C is clean; N, E, S and K are not, for different reasons."""
        if self._desk.standing.resting:
            self._desk.say(notice("hand-rests"))
            return
        last = self._last if self._now is None else (self._now.played, self.seconds)
        if last is None or last[0].stage.kind == "count" or not last[0].is_on(self._desk):
            self._desk.say(notice("mark-nothing"))
            return
        played, seconds = last
        stage = played.stage
        if self._now is not None and self._now.tested >= 0:
            self._end_test(even=letter == "C")
            return
        if letter == "C" and stage.kind not in WITHOUT_TEMPO and seconds < ROUND_S - 0.5:
            self._desk.say(notice("round-short", seconds=round(ROUND_S - seconds)))
            return
        self._keep(played, letter == "C", SLIPS.get(letter, ()), seconds, letter=letter)

    def _keep(
        self, played: Played, clean: bool, errors: tuple[Error, ...], seconds: float,
        kind: AttemptKind = "round", figures: Figures | None = None, letter: str = "N",
    ) -> None:  # fmt: skip
        """What has been marked or counted."""
        now, rounds = self._now, max(1, self._desk.playing.transport.rounds)
        if self._desk.standing.tense:
            errors = (*errors, "tense")
        spots: tuple[Spot, ...] = ()
        if not clean and now is not None and now.bar and kind == "round":
            spots = (slip_at(played.planned, (now.section, now.bar, now.at), letter),)
        attempt = self.attempt(played, clean, errors, seconds, kind, figures, spots, rounds)
        if now is not None:
            now.since = self.clock()
        self._last = None
        self._add(played, attempt)

    def keep_heard(self, played: Played, found: Verdict, seconds: float, tempo: int) -> None:
        """What a recording of rounds came to, at the tempo that it was made at."""
        errors, figures, spots = found.errors, found.figures, found.spots
        attempt = self.attempt(played, found.clean, errors, seconds, "round", figures, spots)
        self._add(played, replace(attempt, source="heard", tempo=tempo))

    def _add(self, played: Played, attempt: Attempt) -> None:
        """Into the record; the ladder decides how it goes on."""
        stage, errors, clean = played.stage, attempt.errors, attempt.clean
        self._desk.logbook.add(attempt)
        if played.is_on(self._desk):
            self._desk.to_ladder(stage)
        if self._now is not None and self._now.stage is stage:
            self._desk.playing.transport.rest_now(rest_beats(self._desk.standing.ladder(stage)))
        said = ", ".join(ERROR_NAMES[error] for error in errors)
        self._desk.say(
            notice("marked-clean") if clean else notice("marked-not", why=f": {said}" if said else "")
        )
        self.marked.emit(attempt)

    def attempt(
        self, played: Played, clean: bool, errors: tuple[Error, ...], seconds: float, kind: AttemptKind,
        figures: Figures | None, spots: tuple[Spot, ...], rounds: int = 1,
    ) -> Attempt:  # fmt: skip
        """What the record keeps of a try at a stage."""
        desk, stage, section = self._desk, played.stage, played.section
        beat = str(played.planned.piece.meter.tempo_beat)
        tempo = self._now.tempo if self._now is not None else desk.tempo(stage)
        tempo = 0 if stage.kind in WITHOUT_TEMPO else tempo
        return Attempt(
            desk.logbook.today(), played.identity, stage.id, stage.mark, tempo, clean, kind, "marked",
            section.name, section.pattern, change_name(stage), beat, rounds,
            round(seconds, 1), errors, spots, figures if figures is not None else Figures(), self.session,
        )  # fmt: skip

    def tempo_set(self, tempo: int) -> None:
        """The stage that plays has another tempo: what was played at the old one is no round of the new."""
        if self._now is not None and self._now.tempo != tempo:
            self._now.tempo = tempo
            if self._now.since is not None:
                self._now.since = self.clock()

    # The start test.

    def start_test(self) -> None:
        """Faster from round to round; only when the hand is warm."""
        stage = self._desk.stage
        if stage is None or stage.kind != "loop":
            self._desk.say(notice("test-loop"))
            return
        today = self._desk.standing.today
        warm = sum(a.seconds for a in self._desk.logbook.record.attempts if a.day == today)
        if self._desk.standing.resting or warm + self._care.played_s < _WARM_S:
            self._desk.say(notice("hand-rests" if self._desk.standing.resting else "test-cold"))
            return
        self.stop()
        self._play(stage, trial_tempi(stage)[0], tested=0)
        self._desk.say(notice("test-runs", tempo=trial_tempi(stage)[0]))

    def _next_test(self, now: _Now) -> None:
        tempi = trial_tempi(now.stage)
        if now.tested + 1 >= len(tempi):
            self._end_test(even=True)
            return
        now.tested += 1
        now.tempo, now.since = tempi[now.tested], self.clock()
        self._desk.playing.transport.set_tempo(now.tempo)
        self._desk.say(notice("test-runs", tempo=now.tempo))

    def _end_test(self, *, even: bool) -> None:
        """The fastest even tempo is where the ladder begins, less a margin."""
        now = self._now
        assert now is not None
        tempi = trial_tempi(now.stage)
        fastest = tempi[now.tested if even else max(0, now.tested - 1)]
        attempt = self.attempt(now.played, True, (), self.seconds, "test", None, ())
        self.stop()
        self._desk.logbook.add(replace(attempt, tempo=fastest))
        self._desk.to_ladder(now.stage)
        self._desk.say(notice("test-ends", tempo=fastest, begin=self._desk.tempo(now.stage)))

    # Against the clock.

    def _tick(self) -> None:
        now = self._now
        if now is None:
            return
        if now.tested >= 0:
            if self.seconds >= _TEST_ROUND_S:
                self._next_test(now)
        elif now.stage.kind == "count":
            left = self._desk.count_s(now.stage) - self.seconds
            self._desk.view.stands.setText(notice("count-left", seconds=max(0, round(left))))
            if left <= 0:
                self._counting = now.played
                self.stop()
                self._desk.view.session.ask(notice("count-ask", seconds=self._desk.count_s(now.stage)))

    def _counted(self, text: str) -> None:
        """How many changes were clean."""
        played, self._counting = self._counting, None
        if played is None:
            return
        try:
            count = whole(text, 0, _MOST_CHANGES)
        except NumberError:
            self._counting = played
            self._desk.view.session.ask(notice("count-number"))
            return
        seconds = float(self._desk.count_s(played.stage))
        self._keep(played, count > 0, (), seconds, "count", Figures(count=count, count_s=seconds))
        self._desk.view.stages.setFocus()

    def _say_step(self) -> None:
        now = self._now
        if now is not None and now.stage.kind == "steps":
            self._desk.view.follow.title = STEP_NAMES[STEPS[now.step]]
            self._desk.view.follow.update()
