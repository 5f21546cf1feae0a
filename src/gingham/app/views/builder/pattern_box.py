"""The list of patterns: each with its fingers and a small weave, read and painted when the list is opened."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QWidget

from gingham.app.look.appearance import Appearance, Dressed
from gingham.app.widgets.choice import Choice
from gingham.core.patterns.pattern import Pattern


class PatternBox(Dressed, Choice):
    """A pattern's name when closed; open, a picture of each."""

    def __init__(self, appearance: Appearance, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._pattern_of: Callable[[str], Pattern] | None = None
        self.wear(appearance)
        self.setMaxVisibleItems(9)

    def show_patterns(self, names: list[str], current: int, pattern_of: Callable[[str], Pattern]) -> None:
        """The patterns of these names; each is asked for when the list is opened."""
        self._pattern_of = pattern_of
        for index, name in enumerate(names):
            if index >= self.count():
                self.addItem("")
            if self.itemText(index) != name:
                self.setItemText(index, name)
        while self.count() > len(names):
            self.removeItem(self.count() - 1)
        self.setCurrentIndex(current)

    def showPopup(self) -> None:
        """The list, wide enough for its pictures."""
        self.fill()
        super().showPopup()

    def fill(self) -> None:
        """Each row with its picture, and with its fingers for those who hear the window."""
        from gingham.app.views.builder.pattern_list import PATTERN, WIDE, Weaver, fingers_of  # late: 10 ms

        if not isinstance(self.itemDelegate(), Weaver):
            self.setItemDelegate(Weaver(self, self))
            self.view().setMinimumWidth(WIDE)
        for index in range(self.count() if self._pattern_of is not None else 0):
            assert self._pattern_of is not None
            pattern = self._pattern_of(self.itemText(index))
            said = f"{self.itemText(index)}: {fingers_of(pattern, self.theme)}"
            self.setItemData(index, pattern, PATTERN)
            self.setItemData(index, said, Qt.ItemDataRole.AccessibleTextRole)
