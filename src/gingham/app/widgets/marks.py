"""What the pictures are woven from: finger marks, pinches, the thumb's ribbon, signs. Painting only."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from enum import Enum
from functools import lru_cache
from itertools import pairwise
from math import ceil, floor

from PySide6.QtCore import QLineF, QPoint, QPointF, QRectF, Qt
from PySide6.QtGui import (
    QBrush,
    QColor,
    QFont,
    QFontMetrics,
    QPaintDevice,
    QPainter,
    QPainterPath,
    QPen,
    QPixmap,
)

from gingham.app.look.theme import SIZES, THEMES, Theme
from gingham.app.look.theme import font as plain_font
from gingham.language import tr

CENTRE = Qt.AlignmentFlag.AlignCenter
LEFT = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter
RIGHT = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
_LOWEST = 14.0  # marks lower than this have smaller words
_SIGN = 9.0  # room around a mark for the sign of a fault
_EDGE = 2.0  # room around a cached mark for its pen
_RIBBON = 9.0  # how broad the thumb's band is, in pixels
_WEAVE = 4.0  # one thread of a pinch, in pixels


class Look(Enum):
    """How a mark is drawn: filled, as a ghost (a repeat of the pattern), or as a pluck that is left out."""

    FULL = "full"
    GHOST = "ghost"
    LEFT_OUT = tr("left out")


@contextmanager
def painting(on: QPaintDevice) -> Iterator[QPainter]:
    """A smoothing painter that ends whatever happens: one that is left open takes the process down."""
    p = QPainter(on)
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    try:
        yield p
    finally:
        p.end()


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


def sentence(p: QPainter, rect: QRectF, words: str, colour: str, size: float) -> None:
    """Words centred in a rectangle, on as many lines as they need: what an empty picture says."""
    p.setFont(font(size))
    p.setPen(QColor(colour))
    p.drawText(rect.adjusted(16, 0, -16, 0), CENTRE | Qt.TextFlag.TextWordWrap, words)


def stamped(p: QPainter, rect: QRectF, words: str, colour: str, size: float, bold: bool = False) -> None:
    """The same for words that come again and again, such as counts: painted once and copied."""
    pixmap = _text_pixmap(words, colour, size, bold, rect.width(), rect.height(), _ratio(p))
    p.drawPixmap(rect.topLeft(), pixmap)


@lru_cache(maxsize=1024)
def _text_pixmap(
    words: str, colour: str, size: float, bold: bool, width: float, height: float, ratio: float
) -> QPixmap:
    pixmap = _transparent(width, height, ratio)
    with painting(pixmap) as p:
        text(p, QRectF(0, 0, width, height), words, colour, size, bold)
    return pixmap


def _ratio(p: QPainter) -> float:
    device = p.device()
    return device.devicePixelRatioF() if device is not None else 1.0


def _transparent(width: float, height: float, ratio: float) -> QPixmap:
    """An empty pixmap of that many device-independent pixels."""
    pixmap = QPixmap(ceil(width * ratio), ceil(height * ratio))
    pixmap.setDevicePixelRatio(ratio)
    pixmap.fill(Qt.GlobalColor.transparent)
    return pixmap


@lru_cache(maxsize=256)
def laid_over(*colours: str) -> QColor:
    """Soft colours laid over the first one: filling with the mixture is much faster than mixing each time."""
    mixed = QColor(colours[0])
    for colour in map(QColor, colours[1:]):
        share = colour.alphaF()
        mixed = QColor.fromRgbF(
            colour.redF() * share + mixed.redF() * (1 - share),
            colour.greenF() * share + mixed.greenF() * (1 - share),
            colour.blueF() * share + mixed.blueF() * (1 - share),
        )
    return mixed


def shade(p: QPainter, x: float, y: float, width: float, height: float, colour: QColor) -> None:
    """Fill whole pixels."""
    left, top = round(x), round(y)
    p.fillRect(left, top, round(x + width) - left, round(y + height) - top, colour)


def string_line(p: QPainter, left: float, right: float, y: float, string: int, theme: Theme) -> None:
    """A string: the higher its number, the thicker."""
    thick = 1 + (string + 1) // 3
    shade(p, left, y - thick / 2, right - left, thick, laid_over(theme.string))


def aligned(
    p: QPainter, rect: QRectF, words: str, colour: str | QColor, of: QFont, how: Qt.AlignmentFlag
) -> None:
    """Words in a rectangle, made smaller (not below 8 pixels) where they are too wide for it."""
    p.setFont(of)
    wide = advance(words, of.pixelSize(), of.bold())
    if wide > rect.width() and wide:
        p.setFont(font(max(8.0, 0.96 * of.pixelSize() * rect.width() / wide), of.bold()))
    p.setPen(QColor(colour))
    p.drawText(rect, how, words)


def plate(p: QPainter, rect: QRectF, theme: Theme, *, chosen: bool, focused: bool) -> None:
    """The ground of something that can be chosen: its edge says whether it is, and has the keyboard."""
    pen = QPen(QColor(theme.accent if chosen else theme.edge), 1.0)
    if chosen:
        pen.setWidthF(2.4 if focused else 1.5)
    p.setPen(pen)
    p.setBrush(QColor(theme.selected if chosen else theme.panel))
    p.drawRoundedRect(rect, SIZES.radius, SIZES.radius)


def cut(
    p: QPainter, rect: QRectF, words: str, colour: str | QColor, of: QFont, least: float | None = None
) -> None:
    """Words at the left of a rectangle, ended with three dots where they are too long for it.

    With `least` they are first made smaller, down to so many pixels.
    """
    wide = advance(words, of.pixelSize(), of.bold())
    if least is not None and wide > rect.width():
        of = font(max(least, 0.98 * of.pixelSize() * rect.width() / wide), of.bold())
    p.setFont(of)
    p.setPen(QColor(colour))
    shown = QFontMetrics(of).elidedText(words, Qt.TextElideMode.ElideRight, floor(rect.width()))
    p.drawText(rect, LEFT, shown)


@lru_cache(maxsize=4096)
def advance(words: str, size_px: int, bold: bool) -> int:
    """How wide words are in a size of the application's font."""
    return QFontMetrics(font(size_px, bold)).horizontalAdvance(words)


