"""Exporting off the interface thread, with progress and a way to stop it."""

from __future__ import annotations

from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject
from PySide6.QtWidgets import QHBoxLayout, QLabel, QProgressBar, QPushButton, QWidget

from gingham.app.work.worker import Job, Tick
from gingham.core.formats.sound_choice import EVERYTHING, SoundChoice
from gingham.core.pieces.piece import Piece
from gingham.language import tr
from gingham.words.actions import with_keys
from gingham.words.errors import printable

if TYPE_CHECKING:
    from gingham.paper.content import SheetOptions


class Exporter(Job):
    """One export at a time; `done` has the path that was written."""

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__("export", parent)

    def write(
        self,
        piece: Piece,
        path: Path,
        choice: SoundChoice = EVERYTHING,
        sheet: SheetOptions | None = None,
    ) -> None:
        """Begin; FileError at once for a format that is not there. A running export is stopped first."""
        from gingham.paper.exports import check_suffix  # the sheet is loaded when something is written

        check_suffix(path)
        self.start(partial(_export, piece, path, choice, sheet))


def _export(piece: Piece, path: Path, choice: SoundChoice, sheet: SheetOptions | None, tick: Tick) -> Path:
    from gingham.paper.exports import export

    export(piece, path, tick, choice, sheet)
    return path


class ExportBar(QWidget):
    """How far the export is, and a button to stop it; at the bottom of the window while one runs."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.label = QLabel()
        self.progress = QProgressBar()
        self.progress.setRange(0, 100)
        self.progress.setFixedWidth(180)
        self.progress.setAccessibleName(tr("Progress of the export"))
        self.cancel = QPushButton(tr("Stop"))
        self.cancel.setAccessibleName(tr("Stop the export"))
        self.cancel.setToolTip(with_keys(tr("Stop the export"), "stop-export"))
        row = QHBoxLayout(self)
        row.setContentsMargins(8, 2, 8, 2)
        for part in (self.label, self.progress, self.cancel):
            row.addWidget(part)
        self.hide()

    def begin(self, path: Path) -> None:
        """Show that a file is being written."""
        self.label.setText(tr("Writing {printable}", printable=printable(path.name)))
        self.progress.setValue(0)
        self.show()

    def show_share(self, share: float) -> None:
        """How much is done, 0 to 1."""
        self.progress.setValue(round(100 * share))
