"""The list of patterns: each with its fingers and a small weave, painted only when the list is open."""

from __future__ import annotations

from PySide6.QtCore import QModelIndex, QPersistentModelIndex, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QPainter
from PySide6.QtWidgets import QComboBox, QStyle, QStyledItemDelegate, QStyleOptionViewItem, QWidget

from gingham.app.look.appearance import Appearance, Dressed
from gingham.app.widgets import marks
from gingham.app.widgets.wall import WallTile, paint_weave
from gingham.core.patterns.grid import fingers_in
from gingham.core.patterns.pattern import Pattern
from gingham.core.pieces.piece import NamedPattern

_WIDE, _HIGH, _WEAVE = 330, 54, 150
_PATTERN = Qt.ItemDataRole.UserRole


class PatternBox(Dressed, QComboBox):
    """A pattern's name when closed; open, a picture of each."""

    def __init__(self, appearance: Appearance, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.wear(appearance)
        self.setItemDelegate(_Weaver(self))
        self.setMaxVisibleItems(9)

    def show_patterns(self, found: list[NamedPattern], current: int) -> None:
        """These patterns; nothing is painted yet."""
        for index, named in enumerate(found):
            if index >= self.count():
                self.addItem("")
            if self.itemData(index, _PATTERN) is not named.pattern:
                self.setItemData(index, named.pattern, _PATTERN)
            if self.itemText(index) != named.name:
                self.setItemText(index, named.name)
        while self.count() > len(found):
            self.removeItem(self.count() - 1)
        self.setCurrentIndex(current)

    def showPopup(self) -> None:
        """The list, wide enough for its pictures."""
        self.name_fingers()
        self.view().setMinimumWidth(_WIDE)
        super().showPopup()

    def name_fingers(self) -> None:
        """For those who hear the window: each row with its fingers."""
        for index in range(self.count()):
            pattern = self.itemData(index, _PATTERN)
            if isinstance(pattern, Pattern):
                said = f"{self.itemText(index)}: {self.fingers(pattern)}"
                self.setItemData(index, said, Qt.ItemDataRole.AccessibleTextRole)

    def fingers(self, pattern: Pattern) -> str:
        """`p i m`, as the player names them."""
        return " ".join(map(self.theme.naming.finger, fingers_in(pattern)))


class _Weaver(QStyledItemDelegate):
    """Paints a row of the list."""

    def __init__(self, box: PatternBox) -> None:
        super().__init__(box)
        self._box = box

    def sizeHint(self, option: QStyleOptionViewItem, index: QModelIndex | QPersistentModelIndex) -> QSize:
        """As high as a small weave."""
        return QSize(_WIDE, _HIGH)

    def paint(
        self, p: QPainter, option: QStyleOptionViewItem, index: QModelIndex | QPersistentModelIndex
    ) -> None:
        """Name and fingers at the left, the weave at the right."""
        theme, pattern = self._box.theme, index.data(_PATTERN)
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
        fingers = f"{self._box.fingers(pattern)} · {pattern.meter}"
        marks.cut(p, words.translated(0, 21), fingers, theme.quiet, marks.font(12.5))
        area = QRectF(rect.right() - _WEAVE - 6, rect.top() + 4, _WEAVE, rect.height() - 8)
        tile = WallTile(name, pattern, frozenset(), "", "")
        paint_weave(p, area, tile, self._box, chosen=chosen)
        p.restore()
