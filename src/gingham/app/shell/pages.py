"""The pages of the main window: Build at once, every other place when it is first asked for."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, cast

from PySide6.QtCore import Qt
from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import QApplication, QStackedWidget, QTabBar

from gingham.app.shell.frame import Frame
from gingham.app.shell.places import PLACES, Place
from gingham.app.widgets.parts import scrolled
from gingham.language import tr
from gingham.words.actions import ACTION_WORDS, with_keys
from gingham.words.chapters import FIRST, HANDS

if TYPE_CHECKING:
    from gingham.app.views.bench.page import BenchView
    from gingham.app.views.form.page import FormView
    from gingham.app.views.help.page import HelpView
    from gingham.app.views.log.controller import LogController
    from gingham.app.views.practice.controller import PracticeController
    from gingham.app.views.reading.page import ReadingView
    from gingham.app.views.sheet.controller import SheetController
    from gingham.app.views.takes.controller import TakesController

BUILD = "build"
_TAB_WIDTH = 84
_MENUS = 40
"""What is left for the menus at least: the arrow that shows them."""


class Pages:
    """The stack, and the tabs in the corner of the menu bar."""

    def __init__(self, window: Frame) -> None:
        self._window = window
        self.made: dict[str, Place] = {}
        """The places that have been shown, by their ids."""
        self.stack = QStackedWidget(window)
        self._build = scrolled(window.view)
        self._build.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAsNeeded)
        self.stack.addWidget(self._build)
        window.setCentralWidget(self.stack)
        self.tabs = QTabBar()
        self.tabs.setAccessibleName(tr("Views"))
        self.tabs.setDrawBase(False)
        self.tabs.setProperty("corner", True)
        self.tabs.setUsesScrollButtons(False)
        self.tabs.setExpanding(False)
        self.tabs.setElideMode(Qt.TextElideMode.ElideRight)
        self.tabs.addTab(tr("Build"))
        self.tabs.setTabToolTip(0, with_keys(ACTION_WORDS[BUILD].tip, BUILD))
        for index, spec in enumerate(PLACES, start=1):
            self.tabs.addTab(spec.title)
            if spec.standing:
                self.tabs.setTabToolTip(index, with_keys(ACTION_WORDS[spec.id].tip, spec.id))
            self.tabs.setTabVisible(index, spec.standing)
        self.fix_width()
        self.tabs.currentChanged.connect(self.show)
        window.menuBar().setCornerWidget(self.tabs, Qt.Corner.TopRightCorner)

    @property
    def bench(self) -> BenchView | None:
        """The patterns, once they have been shown."""
        return cast("BenchView | None", self.made.get("bench"))

    @property
    def form(self) -> FormView | None:
        """Form, once it has been shown."""
        return cast("FormView | None", self.made.get("form"))

    @property
    def practise(self) -> PracticeController | None:
        """Practise, once it has been shown."""
        return cast("PracticeController | None", self.made.get("practise"))

    @property
    def takes(self) -> TakesController | None:
        """Takes, once they have been shown."""
        return cast("TakesController | None", self.made.get("takes"))

    @property
    def record(self) -> LogController | None:
        """The Log, once it has been shown."""
        return cast("LogController | None", self.made.get("record"))

    def lead(self, minutes: int) -> None:
        """Begin a session on Practise."""
        self.go("practise")
        assert self.practise is not None
        self.practise.leader.begin(minutes)

    def show_report(self) -> None:
        """The sheet with the spots that were measured."""
        self.go("sheet")
        assert self.sheet is not None
        self.sheet.show_report()

    def stop_for_the_hand(self) -> None:
        """It hurts: everything stops, from whatever page."""
        self._window.playing.stop()
        self.go("practise")
        assert self.practise is not None
        self.practise.leader.hurts()

    @property
    def sheet(self) -> SheetController | None:
        """The sheet, once it has been shown."""
        return cast("SheetController | None", self.made.get("sheet"))

    @property
    def help(self) -> HelpView | None:
        """The help, once it has been shown."""
        return cast("HelpView | None", self.made.get("help"))

    @property
    def reading(self) -> ReadingView | None:
        """What reads charts and parts, once it has been shown."""
        return cast("ReadingView | None", self.made.get("reading"))

    def go_build(self) -> None:
        """Show Build."""
        self.tabs.setCurrentIndex(0)

    def go(self, place: str) -> None:
        """Show a place."""
        self.tabs.setTabVisible(_index(place), True)
        self.fix_width()
        self.tabs.setCurrentIndex(_index(place))

    def toggle(self, place: str) -> None:
        """Show a place, or Build again."""
        if self.current == place:
            self.go_build()
        else:
            self.go(place)

    @property
    def current(self) -> str:
        """The id of what is shown."""
        index = self.tabs.currentIndex()
        return PLACES[index - 1].id if index > 0 else BUILD

    def show(self, index: int) -> None:
        """A page; what plays goes on."""
        for number, spec in enumerate(PLACES, start=1):
            if not spec.standing and number != index:
                self.tabs.setTabVisible(number, False)
        self.fix_width()
        if index == 0 or PLACES[index - 1].standing:
            self._window.settings.set_text("page", self.current)
        if index == 0:
            self.stack.setCurrentWidget(self._build)
            self._window.view.enter()
            return
        place = self._place(index)
        self.stack.setCurrentWidget(place.widget)
        place.refresh()
        place.arrive()

    def show_last(self) -> None:
        """The page that was shown when Gingham was left; a part that is being read stays in sight."""
        last = self._window.settings.text("page", BUILD)
        if self.current == BUILD and last in [spec.id for spec in PLACES if spec.standing]:
            self.go(last)

    def show_patterns(self) -> None:
        """The patterns, or Build again; an order without beats in the pattern line goes with it."""
        words = self._window.view.bar.words
        order = words.text() if words.fault is not None and ":" not in words.text() else ""
        self.toggle("bench")
        if order and self.bench is not None:
            self.bench.say_in(order)

    def show_chart(self) -> None:
        """The page in which a chart is pasted."""
        self.go("reading")
        assert self.reading is not None
        self.reading.show_chart()

    def read_file(self, path: Path) -> None:
        """The page that reads a part or a chart from a file."""
        self.go("reading")
        assert self.reading is not None
        self.reading.read_file(path)

    def show_help(self) -> None:
        """The help on the word that is marked, or on this place; Build again if it is there already."""
        place = self.current
        if place == "help":
            self.go_build()
            return
        from gingham.app.shell.asking import chapter_for, marked_word  # only when something is asked

        word, chapter = marked_word(self._window.focusWidget()), chapter_for(self._window, place)
        known = self.help is not None
        self.go("help")
        assert self.help is not None
        if word or (known and chapter):  # the first time it begins with the first minutes
            self.help.look_up(word, chapter or FIRST)

    def show_hands(self) -> None:
        """The help's chapter on the hands."""
        self.go("help")
        assert self.help is not None
        self.help.show_chapter(HANDS)

    def _place(self, index: int) -> Place:
        spec = PLACES[index - 1]
        if spec.id not in self.made:
            place = self.made[spec.id] = spec.make(self._window)
            self.stack.addWidget(place.widget)
        return self.made[spec.id]

    def fix_width(self) -> None:
        """The menu bar measures the tabs before the font is there; in a narrow window long words end in …"""
        seen = sum(self.tabs.isTabVisible(index) for index in range(self.tabs.count()))
        wide = min(max(_TAB_WIDTH * seen, self.tabs.sizeHint().width()), self._window.width() - _MENUS)
        if self.tabs.width() != wide:
            self.tabs.setFixedWidth(wide)
            bar = self._window.menuBar()  # it puts its corner in place only when it is resized
            QApplication.sendEvent(bar, QResizeEvent(bar.size(), bar.size()))

    def end(self) -> None:
        """End every thread that one of them has."""
        for place in self.made.values():
            place.end()


def _index(place: str) -> int:
    return 1 + [spec.id for spec in PLACES].index(place)
