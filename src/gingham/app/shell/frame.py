"""The frame of the window: what its parts stand on, and what they may ask of it."""

from __future__ import annotations

from functools import partial
from pathlib import Path

from PySide6 import QtWidgets
from PySide6.QtCore import QSignalBlocker, Qt, QUrl, Signal
from PySide6.QtGui import QAction, QDesktopServices
from PySide6.QtWidgets import QMainWindow, QMenu, QStatusBar

from gingham.app.look import zoom
from gingham.app.look.appearance import Appearance
from gingham.app.look.settings import Settings
from gingham.app.session.document import Document, empty_piece
from gingham.app.session.fitter import Fitter, Judge
from gingham.app.session.logbook import Logbook
from gingham.app.session.plans import Plans
from gingham.app.session.shown import Shown
from gingham.app.session.ways import Ways
from gingham.app.shell.logfile import LogFile
from gingham.app.shell.standing import Standing
from gingham.app.sound.devices import device_names
from gingham.app.sound.handcare import HandCare
from gingham.app.sound.playing import Playing
from gingham.app.sound.transport import Transport
from gingham.app.views.builder.controller import BuildController
from gingham.app.views.builder.following import Following
from gingham.app.views.builder.view import BuildView
from gingham.app.widgets.speaking import announce
from gingham.core.errors import GinghamError
from gingham.core.pieces.edits import add_section, clear_chord_overrides, remove_section
from gingham.core.pieces.piece import Piece
from gingham.core.values import replace
from gingham.folders import Folders
from gingham.language import tr
from gingham.words.actions import key_of
from gingham.words.errors import printable, say
from gingham.words.keeping import NOTHING_SENT
from gingham.words.naming import NAMINGS
from gingham.words.notices import notice

_NOTICE_HEIGHT = 24


