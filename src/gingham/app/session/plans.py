"""The plan of the shown piece, kept once for every page that stands on it; long ones are made in a worker."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Signal

from gingham.app.look.settings import Settings
from gingham.app.session.shown import Shown
from gingham.app.work.worker import NewestWorker
from gingham.core.fitting.cache import FitCache
from gingham.core.pieces.piece import Piece
from gingham.core.practice.orders import JOINS, OPENINGS, ORDERS, SINGING, Learning

if TYPE_CHECKING:
    from gingham.core.practice.plan import Planned

_QUICK = 64  # bars of a piece that is planned while the player waits


class _Planner(NewestWorker[tuple[Piece, Learning]]):
    """Plans the newest piece, as the player learns."""

    planned = Signal(object)

    def __init__(self, parent: QObject | None = None) -> None:
        self._cache = FitCache()
        super().__init__("planner", parent)

    def work_on(self, item: tuple[Piece, Learning]) -> None:
        """Plan one piece."""
        from gingham.core.practice.plan import plan_piece

        found = plan_piece(*item, self._cache)
        if not self.outdated:
            self.planned.emit(found)


class Plans(QObject):
    """Holds the newest plan; `refresh` asks for it where somebody looks."""

    changed = Signal()

    def __init__(self, shown: Shown, settings: Settings, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._shown, self._settings = shown, settings
        self._cache = FitCache()
        self._planner: _Planner | None = None
        self.planned: Planned | None = None

    @property
    def learning(self) -> Learning:
        """How the player learns."""
        choice = self._settings.choice
        return Learning(
            choice("learning-order", ORDERS, ORDERS[0]),
            choice("joins", JOINS, JOINS[0]),
            choice("opening", OPENINGS, OPENINGS[0]),
            choice("sing", SINGING, SINGING[0]),
        )

    def choose(self, learning: Learning) -> None:
        """Learn in another way from now on."""
        self._settings.set_text("learning-order", learning.order)
        for name in ("joins", "opening", "sing"):
            self._settings.set_text(name, getattr(learning, name))

    @property
    def fresh(self) -> bool:
        """Whether the plan is that of the piece and the orders as they are now."""
        made = self.planned
        return made is not None and made.piece is self._shown.piece and made.learning == self.learning

    def refresh(self) -> bool:
        """Make the plan if it is an old one; whether it is there at once."""
        if self.fresh:
            return True
        from gingham.core.practice.plan import plan_piece  # with the first page that stands on it

        piece = self._shown.piece
        if sum(len(section.chords.bars) for section in piece.sections) <= _QUICK:
            self._take(plan_piece(piece, self.learning, self._cache))
            return True
        if self._planner is None:
            self._planner = _Planner(self)
            self._planner.planned.connect(self._take)
        self._planner.request((piece, self.learning))
        return False

    def _take(self, planned: Planned) -> None:
        if planned.piece is self._shown.piece:
            self.planned = planned
            self.changed.emit()

    def close(self) -> None:
        """End the thread, if there is one."""
        if self._planner is not None:
            self._planner.close()
