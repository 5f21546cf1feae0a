"""A list of wrapped sentences under headings, each with a number of its own."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QListWidgetItem

from gingham.app.widgets.wrapped_list import WrappedList

NUMBER = Qt.ItemDataRole.UserRole


class HeadedList(WrappedList):
    """Rows wrap and are never cut; headings cannot be chosen."""

    def __init__(self, name: str) -> None:
        super().__init__()
        self.setAccessibleName(name)

    def add_heading(self, words: str) -> None:
        """A bold row that only says what follows."""
        item = QListWidgetItem(words)
        item.setFlags(Qt.ItemFlag.NoItemFlags)
        font = item.font()
        font.setBold(True)
        item.setFont(font)
        self.addItem(item)

    def add_row(self, words: str, number: int) -> QListWidgetItem:
        """A row to choose."""
        item = QListWidgetItem(words)
        item.setData(NUMBER, number)
        self.addItem(item)
        return item

    @property
    def number(self) -> int:
        """The number of the chosen row; −1 for none."""
        item = self.currentItem()
        found = item.data(NUMBER) if item is not None else None
        return -1 if found is None else int(found)
