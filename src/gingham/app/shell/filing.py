"""Files of the window: opening, saving, recent ones, changes from outside, unsaved work, exports."""

from __future__ import annotations

from collections.abc import Callable
from fractions import Fraction
from pathlib import Path

from PySide6 import QtWidgets
from PySide6.QtCore import QObject

from gingham.app.files.exporting import ExportBar, Exporter
from gingham.app.files.keeping import Keeper, Kept, left_behind
from gingham.app.files.paths import exists, path_of, path_text
from gingham.app.files.recent import Recent
from gingham.app.files.watching import Watcher
from gingham.app.session.document import Document, empty_piece
from gingham.app.shell.frame import Frame
from gingham.app.shell.pages import Pages
from gingham.core.errors import GinghamError
from gingham.core.formats.suffix import SUFFIX
from gingham.core.numbers import is_whole
from gingham.language import tr
from gingham.words.actions import key_of
from gingham.words.errors import printable, say
from gingham.words.formats import format_name
from gingham.words.keeping import found_text
from gingham.words.notices import notice


class Files(QObject):
    """What the Piece menu does with files. `unsaved` is the folder for copies of unsaved work."""

    def __init__(self, window: Frame, pages: Pages, unsaved: Path | None = None) -> None:
        super().__init__(window)
        self._window, self._pages = window, pages
        self.recent = Recent(window.settings, self.open_file)
        self.keeper = Keeper(unsaved, self) if unsaved is not None else None
        if self.keeper is not None:
            self.keeper.stopped.connect(self._copies_stopped)
            self.keeper.going_on.connect(self._copies_go_on)
        self.watcher = Watcher(self)
        self.watcher.changed.connect(self._changed_outside)
        self.watcher.deleted.connect(self._deleted_outside)
        self.exporter, self.export_bar = Exporter(self), ExportBar()
        self.exporter.progressed.connect(self.export_bar.show_share)
        self.exporter.done.connect(self._export_written)
        self.exporter.failed.connect(self._export_failed)
        self.exporter.stopped.connect(self._export_stopped)
        self.export_bar.cancel.clicked.connect(lambda _on: self.exporter.stop())

    # Documents come and go.

    def added(self, document: Document, copy: Path | None = None) -> None:
        """A document has been opened; `copy` holds its unsaved work already."""
        self.watcher.known(document)
        if self.keeper is not None:
            self.keeper.add(document, copy)
        if document.path is not None:
            self.recent.add(document.path)

    def removed(self, document: Document) -> None:
        """A document has been closed."""
        self.watcher.forget(document)
        if self.keeper is not None:
            self.keeper.remove(document)

    def remember_open(self) -> None:
        """Which pieces are open, which is shown, and where in it: found again at the next start."""
        window = self._window
        if not window.documents:
            return
        paths = [document.path for document in window.documents if document.path is not None]
        shown = window.document.path
        place = f"{window.shown.section} {window.shown.cursor_bar() or 1}"
        settings = window.settings
        settings.set_text("open-files", "\n".join(path_text(path.absolute()) for path in paths))
        settings.set_text("open-shown", path_text(shown.absolute()) if shown is not None else "")
        settings.set_text("open-place", place)

    def open_again(self) -> None:
        """The pieces that were open when Gingham was left, as far as they are still there."""
        settings, window = self._window.settings, self._window
        lines = settings.text("open-files", "").split("\n")
        for path in [path for line in lines if (path := path_of(line)) is not None and exists(path)]:
            self.open_file(path)
        shown = path_of(settings.text("open-shown", ""))
        for index, document in enumerate(window.documents):
            if shown is not None and document.path is not None and document.path.absolute() == shown:
                window.view.pieces.setCurrentIndex(index)
                self._find_place(settings.text("open-place", ""))

    def _find_place(self, text: str) -> None:
        """The section and the bar where the cursor was."""
        section, _, bar = text.partition(" ")
        piece = self._window.shown.piece
        if is_whole(section) and is_whole(bar) and int(section) < len(piece.sections):
            self._window.shown.select_section(int(section))
            self._window.shown.bar_wanted.emit(int(bar), Fraction(0))

    def recover(self) -> int:
        """Open what a program that has ended left unsaved; how many pieces that were."""
        if self.keeper is None:
            return 0
        left = left_behind(self.keeper.folder)
        for kept in left.found:
            document = self._base(kept)
            document.edit(tr("Found again"), kept.piece)
            self._window.add(document, copy=kept.copy)
        self.keeper.keep()
        newer = [kept.piece.title for kept in left.found if not kept.older]
        older = [kept.piece.title for kept in left.found if kept.older]
        said = found_text(newer, older, left.broken)
        if said:
            self._window.notify(said)
        return len(left.found)

    def _base(self, kept: Kept) -> Document:
        """The document that the found piece is an edit of: its file as it is now, else an empty piece.

        Work that is older than its file gets no file: saving asks where to.
        """
        if kept.path is None or kept.older:
            return Document(empty_piece(), identity=kept.identity)
        try:
            return Document.load(kept.path)
        except GinghamError:
            return Document(empty_piece(), kept.path, identity=kept.identity)

    def _copies_stopped(self, error: GinghamError) -> None:
        self._window.standing.say(notice("copies-stopped", why=say(error)))

    def _copies_go_on(self) -> None:
        self._window.standing.say("")
        self._window.notify(notice("copies-again"))

    # Opening and saving.

    def open_file(self, path: Path) -> bool:
        """Open a piece file in a new tab; a fault is said and nothing else changes."""
        from gingham.core.formats.imports import READERS  # readers are loaded when something is read

        if path.suffix.lower() in READERS:
            if not self._window.documents:
                self._window.new()  # the file was named at the start: it is read beside an empty piece
            self._pages.read_file(path)
            return True
        try:
            document = Document.load(path)
        except GinghamError as error:
            self.fault(say(error))
            return False
        self._window.add(document)
        if document.repairs:
            from gingham.words.repairs import repairs_text  # seldom, and it brings much

            self._window.tell(
                tr("Put right in {printable}", printable=printable(path.name)), repairs_text(document.repairs)
            )
        return True

    def take(self, paths: list[Path]) -> None:
        """Open the files of another start of Gingham, and come to the front."""
        for path in paths:
            self.open_file(path)
        self._window.come_forward()

    def ask_open(self) -> None:
        """Ask for a piece file and open it."""
        self._ask("pieces", tr("Open piece"), tr("Gingham pieces (*{suffix})", suffix=SUFFIX), self.open_file)

    def ask_read(self) -> None:
        """Ask for a part or a chart of another program and read it."""
        from gingham.core.formats.imports import READERS

        kinds = " ".join(f"*{suffix}" for suffix in READERS)
        said = tr("MusicXML, MIDI, text ({kinds})", kinds=kinds)
        self._ask("parts", tr("Read a part or a chart"), said, self._pages.read_file)

    def _folder(self, kind: str) -> str:
        """Where the dialog for a kind of file was left: pieces, parts to read, exports."""
        found = self._window.settings.text(f"folder-{kind}", self._window.settings.text("folder", ""))
        return found if found and Path(found).is_dir() else str(Path.home())

    def _remember_folder(self, kind: str, path: Path) -> None:
        self._window.settings.set_text(f"folder-{kind}", str(path.parent))

    def _ask(self, kind: str, title: str, kinds: str, use: Callable[[Path], object]) -> None:
        start = self._folder(kind)
        name, _ = QtWidgets.QFileDialog.getOpenFileName(self._window, title, start, kinds)
        if name:
            self._remember_folder(kind, Path(name))
            use(Path(name))

    def save(self) -> bool:
        """Save to the known file, else ask for one."""
        document = self._window.document
        if document.path is None:
            return self.save_as()
        if self.watcher.differs(document) and not self.ask_overwrite(document.path):
            return False
        return self._save_to(document.path)

    def save_as(self) -> bool:
        """Ask for a file and save there."""
        document = self._window.document
        start = str(
            document.path
            or Path(self._folder("pieces")) / f"{document.piece.title or tr('Untitled')}{SUFFIX}"
        )
        kinds = tr("Gingham pieces (*{suffix})", suffix=SUFFIX)
        name, _ = QtWidgets.QFileDialog.getSaveFileName(self._window, tr("Save piece"), start, kinds)
        if not name:
            return False
        path = Path(name)
        self._remember_folder("pieces", path)
        return self._save_to(path if path.suffix else path.with_suffix(SUFFIX))

    def _save_to(self, path: Path, *, over_protected: bool = False) -> bool:
        document = self._window.document
        try:
            document.save(path, over_protected=over_protected)
        except GinghamError as error:
            if error.code == "file-protected":
                return self.ask_protected(path) and self._save_to(path, over_protected=True)
            return self.ask_elsewhere(error) and self.save_as()
        self.watcher.known(document)
        self.recent.add(path)
        self._window.notify(notice("saved", path=printable(path)))
        return True

    def ask_elsewhere(self, error: GinghamError) -> bool:
        """Say why the piece could not be saved; whether to choose another place."""
        buttons = QtWidgets.QMessageBox.StandardButton
        box = QtWidgets.QMessageBox(
            QtWidgets.QMessageBox.Icon.Warning, tr("Not saved"), say(error), parent=self._window
        )
        box.setInformativeText(tr("Your piece is still open. Choose another place for it?"))
        box.setStandardButtons(buttons.Save | buttons.Cancel)
        box.button(buttons.Save).setText(tr("Another place…"))
        return box.exec() == buttons.Save

    def ask_protected(self, path: Path) -> bool:
        """Whether to write over a file that is write-protected."""
        buttons = QtWidgets.QMessageBox.StandardButton
        text = tr("{printable} is write-protected. Write over it all the same?", printable=printable(path))
        answer = QtWidgets.QMessageBox.question(
            self._window, tr("Write-protected"), text, buttons.Save | buttons.Cancel, buttons.Cancel
        )
        return answer == buttons.Save

    def ask_overwrite(self, path: Path) -> bool:
        """Whether to write over what another program has put into the file."""
        buttons = QtWidgets.QMessageBox.StandardButton
        answer = QtWidgets.QMessageBox.question(
            self._window,
            tr("Changed by another program"),
            tr("{printable} has been changed since it was read. Write over it?", printable=printable(path)),
            buttons.Save | buttons.Cancel,
            buttons.Cancel,
        )
        return answer == buttons.Save

    # Changes from outside.

    def _deleted_outside(self, document: Document) -> None:
        document.file_is_gone()
        name = printable(document.path.name) if document.path is not None else ""
        self._window.notify(notice("file-deleted", name=name, save=key_of("save")))

    def _changed_outside(self, document: Document) -> None:
        name = printable(document.path.name) if document.path is not None else ""
        if document.modified:
            self._window.notify(notice("file-changed", name=name, take=key_of("reload")))
        elif self._reload(document):
            self._window.notify(notice("file-read-again", name=name))

    def reload(self) -> None:
        """Take the shown piece from its file again, as one undo step."""
        document = self._window.document
        if document.path is None:
            self._window.notify(notice("no-file-yet"))
        elif self._reload(document):
            name = printable(document.path)
            self._window.notify(notice("taken-again", name=name))

    def _reload(self, document: Document) -> bool:
        assert document.path is not None
        try:
            piece = Document.load(document.path).piece
        except GinghamError as error:
            self._window.notify(say(error))
            return False
        document.edit(tr("Read again"), piece)
        document.stack.setClean()
        self.watcher.known(document)
        return True

    # Exports.

    def ask_export(self) -> None:
        """Ask for a file and export there."""
        from gingham.paper.exports import SUFFIXES  # the sheet is loaded when something is written

        kinds = ";;".join(f"{format_name(suffix)} (*{suffix})" for suffix in SUFFIXES)
        title = self._window.document.piece.title or tr("Untitled")
        start = str(Path(self._folder("exports")) / title)
        name, chosen = QtWidgets.QFileDialog.getSaveFileName(self._window, tr("Export"), start, kinds)
        if name:
            path = Path(name)
            self._remember_folder("exports", path)
            kind = next((s for s in SUFFIXES if f"*{s})" in chosen), SUFFIXES[0])
            self.export_to(path if path.suffix else path.with_suffix(kind))

    def save_sheet(self) -> None:
        """Ask for a file and write the sheet as it is shown."""
        sheet = self._pages.sheet
        if sheet is None:
            return
        kinds = tr("PDF (*.pdf);;SVG picture (*.svg);;PNG picture (*.png)")
        start = str(Path(self._folder("exports")) / sheet.default_name())
        name, _ = QtWidgets.QFileDialog.getSaveFileName(self._window, tr("Save the sheet"), start, kinds)
        if name:
            path = Path(name)
            self._remember_folder("exports", path)
            self.export_to(path if path.suffix else path.with_suffix(".pdf"))

    def export_to(self, path: Path) -> None:
        """Write the piece in the format of the suffix, in the background; a fault is said."""
        from gingham.paper.content import SheetOptions

        window, options = self._window, SheetOptions(naming=self._window.appearance.theme.naming)
        if self._pages.sheet is not None:
            options = self._pages.sheet.options()
        try:
            self.exporter.write(window.document.piece, path, window.playing.sound_choice(), options)
        except GinghamError as error:
            self.fault(say(error))
        else:
            self.export_bar.begin(path)
            self._show_export(True)

    def _show_export(self, on: bool) -> None:
        self.export_bar.setVisible(on)
        self._window.actions_by_id["stop-export"].setEnabled(on)

    def _export_written(self, path: Path) -> None:
        self._show_export(False)
        self._window.notify(notice("written", path=printable(path)))

    def _export_failed(self, error: GinghamError) -> None:
        self._show_export(False)
        self.fault(say(error))

    def _export_stopped(self) -> None:
        self._show_export(False)
        self._window.notify(notice("export-stopped"))

    def fault(self, text: str) -> None:
        """A fault that must not be overlooked."""
        QtWidgets.QMessageBox.warning(self._window, "Gingham", text)

    def close(self, *, forget: bool) -> None:
        """End every thread; `forget` takes the copies of unsaved work away."""
        self.exporter.close()
        if self.keeper is not None:
            self.keeper.close(forget=forget)
            self.keeper = None
