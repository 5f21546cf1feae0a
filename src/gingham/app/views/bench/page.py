"""Patterns: the parts of the bench, the line at the bottom, and what makes them follow the piece."""

from __future__ import annotations

from PySide6.QtCore import QTimer, Signal
from PySide6.QtWidgets import QLabel, QTabWidget, QVBoxLayout, QWidget

from gingham.app.look.appearance import Appearance
from gingham.app.look.settings import Settings
from gingham.app.session.own_patterns import pattern_folder
from gingham.app.session.shown import Shown
from gingham.app.sound.transport import Transport
from gingham.app.views.bench.desk import Desk
from gingham.app.views.bench.enter_page import EnterPage
from gingham.app.views.bench.hand_page import HandPage
from gingham.app.views.bench.library_page import LibraryPage
from gingham.app.views.bench.meter_page import MeterPage
from gingham.app.views.bench.say_page import SayPage
from gingham.app.views.bench.vary_page import VaryPage
from gingham.app.widgets.parts import BenchPage
from gingham.app.widgets.speaking import announce
from gingham.language import tr

_PAUSE_MS = 120


class BenchView(QWidget):
    """Only the part in sight follows the piece."""

    naming_chosen = Signal(object)

    def __init__(
        self,
        appearance: Appearance,
        shown: Shown,
        transport: Transport,
        settings: Settings,
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self.setObjectName("root")
        self.desk = Desk(appearance, shown, transport, settings, pattern_folder())
        self.library, self.enter, self.vary = (
            LibraryPage(self.desk),
            EnterPage(self.desk),
            VaryPage(self.desk),
        )
        self.hand, self.say, self.meter = HandPage(self.desk), SayPage(self.desk), MeterPage(self.desk)
        self.pages = QTabWidget()
        self.pages.setAccessibleName(tr("Pages of the bench"))
        for page, words in (
            (self.library, tr("&Patterns")), (self.enter, tr("&Say it in")), (self.vary, tr("&Vary and mix")),
            (self.hand, tr("P&layable?")), (self.say, tr("Say it &aloud")), (self.meter, tr("&Meter")),
        ):  # fmt: skip
            self.pages.addTab(page, words)
        self.note = QLabel()
        self.note.setProperty("quiet", True)
        self.note.setWordWrap(True)
        column = QVBoxLayout(self)
        column.setContentsMargins(12, 4, 12, 8)
        column.addWidget(self.pages, 1)
        column.addWidget(self.note)
        self._later = QTimer(self)  # trying patterns takes a moment: not at every key that is typed
        self._later.setSingleShot(True)
        self._later.setInterval(_PAUSE_MS)
        self._later.timeout.connect(self.refresh)
        self.desk.notice.connect(self._notice)
        self.say.naming_chosen.connect(self.naming_chosen)
        self.pages.currentChanged.connect(lambda _index: self.refresh())
        appearance.changed.connect(self.refresh)
        shown.settled.connect(self._later.start)
        shown.judged.connect(self._judged)
        shown.cursor_moved.connect(self._cursor_moved)

    @property
    def widget(self) -> QWidget:
        """The page."""
        return self

    def arrive(self) -> None:
        """The keyboard to the part in sight."""
        page = self.pages.currentWidget()
        if isinstance(page, BenchPage):
            page.arrive()

    def _notice(self, words: str) -> None:
        self.note.setText(words)
        announce(self.note, words)

    def _judged(self) -> None:
        if self.isVisible() and self.pages.currentWidget() is self.hand:
            self.hand.refresh()

    def _cursor_moved(self) -> None:
        """Another chord may be chosen: what is said or read on it follows."""
        if self.isVisible() and self.pages.currentWidget() in (self.say, self.hand, self.enter):
            self._later.start()

    def refresh(self) -> None:
        """Let the page in sight show the piece as it is now."""
        page = self.pages.currentWidget()
        if self.isVisible() and self.desk.result is not None and isinstance(page, BenchPage):
            page.refresh()

    def say_in(self, text: str) -> None:
        """An order without beats that was typed elsewhere: show how it can sit."""
        self.enter.line.setText(text)
        self.pages.setCurrentWidget(self.enter)

    def end(self) -> None:
        """End the pages' threads."""
        self.library.worker.close()
        self.vary.worker.close()
