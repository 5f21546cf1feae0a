"""A picture over the time axis that is kept, column by column: only what differs is painted again.

What a column shows is said by a key; a column whose key is as it was stays as it is. Where marks reach over
its edges, the neighbours are painted with it, and nothing outside is touched.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from math import ceil

from PySide6.QtCore import QRect, QRectF, QSize
from PySide6.QtGui import QColor, QPainter, QPixmap

from gingham.app.widgets import marks
from gingham.app.widgets.geometry import Axis

Key = tuple[object, bool]
"""What a column shows, and whether its marks reach over its edges."""
Paint = Callable[[QPainter, range], None]
"""Paints what lies in some columns; the painter is in the axis' coordinates and clipped to them."""


class Still:
    """One layer: a pixmap as large as the canvas, and the key of every column that it shows."""

    def __init__(self) -> None:
        self.pixmap: QPixmap | None = None
        self._look: object = None
        self._offset = 0.0
        self._keys: dict[int, Key] = {}

    def drop(self) -> None:
        """Everything has to be painted anew."""
        self.pixmap = None

    def bring(
        self,
        look: object,
        size: QSize,
        ratio: float,
        axis: Axis,
        offset: float,
        ground: QColor,
        keys: Mapping[int, Key],
        paint: Paint,
    ) -> list[QRectF] | None:
        """Show `keys` (of the columns in sight) from now on: what was painted (canvas), None for everything.

        `look` is what all columns depend on; `offset` is the axis' x at the left edge.
        """
        if self.pixmap is None or self._look != look or not self._scrolled(axis, offset, size, ratio, ground):
            self.pixmap = _empty(size, ratio, ground)
            self._look, self._offset, self._keys = look, offset, dict(keys)
            with marks.painting(self.pixmap) as p:
                p.translate(-offset, 0)
                paint(p, _whole(keys))
            return None
        known, self._keys = self._keys, dict(keys)
        differing = [index for index, key in keys.items() if known.get(index) != key]
        if not differing:
            return []
        with marks.painting(self.pixmap) as p:
            p.translate(-self._offset, 0)
            return [
                self._repaint(p, run, axis, ground, size.height(), known, paint) for run in _runs(differing)
            ]

    def _scrolled(self, axis: Axis, offset: float, size: QSize, ratio: float, ground: QColor) -> bool:
        """Move what is there along; false where it cannot be (too far, or not by whole pixels)."""
        by = offset - self._offset
        if not by:
            return True
        pixels = by * ratio
        if abs(by) >= size.width() or pixels != round(pixels) or self.pixmap is None:
            return False
        left, right = self._offset, self._offset + size.width()
        whole = {i for i in self._keys if left <= axis.columns[i].x and axis.right_of(i) <= right}
        self._keys = {i: key for i, key in self._keys.items() if i in whole}
        self.pixmap.scroll(-round(pixels), 0, self.pixmap.rect())
        self._offset = offset
        with marks.painting(self.pixmap) as p:  # what has come into sight may lie beyond the last column
            p.setCompositionMode(QPainter.CompositionMode.CompositionMode_Source)
            p.fillRect(QRectF(size.width() - by if by > 0 else 0, 0, abs(by), size.height()), ground)
        return True

    def _repaint(
        self,
        p: QPainter,
        run: range,
        axis: Axis,
        ground: QColor,
        height: int,
        known: Mapping[int, Key],
        paint: Paint,
    ) -> QRectF:
        """Paint some columns; with their neighbours where marks reach over an edge, now or before."""
        around = range(max(0, run.start - 1), min(len(axis.columns), run.stop + 1))
        wide = any(keys[i][1] for keys in (known, self._keys) for i in around if i in keys)
        reach = _REACH if wide else 0.0
        left, right = axis.columns[run.start].x - reach, axis.right_of(run.stop - 1) + reach
        area = QRectF(left, 0, right - left, height).toAlignedRect()
        p.setClipRect(area)
        p.setCompositionMode(QPainter.CompositionMode.CompositionMode_Source)  # see-through clears as well
        p.fillRect(area, ground)
        p.setCompositionMode(QPainter.CompositionMode.CompositionMode_SourceOver)
        paint(p, range(min(i for i in around if i in self._keys), around.stop) if wide else run)
        return QRectF(area).translated(-self._offset, 0)


_REACH = 12.0  # how far the marks of a column may reach into its neighbours


def _whole(keys: Mapping[int, Key]) -> range:
    return range(min(keys), max(keys) + 1) if keys else range(0)


def _runs(indices: list[int]) -> list[range]:
    """Neighbouring columns together, so that each stretch is painted once."""
    out: list[range] = []
    for index in indices:
        if out and index <= out[-1].stop:
            out[-1] = range(out[-1].start, index + 1)
        else:
            out.append(range(index, index + 1))
    return out


def _empty(size: QSize, ratio: float, ground: QColor) -> QPixmap:
    layer = QPixmap(QSize(ceil(size.width() * ratio), ceil(size.height() * ratio)))
    layer.setDevicePixelRatio(ratio)
    layer.fill(ground)
    return layer


def device_rect(area: QRect, ratio: float) -> QRectF:
    """A rectangle of the canvas in the pixmap's own pixels."""
    return QRectF(area.x() * ratio, area.y() * ratio, area.width() * ratio, area.height() * ratio)
