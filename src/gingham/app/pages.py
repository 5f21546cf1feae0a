"""The pages of the main window: Build at once, Practise when it is first asked for."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QStackedWidget, QTabBar, QWidget

from gingham.app.theme import Theme

if TYPE_CHECKING:
    from gingham.app.views.practise.controller import Practise
    from gingham.app.views.sheet.controller import SheetController
    from gingham.app.window import MainWindow

BUILD, PRACTISE, SHEET = 0, 1, 2
_TABS_WIDTH = 270


class Pages:
    """The stack, and the tabs in the corner of the menu bar."""

    def __init__(self, window: MainWindow) -> None:
        self._window = window
        self.practise: Practise | None = None
        self.sheet: SheetController | None = None
        self._places: dict[int, QWidget] = {BUILD: window.view}
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
        self.tabs.addTab("Sheet")
        self.tabs.setToolTip("Build and Practise (F10), Sheet (F11)")
        self.tabs.currentChanged.connect(self.show)
        window.menuBar().setCornerWidget(self.tabs, Qt.Corner.TopRightCorner)

    def toggle(self) -> None:
        """The other page."""
        self.tabs.setCurrentIndex(PRACTISE if self.tabs.currentIndex() == BUILD else BUILD)

    def toggle_sheet(self) -> None:
        """The sheet, or Build again."""
        self.tabs.setCurrentIndex(BUILD if self.tabs.currentIndex() == SHEET else SHEET)

    def show(self, index: int) -> None:
        """A page; what plays goes on."""
        if index == PRACTISE and self.practise is None:
            self._make_practise()
        if index == SHEET and self.sheet is None:
            self._make_sheet()
        self.stack.setCurrentWidget(self._places[index])
        if index == PRACTISE and self.practise is not None:
            self.practise.refresh()
            self.practise.view.stages.setFocus()
        elif index == SHEET and self.sheet is not None:
            self.sheet.refresh()
            self.sheet.view.canvas.setFocus()
        else:
            self._window.view.result.setFocus()

    def _make_practise(self) -> None:
        from gingham.app.views.practise.controller import Practise
        from gingham.app.views.practise.view import PractiseView

        window = self._window
        view = PractiseView(window.theme, window)
        self.stack.addWidget(view)
        self._places[PRACTISE] = view
        self.practise = Practise(view, window.build, window.playing, window.settings, window)
        self.set_mirrored(window.view.strings.mirrored)

    def _make_sheet(self) -> None:
        from gingham.app.views.sheet.controller import SheetController
        from gingham.app.views.sheet.view import SheetView

        window = self._window
        view = SheetView(window.theme, window)
        self.stack.addWidget(view)
        self._places[SHEET] = view
        self.sheet = SheetController(view, window.build, window.settings, window)
        self.sheet.mirrored = window.view.strings.mirrored
        self.sheet.save_wanted.connect(lambda _options: window.files.save_sheet())
        self.sheet.notice.connect(window.notify)

    def ask_print(self) -> None:
        """Print the sheet as it is shown."""
        if self.sheet is not None:
            self.sheet.ask_print()

    def set_mirrored(self, on: bool) -> None:
        """Shapes as a left-handed player sees them."""
        if self.practise is not None:
            self.practise.view.follow.mirrored = on
            self.practise.view.follow.update()
        if self.sheet is not None:
            self.sheet.set_mirrored(on)

    def end(self) -> None:
        """End every thread that one of them has."""
        if self.sheet is not None:
            self.sheet.close()

    def set_theme(self, theme: Theme) -> None:
        """Another cloth or other names."""
        if self.practise is not None:
            self.practise.view.set_theme(theme)
        if self.sheet is not None:
            self.sheet.view.set_theme(theme)
