"""The pages of the main window: Build at once, Practise when it is first asked for."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QStackedWidget, QTabBar

from gingham.app.theme import Theme

if TYPE_CHECKING:
    from gingham.app.views.practise.controller import Practise
    from gingham.app.window import MainWindow

BUILD, PRACTISE = 0, 1
_TABS_WIDTH = 200


class Pages:
    """The stack, and the tabs in the corner of the menu bar."""

    def __init__(self, window: MainWindow) -> None:
        self._window = window
        self.practise: Practise | None = None
        self.stack = QStackedWidget(window)
        self.stack.addWidget(window.view)
        window.setCentralWidget(self.stack)
        self.tabs = QTabBar()
        self.tabs.setAccessibleName("Views")
        self.tabs.setDrawBase(False)
        self.tabs.setProperty("corner", True)
        self.tabs.setUsesScrollButtons(False)
        self.tabs.setExpanding(False)
        self.tabs.setFixedWidth(_TABS_WIDTH)  # the menu bar measures it before the font is there
        self.tabs.addTab("Build")
        self.tabs.addTab("Practise")
        self.tabs.setToolTip("Build and Practise (F10)")
        self.tabs.currentChanged.connect(self.show)
        window.menuBar().setCornerWidget(self.tabs, Qt.Corner.TopRightCorner)

    def toggle(self) -> None:
        """The other page."""
        self.tabs.setCurrentIndex(PRACTISE if self.tabs.currentIndex() == BUILD else BUILD)

    def show(self, index: int) -> None:
        """A page; what plays goes on."""
        if index == PRACTISE and self.practise is None:
            self._make_practise()
        self.stack.setCurrentIndex(index)
        if index == PRACTISE and self.practise is not None:
            self.practise.refresh()
            self.practise.view.stages.setFocus()
        else:
            self._window.view.result.setFocus()

    def _make_practise(self) -> None:
        from gingham.app.views.practise.controller import Practise
        from gingham.app.views.practise.view import PractiseView

        window = self._window
        view = PractiseView(window.theme, window)
        self.stack.addWidget(view)
        self.practise = Practise(view, window.build, window.playing, window.settings, window)
        self.set_mirrored(window.view.strings.mirrored)

    def set_mirrored(self, on: bool) -> None:
        """Shapes as a left-handed player sees them."""
        if self.practise is not None:
            self.practise.view.follow.mirrored = on
            self.practise.view.follow.update()

    def set_theme(self, theme: Theme) -> None:
        """Another cloth or other names."""
        if self.practise is not None:
            self.practise.view.set_theme(theme)
