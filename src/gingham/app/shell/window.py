"""The window: open pieces, menus from the table of actions, files, playing."""

from __future__ import annotations

from functools import partial
from pathlib import Path

from PySide6.QtCore import Qt, QUrl
from PySide6.QtGui import QAction, QActionGroup, QCloseEvent, QDesktopServices, QKeySequence
from PySide6.QtWidgets import QApplication, QMainWindow, QMenu, QMessageBox, QStatusBar

from gingham.app.look.appearance import Appearance
from gingham.app.look.settings import Settings
from gingham.app.session.document import Document
from gingham.app.session.fitter import Fitter, Judge
from gingham.app.session.shown import Shown
from gingham.app.shell.actions import ACTIONS, MENUS
from gingham.app.shell.beside import Beside
from gingham.app.shell.filing import Files
from gingham.app.shell.handlers import handlers
from gingham.app.shell.logfile import LogFile
from gingham.app.shell.pages import Pages
from gingham.app.shell.standing import Standing
from gingham.app.sound.devices import device_names
from gingham.app.sound.handcare import HandCare
from gingham.app.sound.playing import Playing
from gingham.app.sound.transport import Transport
from gingham.app.views.builder.controller import BuildController
from gingham.app.views.builder.following import Following
from gingham.app.views.builder.view import BuildView
from gingham.core.errors import GinghamError
from gingham.core.pieces.edits import add_section, clear_chord_overrides, remove_section
from gingham.core.pieces.piece import Piece
from gingham.core.values import replace
from gingham.words.errors import printable, say
from gingham.words.keeping import NOTHING_SENT
from gingham.words.reading import NAMINGS

_NOTICE_HEIGHT = 28
_REMEMBERED = frozenset({"count-in", "click", "cue", "loop", "breaks"})


