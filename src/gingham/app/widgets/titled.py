"""A small picture with a title, which says its numbers as words too."""

from __future__ import annotations

from PySide6.QtCore import QRectF
from PySide6.QtGui import QColor, QPainter
from PySide6.QtWidgets import QWidget

from gingham.app.look.appearance import Appearance, Dressed
from gingham.app.widgets import marks
from gingham.app.widgets.speaking import Cell


class Titled(Dressed, QWidget):
    """Subclasses say their facts and paint beneath the title."""

    title = ""
    head, edge, letters = 28.0, 10.0, 14
    """The height of the title, the margin at the sides, the size of the title's letters."""

    def __init__(self, appearance: Appearance, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.wear(appearance)
        self.setAccessibleName(self.title)

    def facts(self) -> list[str]:
        """Its numbers as words."""
        raise NotImplementedError

    def cells(self) -> list[Cell]:
        """The same for who hears the window."""
        return [Cell(words, self.rect()) for words in self.facts()]

    def changed(self) -> None:
        """It shows other numbers."""
        self.setAccessibleDescription("; ".join(cell.words for cell in self.cells()))
        self.update()

    def ground(self, p: QPainter) -> QRectF:
        """Paint the ground and the title; the room beneath it."""
        p.fillRect(self.rect(), QColor(self.theme.panel))
        wide = self.width() - 2 * self.edge
        title = QRectF(self.edge, 4, wide, self.head - 6)
        marks.aligned(p, title, self.title, self.theme.ink, marks.font(self.letters, True), marks.LEFT)
        return QRectF(self.edge, self.head, wide, self.height() - self.head - 6)
