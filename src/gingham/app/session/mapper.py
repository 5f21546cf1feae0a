"""The map of the whole piece, made off the interface thread a moment after the last edit."""

from __future__ import annotations

from PySide6.QtCore import QObject, QTimer, Signal

from gingham.app.session.shown import Shown
from gingham.app.work.worker import NewestWorker
from gingham.core.fitting.cache import FitCache
from gingham.core.judging.piece_map import PieceMap, map_piece
from gingham.core.pieces.piece import Piece

_SOON_MS = 700  # not at every key that is typed, and not beside an edit while the music plays


class _Worker(NewestWorker[Piece]):
    mapped = Signal(object)

    def __init__(self, parent: QObject | None = None) -> None:
        self._cache = FitCache()
        super().__init__("mapper", parent)

    def work_on(self, item: Piece) -> None:
        """Map one piece."""
        found = map_piece(item, self._cache)
        if not self.outdated:
            self.mapped.emit(found)


class Mapper(QObject):
    """Follows what is shown; `map` is the newest one, which may be that of the piece before an edit."""

    mapped = Signal()

    def __init__(self, shown: Shown, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._shown = shown
        self.map: PieceMap | None = None
        self._document: object = None
        self._worker = _Worker(self)
        self._worker.mapped.connect(self._take)
        self._later = QTimer(self, singleShot=True, interval=_SOON_MS)
        self._later.timeout.connect(lambda: self._worker.request(shown.piece))
        shown.settled.connect(self._settled)

    def _settled(self) -> None:
        """Another piece is mapped at once: the map of the one before says nothing of it."""
        if self._shown.document is not self._document:
            self._document, self.map = self._shown.document, None
            self._later.stop()
            self._worker.request(self._shown.piece)
        elif self.map is None or self.map.piece is not self._shown.piece:
            self._later.start()

    def _take(self, found: PieceMap) -> None:
        if found.piece is self._shown.piece:
            self.map = found
            self.mapped.emit()

    def close(self) -> None:
        """End the thread."""
        self._worker.close()
