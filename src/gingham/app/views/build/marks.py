"""What the pictures are woven from: finger marks, pinches, the thumb's ribbon, signs. Painting only."""

from __future__ import annotations

from collections.abc import Sequence
from enum import Enum
from functools import lru_cache
from itertools import pairwise

from PySide6.QtCore import QLineF, QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QFont, QPainter, QPainterPath, QPen

from gingham.app.theme import SIZES, Theme
from gingham.app.theme import font as plain_font

CENTRE = Qt.AlignmentFlag.AlignCenter
LEFT = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter
RIGHT = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
_WEAVE = 4.0  # one thread of a pinch, in pixels


class Look(Enum):
    """How a mark is drawn: filled, as a ghost (a repeat of the pattern), or as a pluck that is left out."""

    FULL = "full"
    GHOST = "ghost"
    LEFT_OUT = "left out"


@lru_cache(maxsize=64)
def font(size_px: float, bold: bool = False) -> QFont:
    """The application's font, made once for each size. Do not change the one you get."""
    return plain_font(size_px, bold=bold)


def mark_rect(x: float, y: float, room: float) -> QRectF:
    """A mark centred at (x, y) in a row of `room` pixels."""
    height = min(SIZES.mark_height, room - 3.0)
    return QRectF(x - SIZES.mark_width / 2, y - height / 2, SIZES.mark_width, height)


def text(
    p: QPainter, rect: QRectF, words: str, colour: str | QColor, size: float, bold: bool = False
) -> None:
    """Words centred in a rectangle, made smaller where they are too wide for it."""
    aligned(p, rect, words, colour, font(size, bold), CENTRE)


def aligned(
    p: QPainter, rect: QRectF, words: str, colour: str | QColor, of: QFont, how: Qt.AlignmentFlag
) -> None:
    """Words in a rectangle, made smaller (not below 8 pixels) where they are too wide for it."""
    p.setFont(of)
    wide = p.fontMetrics().horizontalAdvance(words)
    if wide > rect.width() and wide:
        p.setFont(font(max(8.0, 0.96 * of.pixelSize() * rect.width() / wide), of.bold()))
    p.setPen(QColor(colour))
    p.drawText(rect, how, words)


def finger_mark(
    p: QPainter, rect: QRectF, theme: Theme, finger: str, words: Sequence[str], look: Look = Look.FULL
) -> None:
    """A finger's mark: its letter, and behind it the fret if there is one. Never colour alone."""
    dye = theme.finger(finger)
    pen = QPen(dye, 1.2)
    if look is Look.LEFT_OUT:
        pen.setStyle(Qt.PenStyle.DashLine)
    p.setPen(pen)
    p.setBrush(QBrush(dye if look is Look.FULL else QColor(theme.panel)))
    p.drawRoundedRect(rect, 5, 5)
    ink = theme.on_finger if look is Look.FULL else dye
    if len(words) == 1:
        text(p, rect.adjusted(2, 0, -2, 0), words[0], ink, 13, bold=True)
        return
    half = rect.width() * 0.5
    letter, fret = rect.adjusted(2, 0, -half, 0), rect.adjusted(half - 2, 0, -2, 0)
    text(p, letter, words[0], ink, 12, bold=True)
    text(p, fret, words[1], ink, 14)


def accent_sign(p: QPainter, rect: QRectF, theme: Theme, level: int) -> None:
    """One or two wedges on a mark's upper edge."""
    p.setPen(QPen(QColor(theme.ink), 1.6))
    for number in range(level):
        x, y = rect.center().x() - 5 + 6 * number - (3 if level > 1 else 0), rect.top() - 4
        p.drawLine(QLineF(x, y - 3, x + 5, y))
        p.drawLine(QLineF(x + 5, y, x, y + 3))


def own_choice_sign(p: QPainter, rect: QRectF, theme: Theme) -> None:
    """A stitched edge around a mark: the player's own choice, not the rule's."""
    pen = QPen(QColor(theme.ink), 1.6)
    pen.setDashPattern([2.0, 1.6])
    p.setPen(pen)
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.drawRoundedRect(rect.adjusted(-3, -3, 3, 3), 7, 7)


def fault_sign(p: QPainter, rect: QRectF, theme: Theme) -> None:
    """A strong edge and an exclamation mark on a mark that cannot be played as it stands."""
    p.setPen(QPen(QColor(theme.fault), 2.0))
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.drawRoundedRect(rect.adjusted(-2.5, -2.5, 2.5, 2.5), 7, 7)
    badge = QRectF(rect.right() - 4, rect.top() - 7, 11, 11)
    p.setBrush(QColor(theme.fault))
    p.drawEllipse(badge)
    text(p, badge, "!", theme.panel, 10, bold=True)


def bass_underline(p: QPainter, rect: QRectF, theme: Theme, number: int, look: Look) -> None:
    """Strokes under a thumb mark: one for the first bass written as such, two for the second, …"""
    ink = theme.on_finger if look is Look.FULL else theme.finger("p")
    p.setPen(QPen(QColor(ink), 1.4))
    width, gap = 5.0, 2.0
    left = rect.center().x() - (number * width + (number - 1) * gap) / 2
    for index in range(number):
        x = left + index * (width + gap)
        p.drawLine(QLineF(x, rect.bottom() - 3, x + width, rect.bottom() - 3))


def woven(p: QPainter, x: float, top: float, bottom: float, dyes: tuple[QColor, QColor], ghost: bool) -> None:
    """The pinch: a small woven column of the two finger colours."""
    p.save()
    p.setPen(Qt.PenStyle.NoPen)
    p.setOpacity(0.45 if ghost else 1.0)
    row, y = 0, top
    while y < bottom:
        height = min(_WEAVE, bottom - y)
        for side in (0, 1):
            p.setBrush(dyes[(row + side) % 2])
            p.drawRect(QRectF(x - _WEAVE + side * _WEAVE, y, _WEAVE, height))
        y += _WEAVE
        row += 1
    p.restore()


def ribbon(p: QPainter, points: Sequence[QPointF], theme: Theme) -> None:
    """The thumb's path: a broad soft band that weaves between its strings."""
    if len(points) < 2:
        return
    path = QPainterPath(points[0])
    for before, after in pairwise(points):
        bend = (after.x() - before.x()) * 0.5
        path.cubicTo(before + QPointF(bend, 0), after - QPointF(bend, 0), after)
    colour = theme.finger("p")
    colour.setAlpha(70)
    pen = QPen(colour, 9.0)
    pen.setCapStyle(Qt.PenCapStyle.RoundCap)
    pen.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
    p.setPen(pen)
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.drawPath(path)


def cursor(p: QPainter, rect: QRectF, theme: Theme, focused: bool) -> None:
    """The cell cursor: strong where the keys go, faint elsewhere."""
    colour = QColor(theme.accent if focused else theme.quiet)
    pen = QPen(colour, 2.0 if focused else 1.2)
    if not focused:
        pen.setStyle(Qt.PenStyle.DotLine)
    p.setPen(pen)
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.drawRoundedRect(rect, 6, 6)


def arrow(p: QPainter, x: float, start: float, end: float, colour: QColor) -> None:
    """A vertical arrow from one height to another: the way a brush goes over the strings."""
    p.setPen(QPen(colour, 2.0))
    p.drawLine(QLineF(x, start, x, end))
    way = 5.0 if end < start else -5.0
    p.drawLine(QLineF(x, end, x - 4, end + way))
    p.drawLine(QLineF(x, end, x + 4, end + way))
