"""A row of the open list of patterns: name, fingers and a small weave."""

from __future__ import annotations

from PySide6.QtCore import QModelIndex, QObject, QPersistentModelIndex, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QPainter
from PySide6.QtWidgets import QStyle, QStyledItemDelegate, QStyleOptionViewItem

from gingham.app.look.appearance import Dressed
from gingham.app.look.theme import Theme
from gingham.app.widgets import marks
from gingham.app.widgets.wall import WallTile, paint_weave
from gingham.core.patterns.grid import fingers_in
from gingham.core.patterns.pattern import Pattern

WIDE, _HIGH, _WEAVE = 330, 54, 150
PATTERN = Qt.ItemDataRole.UserRole


class Weaver(QStyledItemDelegate):
    """Paints a row of the list."""

    def __init__(self, cloth: Dressed, parent: QObject) -> None:
        super().__init__(parent)
        self._cloth = cloth

    def sizeHint(self, option: QStyleOptionViewItem, index: QModelIndex | QPersistentModelIndex) -> QSize:
        """As high as a small weave."""
        return QSize(WIDE, _HIGH)

    def paint(
        self, p: QPainter, option: QStyleOptionViewItem, index: QModelIndex | QPersistentModelIndex
    ) -> None:
        """Name and fingers at the left, the weave at the right."""
        theme, pattern = self._cloth.theme, index.data(PATTERN)
        if not isinstance(pattern, Pattern):
            return
        chosen = bool(option.state & QStyle.StateFlag.State_Selected)
        rect = QRectF(option.rect)
        p.save()
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        p.fillRect(rect, QColor(theme.selected if chosen else theme.field))
        words = QRectF(rect.left() + 8, rect.top() + 5, rect.width() - _WEAVE - 22, 22)
        name = str(index.data(Qt.ItemDataRole.DisplayRole))
        marks.cut(p, words, name, theme.ink, marks.font(14, chosen))
        fingers = f"{fingers_of(pattern, theme)} · {pattern.meter}"
        marks.cut(p, words.translated(0, 21), fingers, theme.quiet, marks.font(12.5))
        area = QRectF(rect.right() - _WEAVE - 6, rect.top() + 4, _WEAVE, rect.height() - 8)
        tile = WallTile(name, pattern, frozenset(), "", "")
        paint_weave(p, area, tile, self._cloth, chosen=chosen)
        p.restore()


def fingers_of(pattern: Pattern, theme: Theme) -> str:
    """`p i m`, as the player names them."""
    return " ".join(map(theme.naming.finger, fingers_in(pattern)))
