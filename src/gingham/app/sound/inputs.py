"""Where a take comes from: a microphone, or a player that is not there and needs none.

Both hand over blocks of mono samples from a thread of their own. `sounddevice` is loaded only when something
is to be recorded.
"""

from __future__ import annotations

import threading
import time
from collections.abc import Callable, Sequence
from typing import TYPE_CHECKING, Any, Protocol

from gingham.app.sound.devices import names_with
from gingham.core.errors import TakeError
from gingham.core.sound.rate import RATE_HZ
from gingham.language import tr

if TYPE_CHECKING:
    from gingham.app.sound.transport import Transport
    from gingham.core.listening.spectra import Floats
    from gingham.core.sound.room import Stereo

BLOCK = 1024
SIMULATED = "simulated player"
"""The name of the device that needs no microphone."""
Push = Callable[["Floats"], None]


class Input(Protocol):
    """Gives blocks of samples at RATE_HZ as they come."""

    latency_s: float
    lost: bool
    """Whether it has stopped by itself: unplugged, taken by something else, or at its end."""

    def start(self, push: Push) -> None:
        """Begin. TakeError if that cannot be."""

    def stop(self) -> None:
        """No more blocks: when this returns, `push` is not called again."""


class CardInput:
    """A microphone through PortAudio: the usual one, or one by its name."""

    def __init__(self, device: str = "") -> None:
        self._device = device
        self._stream: Any = None
        self._wanted = False
        self.latency_s = 0.0
        self.lost = False

    def start(self, push: Push) -> None:
        """Begin. TakeError without a sound library, or where no microphone can be had."""
        try:
            import sounddevice  # a missing PortAudio already fails here
        except (OSError, ImportError) as error:
            raise TakeError("no-microphone", why=str(error)) from error

        def callback(data: Any, _frames: int, _time: object, _status: object) -> None:
            push(data[:, 0].copy())

        def finished() -> None:
            self.lost = self._wanted

        self._wanted, self.lost = True, False
        try:
            self._stream = sounddevice.InputStream(
                samplerate=RATE_HZ, channels=1, dtype="float32", blocksize=BLOCK, callback=callback,
                device=self._device or None, finished_callback=finished,
            )  # fmt: skip
            self._stream.start()
        except (sounddevice.PortAudioError, ValueError) as error:
            self._wanted, self._stream = False, None
            raise TakeError("no-microphone", why=str(error)) from error
        self.latency_s = float(self._stream.latency)

    def stop(self) -> None:
        """No more blocks."""
        self._wanted = False
        if self._stream is not None:
            self._stream.close()
            self._stream = None


class SimulatedInput:
    """Plays samples that are there already as a microphone would give them."""

    latency_s = 0.0

    def __init__(self, samples: Floats, sleep: Callable[[float], None] = time.sleep) -> None:
        self._samples, self._sleep = samples, sleep
        self._running = threading.Event()
        self._thread: threading.Thread | None = None
        self.lost = False

    def start(self, push: Push) -> None:
        """Begin at the beginning."""
        self._running.set()
        self.lost = False
        self._thread = threading.Thread(target=self._work, args=(push,), name="simulated input", daemon=True)
        self._thread.start()

    def _work(self, push: Push) -> None:
        began, given = time.monotonic(), 0
        while self._running.is_set() and given < len(self._samples):
            push(self._samples[given : given + BLOCK])
            given += BLOCK
            self._sleep(max(0.0, began + given / RATE_HZ - time.monotonic()))
        self.lost = self._running.is_set()  # it has played to its end

    def stop(self) -> None:
        """No more blocks."""
        self._running.clear()
        if self._thread is not None:
            self._thread.join()
            self._thread = None


class LoopInput:
    """A microphone before the loudspeaker: it hears what the program plays, so many seconds later."""

    latency_s = 0.0

    def __init__(self, transport: Transport, delay_s: float, level: float = 0.4) -> None:
        self._transport, self._level = transport, level
        self._late = round(delay_s * RATE_HZ)
        self.lost = False

    def start(self, push: Push) -> None:
        """Hear every block that is played from now on, once it has sounded."""
        import numpy as np

        waiting = np.zeros(self._late, dtype=np.float32)

        def overheard(block: Stereo) -> None:
            nonlocal waiting
            waiting = np.concatenate([waiting, self._level * block.mean(axis=1, dtype=np.float32)])
            if len(waiting) >= self._late + 2 * BLOCK:  # a block is there when all of it has sounded
                push(waiting[:BLOCK])
                waiting = waiting[BLOCK:]

        self._transport.overheard = overheard

    def stop(self) -> None:
        """Hear nothing more."""
        self._transport.overheard = None


def microphones() -> list[tuple[str, str]]:
    """What can be listened to, as (name, words): the usual microphone, each by name, the simulated player."""
    names = microphone_names()
    return [("", tr("Microphone")), *((name, name) for name in names), (SIMULATED, tr("Simulated player"))]


def usual_microphone(wanted: str, rows: Sequence[tuple[str, str]]) -> str:
    """The wanted one if it is there, else the usual one; the simulated player where there is none."""
    known = [name for name, _ in rows]
    if wanted and wanted in known:
        return wanted
    return "" if len(known) > 2 else SIMULATED


def microphone_names() -> list[str]:
    """The devices that can record, by name; none where there is no library or no device."""
    return names_with("max_input_channels", 1)
