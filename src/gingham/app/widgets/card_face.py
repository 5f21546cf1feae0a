"""The face of one chord card: what it shows as a record, painted once for each record."""

from __future__ import annotations

from functools import lru_cache
from math import ceil

import msgspec
from PySide6.QtCore import QLineF, QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPen, QPixmap

from gingham.app.look.theme import SIZES, Theme
from gingham.app.widgets import marks
from gingham.core.fitting.result import Result
from gingham.core.judging.holding import needed_fingers
from gingham.core.shapes.fingers import finger_sign
from gingham.core.shapes.fretting import Barre
from gingham.words.card import beats_text, thumb_text
from gingham.words.names import signs

_FRETS = 4
_WORD_ROWS = ((0, 26), (28, 17), (46, 17), (66, 19))  # top and height: name, two quiet lines, thumb


class Dot(msgspec.Struct, frozen=True):
    """One string of the diagram: fret (None silent, 0 open), fretting finger (0 none), if needed.

    `hop` marks a place that a finger takes only for the thumb's pluck.
    """

    string: int
    fret: int | None
    finger: int
    needed: bool
    hop: bool = False


class CardFace(msgspec.Struct, frozen=True):
    """Everything that a card shows. `thumb` is empty where there is no shape."""

    name: str
    quiet: tuple[str, ...]
    thumb: str
    fault: str
    dots: tuple[Dot, ...]
    barres: tuple[Barre, ...]
    selected: bool
    focused: bool
    mirrored: bool = False


def face_of(result: Result, index: int, selected: bool, focused: bool, mirrored: bool = False) -> CardFace:
    """What the card of a chord shows."""
    fitted = result.spans[index]
    chord, assignment = fitted.span.chord, fitted.assignment
    name = signs(chord.text) if chord is not None else "silence"
    length = beats_text(fitted.span.length, result.piece.meter)
    if assignment is None:
        fault = "no shape found" if chord is not None else ""
        return CardFace(name, (length,), "", fault, (), (), selected, focused)
    sounds = (f"sounds {signs(assignment.sounding.text)}",) if result.piece.capo else ()
    needed, frets = needed_fingers(fitted), assignment.shape.frets
    fingers = assignment.fretting.fingers if assignment.fretting is not None else (0,) * len(frets)
    dots = tuple(
        Dot(
            len(frets) - i, fret, finger,
            finger in needed if fret and finger else len(frets) - i in fitted.strings,
        )
        for i, (fret, finger) in enumerate(zip(frets, fingers, strict=True))
    )  # fmt: skip
    outside = assignment.outside()
    dots = tuple(
        Dot(d.string, outside[d.string].fret, 0, d.string in fitted.strings, outside[d.string].way == "hop")
        if d.string in outside
        else d
        for d in dots
    )
    barres = assignment.fretting.barres if assignment.fretting is not None else ()
    return CardFace(
        name, (*sounds, length), thumb_text(assignment), "", dots, barres, selected, focused, mirrored
    )


class Diagram(msgspec.Struct, frozen=True):
    """Where strings and frets lie inside `area`; strings run down, string 1 right (mirrored: left)."""

    area: QRectF
    strings: int
    mirrored: bool = False
    rows: int = _FRETS

    def x(self, string: int) -> float:
        """The line of a string; mirrored for a player whose other hand frets."""
        if self.mirrored:
            return self.area.left() + (string - 1) * self.area.width() / (self.strings - 1)
        return self.area.right() - (string - 1) * self.area.width() / (self.strings - 1)

    def y(self, fret: float) -> float:
        """The line of a fret, counted from the diagram's top."""
        return self.area.top() + fret * self.area.height() / self.rows


def first_fret(frets: tuple[int | None, ...]) -> int:
    """The fret that a diagram begins at: 1 unless the shape goes beyond the fourth fret."""
    held = [fret for fret in frets if fret]
    return 1 if not held or max(held) <= _FRETS else min(held)


def rows_of(face: CardFace) -> int:
    """How many frets a diagram shows: four, or as many as the shape spans."""
    frets = tuple(dot.fret for dot in face.dots)
    return max(_FRETS, max((fret for fret in frets if fret), default=0) - first_fret(frets) + 1)


_DOT = 9.0  # half the side of what a click on a dot may miss


@lru_cache(maxsize=256)
def card_pixmap(face: CardFace, theme: Theme, height: float, ratio: float) -> QPixmap:
    """The card painted, with a pixel of room around it."""
    size = (SIZES.card_width, height + 2)
    pixmap = QPixmap(ceil(size[0] * ratio), ceil(size[1] * ratio))
    pixmap.setDevicePixelRatio(ratio)
    pixmap.fill(QColor(theme.ground))
    with marks.painting(pixmap) as p:
        _paint_card(p, QRectF(1, 1, size[0] - 2, height), theme, face)
    return pixmap


