"""A list of whole sentences: each is wrapped and shown to its end."""

from __future__ import annotations

from PySide6.QtCore import QModelIndex, QPersistentModelIndex, QSize, Qt
from PySide6.QtWidgets import (
    QListView,
    QListWidget,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QWidget,
)

_ROOM = 6  # pixels: what is as high as its lines, to a part of a pixel, loses its last one


class _Roomy(QStyledItemDelegate):
    """A row a little higher than Qt takes its lines to be."""

    def sizeHint(self, option: QStyleOptionViewItem, index: QModelIndex | QPersistentModelIndex) -> QSize:
        """Of the row."""
        return super().sizeHint(option, index) + QSize(0, _ROOM)


class WrappedList(QListWidget):
    """Sentences under each other; it is scrolled up and down only."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setItemDelegate(_Roomy(self))
        self.setWordWrap(True)
        self.setResizeMode(QListView.ResizeMode.Adjust)
        self.setTextElideMode(Qt.TextElideMode.ElideNone)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
