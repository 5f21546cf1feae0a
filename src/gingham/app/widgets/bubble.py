"""What is wrong with a line, said at the line, over whatever lies there: it moves nothing."""

from __future__ import annotations

from PySide6.QtCore import QPoint, QRect
from PySide6.QtGui import QShowEvent
from PySide6.QtWidgets import QLabel, QWidget

_GAP = 3


class Bubble(QLabel):
    """Wrapped words under a widget, or above it, as wide as the words need and there is room."""

    def __init__(self, over: QWidget, anchor: QWidget, *, above: bool = False) -> None:
        super().__init__(over)
        self._over, self._anchor, self._above = over, anchor, above
        self.setProperty("fault", True)
        self.setProperty("bubble", True)
        self.setWordWrap(True)
        self.hide()

    def setText(self, text: str) -> None:
        """Say something else."""
        super().setText(text)
        self.place()

    def showEvent(self, event: QShowEvent) -> None:
        """Lie over everything else."""
        super().showEvent(event)
        self.place()
        self.raise_()

    def place(self) -> None:
        """Go where the line is now."""
        at = self._anchor.mapTo(self._over, QPoint(0, 0))
        room = max(120, self._over.width() - at.x() - 12)
        words = self.fontMetrics().horizontalAdvance(self.text()) + 24
        wide = min(room, max(120, words))
        high = self.heightForWidth(wide)
        y = at.y() - high - _GAP if self._above else at.y() + self._anchor.height() + _GAP
        self.setGeometry(QRect(at.x(), max(0, y), wide, high))
