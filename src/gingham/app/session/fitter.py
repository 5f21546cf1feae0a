"""Fitting and judging off the interface thread."""

from __future__ import annotations

import threading
import time
from typing import TYPE_CHECKING

import msgspec
from PySide6.QtCore import QObject, Signal

from gingham.app.work.worker import NewestWorker
from gingham.core.errors import GinghamError
from gingham.core.fitting.cache import FitCache
from gingham.core.fitting.fit import fit
from gingham.core.fitting.result import Result
from gingham.core.judging.speed import Limit, hand_limit
from gingham.core.pieces.piece import Piece

if TYPE_CHECKING:
    from gingham.core.bench.ranking import Fix
    from gingham.core.reasons import Reason


_QUICK_MS = 45.0  # a fit of some thousand bars
_MANY_BARS = 1_000
_YIELD_S = 0.06  # picture and words are painted now: two busy threads of Python would only hinder each other


class Fitter(NewestWorker[tuple[Piece, int, Result | None]]):
    """Fits the newest piece."""

    fitted = Signal(object)
    """The Result of the newest request."""
    limited = Signal(object, object)
    """That Result and its Limit, a moment later: the picture need not wait for it."""
    failed = Signal(object, object)
    """The piece and the GinghamError for which it cannot be fitted."""

    def __init__(self, parent: QObject | None = None) -> None:
        self._cache = FitCache()
        self._using = threading.Lock()
        """Held by whichever thread uses the cache."""
        self._last_ms = 0.0
        super().__init__("fitter", parent)

    def fit_soon(self, piece: Piece, section: int) -> bool:
        """Fit at once where that is quick (chords and grips known, the last fit short), else in the worker.

        Handing over to the worker and back takes longer than a quick fit does. Whether it is done already.
        """
        if self._waiting is None and self._last_ms < _QUICK_MS and self._using.acquire(blocking=False):
            try:
                if self._cache.is_warm(piece) and self.fit_now(piece, section):
                    return True
            finally:
                self._using.release()
        self.request((piece, section, None))
        return False

    def fit_now(self, piece: Piece, section: int) -> bool:
        """Fit in this thread; false if it cannot be fitted, which the worker then says."""
        began = time.perf_counter()
        try:
            result = fit(piece, section, self._cache)
        except GinghamError:
            return False
        self._last_ms = 1000 * (time.perf_counter() - began)
        self.request((piece, section, result))  # its limit, a moment later
        self.fitted.emit(result)
        return True

    def work_on(self, item: tuple[Piece, int, Result | None]) -> None:
        """Fit one section of a piece, unless that has been done, and find its limit."""
        piece, section, result = item
        if result is None:
            result = self._fitted(piece, section)
            if result is None:
                return
            self.fitted.emit(result)
        self.pause(_YIELD_S)
        if not self.outdated and len(result.bars) <= _MANY_BARS:  # else the full verdict says it, later
            self.limited.emit(result, hand_limit(result, piece.rules.level))

    def _fitted(self, piece: Piece, section: int) -> Result | None:
        began = time.perf_counter()
        try:
            with self._using:
                result = fit(piece, section, self._cache)
        except GinghamError as error:
            self.failed.emit(piece, error)
            return None
        self._last_ms = 1000 * (time.perf_counter() - began) if self._cache.is_warm(piece) else 0.0
        return result if self.running else None


class Verdict(msgspec.Struct, frozen=True):
    """What is worth knowing of a result a moment after it is shown."""

    result: Result
    limit: Limit
    fix: Fix | None
    slot: int | None
    """The pattern's place at which the limit is set."""
    monotony: Reason | None


class Judge(NewestWorker[Result]):
    """Judges the newest result in full: both hands' limit, what would raise it, whether it is monotonous."""

    judged = Signal(object)

    def __init__(self, parent: QObject | None = None) -> None:
        self._cache = FitCache()
        super().__init__("judge", parent)

    def work_on(self, item: Result) -> None:
        """Judge one result."""
        from gingham.core.bench.ranking import best_fix, monotony, spot_slot
        from gingham.core.judging.speed import full_limit

        limit = full_limit(item, item.piece.rules.level)
        slot = spot_slot(item, limit.spots[0]) if limit.spots else None
        fix = best_fix(item, limit, self._cache)
        if not self.outdated:
            self.judged.emit(Verdict(item, limit, fix, slot, monotony(item)))
