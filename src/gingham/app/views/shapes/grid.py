"""Shapes of one chord as small diagrams, the easiest first; one is chosen."""

from __future__ import annotations

import msgspec
from PySide6.QtCore import QRectF, QSize, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QWidget

from gingham.app.look.appearance import Appearance, Dressed
from gingham.app.widgets import marks
from gingham.app.widgets.diagram import Diagram, Dot, first_fret, paint_shape, rows_for
from gingham.app.widgets.speaking import Cell, tell
from gingham.core.shapes.fretting import Barre
from gingham.language import tr

_HEIGHT, _WIDTH = 112.0, 118.0


class ShapeFace(msgspec.Struct, frozen=True):
    """One shape: its name, a quiet word below it, and what stands on the neck."""

    name: str
    note: str
    dots: tuple[Dot, ...]
    barres: tuple[Barre, ...]


class ShapeGrid(Dressed, QWidget):
    """As many beside one another as there is room for."""

    chosen = Signal(int)
    taken = Signal(int)
    heard = Signal(int)

    def __init__(self, appearance: Appearance, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.wear(appearance)
        self.faces: list[ShapeFace] = []
        self.current = 0
        self.setMinimumHeight(round(_HEIGHT))
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(tr("Shapes of this chord, the easiest first"))

    def show_faces(self, faces: list[ShapeFace], current: int) -> None:
        """Other shapes."""
        self.faces, self.current = faces, current
        self._say()
        self.setFixedHeight(self.heightForWidth(self.width()))
        self.update()

    @property
    def columns(self) -> int:
        """How many stand in a row."""
        return max(1, int(self.width() // _WIDTH))

    def heightForWidth(self, width: int) -> int:
        """All rows."""
        columns = max(1, int(width // _WIDTH))
        return round(_HEIGHT * max(1, -(-len(self.faces) // columns)))

    def resizeEvent(self, event: object) -> None:
        """Another width, other rows."""
        self.setFixedHeight(self.heightForWidth(self.width()))

    def sizeHint(self) -> QSize:
        """Two in a row."""
        return QSize(round(2 * _WIDTH), self.heightForWidth(round(2 * _WIDTH)))

    def rect_of(self, index: int) -> QRectF:
        """Where a shape lies."""
        row, column = divmod(index, self.columns)
        wide = self.width() / self.columns
        return QRectF(column * wide + 2, row * _HEIGHT + 2, wide - 4, _HEIGHT - 4)

    def diagram(self, index: int) -> Diagram:
        """Where its neck lies."""
        rect, face = self.rect_of(index), self.faces[index]
        frets = tuple(dot.fret for dot in face.dots)
        area = QRectF(rect.center().x() - 30, rect.top() + 38, 66, 60)
        return Diagram(area, len(face.dots), first_fret(frets), rows_for(frets), self.appearance.mirrored)

    def cells(self) -> list[Cell]:
        """The shapes."""
        rects = (self.rect_of(index).toAlignedRect() for index in range(len(self.faces)))
        return [
            Cell(f"{face.name}, {face.note}", rect, index == self.current)
            for index, (face, rect) in enumerate(zip(self.faces, rects, strict=True))
        ]

    def paintEvent(self, event: QPaintEvent) -> None:
        """The shapes, the chosen one with a strong edge."""
        with marks.painting(self) as p:
            for index in range(len(self.faces)):
                self._paint(p, index)

    def _paint(self, p: QPainter, index: int) -> None:
        face, rect, here = self.faces[index], self.rect_of(index), index == self.current
        marks.plate(p, rect, self.theme, chosen=here, focused=self.hasFocus())
        words = QRectF(rect.left() + 7, rect.top() + 4, rect.width() - 14, 17)
        marks.aligned(p, words, face.name, self.theme.ink, marks.font(13, True), marks.LEFT)
        marks.aligned(p, words, face.note, self.theme.quiet, marks.font(12), marks.RIGHT)
        paint_shape(p, self.diagram(index), self.theme, face.dots, face.barres)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """A click chooses and sounds a shape."""
        for index in range(len(self.faces)):
            if self.rect_of(index).contains(event.position()):
                self._choose(index)
                self.heard.emit(index)

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        """A double click takes it."""
        self.taken.emit(self.current)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Arrows choose, Space sounds, Enter takes."""
        steps = {
            Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1,
            Qt.Key.Key_Up: -self.columns, Qt.Key.Key_Down: self.columns,
        }  # fmt: skip
        by = steps.get(Qt.Key(event.key()))
        if by is not None:
            if 0 <= self.current + by < len(self.faces):
                self._choose(self.current + by)
        elif event.key() == Qt.Key.Key_Space:
            self.heard.emit(self.current)
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.taken.emit(self.current)
        else:
            super().keyPressEvent(event)

    def _choose(self, index: int) -> None:
        self.current = index
        self._say()
        self.update()
        self.chosen.emit(index)

    def _say(self) -> None:
        """For those who hear the window."""
        if self.faces:
            face = self.faces[self.current]
            tell(
                self,
                tr(
                    "{name}, {note}, {current} of {faces}",
                    name=face.name,
                    note=face.note,
                    current=self.current + 1,
                    faces=len(self.faces),
                ),
            )
