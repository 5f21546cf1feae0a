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
from gingham.language import tr

if TYPE_CHECKING:
    from gingham.core.sound.room import Stereo

BLOCK = 1024
Pull = Callable[[], "Stereo"]


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
    """A sound card through PortAudio: the default one, or one by its name."""

    def __init__(self, library: Any, device: str = "") -> None:
        self._library, self._device = library, device
        self._stream: Any = None
        self._wanted = False
        self.latency_s = 0.0
        self.lost = False
        """Whether the card has stopped by itself: unplugged, or taken by something else."""

    def start(self, pull: Pull) -> None:
        """Begin to take blocks."""

        def callback(out: Any, frames: int, _time: object, _status: object) -> None:
            out[:] = pull()[:frames]

        def finished() -> None:
            self.lost = self._wanted

        self._wanted, self.lost = True, False
        self._stream = self._library.OutputStream(
            samplerate=RATE_HZ, channels=2, dtype="float32", blocksize=BLOCK, callback=callback,
            device=self._device or None, finished_callback=finished,
        )  # fmt: skip
        self._stream.start()
        self.latency_s = float(self._stream.latency)

    def stop(self) -> None:
        """Take no more blocks."""
        self._wanted = False
        if self._stream is not None:
            self._stream.close()
            self._stream = None

    def close(self) -> None:
        """Let go of the device."""
        self.stop()


def open_output(device: str = "") -> tuple[Output, str]:
    """A sound card (the default one, or by name), or the silent clock with a sentence that says why."""
    try:
        import sounddevice  # loaded here: see above

        sounddevice.check_output_settings(
            device=device or None, samplerate=RATE_HZ, channels=2, dtype="float32"
        )
    except (OSError, ImportError) as error:
        return SilentOutput(), tr("No sound library here, so playing is silent ({error}).", error=error)
    except (ValueError, sounddevice.PortAudioError):
        if device:  # the one that was chosen is not there today: the default one may be
            output, why = open_output()
            return output, why or tr("{device} is not there; the usual sound card is used.", device=device)
        return SilentOutput(), tr("No sound card here: playing is silent, the playhead still runs.")
    return CardOutput(sounddevice, device), ""


def device_names() -> list[str]:
    """The sound cards that can play, by name; none where there is no library or no card."""
    return names_with("max_output_channels", 2)


def names_with(channels: str, least: int) -> list[str]:
    """The devices with at least so many channels (`max_input_channels`, `max_output_channels`), by name."""
    try:
        import sounddevice

        found = sounddevice.query_devices()
    except (OSError, ImportError):
        return []
    except sounddevice.PortAudioError:
        return []
    return [str(each["name"]) for each in found if each[channels] >= least]
