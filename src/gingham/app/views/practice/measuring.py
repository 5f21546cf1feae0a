"""A stage heard while it is played to the click: recorded, judged in a worker, kept as heard."""

from __future__ import annotations

import os
import time
from collections.abc import Callable
from functools import partial
from math import ceil
from pathlib import Path
from tempfile import mkstemp

import msgspec
from PySide6.QtCore import QObject, QTimer, Signal

from gingham.app.look.settings import Settings
from gingham.app.sound.inputs import (
    SIMULATED,
    CardInput,
    Input,
    SimulatedInput,
    microphones,
    usual_microphone,
)
from gingham.app.sound.recorder import Recorder
from gingham.app.sound.staging import line_of
from gingham.app.sound.transport import Owner
from gingham.app.views.practice.desk import Desk
from gingham.app.views.practice.played import Played, stage_begun
from gingham.app.work.worker import Job, Tick
from gingham.core.errors import GinghamError
from gingham.core.listening.analysis import Given
from gingham.core.listening.plan import plan_of
from gingham.core.listening.simulate import BOUNDS, LEAD_S, read_fault, simulate
from gingham.core.listening.sounds import read_sound
from gingham.core.listening.spectra import Floats
from gingham.core.listening.verdict import Verdict, hear_stage, verdict
from gingham.core.music.meter import seconds
from gingham.core.practice.cutting import CutStage, cut_stage
from gingham.core.practice.ladder import ROUND_S
from gingham.core.practice.stages import Stage, length_of
from gingham.core.sound.rate import RATE_HZ
from gingham.core.values import replace
from gingham.words.errors import say
from gingham.words.notices import notice

USUAL_FAULTS = "jitter=7"
"""How the simulated player errs here until the settings say otherwise."""
_TAIL_S = 1.2
_LOOK_MS = 100


class _Take(msgspec.Struct, frozen=True):
    """What is being recorded: a stage at a tempo, so many rounds, until so many seconds."""

    played: Played
    cut: CutStage
    tempo: int
    rounds: int
    until_s: float
    path: Path


class Measuring(QObject):
    """Records one attempt at a time."""

    heard = Signal(object, object, float, int)
    """What was Played, its Verdict, the seconds that were played, at which tempo."""

    def __init__(self, desk: Desk, settings: Settings) -> None:
        super().__init__(desk.as_parent())
        self._desk, self._settings = desk, settings
        self.sleep: Callable[[float], None] = time.sleep
        """How the simulated player waits for time to pass."""
        self._take: _Take | None = None
        self._seed = 0
        self.recorder = Recorder(self)
        self.recorder.ended.connect(self._recorded)
        self._maker, self._judge = Job("stage player", self), Job("stage listener", self)
        self._maker.done.connect(lambda then: then())
        self._judge.done.connect(self._judged)
        for job in (self._maker, self._judge):
            job.failed.connect(self._failed)
        self._look = QTimer(self, interval=_LOOK_MS)
        self._look.timeout.connect(self._watch)

    def toggle(self) -> None:
        """Hear the chosen stage from its count-in on; pressed again, what was played so far is judged."""
        stage = self._desk.stage
        if self.recorder.recording:
            self.recorder.stop()
        elif self._take is not None:
            return
        elif stage is None or stage.kind in ("free", "steps", "count", "strum"):
            self._desk.say(notice("hear-loop"))
        elif self._desk.standing.resting:
            self._desk.say(notice("hand-rests"))
        else:
            self._begin(stage)

    def _begin(self, stage: Stage) -> None:
        desk, tempo = self._desk, self._desk.tempo(stage)
        desk.playing.transport.stop()
        meter = desk.plan.piece.meter
        round_s = seconds(length_of(stage), meter, tempo)
        rounds = max(1, ceil(ROUND_S / round_s))
        count_s = seconds(meter.bar, meter, tempo)
        handle, name = mkstemp(suffix=".flac", prefix="gingham-")
        os.close(handle)
        cut = cut_stage(stage, desk.plan.results, tempo)
        self._take = _Take(
            stage_begun(desk, stage), cut, tempo, rounds, count_s + rounds * round_s + _TAIL_S, Path(name)
        )
        source = usual_microphone(self._settings.text("microphone", ""), microphones())
        if source != SIMULATED:
            self._start(CardInput(source))
            return
        self._seed += 1
        faults, seed, take = self._settings.text("simulated-faults", USUAL_FAULTS), self._seed, self._take

        def play(_tick: Tick) -> Callable[[], None]:
            return partial(self._start, SimulatedInput(_simulated(take, faults, seed, count_s), self.sleep))

        desk.say(notice("hear-simulated"))
        self._maker.start(play)

    def _start(self, source: Input) -> None:
        take, desk = self._take, self._desk
        if take is None:
            return
        try:
            self.recorder.start(source, take.path)
        except GinghamError as error:
            self._failed(error)
            return
        planned = take.played.planned
        line = replace(line_of(take.played.stage, planned.results), notes=())
        options = replace(desk.playing.transport.options, loop=True, count_in="bar", clicks=1, rest_beats=0)
        desk.playing.transport.play_line(line, planned.piece, take.tempo, Owner.STAGE, options)
        desk.say(notice("hear-now", rounds=take.rounds))
        self._look.start()

    def _watch(self) -> None:
        if self._take is not None and self.recorder.seconds >= self._take.until_s:
            self.recorder.stop()

    def _recorded(self, lasted: float, error: GinghamError | None) -> None:
        self._look.stop()
        take, desk = self._take, self._desk
        if desk.playing.transport.owner is Owner.STAGE:
            desk.playing.transport.stop()
        if take is None:
            return
        if error is not None:
            self._failed(error)
            return
        self._take = replace(take, until_s=min(take.until_s, lasted))  # the player may have ended it
        name = take.played.section.name
        desk.say(notice("hear-judging"))

        def judge(tick: Tick) -> Verdict:
            given = Given(read_sound(take.path))
            return verdict(hear_stage(take.cut, name, given, take.rounds, tick), take.cut.begins)

        self._judge.start(judge)

    def _judged(self, found: Verdict) -> None:
        take, self._take = self._take, None
        if take is not None:
            take.path.unlink(missing_ok=True)
            self.heard.emit(take.played, found, round(max(0.0, take.until_s - _TAIL_S), 1), take.tempo)

    def _failed(self, error: GinghamError) -> None:
        """Nothing has come of it, and why."""
        take, self._take = self._take, None
        self._look.stop()
        if take is not None:
            take.path.unlink(missing_ok=True)
        self._desk.say(say(error))

    def close(self) -> None:
        """End every thread; what was being recorded is given up."""
        take, self._take = self._take, None
        self._maker.close()
        self._judge.close()
        self.recorder.close()
        if take is not None:
            take.path.unlink(missing_ok=True)


def _simulated(take: _Take, faults: str, seed: int, count_s: float) -> Floats:
    """What the simulated player plays of the rounds, after the count-in."""
    import numpy as np

    known = dict(read_fault(word) for word in faults.split() if word.partition("=")[0] in BOUNDS)
    played = [(result, 1) for _ in range(take.rounds) for result in take.cut.results]
    samples = simulate(take.cut.results[0].piece, plan_of(played), known, seed).samples
    wait = round((count_s - LEAD_S) * RATE_HZ)
    return np.concatenate([np.zeros(max(0, wait), np.float32), samples[max(0, -wait) :]])
