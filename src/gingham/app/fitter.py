"""Fitting off the interface thread: the newest request wins, older ones are dropped."""

from __future__ import annotations

import threading

from PySide6.QtCore import QObject, Signal

from gingham.core.errors import GinghamError
from gingham.core.fitting.fit import FitCache, fit
from gingham.core.fitting.result import Result
from gingham.core.judging.speed import Limit, hand_limit
from gingham.core.pieces.piece import Piece


class Fitter(QObject):
    """A worker thread with one waiting place."""

    fitted = Signal(object, object)
    """Result and Limit of the newest request."""
    failed = Signal(object, object)
    """The piece and the GinghamError for which it cannot be fitted."""

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._wake = threading.Condition()
        self._waiting: tuple[Piece, int] | None = None
        self._running = True
        self._cache = FitCache()
        self._thread = threading.Thread(target=self._work, name="fitter", daemon=True)
        self._thread.start()

    def request(self, piece: Piece, section: int) -> None:
        """Fit this piece's section as soon as the worker is free."""
        with self._wake:
            self._waiting = (piece, section)
            self._wake.notify()

    def close(self) -> None:
        """End the thread and wait for it."""
        with self._wake:
            self._running = False
            self._wake.notify()
        self._thread.join()

    def _work(self) -> None:
        while True:
            with self._wake:
                while self._waiting is None and self._running:
                    self._wake.wait()
                if not self._running:
                    return
                assert self._waiting is not None
                piece, section = self._waiting
                self._waiting = None
            try:
                result = fit(piece, section, self._cache)
                limit = hand_limit(result, piece.rules.level)
            except GinghamError as error:
                self.failed.emit(piece, error)
                continue
            if self._running:
                self._emit(result, limit)

    def _emit(self, result: Result, limit: Limit) -> None:
        self.fitted.emit(result, limit)
