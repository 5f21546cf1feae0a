"""Capo positions ranked, another key, retuning, and the call sheet, in a window beside the Build view."""

from __future__ import annotations

from PySide6.QtCore import QSignalBlocker, Qt
from PySide6.QtGui import QShowEvent
from PySide6.QtWidgets import (
    QApplication,
    QComboBox,
    QDialog,
    QHBoxLayout,
    QLabel,
    QPlainTextEdit,
    QPushButton,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from gingham.app.session.shown import Shown
from gingham.app.widgets.typed_line import NumberBox
from gingham.app.work.worker import Job
from gingham.core.bench.callsheet import call_sheet
from gingham.core.bench.capo import HIGHEST, CapoPlace, capo_places
from gingham.core.instruments.retune import pegs
from gingham.core.pieces.piece import Piece
from gingham.core.pieces.transpose import Transposed, transpose
from gingham.words.names import signs
from gingham.words.tuning import given_up_text, peg_text

_HEAD = ("Capo", "Effort", "Barres", "Shapes", "Other pitches on")


class MovesWindow(QDialog):
    """Stays beside the main window and follows the piece; comparing runs off the interface thread."""

    def __init__(self, shown: Shown, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle("Capo, key and tuning")
        self.resize(760, 620)
        self._shown = shown
        self._places: tuple[CapoPlace, ...] = ()
        self.job = Job("capo", self)
        self._compared: tuple[Piece, int] | None = None
        """The piece and the section that the table is about, or will be in a moment."""
        column = QVBoxLayout(self)
        self.pegs = _wrapped()
        column.addWidget(self.pegs)
        self._add_table(column)
        self._add_key(column)
        self._add_sheet(column)
        self.job.done.connect(self._show_places)
        self.job.failed.connect(lambda _error: self._show_places(()))
        shown.settled.connect(self._refresh)

    def _add_table(self, column: QVBoxLayout) -> None:
        self.waiting = QLabel("Comparing capo positions…")
        self.table = QTableWidget(0, len(_HEAD))
        self.table.setAccessibleName("Capo positions, the easiest first")
        self.table.setHorizontalHeaderLabels(_HEAD)
        self.table.verticalHeader().hide()
        self.table.setEditTriggers(QTableWidget.EditTrigger.NoEditTriggers)
        self.table.setSelectionBehavior(QTableWidget.SelectionBehavior.SelectRows)
        self.table.setSelectionMode(QTableWidget.SelectionMode.SingleSelection)
        self.table.horizontalHeader().setStretchLastSection(True)
        self.table.itemActivated.connect(lambda item: self.take(item.row()))
        self.take_button = QPushButton("Play it with this capo")
        self.take_button.setToolTip("The same sounding chords in this row's shapes (Enter in the table)")
        self.take_button.clicked.connect(lambda _on: self.take(self.table.currentRow()))
        column.addWidget(self.waiting)
        column.addWidget(self.table, 2)
        column.addWidget(self.take_button, alignment=Qt.AlignmentFlag.AlignLeft)

    def _add_key(self, column: QVBoxLayout) -> None:
        self.semitones = NumberBox("Semitones up or down", -11, 11)
        self.semitones.setPrefix("by ")
        self.semitones.valueChanged.connect(lambda _by: self._show_key())
        self.key = QComboBox()
        self.key.setAccessibleName("Key of the shapes")
        self.key.setToolTip("The key that the shapes are in; the shortest way there is taken")
        self.key.activated.connect(self._go_to_key)
        self.move_button = QPushButton("Move the piece")
        self.move_button.clicked.connect(lambda _on: self.move_key())
        self.given_up = _wrapped()
        row = QHBoxLayout()
        parts = (QLabel("Another key:"), self.semitones, QLabel("to shapes in"), self.key, self.move_button)
        for part in parts:
            row.addWidget(part)
        row.addStretch(1)
        column.addLayout(row)
        column.addWidget(self.given_up)

    def _add_sheet(self, column: QVBoxLayout) -> None:
        self.other_capo = NumberBox("Capo of another player", 0, HIGHEST)
        self.other_capo.setSpecialValueText("none")
        self.other_capo.valueChanged.connect(lambda _fret: self._show_sheet())
        self.copy_button = QPushButton("Copy")
        self.copy_button.clicked.connect(lambda _on: self.copy_sheet())
        row = QHBoxLayout()
        for part in (QLabel("Call sheet for a player with capo"), self.other_capo, self.copy_button):
            row.addWidget(part)
        row.addStretch(1)
        self.sheet = QPlainTextEdit()
        self.sheet.setReadOnly(True)
        self.sheet.setLineWrapMode(QPlainTextEdit.LineWrapMode.NoWrap)
        self.sheet.setAccessibleName("Call sheet")
        column.addLayout(row)
        column.addWidget(self.sheet, 1)

    # Showing.

    def showEvent(self, event: QShowEvent) -> None:
        """Show what the piece is now."""
        super().showEvent(event)
        self._refresh()

    def _refresh(self) -> None:
        if not self.isVisible() or self._shown.document is None:
            return
        piece = self._shown.piece
        lines = [peg_text(peg) for peg in pegs(piece.instrument)]
        self.pegs.setText("Retune: " + " ".join(lines) if lines else "The usual tuning.")
        self._show_key()
        self._show_sheet()
        now, section = self._compared, self._shown.section
        same = now is not None and now[0] is piece and now[1] == section
        if not same and piece.sections[section].chords.bars:
            self._compared = (piece, section)
            self.waiting.show()
            self.job.start(lambda _tick: capo_places(piece, section))

    def _show_places(self, places: tuple[CapoPlace, ...]) -> None:
        self.waiting.hide()
        self._places = places
        piece = self._shown.piece
        self.table.setRowCount(len(places))
        for row, place in enumerate(places):
            here = " (now)" if place.capo == piece.capo else ""
            cells = (
                f"{place.capo or 'none'}{here}",
                f"{place.effort:.1f}",
                str(place.barres),
                " ".join(signs(shape.text) for shape, _ in place.shapes),
                " ".join(map(signs, place.differ)) or "none",
            )
            for index, text in enumerate(cells):
                self.table.setItem(row, index, QTableWidgetItem(text))
        self.table.resizeColumnsToContents()
        self.table.horizontalHeader().setStretchLastSection(True)
        self.table.selectRow(0)

    def _show_key(self) -> None:
        piece, by = self._shown.piece, self.semitones.value()
        key = piece.shape_key()
        with QSignalBlocker(self.key):
            self.key.clear()
            self.key.addItems([signs(str(key if up == 0 else key.up(up))) for up in range(12)])
            self.key.setCurrentIndex(by % 12)
        self.given_up.setText(given_up_text(transpose(piece, by)) if by else "")
        self.move_button.setEnabled(by != 0)

    def _show_sheet(self) -> None:
        self.sheet.setPlainText(call_sheet(self._shown.piece, self.other_capo.value()))

    def _go_to_key(self, up: int) -> None:
        """A key was chosen that many semitones up: by the shortest way, at most six up or five down."""
        self.semitones.setValue(up if up <= 6 else up - 12)

    # Edits.

    def take(self, row: int) -> None:
        """The capo position of a table row, in its shapes."""
        if 0 <= row < len(self._places):
            before, after = self._shown.piece, self._places[row].piece
            self._shown.edit("Capo and shapes", after)
            self._tell(transpose(before, before.capo - after.capo) if before.capo != after.capo else None)

    def copy_sheet(self) -> None:
        """Put the call sheet on the clipboard."""
        QApplication.clipboard().setText(self.sheet.toPlainText())

    def move_key(self) -> None:
        """Every chord as many semitones up or down as chosen."""
        moved = transpose(self._shown.piece, self.semitones.value())
        self.semitones.setValue(0)
        self._shown.edit("Another key", moved.piece)
        self._tell(moved)

    def _tell(self, moved: Transposed | None) -> None:
        """What could not be kept is said."""
        text = given_up_text(moved) if moved is not None else ""
        if text:
            self._shown.notice.emit(text)


def _wrapped() -> QLabel:
    label = QLabel()
    label.setWordWrap(True)
    return label