def finger_mark(
    p: QPainter, rect: QRectF, theme: Theme, finger: str, words: tuple[str, ...], look: Look = Look.FULL
) -> None:
    """A finger's mark: its letter, and behind it the fret if there is one. Never colour alone."""
    size = (round(rect.width(), 1), round(rect.height(), 1))
    pixmap = _finger_pixmap(theme.name, finger, words, look.value, size, _ratio(p))
    p.drawPixmap(_whole(rect.x() - _EDGE, rect.y() - _EDGE), pixmap)


@lru_cache(maxsize=2048)
def _finger_pixmap(
    theme: str, finger: str, words: tuple[str, ...], look: str, size: tuple[float, float], ratio: float
) -> QPixmap:
    """The mark painted once; a screenful of marks is then a screenful of copies.

    The cloth goes by its name: a whole table of colours would be slow to look up for every mark.
    """
    pixmap = _transparent(size[0] + 2 * _EDGE, size[1] + 2 * _EDGE, ratio)
    with painting(pixmap) as p:
        _draw_finger(p, QRectF(_EDGE, _EDGE, *size), THEMES[theme], finger, words, Look(look))
    return pixmap


def _draw_finger(
    p: QPainter, rect: QRectF, theme: Theme, finger: str, words: tuple[str, ...], look: Look
) -> None:
    dye = theme.finger(finger)
    pen = QPen(dye, 1.2)
    if look is Look.LEFT_OUT:
        pen.setStyle(Qt.PenStyle.DashLine)
    p.setPen(pen)
    p.setBrush(QBrush(dye if look is Look.FULL else QColor(theme.panel)))
    p.drawRoundedRect(rect, 5, 5)
    ink = theme.on_finger if look is Look.FULL else dye
    high = rect.height()  # words grow with large marks, and shrink only with very low ones
    large = max(1.0, high / SIZES.mark_height) if high >= _LOWEST else high / _LOWEST
    if len(words) == 1:
        text(p, rect.adjusted(2, 0, -2, 0), words[0], ink, 13 * large, bold=True)
        return
    half = rect.width() * 0.5
    letter, fret = rect.adjusted(2, 0, -half, 0), rect.adjusted(half - 2, 0, -2, 0)
    text(p, letter, words[0], ink, 12 * large, bold=True)
    text(p, fret, words[1], ink, 14 * large)


def _whole(x: float, y: float) -> QPoint:
    """The nearest whole place, rounded the same way left of the picture's edge as right of it."""
    return QPoint(floor(x + 0.5), floor(y + 0.5))


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


