"""The loop test: clicks are played and recorded, and where they are found is the delay of this machine."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, QTimer, Signal

from gingham.app.look.settings import Settings
from gingham.app.sound.inputs import SIMULATED, CardInput, Input, LoopInput
from gingham.app.sound.transport import Transport
from gingham.app.work.worker import Job, Tick
from gingham.core.errors import GinghamError, NumberError
from gingham.core.music.meter import Meter, parse_meter
from gingham.core.numbers import whole
from gingham.core.sound.rate import RATE_HZ
from gingham.words.errors import say
from gingham.words.notices import notice

if TYPE_CHECKING:
    from gingham.core.listening.delay import Delay
    from gingham.core.listening.spectra import Floats

_TEMPO, _BARS, _BEATS = 120, 1, 4
_BEAT_S = 60.0 / _TEMPO
_LOOK_MS, _AFTER_MS = 5, 700
_MOST_MS = 2_000
SIMULATED_DELAY_S = 0.038


def delay_s(settings: Settings, source: str) -> float:
    """What was measured for a source, in seconds; 0 before that."""
    try:
        return whole(settings.text(f"delay/{source or 'usual'}", "0"), -_MOST_MS, _MOST_MS * 10) / 10_000.0
    except NumberError:
        return 0.0


class Anchor:
    """When a click's first beat is in what is recorded, from looks at both clocks.

    Blocks come in late, never early: the latest of all looks is the nearest to the truth.
    """

    def __init__(self) -> None:
        self.first_s: float | None = None

    def look(self, recorded_s: float, played_s: float) -> None:
        """So much has come in while this moment of the clicks sounds."""
        here = recorded_s - played_s
        self.first_s = here if self.first_s is None else max(self.first_s, here)


class Delaying(QObject):
    """Measures the delay and remembers it."""

    measured = Signal(str)
    """What came of it, in words."""

    def __init__(self, transport: Transport, settings: Settings, parent: QObject) -> None:
        super().__init__(parent)
        self._transport, self._settings = transport, settings
        self._input: Input | None = None
        self._source = ""
        self._blocks: list[Floats] = []
        self._anchor = Anchor()
        self._meter: Meter = parse_meter("4/4")
        self._job = Job("delay", self)
        self._job.done.connect(self._found)
        self._timer = QTimer(self, interval=_LOOK_MS)
        self._timer.timeout.connect(self._look)
        self._end = QTimer(self, interval=_AFTER_MS, singleShot=True)
        self._end.timeout.connect(self._heard)
        transport.state_changed.connect(self._played)
        self.simulated_s = SIMULATED_DELAY_S
        """What the simulated loudspeaker and microphone take."""

    @property
    def running(self) -> bool:
        """Whether a test runs."""
        return self._input is not None

    def start(self, source: str) -> None:
        """Play clicks and listen to them."""
        if self.running:
            return
        self._source, self._blocks, self._anchor = source, [], Anchor()
        made: Input = (
            LoopInput(self._transport, self.simulated_s) if source == SIMULATED else CardInput(source)
        )
        try:
            made.start(self._blocks.append)
        except GinghamError as error:
            self.measured.emit(say(error))
            return
        self._input = made
        self._transport.play_clicks(self._meter, _TEMPO, _BARS)
        self._timer.start()
        self.measured.emit(notice("delay-runs"))

    def _look(self) -> None:
        played_s = self._transport.played_s(self._meter, _TEMPO)
        if played_s is not None and self._transport.playing:
            recorded = sum(map(len, self._blocks)) / RATE_HZ
            self._anchor.look(recorded, played_s)

    def _played(self, playing: bool) -> None:
        if self.running and not playing:
            self._timer.stop()
            self._end.start()

    def _heard(self) -> None:
        source, first = self._input, self._anchor.first_s
        if source is None:
            return
        source.stop()
        self._input = None
        blocks, late = self._blocks, source.latency_s

        def find(_tick: Tick) -> Delay | None:
            import numpy as np

            from gingham.core.listening.delay import delay_of

            if not blocks or first is None:
                return None
            beats = range(-_BEATS, _BEATS * _BARS)
            played = [(first + late + k * _BEAT_S, 2 if k % _BEATS == 0 else 1) for k in beats]
            return delay_of(np.concatenate(blocks), RATE_HZ, played)

        self._job.start(find)

    def _found(self, delay: Delay | None) -> None:
        if delay is None:
            self.measured.emit(notice("delay-not-heard"))
            return
        name = f"delay/{self._source or 'usual'}"
        self._settings.set_text(name, str(round(delay.seconds * 10_000)))
        self.measured.emit(notice("delay-found", ms=f"{delay.seconds * 1000:.1f}"))

    def close(self) -> None:
        """End the thread; let go of the microphone."""
        self._timer.stop()
        self._end.stop()
        if self._input is not None:
            self._input.stop()
            self._input = None
        self._job.close()
