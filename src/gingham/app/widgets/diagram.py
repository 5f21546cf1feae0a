"""A shape on the neck as a diagram, of any size: strings down, frets across."""

from __future__ import annotations

import msgspec
from PySide6.QtCore import QLineF, QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPen

from gingham.app.look.theme import Theme
from gingham.app.widgets import marks
from gingham.core.shapes.fingers import finger_sign
from gingham.core.shapes.fretting import Barre

_FRETS = 4
_ROOM = 9.0  # half the side of what a click on a dot may miss, at scale 1


class Dot(msgspec.Struct, frozen=True):
    """One string of the diagram: fret (None silent, 0 open), fretting finger (0 none), if needed.

    `hop` marks a place that a finger takes only for the thumb's pluck.
    """

    string: int
    fret: int | None
    finger: int
    needed: bool
    hop: bool = False


class Diagram(msgspec.Struct, frozen=True):
    """Where strings and frets lie inside `area`; strings run down, string 1 right (mirrored: left).

    `base` is the first fret that is shown, `rows` how many are; marks are `scale` times their usual size.
    `capo` is for the number beside that fret, which may count from the nut.
    """

    area: QRectF
    strings: int
    base: int = 1
    rows: int = _FRETS
    mirrored: bool = False
    scale: float = 1.0
    capo: int = 0

    def x(self, string: int) -> float:
        """The line of a string; mirrored for a player whose other hand frets."""
        if self.mirrored:
            return self.area.left() + (string - 1) * self.area.width() / (self.strings - 1)
        return self.area.right() - (string - 1) * self.area.width() / (self.strings - 1)

    def y(self, fret: float) -> float:
        """The line of a fret, counted from the diagram's top."""
        return self.area.top() + fret * self.area.height() / self.rows

    def middle(self, string: int, fret: int) -> QPointF:
        """Where a finger stands; above the nut for an open string."""
        if not fret:
            return QPointF(self.x(string), self.area.top() - 8 * self.scale)
        return QPointF(self.x(string), self.y(fret - self.base + 0.5))

    def place_at(self, point: QPointF) -> tuple[int, int]:
        """The string and fret (0 above the nut) nearest to a point."""
        string = min(range(1, self.strings + 1), key=lambda each: abs(self.x(each) - point.x()))
        if point.y() < self.area.top():
            return string, 0
        row = int((point.y() - self.area.top()) / (self.area.height() / self.rows))
        return string, self.base + min(max(0, row), self.rows - 1)


def first_fret(frets: tuple[int | None, ...]) -> int:
    """The fret that a diagram begins at: 1 unless the shape goes beyond the fourth fret."""
    held = [fret for fret in frets if fret]
    return 1 if not held or max(held) <= _FRETS else min(held)


def rows_for(frets: tuple[int | None, ...]) -> int:
    """How many frets a diagram shows: four, or as many as the shape spans."""
    return max(_FRETS, max((fret for fret in frets if fret), default=0) - first_fret(frets) + 1)


def dot_rect(grid: Diagram, dots: tuple[Dot, ...], string: int) -> QRectF:
    """Where the dot of a string lies; empty where the string is not held."""
    fret = next((dot.fret for dot in dots if dot.string == string), None)
    if not fret:
        return QRectF()
    room, middle = _ROOM * grid.scale, grid.middle(string, fret)
    return QRectF(middle.x() - room, middle.y() - room, 2 * room, 2 * room)


def dot_at(grid: Diagram, dots: tuple[Dot, ...], place: QPointF) -> int:
    """The string whose dot lies at a place; 0 if none does."""
    held = (dot.string for dot in dots if dot.fret)
    return next((string for string in held if dot_rect(grid, dots, string).contains(place)), 0)


def paint_shape(
    p: QPainter, grid: Diagram, theme: Theme, dots: tuple[Dot, ...], barres: tuple[Barre, ...]
) -> None:
    """The neck, barres, fingers, and what is open or silent above it."""
    _paint_neck(p, grid, theme)
    for barre in barres:
        y = grid.y(barre.fret - grid.base + 0.5)
        p.setPen(QPen(QColor(theme.ink), 3.0 * grid.scale))
        p.drawLine(QLineF(grid.x(barre.from_string), y, grid.x(barre.to_string), y))
    for dot in dots:
        if dot.fret:
            _paint_dot(p, grid.middle(dot.string, dot.fret), theme, dot, grid.scale)
        else:
            _paint_open(p, grid.middle(dot.string, 0), theme, dot, grid.scale)


def _paint_neck(p: QPainter, grid: Diagram, theme: Theme) -> None:
    area = grid.area
    p.setPen(QPen(QColor(theme.string), 1.0))
    for string in range(1, grid.strings + 1):
        p.drawLine(QLineF(grid.x(string), area.top(), grid.x(string), area.bottom()))
    for fret in range(grid.rows + 1):
        p.drawLine(QLineF(area.left(), grid.y(fret), area.right(), grid.y(fret)))
    if grid.base == 1:
        p.setPen(QPen(QColor(theme.ink), 2.4 * grid.scale))
        p.drawLine(QLineF(area.left(), area.top(), area.right(), area.top()))
    else:
        size = 12.0 * grid.scale
        rect = QRectF(area.left() - 25 * grid.scale, grid.y(0) + 1, 17 * grid.scale, size + 2)
        marks.aligned(
            p, rect, theme.naming.fret(grid.base, grid.capo), theme.quiet, marks.font(size), marks.RIGHT
        )


def _paint_dot(p: QPainter, middle: QPointF, theme: Theme, dot: Dot, scale: float) -> None:
    """A fretting finger: its digit in a ring, filled where a plucked string needs it."""
    radius = 6.4 * scale
    if dot.hop:
        p.setPen(QPen(QColor(theme.ink), 1.5 * scale, Qt.PenStyle.DotLine))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawEllipse(middle, radius, radius)
        return
    p.setPen(QPen(QColor(theme.ink), 1.3 * scale))
    p.setBrush(QColor(theme.ink if dot.needed else theme.panel))
    p.drawEllipse(middle, radius, radius)
    if dot.finger:
        rect = QRectF(
            middle.x() - radius - 0.2, middle.y() - radius - 0.2, 2 * radius + 0.4, 2 * radius + 0.4
        )
        ink = theme.panel if dot.needed else theme.ink
        marks.text(p, rect, finger_sign(dot.finger), ink, 11 * scale)


def _paint_open(p: QPainter, middle: QPointF, theme: Theme, dot: Dot, scale: float) -> None:
    """A cross over a silent string, a ring over an open one (strong where it is plucked)."""
    x, y, arm = middle.x(), middle.y(), 3 * scale
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.setPen(
        QPen(QColor(theme.ink if dot.needed else theme.quiet), (1.8 if dot.needed else 1.1) * scale**0.5)
    )
    if dot.fret is None:
        p.drawLine(QLineF(x - arm, y - arm, x + arm, y + arm))
        p.drawLine(QLineF(x - arm, y + arm, x + arm, y - arm))
    else:
        p.drawEllipse(middle, 1.07 * arm, 1.07 * arm)