def walk_sign(p: QPainter, rect: QRectF, theme: Theme) -> None:
    """Two small steps under a mark: the thumb walks into the next chord."""
    p.setPen(QPen(QColor(theme.ink), 1.6))
    x, y = rect.center().x() - 6, rect.bottom() + 5
    steps = [QPointF(x, y), QPointF(x + 4, y), QPointF(x + 4, y - 2.5), QPointF(x + 8, y - 2.5)]
    p.drawPolyline([*steps, QPointF(x + 8, y - 5), QPointF(x + 12, y - 5)])


def fault_sign(p: QPainter, rect: QRectF, theme: Theme) -> None:
    """A strong edge and an exclamation mark on a mark that cannot be played as it stands."""
    size = (round(rect.width(), 1), round(rect.height(), 1))
    p.drawPixmap(_whole(rect.x() - _SIGN, rect.y() - _SIGN), _fault_pixmap(theme.name, *size, _ratio(p)))


@lru_cache(maxsize=64)
def _fault_pixmap(theme: str, width: float, height: float, ratio: float) -> QPixmap:
    pixmap, rect = (
        _transparent(width + 2 * _SIGN, height + 2 * _SIGN, ratio),
        QRectF(_SIGN, _SIGN, width, height),
    )
    with painting(pixmap) as p:
        p.setPen(QPen(QColor(THEMES[theme].fault), 2.0))
        p.drawRoundedRect(rect.adjusted(-2.5, -2.5, 2.5, 2.5), 7, 7)
        _draw_badge(p, QRectF(rect.right() - 4, rect.top() - 7, 11, 11), THEMES[theme])
    return pixmap


def fault_badge(p: QPainter, badge: QRectF, theme: Theme) -> None:
    """The exclamation mark alone."""
    pixmap = _badge_pixmap(theme.name, badge.width(), _ratio(p))
    p.drawPixmap(_whole(badge.x() - _EDGE, badge.y() - _EDGE), pixmap)


@lru_cache(maxsize=16)
def _badge_pixmap(theme: str, side: float, ratio: float) -> QPixmap:
    pixmap = _transparent(side + 2 * _EDGE, side + 2 * _EDGE, ratio)
    with painting(pixmap) as p:
        _draw_badge(p, QRectF(_EDGE, _EDGE, side, side), THEMES[theme])
    return pixmap


def _draw_badge(p: QPainter, badge: QRectF, theme: Theme) -> None:
    p.setPen(QPen(QColor(theme.fault), 2.0))
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
    strip = _woven_strip(dyes[0].rgb(), dyes[1].rgb(), ceil(bottom - top), ghost)
    p.drawPixmap(_whole(x - _WEAVE, top), strip)


@lru_cache(maxsize=256)
def _woven_strip(one: int, other: int, height: int, ghost: bool) -> QPixmap:
    """Two threads over and under, painted once for each height."""
    side = round(_WEAVE)
    strip = QPixmap(2 * side, max(1, height))
    strip.fill(Qt.GlobalColor.transparent)
    with painting(strip) as p:
        p.setOpacity(0.45 if ghost else 1.0)
        for row in range(0, height, side):
            dyes = (one, other) if row // side % 2 == 0 else (other, one)
            for column, dye in enumerate(dyes):
                p.fillRect(column * side, row, side, side, QColor(dye))
    return strip


def ribbon(p: QPainter, points: Sequence[QPointF], theme: Theme) -> None:
    """The thumb's path: a broad soft band that weaves between its strings, under the marks."""
    for before, after in pairwise(points):
        way = after - before
        step = _ribbon_step(theme.name, round(way.x(), 1), round(way.y(), 1), _ratio(p))
        p.drawPixmap(_whole(before.x(), min(before.y(), after.y()) - _RIBBON), step)


@lru_cache(maxsize=512)
def _ribbon_step(theme: str, right: float, down: float, ratio: float) -> QPixmap:
    """The band from one thumb mark to the next. Stroking a broad soft curve is slow, so each kind once."""
    pixmap = _transparent(max(1.0, right), abs(down) + 2 * _RIBBON, ratio)
    start, end = QPointF(0, _RIBBON + max(0.0, -down)), QPointF(right, _RIBBON + max(0.0, down))
    path = QPainterPath(start)
    path.cubicTo(start + QPointF(right / 2, 0), end - QPointF(right / 2, 0), end)
    colour = THEMES[theme].finger("p")
    colour.setAlpha(70)
    pen = QPen(colour, _RIBBON)
    pen.setCapStyle(Qt.PenCapStyle.FlatCap)
    with painting(pixmap) as p:
        p.setPen(pen)
        p.drawPath(path)
    return pixmap


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
