"""Capo positions ranked, another key, retuning, and the call sheet, in the drawer."""

from __future__ import annotations

from PySide6.QtCore import QSignalBlocker, Qt
from PySide6.QtWidgets import QApplication, QLabel, QPlainTextEdit, QVBoxLayout, QWidget

from gingham.app.look.appearance import Appearance
from gingham.app.look.settings import Settings
from gingham.app.session.shown import Shown
from gingham.app.views.capo.places_canvas import PlacesCanvas
from gingham.app.views.capo.voice_row import VoiceRow
from gingham.app.widgets.choice import Choice
from gingham.app.widgets.drawer import DrawerPanel
from gingham.app.widgets.parts import button, head, plain, quiet, row, scrolled
from gingham.app.widgets.typed_line import NumberBox
from gingham.app.work.worker import Job
from gingham.core.bench.callsheet import call_sheet
from gingham.core.bench.capo import HIGHEST, CapoPlace, capo_places
from gingham.core.pieces.piece import Piece
from gingham.core.pieces.transpose import Transposed, transpose
from gingham.language import tr
from gingham.words.names import signs
from gingham.words.tuning import capo_detail, given_up_text


class CapoPanel(DrawerPanel):
    """Follows the piece; comparing runs off the interface thread."""

    def __init__(
        self, appearance: Appearance, shown: Shown, settings: Settings, parent: QWidget | None = None
    ) -> None:
        super().__init__(parent)
        self._appearance, self._shown = appearance, shown
        self.job = Job("capo", self)
        self._compared: tuple[Piece, int] | None = None
        """The piece and the section that the positions are about, or will be in a moment."""
        inner = QWidget()
        column = QVBoxLayout(inner)
        column.setContentsMargins(10, 6, 8, 8)
        self._add_places(column)
        self._add_key(column)
        self.voice = VoiceRow(appearance, shown, settings)
        self.voice.wanted.connect(self.semitones.setValue)
        column.addWidget(self.voice)
        self._add_sheet(column)
        column.addStretch(1)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.addWidget(scrolled(inner))
        self.setFocusProxy(self.places)
        self.job.done.connect(self._show_places)
        self.job.failed.connect(lambda _error: self._show_places(()))
        shown.settled.connect(self.refresh)

    def _add_places(self, column: QVBoxLayout) -> None:
        self.waiting = QLabel(tr("Comparing capo positions…"))
        self.places = PlacesCanvas(self._appearance)
        self.detail = plain()
        self.places.chosen.connect(lambda _index: self._show_detail())
        self.places.taken.connect(self.take)
        self.take_button = button(
            tr("With this capo   Enter"),
            tr("The same sounding chords in this position’s shapes"),
            lambda: self.take(self.places.current),
        )
        column.addWidget(self.waiting)
        column.addWidget(self.detail)
        column.addWidget(self.places)
        column.addWidget(self.take_button, alignment=Qt.AlignmentFlag.AlignLeft)

    def _add_key(self, column: QVBoxLayout) -> None:
        self.semitones = NumberBox(tr("Semitones up or down"), -11, 11)
        self.semitones.setPrefix(tr("by "))
        self.semitones.valueChanged.connect(lambda _by: self._show_key())
        self.key = Choice()
        self.key.setAccessibleName(tr("Key of the shapes"))
        self.key.setAccessibleDescription(tr("Key of the shapes"))
        self.key.setToolTip(tr("The key that the shapes are in; the shortest way there is taken"))
        self.key.activated.connect(self._go_to_key)
        self.move_button = button(tr("Move the piece"), tr("Every chord, as many semitones"), self.move_key)
        self.given_up = plain()
        column.addWidget(head(tr("Another key")))
        column.addLayout(row(self.semitones, quiet(tr("to shapes in")), self.key))
        column.addWidget(self.move_button, alignment=Qt.AlignmentFlag.AlignLeft)
        column.addWidget(self.given_up)

    def _add_sheet(self, column: QVBoxLayout) -> None:
        self.other_capo = NumberBox(tr("Capo of another player"), 0, HIGHEST)
        self.other_capo.setSpecialValueText(tr("none"))
        self.other_capo.valueChanged.connect(lambda _fret: self._show_sheet())
        self.copy_button = button(tr("Copy"), tr("Put the call sheet on the clipboard"), self.copy_sheet)
        column.addWidget(head(tr("Call sheet")))
        column.addLayout(row(quiet(tr("for a player with capo")), self.other_capo, self.copy_button))
        self.sheet = QPlainTextEdit()
        self.sheet.setReadOnly(True)
        self.sheet.setLineWrapMode(QPlainTextEdit.LineWrapMode.NoWrap)
        self.sheet.setAccessibleName(tr("Call sheet"))
        self.sheet.setFixedHeight(130)
        column.addWidget(self.sheet)

    # Showing.

    def refresh(self) -> None:
        """Show what the piece is now."""
        if not self.isVisible() or self._shown.document is None:
            return
        piece = self._shown.piece
        self._show_key()
        self.voice.refresh()
        self._show_sheet()
        now, section = self._compared, self._shown.section
        same = now is not None and now[0] is piece and now[1] == section
        if not same and piece.sections[section].chords.bars:
            self._compared = (piece, section)
            self.waiting.show()
            self.job.start(lambda _tick: capo_places(piece, section))

    def _show_places(self, places: tuple[CapoPlace, ...]) -> None:
        self.waiting.hide()
        self.places.show_places(places, self._shown.piece.capo)
        self.take_button.setEnabled(bool(places))
        self._show_detail()

    def _show_detail(self) -> None:
        """What the chosen position asks for."""
        places, current = self.places.places, self.places.current
        self.detail.setText(capo_detail(places[current]) if current < len(places) else "")

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
        """The capo position of a row, in its shapes."""
        if 0 <= row < len(self.places.places):
            before, after = self._shown.piece, self.places.places[row].piece
            self._shown.edit(tr("Capo and shapes"), after)
            self._tell(transpose(before, before.capo - after.capo) if before.capo != after.capo else None)

    def copy_sheet(self) -> None:
        """Put the call sheet on the clipboard."""
        QApplication.clipboard().setText(self.sheet.toPlainText())

    def move_key(self) -> None:
        """Every chord as many semitones up or down as chosen."""
        moved = transpose(self._shown.piece, self.semitones.value())
        self.semitones.setValue(0)
        self._shown.edit(tr("Another key"), moved.piece)
        self._tell(moved)

    def _tell(self, moved: Transposed | None) -> None:
        """What could not be kept is said."""
        text = given_up_text(moved) if moved is not None else ""
        if text:
            self._shown.notice.emit(text)
