"""The pages of the main window: Build at once, every other place when it is first asked for."""

from __future__ import annotations

from typing import TYPE_CHECKING, cast

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QStackedWidget, QTabBar

from gingham.app.shell.frame import Frame
from gingham.app.shell.places import PLACES, Place

if TYPE_CHECKING:
    from gingham.app.views.practice.controller import PracticeController
    from gingham.app.views.sheet.controller import SheetController

_TAB_WIDTH = 90


class Pages:
    """The stack, and the tabs in the corner of the menu bar."""

    def __init__(self, window: Frame) -> None:
        self._window = window
        self.made: dict[str, Place] = {}
        """The places that have been shown, by their ids."""
        self.stack = QStackedWidget(window)
        self.stack.addWidget(window.view)
        window.setCentralWidget(self.stack)
        self.tabs = QTabBar()
        self.tabs.setAccessibleName("Views")
        self.tabs.setDrawBase(False)
        self.tabs.setProperty("corner", True)
        self.tabs.setUsesScrollButtons(False)
        self.tabs.setExpanding(False)
        self.tabs.setFixedWidth(
            _TAB_WIDTH * (1 + len(PLACES))
        )  # the menu bar measures it before the font is there
        self.tabs.addTab("Build")
        for spec in PLACES:
            self.tabs.addTab(spec.title)
        keys = ", ".join(f"{spec.title} ({spec.key})" if spec.key else spec.title for spec in PLACES)
        self.tabs.setToolTip(f"Build, {keys}")
        self.tabs.currentChanged.connect(self.show)
        window.menuBar().setCornerWidget(self.tabs, Qt.Corner.TopRightCorner)

    @property
    def practise(self) -> PracticeController | None:
        """Practise, once it has been shown."""
        return cast("PracticeController | None", self.made.get("practise"))

    @property
    def sheet(self) -> SheetController | None:
        """The sheet, once it has been shown."""
        return cast("SheetController | None", self.made.get("sheet"))

    def go(self, place: str) -> None:
        """Show a place."""
        self.tabs.setCurrentIndex(_index(place))

    def toggle(self, place: str) -> None:
        """Show a place, or Build again."""
        index = _index(place)
        self.tabs.setCurrentIndex(0 if self.tabs.currentIndex() == index else index)

    def show(self, index: int) -> None:
        """A page; what plays goes on."""
        if index == 0:
            self.stack.setCurrentWidget(self._window.view)
            self._window.view.result.setFocus()
            return
        place = self._place(index)
        self.stack.setCurrentWidget(place.widget)
        place.refresh()
        place.enter()

    def _place(self, index: int) -> Place:
        spec = PLACES[index - 1]
        if spec.id not in self.made:
            place = self.made[spec.id] = spec.make(self._window)
            self.stack.addWidget(place.widget)
        return self.made[spec.id]

    def end(self) -> None:
        """End every thread that one of them has."""
        for place in self.made.values():
            place.close()


def _index(place: str) -> int:
    return 1 + [spec.id for spec in PLACES].index(place)
