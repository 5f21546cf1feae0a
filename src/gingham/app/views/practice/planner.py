"""The plan of the whole piece, made off the interface thread where it is long."""

from __future__ import annotations

from PySide6.QtCore import QObject, Signal

from gingham.app.work.worker import NewestWorker
from gingham.core.fitting.cache import FitCache
from gingham.core.pieces.piece import Piece
from gingham.core.practice.plan import plan_piece


class Planner(NewestWorker[tuple[Piece, str, str]]):
    """Plans the newest piece, in an order of learning, the fingers joining in an order."""

    planned = Signal(object)

    def __init__(self, parent: QObject | None = None) -> None:
        self._cache = FitCache()
        super().__init__("planner", parent)

    def work_on(self, item: tuple[Piece, str, str]) -> None:
        """Plan one piece."""
        found = plan_piece(*item, self._cache)
        if not self.outdated:
            self.planned.emit(found)