def _paint_card(p: QPainter, rect: QRectF, theme: Theme, face: CardFace) -> None:
    pen = QPen(QColor(theme.accent if face.selected else theme.edge), 1.0)
    if face.selected:
        pen.setWidthF(2.4 if face.focused else 1.4)
    p.setPen(pen)
    p.setBrush(QColor(theme.selected if face.selected else theme.panel))
    p.drawRoundedRect(rect, SIZES.radius, SIZES.radius)
    # A diagram further up the neck has its first fret's number at its left.
    width = 102 if first_fret(tuple(dot.fret for dot in face.dots)) == 1 else 90
    _paint_words(p, QRectF(rect.left() + 11, rect.top() + 6, width, rect.height() - 12), theme, face)
    if face.dots:
        _paint_shape(p, diagram_of(face, rect), theme, face)


def diagram_of(face: CardFace, rect: QRectF) -> Diagram:
    """Where the diagram lies in a card."""
    area = QRectF(rect.left() + 125, rect.top() + 25, 65, rect.height() - 36)
    return Diagram(area, len(face.dots), face.mirrored, rows_of(face))


def dot_rect(face: CardFace, rect: QRectF, string: int) -> QRectF:
    """Where the dot of a string lies in a card; empty where the string is not held."""
    grid, base = diagram_of(face, rect), first_fret(tuple(dot.fret for dot in face.dots))
    fret = next((dot.fret for dot in face.dots if dot.string == string), None)
    if not fret:
        return QRectF()
    middle = QPointF(grid.x(string), grid.y(fret - base + 0.5))
    return QRectF(middle.x() - _DOT, middle.y() - _DOT, 2 * _DOT, 2 * _DOT)


def dot_at(face: CardFace, rect: QRectF, place: QPointF) -> int:
    """The string whose dot lies at a place of a card; 0 if none does."""
    held = (dot.string for dot in face.dots if dot.fret)
    return next((string for string in held if dot_rect(face, rect, string).contains(place)), 0)


def _paint_words(p: QPainter, area: QRectF, theme: Theme, face: CardFace) -> None:
    rows = [QRectF(area.left(), area.top() + y, area.width(), height) for y, height in _WORD_ROWS]
    marks.aligned(p, rows[0], face.name, theme.ink, marks.font(20, True), marks.LEFT)
    for rect, words in zip(rows[1:3], face.quiet, strict=False):
        marks.aligned(p, rect, words, theme.quiet, marks.font(13), marks.LEFT)
    last, ink = (face.fault, theme.fault) if face.fault else (face.thumb, theme.finger("p"))
    marks.aligned(p, rows[3], last, ink, marks.font(13, True), marks.LEFT)


def _paint_shape(p: QPainter, grid: Diagram, theme: Theme, face: CardFace) -> None:
    area, base = grid.area, first_fret(tuple(dot.fret for dot in face.dots))
    p.setPen(QPen(QColor(theme.string), 1.0))
    for string in range(1, grid.strings + 1):
        p.drawLine(QLineF(grid.x(string), area.top(), grid.x(string), area.bottom()))
    for fret in range(grid.rows + 1):
        p.drawLine(QLineF(area.left(), grid.y(fret), area.right(), grid.y(fret)))
    if base == 1:
        p.setPen(QPen(QColor(theme.ink), 2.6))
        p.drawLine(QLineF(area.left(), area.top(), area.right(), area.top()))
    else:
        rect = QRectF(area.left() - 25, grid.y(0) + 1, 17, 14)
        marks.aligned(p, rect, str(base), theme.quiet, marks.font(12), marks.RIGHT)
    for barre in face.barres:
        y = grid.y(barre.fret - base + 0.5)
        p.setPen(QPen(QColor(theme.ink), 3.0))
        p.drawLine(QLineF(grid.x(barre.from_string), y, grid.x(barre.to_string), y))
    for dot in face.dots:
        if dot.fret:
            _paint_dot(p, QPointF(grid.x(dot.string), grid.y(dot.fret - base + 0.5)), theme, dot)
        else:
            _paint_open(p, QPointF(grid.x(dot.string), area.top() - 8), theme, dot)


def _paint_dot(p: QPainter, middle: QPointF, theme: Theme, dot: Dot) -> None:
    """A fretting finger: its digit in a ring, filled where a plucked string needs it."""
    if dot.hop:
        p.setPen(QPen(QColor(theme.ink), 1.5, Qt.PenStyle.DotLine))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawEllipse(middle, 6.4, 6.4)
        return
    p.setPen(QPen(QColor(theme.ink), 1.3))
    p.setBrush(QColor(theme.ink if dot.needed else theme.panel))
    p.drawEllipse(middle, 6.4, 6.4)
    if dot.finger:
        rect = QRectF(middle.x() - 6.6, middle.y() - 6.6, 13.2, 13.2)
        marks.text(p, rect, finger_sign(dot.finger), theme.panel if dot.needed else theme.ink, 11)


def _paint_open(p: QPainter, middle: QPointF, theme: Theme, dot: Dot) -> None:
    """A cross over a silent string, a ring over an open one (strong where it is plucked)."""
    x, y = middle.x(), middle.y()
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.setPen(QPen(QColor(theme.ink if dot.needed else theme.quiet), 1.8 if dot.needed else 1.1))
    if dot.fret is None:
        p.drawLine(QLineF(x - 3, y - 3, x + 3, y + 3))
        p.drawLine(QLineF(x - 3, y + 3, x + 3, y - 3))
    else:
        p.drawEllipse(middle, 3.2, 3.2)
