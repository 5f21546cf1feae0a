"""Where sound goes: a sound card, or a silent clock that keeps the same time.

`sounddevice` is loaded only when something is to be played, because a missing PortAudio library already
fails at import.
"""

from __future__ import annotations

import threading
import time
from collections.abc import Callable
from typing import TYPE_CHECKING, Any, Protocol

from gingham.core.sound.rate import RATE_HZ

if TYPE_CHECKING:
    from gingham.core.sound.string import Samples

BLOCK = 1024
Pull = Callable[[], "Samples"]


class Output(Protocol):
    """Takes blocks of BLOCK samples at RATE_HZ, in time."""

    latency_s: float

    def start(self, pull: Pull) -> None:
        """Begin to take blocks."""

    def stop(self) -> None:
        """Take no more blocks. When this returns, `pull` is not called again."""

    def close(self) -> None:
        """Let go of the device."""


class SilentOutput:
    """A paced thread that takes blocks as a sound card would, and drops them."""

    latency_s = 0.0

    def __init__(
        self, clock: Callable[[], float] = time.monotonic, sleep: Callable[[float], None] = time.sleep
    ) -> None:
        self._clock, self._sleep = clock, sleep
        self._running = threading.Event()
        self._thread: threading.Thread | None = None

    def start(self, pull: Pull) -> None:
        """Begin to take blocks."""
        self._running.set()
        self._thread = threading.Thread(target=self._work, args=(pull,), name="silent clock", daemon=True)
        self._thread.start()

    def _work(self, pull: Pull) -> None:
        due = self._clock()
        while self._running.is_set():
            pull()
            due += BLOCK / RATE_HZ
            self._sleep(max(0.0, due - self._clock()))

    def stop(self) -> None:
        """Take no more blocks."""
        self._running.clear()
        if self._thread is not None:
            self._thread.join()
            self._thread = None

    def close(self) -> None:
        """Nothing to let go of."""


class CardOutput:
    """The default sound card, through PortAudio."""

    def __init__(self, library: Any) -> None:
        self._library = library
        self._stream: Any = None
        self.latency_s = 0.0

    def start(self, pull: Pull) -> None:
        """Begin to take blocks."""

        def callback(out: Any, frames: int, _time: object, _status: object) -> None:
            out[:, 0] = pull()[:frames]

        self._stream = self._library.OutputStream(
            samplerate=RATE_HZ, channels=1, dtype="float32", blocksize=BLOCK, callback=callback
        )
        self._stream.start()
        self.latency_s = float(self._stream.latency)

    def stop(self) -> None:
        """Take no more blocks."""
        if self._stream is not None:
            self._stream.close()
            self._stream = None

    def close(self) -> None:
        """Let go of the device."""
        self.stop()


def open_output() -> tuple[Output, str]:
    """The default sound card, or the silent clock with a sentence that says why."""
    try:
        import sounddevice  # loaded here: see above

        sounddevice.check_output_settings(samplerate=RATE_HZ, channels=1, dtype="float32")
    except (OSError, ImportError) as error:
        return SilentOutput(), f"No sound library here, so playing is silent ({error})."
    except (ValueError, sounddevice.PortAudioError):
        return SilentOutput(), "No sound card here: playing is silent, the playhead still runs."
    return CardOutput(sounddevice), ""
