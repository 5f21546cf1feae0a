"""Fitting and judging off the interface thread."""

from __future__ import annotations

from typing import TYPE_CHECKING

import msgspec
from PySide6.QtCore import QObject, Signal

from gingham.app.worker import NewestWorker
from gingham.core.errors import GinghamError
from gingham.core.fitting.fit import FitCache, fit
from gingham.core.fitting.result import Result
from gingham.core.judging.speed import Limit, hand_limit
from gingham.core.pieces.piece import Piece

if TYPE_CHECKING:
    from gingham.core.bench.ranking import Fix
    from gingham.core.reasons import Reason


_YIELD_S = 0.01  # the picture is painted now: two busy threads of Python would only hinder each other


class Fitter(NewestWorker[tuple[Piece, int]]):
    """Fits the newest piece."""

    fitted = Signal(object)
    """The Result of the newest request."""
    limited = Signal(object, object)
    """That Result and its Limit, a moment later: the picture need not wait for it."""
    failed = Signal(object, object)
    """The piece and the GinghamError for which it cannot be fitted."""

    def __init__(self, parent: QObject | None = None) -> None:
        self._cache = FitCache()
        super().__init__("fitter", parent)

    def work_on(self, item: tuple[Piece, int]) -> None:
        """Fit one section of a piece."""
        piece, section = item
        try:
            result = fit(piece, section, self._cache)
        except GinghamError as error:
            self.failed.emit(piece, error)
            return
        if self.running:
            self.fitted.emit(result)
        self.pause(_YIELD_S)
        if not self.outdated:
            self.limited.emit(result, hand_limit(result, piece.rules.level))


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
