"""Versions of the piece: keep one with a note, see what has changed since, go back, open one beside."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime

from PySide6.QtWidgets import QLabel, QLineEdit, QPushButton, QVBoxLayout, QWidget

from gingham.app.session.shown import Shown
from gingham.app.widgets.drawer import DrawerPanel
from gingham.app.widgets.headed_list import HeadedList
from gingham.app.widgets.parts import head, plain, quiet, row, scrolled
from gingham.core.errors import GinghamError
from gingham.core.formats.versions import at_version, differences, with_version, without_version
from gingham.core.pieces.piece import Piece, Version
from gingham.core.values import replace
from gingham.language import tr
from gingham.words.errors import say
from gingham.words.versions import EMPTY, SAME, changed_text, version_line


class VersionsPanel(DrawerPanel):
    """They are kept in the piece itself, so keeping, removing and going back are edits like others."""

    def __init__(
        self, shown: Shown, open_beside: Callable[[Piece], None], parent: QWidget | None = None
    ) -> None:
        super().__init__(parent)
        self._shown, self._open_beside = shown, open_beside
        self._listed: tuple[Version, ...] = ()
        self.clock: Callable[[], datetime] = datetime.now
        self.note = QLineEdit()
        self.note.setAccessibleName(tr("What has changed"))
        self.note.setPlaceholderText(tr("What has changed: the bass walks now"))
        self.note.setMaxLength(300)
        self.note.returnPressed.connect(self.keep)
        self.kept = QPushButton(tr("Keep this version"))
        self.kept.setProperty("main", True)
        self.kept.clicked.connect(lambda _on: self.keep())
        self.list = HeadedList(tr("Versions, the newest first"))
        self.list.setFixedHeight(112)
        self.list.currentRowChanged.connect(lambda _row: self._show_changed())
        self.message = QLabel()
        self.message.setProperty("fault", True)
        self.message.setWordWrap(True)
        self.message.hide()
        self.empty = quiet(EMPTY)
        self.changed_head, self.changed = head(tr("Since then")), plain()
        self.back = QPushButton(tr("Go back to it"))
        self.back.setToolTip(tr("The piece becomes what it was then; undo brings this one back"))
        self.back.clicked.connect(lambda _on: self._go_back())
        self.beside = QPushButton(tr("Open beside"))
        self.beside.setToolTip(tr("As a piece of its own, without a file"))
        self.beside.clicked.connect(lambda _on: self._beside())
        self.gone = QPushButton(tr("Remove"))
        self.gone.clicked.connect(lambda _on: self._remove())
        inner = QWidget()
        column = QVBoxLayout(inner)
        column.setContentsMargins(12, 6, 10, 8)
        column.setSpacing(6)
        for part in (self.note, self.kept, self.message, self.empty):
            column.addWidget(part)
        column.addWidget(self.list)
        column.addWidget(self.changed_head)
        column.addWidget(self.changed)
        column.addWidget(self.back)
        column.addLayout(row(self.beside, self.gone))
        column.addStretch(1)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.addWidget(scrolled(inner))
        self.setFocusProxy(self.note)
        shown.settled.connect(self._settled)

    def _settled(self) -> None:
        if self.isVisible():
            self.refresh()

    def refresh(self) -> None:
        """The versions of the piece that is shown."""
        versions = self._shown.piece.versions
        if versions != self._listed or self.list.count() != len(versions):
            self._listed = versions
            self.list.clear()
            for number, version in reversed(list(enumerate(versions))):
                self.list.add_row(version_line(version), number)
            if versions:
                self.list.setCurrentRow(0)
        for part in (self.list, self.changed_head, self.changed, self.back, self.beside, self.gone):
            part.setVisible(bool(versions))
        self.empty.setVisible(not versions)
        self._show_changed()

    def _show_changed(self) -> None:
        """What is otherwise now."""
        number = self.list.number
        if not 0 <= number < len(self._shown.piece.versions):
            return
        try:
            found = differences(at_version(self._shown.piece, number), self._shown.piece)
        except GinghamError as error:
            self.changed.setText(say(error))
            self.back.setEnabled(False)
            return
        self.changed.setText("\n".join(map(changed_text, found)) or SAME)
        self.back.setEnabled(bool(found))

    def keep(self) -> None:
        """What the piece is now, with the note."""
        when = self.clock().isoformat(timespec="seconds")
        self._edit(tr("Version"), lambda piece: with_version(piece, self.note.text(), when))
        if not self.message.isVisible():
            self.note.clear()

    def _go_back(self) -> None:
        number = self.list.number
        self._edit(tr("Back to a version"), lambda piece: at_version(piece, number))

    def _remove(self) -> None:
        number = self.list.number
        self._edit(tr("Remove a version"), lambda piece: without_version(piece, number))

    def _beside(self) -> None:
        number = self.list.number
        self._tried(lambda: self._open_beside(replace(at_version(self._shown.piece, number), versions=())))

    def _edit(self, text: str, change: Callable[[Piece], Piece]) -> None:
        self._tried(lambda: self._shown.edit(text, change(self._shown.piece)))

    def _tried(self, do: Callable[[], object]) -> None:
        """Do it, or say at the place why not."""
        self.message.hide()
        try:
            do()
        except GinghamError as error:
            self.message.setText(say(error))
            self.message.show()
