"""Recording into a file while it is played: what has come in is on disk, whatever happens next."""

from __future__ import annotations

import queue
import threading
from pathlib import Path
from typing import TYPE_CHECKING

import msgspec
from PySide6.QtCore import QObject, QTimer, Signal

from gingham.app.sound.inputs import Input
from gingham.core.errors import FileError, GinghamError
from gingham.core.formats.atomic import why_not
from gingham.core.sound.rate import RATE_HZ

if TYPE_CHECKING:
    from gingham.core.listening.spectra import Floats

_LOOK_MS = 50
_CLIPPED, _QUIET = 0.985, 0.004
_QUIET_S = 4.0
MOST_S = 890.0
"""A take that is longer could not be analysed."""


class Level(msgspec.Struct, frozen=True):
    """What comes in: the highest sample since the last look (0 to 1), and what is wrong with it if anything.

    `fault` is `clipped`, `quiet` (nothing for four seconds) or empty.
    """

    peak: float
    seconds: float
    fault: str


class _Writer(threading.Thread):
    """Writes blocks to a FLAC file in a thread of its own: a slow disk must not make the sound card wait."""

    def __init__(self, path: Path) -> None:
        super().__init__(name="take writer", daemon=True)
        self._path = path
        self.blocks: queue.SimpleQueue[Floats | None] = queue.SimpleQueue()
        self.frames = 0
        self.error: GinghamError | None = None

    def run(self) -> None:
        """Until None comes, or the disk is full."""
        try:
            import soundfile
        except (ImportError, OSError) as error:
            self.error = FileError("no-sound-files", why=str(error))
            return
        try:
            with soundfile.SoundFile(self._path, "w", RATE_HZ, 1, subtype="PCM_16", format="FLAC") as file:
                while (block := self.blocks.get()) is not None:
                    file.write(block)
                    self.frames += len(block)
        except OSError as error:
            self.error = FileError("file-write", path=str(self._path), why=why_not(error))
        except soundfile.LibsndfileError as error:
            self.error = FileError("file-write", path=str(self._path), why=str(error))


class Recorder(QObject):
    """Records from an input into a file. One recording at a time."""

    level_changed = Signal(object)
    """A Level, some times a second."""
    ended = Signal(float, object)
    """Seconds that are on disk, and the GinghamError that ended it (None if it was stopped)."""

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._input: Input | None = None
        self._writer: _Writer | None = None
        self._peak = 0.0
        self._heard_at = 0
        self._frames = 0
        self._timer = QTimer(self, interval=_LOOK_MS)
        self._timer.timeout.connect(self._look)

    @property
    def recording(self) -> bool:
        """Whether a take is being recorded."""
        return self._writer is not None

    @property
    def seconds(self) -> float:
        """How much has come in."""
        return self._frames / RATE_HZ

    def start(self, source: Input, path: Path) -> None:
        """Begin. TakeError if the input cannot be had."""
        assert self._writer is None
        self._peak, self._frames, self._heard_at = 0.0, 0, 0
        writer = _Writer(path)
        writer.start()
        self._writer = writer
        try:
            source.start(self._push)
        except GinghamError:
            writer.blocks.put(None)
            writer.join()
            self._writer = None
            raise
        self._input = source
        self._timer.start()

    def _push(self, block: Floats) -> None:
        """A block has come; in the input's thread."""
        writer = self._writer
        if writer is None or not len(block):
            return
        writer.blocks.put(block)
        peak = float(max(block.max(), -block.min()))
        self._frames += len(block)
        if peak > _QUIET:
            self._heard_at = self._frames
        self._peak = max(self._peak, peak)

    def _look(self) -> None:
        writer, source = self._writer, self._input
        if writer is None or source is None:
            return
        peak, self._peak = self._peak, 0.0
        quiet = (self._frames - self._heard_at) / RATE_HZ > _QUIET_S
        fault = "clipped" if peak >= _CLIPPED else "quiet" if quiet else ""
        self.level_changed.emit(Level(peak, self._frames / RATE_HZ, fault))
        if writer.error is not None or source.lost or self._frames > MOST_S * RATE_HZ:
            self.stop()

    def stop(self) -> None:
        """End; what has come in so far is kept."""
        source, writer = self._input, self._writer
        if source is None or writer is None:
            return
        self._timer.stop()
        source.stop()
        writer.blocks.put(None)
        writer.join()
        self._input = self._writer = None
        self.ended.emit(writer.frames / RATE_HZ, writer.error)

    def close(self) -> None:
        """The window closes."""
        self.stop()
