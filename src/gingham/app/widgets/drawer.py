"""The drawer beside the picture: what belongs to the chord, the change or the bar under the cursor."""

from __future__ import annotations

from collections.abc import Callable

import msgspec
from PySide6.QtCore import QSignalBlocker, Qt, Signal
from PySide6.QtGui import QKeyEvent, QShowEvent
from PySide6.QtWidgets import QFrame, QStackedWidget, QTabBar, QVBoxLayout, QWidget

from gingham.language import tr


class DrawerPart(msgspec.Struct, frozen=True):
    """A tab: `id` names it; `make` gives what it holds when it is first opened.

    One that is not `standing` has its tab only while it is in sight.
    """

    id: str
    title: str
    tip: str
    make: Callable[[], QWidget]
    standing: bool = True


class DrawerPanel(QWidget):
    """A part that shows the piece as it is now whenever it comes in sight."""

    def refresh(self) -> None:
        """Show the piece as it is now."""
        raise NotImplementedError

    def showEvent(self, event: QShowEvent) -> None:
        """It has come in sight."""
        super().showEvent(event)
        self.refresh()


class Drawer(QFrame):
    """One part is in sight. It never lies over the picture; Escape goes back to where the keyboard was."""

    opened = Signal(str)
    left = Signal()
    """Escape: the keyboard belongs to the picture again."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setProperty("panel", True)
        self.tabs = QTabBar()
        self.tabs.setAccessibleName(tr("Drawer"))
        self.tabs.setProperty("drawer", True)
        self.tabs.setDrawBase(False)
        self.tabs.setExpanding(True)
        self.tabs.setUsesScrollButtons(False)
        self.tabs.setElideMode(Qt.TextElideMode.ElideRight)
        self.stack = QStackedWidget()
        self._parts: list[DrawerPart] = []
        self._made: dict[str, QWidget] = {}
        column = QVBoxLayout(self)
        column.setContentsMargins(1, 2, 1, 1)
        column.setSpacing(2)
        column.addWidget(self.tabs)
        column.addWidget(self.stack, 1)
        self.tabs.currentChanged.connect(self._show)

    def add(self, part: DrawerPart) -> None:
        """Another tab; the first one is in sight at once."""
        self._parts.append(part)
        with QSignalBlocker(self.tabs):
            self.tabs.addTab(part.title)
        self.tabs.setTabToolTip(self.tabs.count() - 1, part.tip)
        self.tabs.setTabVisible(self.tabs.count() - 1, part.standing)
        if len(self._parts) == 1:
            self._show(0)

    @property
    def current(self) -> str:
        """The id of the part in sight."""
        return self._parts[self.tabs.currentIndex()].id

    def part(self, name: str) -> QWidget | None:
        """What a tab holds; None until it has been opened."""
        return self._made.get(name)

    def open(self, name: str) -> QWidget:
        """Bring a part in sight."""
        index = [part.id for part in self._parts].index(name)
        self.tabs.setTabVisible(index, True)
        self.tabs.setCurrentIndex(index)
        self._show(index)
        return self._made[name]

    def _show(self, index: int) -> None:
        part = self._parts[index]
        for number, each in enumerate(self._parts):
            if not each.standing and number != index:
                self.tabs.setTabVisible(number, False)
        if part.id not in self._made:
            self._made[part.id] = part.make()
            self.stack.addWidget(self._made[part.id])
        if self.stack.currentWidget() is not self._made[part.id]:
            self.stack.setCurrentWidget(self._made[part.id])
            self.opened.emit(part.id)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Escape leaves; what a part does not want of other keys is nobody's here."""
        if event.key() == Qt.Key.Key_Escape:
            self.left.emit()
        else:
            super().keyPressEvent(event)
