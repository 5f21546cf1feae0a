"""Listening without recording: what comes in goes block by block to a thread that makes something of it."""

from __future__ import annotations

import queue
import threading
from collections.abc import Callable
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, QTimer, Signal

from gingham.app.sound.inputs import Input
from gingham.app.work.worker import report_fault

if TYPE_CHECKING:
    from gingham.core.listening.spectra import Floats

_LOOK_MS = 60


class Ear(QObject):
    """Listens to an input; `made` tells what `hear` makes of each stretch of new samples."""

    made = Signal(object)
    """What `hear` returned, unless it was None; in the interface thread."""
    ended = Signal()
    """The input has stopped by itself."""
    _heard = Signal(int, object)
    _finished = Signal(int)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._input: Input | None = None
        self._blocks: queue.SimpleQueue[Floats | None] = queue.SimpleQueue()
        self._thread: threading.Thread | None = None
        self._number = 0
        self._heard.connect(self._tell)
        self._finished.connect(self._finish)
        self._timer = QTimer(self, interval=_LOOK_MS)
        self._timer.timeout.connect(self._look)

    @property
    def listening(self) -> bool:
        """Whether it listens."""
        return self._input is not None

    def start(self, source: Input, hear: Callable[[Floats], object]) -> None:
        """Listen from now on. TakeError if the input cannot be had."""
        self.stop()
        self._number += 1
        blocks: queue.SimpleQueue[Floats | None] = queue.SimpleQueue()
        source.start(blocks.put)
        self._input, self._blocks = source, blocks
        number = self._number
        self._thread = threading.Thread(
            target=self._work, args=(blocks, hear, number), name="ear", daemon=True
        )
        self._thread.start()
        self._timer.start()

    def _work(
        self, blocks: queue.SimpleQueue[Floats | None], hear: Callable[[Floats], object], number: int
    ) -> None:
        import numpy as np

        while (block := blocks.get()) is not None:
            parts = [block]
            while not blocks.empty():  # a slow look must not fall behind the player
                more = blocks.get()
                if more is None:
                    blocks.put(None)
                    break
                parts.append(more)
            try:
                made = hear(np.concatenate(parts))
            except Exception:  # noqa: BLE001  # the window must hear of the end
                report_fault()
                return
            if made is not None:
                self._heard.emit(number, made)
        self._finished.emit(number)

    def _tell(self, number: int, made: object) -> None:
        if number == self._number and self.listening:
            self.made.emit(made)

    def _look(self) -> None:
        if self._input is not None and self._input.lost:
            self._timer.stop()
            self._blocks.put(None)  # what has come in is still heard to its end

    def _finish(self, number: int) -> None:
        if number == self._number and self.listening:
            self.stop()
            self.ended.emit()

    def stop(self) -> None:
        """Listen no more."""
        if self._input is None:
            return
        self._timer.stop()
        self._input.stop()
        self._input = None
        self._blocks.put(None)
        if self._thread is not None:
            self._thread.join()
            self._thread = None