class Frame(QMainWindow):
    """Open pieces, what is shown, what sounds, the Build view, notices; no menus, files or other pages."""

    opened = Signal(object, object)
    """A Document that has been opened, and the path of a copy that holds its unsaved work, or None."""

    closed = Signal(object)
    """A Document that is no longer open."""

    session_wanted = Signal(int)
    """A session of practice of so many minutes is to begin."""

    report_wanted = Signal()
    """The sheet with what was measured is to be shown."""

    def __init__(self, settings: Settings, transport: Transport | None, log: LogFile | None) -> None:
        super().__init__()
        self.settings, self.log = settings, log
        self.appearance = Appearance(settings, self)
        self.fitter, self.judge = Fitter(self), Judge(self)
        self.shown = Shown(self.fitter, self.judge, self)
        self.transport = transport if transport is not None else Transport()
        self.transport.setParent(self)
        self.transport.device = settings.text("device", "")
        self.documents: list[Document] = []
        self.actions_by_id: dict[str, QAction] = {}
        self.setStatusBar(QStatusBar(self))
        self.statusBar().setSizeGripEnabled(False)
        self.statusBar().setFixedHeight(_NOTICE_HEIGHT)  # a notice must not push the picture about
        self.standing = Standing()
        self.statusBar().addWidget(self.standing)
        self.view = BuildView(self.appearance, self)
        self.build = BuildController(self.view, self.shown, self)
        self.playing = Playing(self.transport, self.shown, self)
        self.following = Following(self.build, self.playing, self)
        self.care = HandCare(self.transport, self.shown, settings, self)
        self.plans = Plans(self.shown, settings, self)
        self.ways = Ways(
            Folders.of_this_user().config / "ways.json", self.appearance, self.plans, self.shown, self
        )
        self.logbook = Logbook(Folders.of_this_user().data / "practice.sqlite", self)
        for part in (self.care, self.shown, self.playing, self.logbook, self.ways):
            part.notice.connect(self.notify)
        self.appearance.changed.connect(self._restyle)
        self.view.pieces.currentChanged.connect(self.show_piece)

    # Pieces.

    @property
    def document(self) -> Document:
        """The piece that is shown."""
        return self.documents[self.view.pieces.currentIndex()]

    def add(self, document: Document, *, show: bool = True, copy: Path | None = None) -> None:
        """Open another piece, and show it unless it is to wait in its tab; `copy` holds its unsaved work."""
        document.setParent(self)
        self.documents.append(document)
        self.opened.emit(document, copy)
        document.saved.connect(self._refresh_titles)
        document.stack.cleanChanged.connect(lambda _clean: self._refresh_titles())
        document.stack.indexChanged.connect(lambda _index: self._refresh_titles())
        index = self.view.pieces.addTab(document.piece.title or tr("Untitled"))
        if show:
            self.view.pieces.setCurrentIndex(index)
        if len(self.documents) == 1:
            self.show_piece(0)
        self._give_way(document)
        self._refresh_titles()

    def _give_way(self, opened: Document) -> None:
        """An untouched empty piece goes when a file is opened."""
        if opened.path is None:
            return
        for index, other in enumerate(self.documents):
            if other is not opened and other.untouched:
                self.take_out(index)
                self.show_piece(self.view.pieces.currentIndex())
                self.let_go(other)
                return

    def take_out(self, index: int) -> Document:
        """A piece and its tab, taken away without showing another one yet."""
        gone = self.documents.pop(index)
        with QSignalBlocker(self.view.pieces):
            self.view.pieces.removeTab(index)
        return gone

    def let_go(self, gone: Document) -> None:
        """Nobody listens to a piece that has been taken out any more."""
        self.closed.emit(gone)
        gone.close()
        gone.deleteLater()

    def new(self) -> None:
        """Start an empty piece, ready to type its chords."""
        self.add(self.ways.new_document(self))
        self.actions_by_id["build"].trigger()
        self.view.chords.setFocus()

    def show_piece(self, index: int) -> None:
        """Show an open piece; what sounded ends."""
        if 0 <= index < len(self.documents):
            self.playing.stop()
            before = self.shown.document
            self.shown.show_document(self.documents[index])
            self._refresh_titles()
            if before is not None and before is not self.document and not before.untouched:
                self._tell_retuning(before.piece)

    def _tell_retuning(self, before: Piece) -> None:
        """Another piece is on the stand: its strings may be tuned otherwise."""
        from gingham.words.tuning import retuning_text  # with the first piece that is turned to

        words = retuning_text(before, self.document.piece)
        if words:
            self.notify(
                notice("tuned-otherwise", title=self.document.piece.title or tr("Untitled"), how=words)
            )

    def _refresh_titles(self) -> None:
        for index, document in enumerate(self.documents):
            mark = " •" if document.modified else ""
            text = (document.piece.title or tr("Untitled")) + mark
            if self.view.pieces.tabText(index) != text:
                self.view.pieces.setTabText(index, text)
        if not self.documents or self.view.pieces.currentIndex() < 0:
            return
        document = self.document
        self.setWindowTitle(
            tr(
                "{title}{changed} – Gingham",
                title=document.piece.title or tr("Untitled"),
                changed=" •" if document.modified else "",
            )
        )
        stack = document.stack
        for name, able, text in (
            ("undo", stack.canUndo(), tr("Undo {undotext}", undotext=stack.undoText()).strip()),
            ("redo", stack.canRedo(), tr("Redo {redotext}", redotext=stack.redoText()).strip()),
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
        document.edit(tr("Read"), piece)

    # Sections and chords.

    def add_section(self) -> None:
        """A copy of the shown section behind it, shown."""
        self.shown.edit(tr("Add section"), add_section(self.shown.piece, self.shown.section))
        self.shown.select_section(self.shown.section + 1)

    def remove_section(self) -> None:
        """Take the shown section away; the last one stays."""
        try:
            self.shown.edit(tr("Remove section"), remove_section(self.shown.piece, self.shown.section))
        except GinghamError as error:
            self.notify(say(error))

    def chord_to_rule(self) -> None:
        """Take the exceptions of the chord under the cursor away."""
        assignment = self.shown.assignment()
        if assignment is not None:
            after = clear_chord_overrides(self.shown.piece, assignment.chord.text)
            self.shown.edit(tr("Chord back to the rule"), after)

    # The window itself.

    def choose_device(self) -> None:
        """A menu of the sound cards that are there."""
        self.device_menu().popup(self.view.bar.play.mapToGlobal(self.view.bar.play.rect().topLeft()))

    def device_menu(self) -> QMenu:
        """The usual card, each card by name, the one in use checked."""
        menu = QMenu(tr("Sound card"), self)
        for name in ("", *device_names()):
            action = menu.addAction(name or tr("The usual sound card"))
            action.setCheckable(True)
            action.setChecked(name == self.transport.device)
            action.triggered.connect(partial(self._use_device, name))
        return menu

    def _use_device(self, name: str, _on: bool = False) -> None:
        self.settings.set_text("device", name)
        self.transport.choose_device(name)

    def next_names(self, what: str) -> None:
        """The next naming of fingers, strings or counts."""
        known, naming = list(NAMINGS[what]), self.appearance.theme.naming
        now = known[(known.index(getattr(naming, what)) + 1) % len(known)]
        self.appearance.set_naming(replace(naming, **{what: now}))
        self.notify(notice("named-now", what=what.capitalize(), names=NAMINGS[what][now]))

    def _restyle(self) -> None:
        """What is said in words takes the new names."""
        if self.shown.document is not None:
            self.shown.refresh()

    def notify(self, text: str) -> None:
        """Say something quietly at the bottom."""
        self.statusBar().showMessage(text, 12_000)
        announce(self.statusBar(), text)

    def come_forward(self) -> None:
        """Before the other windows of the desktop, as far as it lets us."""
        self.setWindowState(self.windowState() & ~Qt.WindowState.WindowMinimized)
        self.show()
        self.raise_()
        self.activateWindow()

    def zoom(self, by: int) -> None:
        """Everything one step larger or smaller, or as the desktop has it, from the next start on."""
        kept = zoom.chosen(self.settings)
        wanted = zoom.stepped(kept if kept is not None else zoom.now(), by) if by else None
        zoom.choose(self.settings, wanted)
        if wanted is None:
            self.notify(notice("zoom-desktop"))
        else:
            self.notify(notice("zoom-now", percent=round(100 * wanted), quit=key_of("quit")))

    def open_log(self) -> None:
        """Show the log in the desktop's own reader of texts."""
        if self.log is None:
            return
        self.log.open()
        self.notify(notice("log-is", nothing_sent=NOTHING_SENT, path=printable(self.log.path)))
        QDesktopServices.openUrl(QUrl.fromLocalFile(str(self.log.path)))

    def tell(self, title: str, text: str) -> None:
        """Show a text of some length; nothing waits for it."""
        box = QtWidgets.QMessageBox(self)
        box.setWindowTitle(title)
        box.setTextFormat(Qt.TextFormat.RichText)
        box.setText(text)
        box.open()
