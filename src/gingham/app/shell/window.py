"""The window: open pieces, menus from the table of actions, files, playing."""

from __future__ import annotations

from functools import partial
from pathlib import Path

from PySide6 import QtWidgets
from PySide6.QtCore import Qt
from PySide6.QtGui import QAction, QActionGroup, QCloseEvent, QKeyEvent, QKeySequence, QResizeEvent
from PySide6.QtWidgets import QApplication, QMenu

from gingham.app.look.settings import Settings
from gingham.app.session.document import Document
from gingham.app.shell.actions import ACTIONS, LINES_BEFORE, MENUS
from gingham.app.shell.drawers import Drawers
from gingham.app.shell.filing import Files
from gingham.app.shell.finder import Finder
from gingham.app.shell.frame import Frame
from gingham.app.shell.handlers import handlers
from gingham.app.shell.logfile import LogFile
from gingham.app.shell.pages import Pages
from gingham.app.sound.transport import Transport
from gingham.app.sound.voice import Voice
from gingham.language import tr

_USUAL, _LEAST = (1280, 800), (900, 480)
_REMEMBERED = frozenset({"count-in", "click", "cue", "voice", "loop", "breaks"})


class MainWindow(Frame):
    """The whole: the frame with its menus, files and other places. Nothing here is global."""

    def __init__(
        self,
        settings: Settings,
        transport: Transport | None = None,
        unsaved: Path | None = None,
        log: LogFile | None = None,
    ) -> None:
        super().__init__(settings, transport, log)
        self.pages = Pages(self)
        self.drawers = Drawers(self, self.pages)
        self.files = Files(self, self.pages, unsaved)
        self.statusBar().addPermanentWidget(self.files.export_bar)
        self.files.export_bar.hide()
        self.opened.connect(self.files.added)
        self.closed.connect(self.files.removed)
        self.session_wanted.connect(self.pages.lead)
        self.report_wanted.connect(self.pages.show_report)
        self.view.bench_button.clicked.connect(lambda _on: self.pages.show_patterns())
        self._make_actions()
        self.view.setup_button.clicked.connect(self.actions_by_id["setup"].trigger)
        app = QApplication.instance()
        if app is not None:
            app.aboutToQuit.connect(self._end_work)  # a program that is told to quit closes no window first
        self.setMinimumSize(*_LEAST)
        self._fit_screen(settings)

    def _fit_screen(self, settings: Settings) -> None:
        """As large as it was, or as usual; never larger than the screen that it opens on."""
        self.resize(*_USUAL)
        geometry = settings.geometry()
        if geometry is not None:
            self.restoreGeometry(geometry)
        room = self.screen().availableGeometry()
        self.resize(min(self.width(), room.width()), min(self.height(), room.height()))

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Another height has room for other parts."""
        super().resizeEvent(event)
        self.view.share_room(self.height())
        self.pages.fix_width()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Space that nobody has wanted plays, or stops."""
        if event.key() == Qt.Key.Key_Space and not event.modifiers():
            self.actions_by_id["play"].trigger()
        else:
            super().keyPressEvent(event)

    # Actions.

    def _make_actions(self) -> None:
        menus = {name: self.menuBar().addMenu(name) for name in MENUS}
        groups: dict[str, QActionGroup] = {}
        for spec in ACTIONS:
            action = QAction(spec.text.replace("&", "&&"), self)
            action.setObjectName(spec.id)
            if spec.key:
                action.setShortcut(QKeySequence(spec.key))
            action.setToolTip(f"{spec.tip or spec.text} ({spec.key})" if spec.key else spec.tip or spec.text)
            action.setStatusTip(spec.tip)
            action.setCheckable(spec.check)
            action.setEnabled(spec.id != "stop-export")
            if spec.group:
                groups.setdefault(spec.group, QActionGroup(self)).addAction(action)
            if spec.id in LINES_BEFORE:
                menus[spec.menu].addSeparator()
            menus[spec.menu].addAction(action)
            if spec.id == "open":
                self._add_recent(menus[spec.menu])
            self.addAction(action)
            self.actions_by_id[spec.id] = action
        self.voice = Voice(self.playing, self)
        self.voice.notice.connect(self.notify)
        self.finder = Finder(self, self.actions_by_id)
        self.actions_by_id["find"].triggered.connect(lambda _on=False: self.finder.ask())
        runs = handlers(self, self.files, self.pages, self.drawers)
        for name, run in {**runs, "close": self.close_piece}.items():
            self.actions_by_id[name].triggered.connect(lambda _=False, run=run: run())
        self._connect_switches()

    def _add_recent(self, menu: QMenu) -> None:
        recent = menu.addMenu(tr("Open recent"))
        recent.aboutToShow.connect(lambda: self.files.recent.fill(recent))
        self.recent_menu = recent

    def _show_appearance(self) -> None:
        """The switches of the menu follow what was chosen elsewhere."""
        for name, on in (
            ("night", self.appearance.night),
            ("mirror", self.appearance.mirrored),
            ("lowest-on-top", self.appearance.theme.lowest_on_top),
        ):
            self.actions_by_id[name].setChecked(on)

    def _connect_switches(self) -> None:
        for name, default, use in (
            ("thumb-alone", False, self.playing.set_thumb_alone),
            ("count-in", self.settings.flag("count-in", True), self.playing.set_count_in),
            ("click", self.settings.flag("click", False), self.transport.set_clicks),
            ("cue", self.settings.flag("cue", False), self.transport.set_cues),
            ("voice", self.settings.flag("voice", False), self.voice.set_on),
            ("loop", self.settings.flag("loop", True), self.playing.set_loop),
            ("mirror", self.appearance.mirrored, self.appearance.set_mirrored),
            ("lowest-on-top", self.appearance.theme.lowest_on_top, self.appearance.set_lowest_on_top),
            ("breaks", self.settings.flag("breaks", True), self.care.set_reminding),
            ("practice-form", False, self.playing.set_practice_form),
            ("night", self.appearance.night, self.appearance.set_night),
        ):
            action = self.actions_by_id[name]
            action.setChecked(default)
            if name in _REMEMBERED:
                use(default)
                action.toggled.connect(partial(self.settings.set_flag, name))
            action.toggled.connect(use)
        self.appearance.changed.connect(self._show_appearance)
        self.playing.thumb_alone_changed.connect(self.actions_by_id["thumb-alone"].setChecked)

    # Pieces.

    def close_piece(self) -> bool:
        """Close the shown piece, asking about unsaved changes; false if the player stays."""
        if not self._may_close(self.document):
            return False
        index = self.view.pieces.currentIndex()
        self.playing.stop()
        gone = self.take_out(index)
        if not self.documents:
            self.add(self.ways.new_document(self))
        self.show_piece(self.view.pieces.currentIndex())
        self.let_go(gone)
        return True

    def _may_close(self, document: Document) -> bool:
        if not document.modified:
            return True
        answer = self.ask_unsaved(document)
        if answer == QtWidgets.QMessageBox.StandardButton.Save:
            self.view.pieces.setCurrentIndex(self.documents.index(document))
            return self.files.save()
        return answer == QtWidgets.QMessageBox.StandardButton.Discard

    def ask_unsaved(self, document: Document) -> QtWidgets.QMessageBox.StandardButton:
        """Save, discard or stay."""
        buttons = QtWidgets.QMessageBox.StandardButton
        return QtWidgets.QMessageBox.question(
            self,
            tr("Unsaved changes"),
            tr("“{title}” has changes that are not saved.", title=document.piece.title or tr("Untitled")),
            buttons.Save | buttons.Discard | buttons.Cancel,
            buttons.Save,
        )

    def _end_work(self, *, forget: bool = False) -> None:
        """End every thread; more than once does no harm. Unsaved work is kept unless it may be forgotten."""
        self.transport.close()
        self.fitter.close()
        self.judge.close()
        self.playing.liner.close()
        self.files.close(forget=forget)
        self.drawers.end()
        self.build.mapping.close()
        self.voice.close()
        self.pages.end()
        self.plans.close()
        self.logbook.close()

    def may_close_all(self) -> bool:
        """Ask about every piece with unsaved changes; false as soon as the player stays."""
        return all(self._may_close(document) for document in list(self.documents))

    def closeEvent(self, event: QCloseEvent) -> None:
        """Ask about every unsaved piece, remember the window, end the threads."""
        if not self.may_close_all():
            event.ignore()
            return
        self.files.remember_open()
        self.settings.set_geometry(self.saveGeometry())
        self._end_work(forget=True)
        for document in self.documents:
            document.close()
        event.accept()