class MainWindow(QMainWindow):
    """Builds the object graph and passes it down; nothing here is global."""

    def __init__(
        self,
        settings: Settings,
        transport: Transport | None = None,
        unsaved: Path | None = None,
        log: LogFile | None = None,
    ) -> None:
        super().__init__()
        self.settings, self.log = settings, log
        self.appearance = Appearance(settings, self)
        self.fitter, self.judge = Fitter(self), Judge(self)
        self.shown = Shown(self.fitter, self.judge, self)
        self.transport = transport if transport is not None else Transport()
        self.transport.setParent(self)
        self.documents: list[Document] = []
        self.actions_by_id: dict[str, QAction] = {}
        self.setStatusBar(QStatusBar(self))
        self.statusBar().setSizeGripEnabled(False)
        self.standing = Standing()
        self.statusBar().addWidget(self.standing)
        self.files = Files(self, unsaved)
        self.statusBar().addPermanentWidget(self.files.export_bar)
        self.files.export_bar.hide()
        self.statusBar().setFixedHeight(_NOTICE_HEIGHT)  # a notice must not push the picture about
        self._make_view()
        self._make_actions()
        app = QApplication.instance()
        if app is not None:
            app.aboutToQuit.connect(self._end_work)  # a program that is told to quit closes no window first
        self.resize(1280, 800)
        self.setMinimumSize(960, 640)
        geometry = settings.geometry()
        if geometry is not None:
            self.restoreGeometry(geometry)

    def _make_view(self) -> None:
        self.view = BuildView(self.appearance, self)
        self.build = BuildController(self.view, self.shown, self)
        self.playing = Playing(self.transport, self.shown, self)
        self.following = Following(self.build, self.playing, self)
        self.beside, self.pages = Beside(self), Pages(self)
        self.transport.device = self.settings.text("device", "")
        self.care = HandCare(self.transport, self.shown, self.settings, self)
        self.care.notice.connect(self.notify)
        self.shown.notice.connect(self.notify)
        self.playing.notice.connect(self.notify)
        self.appearance.changed.connect(self._restyle)
        self.view.pieces.currentChanged.connect(self._show_piece)
        self.view.bench_button.clicked.connect(lambda _on: self.beside.show_bench())
        self.view.setup_button.clicked.connect(lambda on: self.actions_by_id["setup"].setChecked(on))

    # Actions.

    def _make_actions(self) -> None:
        menus = {name: self.menuBar().addMenu(name) for name in MENUS}
        groups: dict[str, QActionGroup] = {}
        for spec in ACTIONS:
            action = QAction(spec.text, self)
            action.setObjectName(spec.id)
            if spec.key:
                action.setShortcut(QKeySequence(spec.key))
            action.setToolTip(f"{spec.tip or spec.text} ({spec.key})" if spec.key else spec.tip or spec.text)
            action.setStatusTip(spec.tip)
            action.setCheckable(spec.check)
            action.setEnabled(spec.id != "stop-export")
            if spec.group:
                groups.setdefault(spec.group, QActionGroup(self)).addAction(action)
            menus[spec.menu].addAction(action)
            if spec.id == "open":
                self._add_recent(menus[spec.menu])
            self.addAction(action)
            self.actions_by_id[spec.id] = action
        for name, run in handlers(self).items():
            self.actions_by_id[name].triggered.connect(lambda _=False, run=run: run())
        self._connect_switches()

    def _add_recent(self, menu: QMenu) -> None:
        recent = menu.addMenu("Open recent")
        recent.aboutToShow.connect(lambda: self.files.recent.fill(recent))
        self.recent_menu = recent

    def _connect_switches(self) -> None:
        for name, default, use in (
            ("setup", False, self._show_setup),
            ("thumb-alone", False, self.playing.set_thumb_alone),
            ("count-in", self.settings.flag("count-in", True), self.playing.set_count_in),
            ("click", self.settings.flag("click", False), self.transport.set_clicks),
            ("cue", self.settings.flag("cue", False), self.transport.set_cues),
            ("loop", self.settings.flag("loop", True), self.playing.set_loop),
            ("mirror", self.appearance.mirrored, self.appearance.set_mirrored),
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
        self.playing.thumb_alone_changed.connect(self.actions_by_id["thumb-alone"].setChecked)

    # Pieces.

    @property
    def document(self) -> Document:
        """The piece that is shown."""
        return self.documents[self.view.pieces.currentIndex()]

    def add(self, document: Document, *, show: bool = True, copy: Path | None = None) -> None:
        """Open another piece, and show it unless it is to wait in its tab; `copy` as in `Files.added`."""
        document.setParent(self)
        self.documents.append(document)
        self.files.added(document, copy)
        document.changed.connect(self._refresh_titles)
        document.saved.connect(self._refresh_titles)
        document.stack.cleanChanged.connect(lambda _clean: self._refresh_titles())
        document.stack.indexChanged.connect(lambda _index: self._refresh_titles())
        index = self.view.pieces.addTab(document.piece.title or "Untitled")
        if show:
            self.view.pieces.setCurrentIndex(index)
        if len(self.documents) == 1:
            self._show_piece(0)
        self._refresh_titles()

    def new(self) -> None:
        """Start an empty piece, ready to type its chords."""
        self.add(Document(empty_piece(), parent=self))
        self.view.chords.setFocus()

    def _show_piece(self, index: int) -> None:
        if 0 <= index < len(self.documents):
            self.playing.stop()
            self.shown.show_document(self.documents[index])
            self._refresh_titles()

    def _refresh_titles(self) -> None:
        for index, document in enumerate(self.documents):
            mark = " •" if document.modified else ""
            text = (document.piece.title or "Untitled") + mark
            if self.view.pieces.tabText(index) != text:
                self.view.pieces.setTabText(index, text)
        if not self.documents or self.view.pieces.currentIndex() < 0:
            return
        document = self.document
        self.setWindowTitle(
            f"{document.piece.title or 'Untitled'}{' •' if document.modified else ''} – Gingham"
        )
        stack = document.stack
        for name, able, text in (
            ("undo", stack.canUndo(), f"Undo {stack.undoText()}".strip()),
            ("redo", stack.canRedo(), f"Redo {stack.redoText()}".strip()),
        ):
            self.actions_by_id[name].setEnabled(able)
            self.actions_by_id[name].setText(text)
        self.actions_by_id["all-rules"].setEnabled(bool(document.piece.overrides))
        rules = document.piece.rules
        for name in (f"thumb-{rules.thumb.kind}", f"fingers-{rules.fingers.kind}"):
            if name in self.actions_by_id:
                self.actions_by_id[name].setChecked(True)

    def open_piece(self, piece: Piece) -> None:
        """Show a piece that has no file yet."""
        document = Document(empty_piece(), parent=self)
        self.add(document)
        document.edit("Read", piece)

    def close_piece(self) -> bool:
        """Close the shown piece, asking about unsaved changes; false if the player stays."""
        if not self._may_close(self.document):
            return False
        index = self.view.pieces.currentIndex()
        self.playing.stop()
        gone = self.documents.pop(index)
        self.view.pieces.blockSignals(True)
        self.view.pieces.removeTab(index)
        self.view.pieces.blockSignals(False)
        if not self.documents:
            self.add(Document(empty_piece()))
        self._show_piece(self.view.pieces.currentIndex())
        self.files.removed(gone)
        gone.close()
        gone.deleteLater()
        return True

    def _may_close(self, document: Document) -> bool:
        if not document.modified:
            return True
        answer = self.ask_unsaved(document)
        if answer == QMessageBox.StandardButton.Save:
            self.view.pieces.setCurrentIndex(self.documents.index(document))
            return self.files.save()
        return answer == QMessageBox.StandardButton.Discard

    def ask_unsaved(self, document: Document) -> QMessageBox.StandardButton:
        """Save, discard or stay."""
        buttons = QMessageBox.StandardButton
        return QMessageBox.question(
            self,
            "Unsaved changes",
            f"“{document.piece.title or 'Untitled'}” has changes that are not saved.",
            buttons.Save | buttons.Discard | buttons.Cancel,
            buttons.Save,
        )

    # Sections and chords.

    def add_section(self) -> None:
        """A copy of the shown section behind it, shown."""
        self.shown.edit("Add section", add_section(self.shown.piece, self.shown.section))
        self.shown.select_section(self.shown.section + 1)

    def remove_section(self) -> None:
        """Take the shown section away; the last one stays."""
        try:
            self.shown.edit("Remove section", remove_section(self.shown.piece, self.shown.section))
        except GinghamError as error:
            self.notify(say(error))

    def chord_to_rule(self) -> None:
        """Take the exceptions of the chord under the cursor away."""
        assignment = self.shown.assignment()
        if assignment is not None:
            after = clear_chord_overrides(self.shown.piece, assignment.chord.text)
            self.shown.edit("Chord back to the rule", after)

    # The window itself.

    def choose_device(self) -> None:
        """A menu of the sound cards that are there."""
        self.device_menu().popup(self.view.bar.play.mapToGlobal(self.view.bar.play.rect().topLeft()))

    def device_menu(self) -> QMenu:
        """The usual card, each card by name, the one in use checked."""
        menu = QMenu("Sound card", self)
        for name in ("", *device_names()):
            action = menu.addAction(name or "The usual sound card")
            action.setCheckable(True)
            action.setChecked(name == self.transport.device)
            action.triggered.connect(partial(self._use_device, name))
        return menu

    def _use_device(self, name: str, _on: bool = False) -> None:
        self.settings.set_text("device", name)
        self.transport.choose_device(name)

    def next_names(self, what: str) -> None:
        """The next naming of fingers, strings or counts."""
        known, reading = list(NAMINGS[what]), self.appearance.theme.reading
        now = known[(known.index(getattr(reading, what)) + 1) % len(known)]
        self.appearance.set_reading(replace(reading, **{what: now}))
        self.notify(f"{what.capitalize()} are now named {NAMINGS[what][now]}")

    def _show_setup(self, on: bool) -> None:
        self.view.show_setup(on)
        if on:
            self.view.setup.title.setFocus()

    def _restyle(self) -> None:
        """What is said in words takes the new names."""
        if self.shown.document is not None:
            self.shown.refresh()

    def notify(self, text: str) -> None:
        """Say something quietly at the bottom."""
        self.statusBar().showMessage(text, 12_000)

    def come_forward(self) -> None:
        """Before the other windows of the desktop, as far as it lets us."""
        self.setWindowState(self.windowState() & ~Qt.WindowState.WindowMinimized)
        self.show()
        self.raise_()
        self.activateWindow()

    def open_log(self) -> None:
        """Show the log in the desktop's own reader of texts."""
        if self.log is None:
            return
        self.log.open()
        self.notify(f"{NOTHING_SENT} It is {printable(self.log.path)}.")
        QDesktopServices.openUrl(QUrl.fromLocalFile(str(self.log.path)))

    def tell(self, title: str, text: str) -> None:
        """Show a text of some length; nothing waits for it."""
        box = QMessageBox(self)
        box.setWindowTitle(title)
        box.setTextFormat(Qt.TextFormat.RichText)
        box.setText(text)
        box.open()

    def _end_work(self, *, forget: bool = False) -> None:
        """End every thread; more than once does no harm. Unsaved work is kept unless it may be forgotten."""
        self.transport.close()
        self.fitter.close()
        self.judge.close()
        self.playing.liner.close()
        self.files.close(forget=forget)
        self.beside.end()
        self.pages.end()

    def closeEvent(self, event: QCloseEvent) -> None:
        """Ask about every unsaved piece, remember the window, end the threads."""
        if not all(self._may_close(document) for document in list(self.documents)):
            event.ignore()
            return
        self.settings.set_geometry(self.saveGeometry())
        self._end_work(forget=True)
        for document in self.documents:
            document.close()
        event.accept()


def empty_piece() -> Piece:
    """A new piece: no chords yet, the first built-in pattern."""
    from gingham.core.music.meter import meter
    from gingham.core.patterns.library import for_meter
    from gingham.core.pieces.chordline import ChordLine
    from gingham.core.pieces.piece import NamedPattern, Section

    name, pattern = for_meter(meter(4, 4))[0]
    return Piece("Untitled", (Section("Verse", ChordLine(()), name),), (NamedPattern(name, pattern),))
