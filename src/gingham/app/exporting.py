"""Exporting off the interface thread, with progress and a way to stop it."""

from __future__ import annotations

from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Signal
from PySide6.QtWidgets import QHBoxLayout, QLabel, QProgressBar, QPushButton, QWidget

from gingham.app.worker import OneJob
from gingham.core.errors import GinghamError
from gingham.core.formats.sound_choice import EVERYTHING, SoundChoice
from gingham.core.pieces.piece import Piece

if TYPE_CHECKING:
    from gingham.paper.content import SheetOptions


class Exporter(QObject):
    """One export at a time, in a thread of its own."""

    progressed = Signal(float)
    written = Signal(object)
    """The path that was written."""
    failed = Signal(object)
    """The GinghamError that ended it."""

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._job = OneJob("export")

    @property
    def busy(self) -> bool:
        """Whether something is being written."""
        return self._job.busy

    def start(
        self,
        piece: Piece,
        path: Path,
        choice: SoundChoice = EVERYTHING,
        sheet: SheetOptions | None = None,
    ) -> None:
        """Begin; FileError at once for a format that is not there. A running export is stopped first."""
        from gingham.paper.exports import check_suffix  # the sheet is loaded when something is written

        check_suffix(path)
        self._job.start(partial(self._work, piece, path, choice, sheet))

    def stop(self) -> None:
        """Stop as soon as the writer looks up."""
        self._job.stop()

    def close(self) -> None:
        """Stop and wait until it has ended."""
        self._job.close()

    def _work(self, piece: Piece, path: Path, choice: SoundChoice, sheet: SheetOptions | None) -> None:
        from gingham.paper.exports import export

        try:
            export(piece, path, self._tick, choice, sheet)
        except GinghamError as error:
            self.failed.emit(error)
        else:
            self.written.emit(path)

    def _tick(self, share: float) -> bool:
        self.progressed.emit(share)
        return not self._job.stopped


class ExportBar(QWidget):
    """How far the export is, and a button to stop it; at the bottom of the window while one runs."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.label = QLabel()
        self.progress = QProgressBar()
        self.progress.setRange(0, 100)
        self.progress.setFixedWidth(180)
        self.progress.setAccessibleName("Progress of the export")
        self.cancel = QPushButton("Stop")
        self.cancel.setAccessibleName("Stop the export")
        self.cancel.setToolTip("Stop the export (Ctrl+Shift+E)")
        row = QHBoxLayout(self)
        row.setContentsMargins(8, 2, 8, 2)
        for part in (self.label, self.progress, self.cancel):
            row.addWidget(part)
        self.hide()

    def begin(self, path: Path) -> None:
        """Show that a file is being written."""
        self.label.setText(f"Writing {path.name}")
        self.progress.setValue(0)
        self.show()

    def show_share(self, share: float) -> None:
        """How much is done, 0 to 1."""
        self.progress.setValue(round(100 * share))
