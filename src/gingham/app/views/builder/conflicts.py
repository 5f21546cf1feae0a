"""Everything in the piece that is in the way, in order; each line goes to its place."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QAbstractItemView

from gingham.app.widgets.wrapped_list import WrappedList
from gingham.core.judging.piece_map import PieceMap
from gingham.language import tr
from gingham.words.piece_text import conflict_line


class ConflictList(WrappedList):
    """Lines to choose from: a click or Enter goes to the place in the picture."""

    place_chosen = Signal(object)
    """The Conflict to go to."""

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName(tr("All conflicts of the piece"))
        self.setSpacing(3)
        self.setVerticalScrollMode(QAbstractItemView.ScrollMode.ScrollPerPixel)
        self._map: PieceMap | None = None
        self.itemClicked.connect(lambda _item: self._go())

    def show_map(self, found: PieceMap) -> None:
        """The conflicts of a piece; the chosen line stays where it is."""
        row = max(0, self.currentRow())
        self._map = found
        self.clear()
        if found.conflicts:
            self.addItems([conflict_line(found, each) for each in found.conflicts])
            self.setCurrentRow(min(row, self.count() - 1))
        else:
            self.addItem(tr("Nothing is in the way: every pluck can be played."))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Enter goes there."""
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._go()
        else:
            super().keyPressEvent(event)

    def _go(self) -> None:
        if self._map is not None and 0 <= self.currentRow() < len(self._map.conflicts):
            self.place_chosen.emit(self._map.conflicts[self.currentRow()])
