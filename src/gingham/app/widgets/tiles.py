"""Bars as small tiles: a short thread for each pluck, strings from top to bottom; own bars are stitched."""

from __future__ import annotations

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPen

from gingham.app.look.theme import Theme
from gingham.core.judging.piece_map import Tile

_THREAD, _FRAMED = 3.0, 6.0


def paint_tile(p: QPainter, area: QRectF, tile: Tile, theme: Theme, strings: int) -> None:
    """One bar with its frame, where there is room for one."""
    p.fillRect(area, QColor(theme.field))
    if area.width() <= _FRAMED:
        paint_threads(p, area, tile, theme, strings)
        return
    pen = QPen(QColor(theme.quiet if tile.own else theme.edge), 1.2 if tile.own else 1)
    if tile.own:
        pen.setStyle(Qt.PenStyle.DashLine)
    p.setPen(pen)
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.drawRect(area.adjusted(0.5, 0.5, -0.5, -0.5))
    paint_threads(p, area.adjusted(2, 3, -1, -3), tile, theme, strings)


def paint_threads(p: QPainter, area: QRectF, tile: Tile, theme: Theme, strings: int) -> None:
    """The plucks of a bar."""
    high = max(2.0, min(5.0, area.height() / strings - 1))
    wide = max(1.0, min(_THREAD, area.width() / 8))
    for thread in tile.weave:
        row = strings - thread.string + 1 if theme.lowest_on_top else thread.string
        y = area.top() + (row - 0.5) * area.height() / strings - high / 2
        place = area.left() + thread.x * (area.width() - wide)
        p.fillRect(QRectF(place, y, wide, high), theme.finger(thread.finger))
