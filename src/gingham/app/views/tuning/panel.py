"""Each string's tone to tune to: by button, by its number as a key, or all in turn."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import (
    QCheckBox,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from gingham.app.session.shown import Shown
from gingham.app.sound.transport import Transport
from gingham.app.widgets.drawer import DrawerPanel
from gingham.app.widgets.parts import scrolled
from gingham.core.instruments.retune import pegs
from gingham.core.music.pitch import hz
from gingham.core.numbers import is_whole
from gingham.core.sound.tones import TONE_BPM, tones
from gingham.words.names import signs
from gingham.words.tuning import peg_text, strain_text


class TuningPanel(DrawerPanel):
    """Follows the piece's tuning."""

    def __init__(self, shown: Shown, transport: Transport, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self._shown, self._transport = shown, transport
        self.buttons: list[QPushButton] = []
        self.targets: list[QLabel] = []
        self.pegs = QLabel()
        self.pegs.setWordWrap(True)
        self.at_capo = QCheckBox("with the capo on")
        self.at_capo.toggled.connect(lambda _on: self.refresh())
        self.grid = QGridLayout()
        self.grid.setColumnStretch(1, 1)
        every = QPushButton("All in turn (A)")
        every.setAutoDefault(False)
        every.clicked.connect(lambda _on: self.play_all())
        hint = QLabel("Keys: a string’s number plays it, A all in turn, Space is silence.")
        hint.setProperty("quiet", True)
        hint.setWordWrap(True)
        inner = QWidget()
        column = QVBoxLayout(inner)
        column.setContentsMargins(10, 6, 8, 8)
        column.addWidget(self.pegs)
        column.addLayout(self.grid)
        below = QHBoxLayout()
        below.addWidget(every)
        below.addWidget(self.at_capo)
        below.addStretch(1)
        column.addLayout(below)
        column.addWidget(hint)
        column.addStretch(1)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.addWidget(scrolled(inner))
        shown.settled.connect(self.refresh)

    def refresh(self) -> None:
        """One row for each string: its tone, its frequency."""
        if not self.isVisible() or self._shown.document is None:
            return
        piece = self._shown.piece
        lines = [peg_text(peg) for peg in pegs(piece.instrument)]
        strain = strain_text(piece.instrument)
        self.pegs.setText(" ".join(["Retune: " + " ".join(lines) if lines else "The usual tuning.", strain]))
        self.at_capo.setEnabled(piece.capo > 0)
        self._make_rows(piece.instrument.strings)
        up = piece.capo if self.at_capo.isChecked() else 0
        for index, (button, target) in enumerate(zip(self.buttons, self.targets, strict=True)):
            string = piece.instrument.strings - index
            pitch = piece.instrument.tuning[index]
            sounds = "" if not up else f", sounds {up} semitones higher"
            button.setText(f"String {string}")
            target.setText(f"{signs(str(pitch))}{sounds}: {hz(pitch.midi + up):.1f} Hz")

    def _make_rows(self, count: int) -> None:
        while len(self.buttons) < count:
            index = len(self.buttons)
            button, target = QPushButton(), QLabel()
            button.setAutoDefault(False)
            button.clicked.connect(
                lambda _on, index=index: self.play(self._shown.piece.instrument.strings - index)
            )
            self.buttons.append(button)
            self.targets.append(target)
            self.grid.addWidget(button, index, 0)
            self.grid.addWidget(target, index, 1)
        while len(self.buttons) > count:
            for part in (self.buttons.pop(), self.targets.pop()):
                part.setParent(None)
                part.deleteLater()

    def _play_row(self, index: int) -> None:
        self.play(self._shown.piece.instrument.strings - index)

    def play(self, string: int) -> None:
        """One string's tone."""
        if 1 <= string <= self._shown.piece.instrument.strings:
            self._play((string,))

    def play_all(self) -> None:
        """Every string, the highest number first."""
        self._play(tuple(range(self._shown.piece.instrument.strings, 0, -1)))

    def _play(self, strings: tuple[int, ...]) -> None:
        piece = self._shown.piece
        self._transport.play_tones(tones(piece, strings, self.at_capo.isChecked()), piece, TONE_BPM)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Digits play strings, A all, Space is silence."""
        if is_whole(event.text()) and event.text() != "0":
            self.play(int(event.text()))
        elif event.key() == Qt.Key.Key_A:
            self.play_all()
        elif event.key() == Qt.Key.Key_Space:
            self._transport.stop()
        else:
            super().keyPressEvent(event)
