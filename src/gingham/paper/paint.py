"""Pages drawn with Qt: the same marks on screen, in files and on paper."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from functools import lru_cache

from PySide6.QtCore import QLineF, QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QFont, QFontMetricsF, QPaintDevice, QPainter, QPainterPath, QPen

from gingham.paper.inks import INKS
from gingham.paper.metrics import Metrics
from gingham.paper.ops import Box, Line, Page, Ribbon, Ring, Text

FAMILY = "Andika"
_MEASURED_PX = 200
_SIGNS = (
    "".join(chr(code) for code in range(32, 127))
    + "".join(chr(code) for code in range(160, 384))
    + "♯♭𝄪𝄫–—…’‘“”·×½⅓⅔¼¾"
)


def measured() -> Metrics:
    """The advances of the sheet's font. Needs the fonts to be loaded."""
    return Metrics(*(_advances(bold) for bold in (False, True)))


def _advances(bold: bool) -> dict[str, float]:
    metrics = QFontMetricsF(_font(_MEASURED_PX, bold))
    return {sign: metrics.horizontalAdvance(sign) / _MEASURED_PX for sign in _SIGNS}


@lru_cache(maxsize=256)
def _font(size: float, bold: bool) -> QFont:
    font = QFont(FAMILY)
    font.setPixelSize(max(1, round(size)))
    font.setBold(bold)
    font.setHintingPreference(QFont.HintingPreference.PreferNoHinting)
    font.setKerning(False)  # widths are sums of single signs
    for feature in ("liga", "clig", "dlig"):  # a joined fi has no letters behind it: it could not be copied
        font.setFeature(QFont.Tag(feature), 0)
    return font


@contextmanager
def painting(device: QPaintDevice) -> Iterator[QPainter]:
    """A painter that ends whatever happens."""
    p = QPainter(device)
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    try:
        yield p
    finally:
        p.end()


def paint_page(p: QPainter, page: Page, *, ground: bool = True) -> None:
    """Draw a page in points; the painter's scale makes them what the device needs."""
    if ground:
        p.fillRect(QRectF(0, 0, page.width, page.height), QColor(INKS["paper"]))
    for op in page.ops:
        if isinstance(op, Text):
            _text(p, op)
        elif isinstance(op, Line):
            _line(p, op)
        elif isinstance(op, Box):
            _box(p, op)
        elif isinstance(op, Ring):
            _ring(p, op)
        else:
            _ribbon(p, op)


def _text(p: QPainter, op: Text) -> None:
    # Fonts have whole sizes: a large one, scaled down, keeps the widths that were measured.
    share = op.size / _MEASURED_PX
    font = _font(_MEASURED_PX, op.bold)
    p.setFont(font)
    p.setPen(QColor(INKS[op.ink]))
    wide = _width(op.text, op.bold)
    left = {"left": 0.0, "center": -wide / 2, "right": -wide}[op.align]
    p.save()
    p.translate(op.x, op.y)
    p.scale(share, share)
    p.drawText(QPointF(left, 0), op.text)
    p.restore()


@lru_cache(maxsize=8192)
def _width(text: str, bold: bool) -> float:
    return QFontMetricsF(_font(_MEASURED_PX, bold)).horizontalAdvance(text)


def _line(p: QPainter, op: Line) -> None:
    pen = QPen(QColor(INKS[op.ink]), op.width)
    pen.setCapStyle(Qt.PenCapStyle.FlatCap)
    p.setPen(pen)
    p.drawLine(QLineF(op.x1, op.y1, op.x2, op.y2))


def _box(p: QPainter, op: Box) -> None:
    p.setBrush(QColor(INKS[op.fill]) if op.fill else Qt.BrushStyle.NoBrush)
    p.setPen(QPen(QColor(INKS[op.edge]), 0.8) if op.edge else Qt.PenStyle.NoPen)
    p.drawRoundedRect(QRectF(op.x, op.y, op.width, op.height), op.radius, op.radius)


def _ring(p: QPainter, op: Ring) -> None:
    p.setBrush(QColor(INKS[op.fill]) if op.fill else Qt.BrushStyle.NoBrush)
    p.setPen(QPen(QColor(INKS[op.edge]), op.width) if op.edge else Qt.PenStyle.NoPen)
    p.drawEllipse(QPointF(op.x, op.y), op.radius, op.radius)


def _ribbon(p: QPainter, op: Ribbon) -> None:
    path = QPainterPath(QPointF(*op.points[0]))
    for (x1, y1), (x2, y2) in zip(op.points, op.points[1:], strict=False):
        middle = (x1 + x2) / 2
        path.cubicTo(QPointF(middle, y1), QPointF(middle, y2), QPointF(x2, y2))
    pen = QPen(QColor(INKS[op.ink]), op.width)
    pen.setCapStyle(Qt.PenCapStyle.RoundCap)
    pen.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.setPen(pen)
    p.drawPath(path)
