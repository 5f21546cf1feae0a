"""Tuning: each string's tone to tune to, the tuner that listens, and the ring check of the shown chord."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import Qt, QTimer
from PySide6.QtGui import QHideEvent, QKeyEvent
from PySide6.QtWidgets import (
    QCheckBox,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from gingham.app.look.appearance import Appearance
from gingham.app.look.settings import Settings
from gingham.app.session.shown import Shown
from gingham.app.sound.transport import Transport
from gingham.app.views.tuning.listening import Keep, StringEar
from gingham.app.views.tuning.needle import Needle
from gingham.app.views.tuning.stringing_rows import StringingRows
from gingham.app.widgets.drawer import DrawerPanel
from gingham.app.widgets.parts import head, plain, quiet, scrolled
from gingham.core.instruments.retune import pegs
from gingham.core.listening.ringing import Ring
from gingham.core.listening.tuner import Tone
from gingham.core.music.pitch import hz
from gingham.core.numbers import is_whole
from gingham.core.pieces.piece import Piece
from gingham.core.reasons import Reason
from gingham.core.sound.tones import TONE_BPM, tones
from gingham.language import tr
from gingham.words.names import signs
from gingham.words.ringing import CARE, RING_IDLE, TUNER_IDLE, TUNER_WAITS, ring_text, ring_waits, tune_text
from gingham.words.tuning import peg_text, set_lines, strain_text


class TuningPanel(DrawerPanel):
    """Follows the piece's tuning and the chord under the cursor."""

    def __init__(
        self,
        appearance: Appearance,
        shown: Shown,
        transport: Transport,
        settings: Settings,
        keep: Keep,
        pieces: Callable[[], list[Piece]] = list,
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self._appearance, self._shown, self._transport = appearance, shown, transport
        self.ear = StringEar(shown, transport, settings, keep, self)
        self.buttons: list[QPushButton] = []
        self.targets: list[QLabel] = []
        self.needles: list[Needle] = []
        self._rings: dict[int, str] = {}
        self._pieces = pieces
        """The pieces that are open, in order: the set."""
        self._make()
        self._lay_out()
        self.ear.toned.connect(self._show_tone)
        self.ear.rang.connect(self._show_ring)
        self.ear.status.connect(self.said.setText)
        self.ear.changed.connect(self._show_state)
        shown.settled.connect(self.refresh)
        shown.cursor_moved.connect(self._show_state)
        shown.cursor_moved.connect(self._follow_chord)

    def _make(self) -> None:
        self.pegs = plain()
        self.at_capo = QCheckBox(tr("with the capo on"))
        self.at_capo.toggled.connect(lambda _on: self.refresh())
        self.listen = QPushButton(tr("Listen   L"))
        self.listen.setProperty("main", True)
        self.listen.setToolTip(
            tr("A tuner: hears which string you pluck, and says which way to turn its peg")
        )
        self.listen.clicked.connect(lambda _on: self.listen_or_stop())
        self.every = QPushButton(tr("All in turn   A"))
        self.every.clicked.connect(lambda _on: self.play_all())
        self.said = plain(TUNER_IDLE)
        self.said.setMinimumHeight(self.said.fontMetrics().height() * 2)
        self.said.setAlignment(Qt.AlignmentFlag.AlignTop | Qt.AlignmentFlag.AlignLeft)
        self.ring = QPushButton()
        self.ring.setToolTip(tr("Pluck the held strings one by one: each is clear, buzzing or dead, and why"))
        self.ring.clicked.connect(lambda _on: self.ring_or_stop())
        self.rings = plain(RING_IDLE)
        self.set_head, self.set_lines = head(tr("Between the open pieces")), plain()
        self.stringings = StringingRows(self._shown, self._transport)
        for button in (self.listen, self.every, self.ring):
            button.setAutoDefault(False)

    def _lay_out(self) -> None:
        self.grid = QGridLayout()
        self.grid.setColumnStretch(1, 1)
        self.grid.setVerticalSpacing(1)
        inner = QWidget()
        column = QVBoxLayout(inner)
        column.setContentsMargins(10, 6, 8, 8)
        column.addWidget(self.pegs)
        line = QHBoxLayout()
        line.setSpacing(4)
        line.addWidget(self.listen, 1)
        line.addWidget(self.every, 1)
        column.addLayout(line)
        column.addWidget(self.said)
        column.addLayout(self.grid)
        column.addWidget(self.at_capo)
        column.addWidget(
            quiet(tr("A string’s number plays it, and only it is listened for; Space is silence."))
        )
        column.addSpacing(8)
        column.addWidget(head(tr("Does the chord ring?")))
        column.addWidget(self.ring)
        column.addWidget(self.rings)
        column.addWidget(quiet(CARE))
        column.addWidget(self.stringings)
        column.addWidget(self.set_head)
        column.addWidget(self.set_lines)
        column.addStretch(1)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        self.area = scrolled(inner)
        outer.addWidget(self.area)

    def refresh(self) -> None:
        """One row for each string: its tone, its frequency, how far it is from it."""
        if not self.isVisible() or self._shown.document is None:
            return
        piece = self._shown.piece
        lines = [peg_text(peg) for peg in pegs(piece.instrument)]
        strain = strain_text(piece.instrument)
        self.pegs.setText(
            " ".join([tr("Retune: ") + " ".join(lines) if lines else tr("The usual tuning."), strain])
        )
        between = set_lines(self._pieces())
        self.set_lines.setText("\n".join(between))
        for part in (self.set_head, self.set_lines):
            part.setVisible(bool(between))
        self.at_capo.setEnabled(piece.capo > 0)
        self._make_rows(piece.instrument.strings)
        up = self._up
        for index, (button, target) in enumerate(zip(self.buttons, self.targets, strict=True)):
            string = piece.instrument.strings - index
            pitch = piece.instrument.tuning[index]
            sounds = "" if not up else f" + {up}"
            button.setText(tr("String {string}", string=string))
            target.setText(
                tr(
                    "{pitch}{sounds}  {hz:.1f} Hz",
                    pitch=signs(str(pitch)),
                    sounds=sounds,
                    hz=hz(pitch.midi + up),
                )
            )
            self.needles[index].setAccessibleName(tr("Tuner, string {string}", string=string))
        self.stringings.refresh()
        self._show_state()

    def _follow_chord(self) -> None:
        """The other stringings are of the chord under the cursor."""
        if self.isVisible() and self._shown.document is not None:
            self.stringings.refresh()

    @property
    def _up(self) -> int:
        return self._shown.piece.capo if self.at_capo.isChecked() else 0

    # Listening.

    def listen_or_stop(self) -> None:
        """The tuner begins to listen, or ends."""
        if self.ear.tuning_now:
            self.ear.stop()
            return
        self._transport.stop()
        for needle in self.needles:
            needle.show_tone(None, "")
        self.said.setText(TUNER_WAITS)
        self.area.ensureWidgetVisible(self.listen)
        self.ear.tune(self._up)

    def ring_or_stop(self) -> None:
        """The ring check of the chord under the cursor begins, or ends."""
        if self.ear.check is not None:
            self.ear.stop()
            return
        assignment = self._shown.assignment()
        if assignment is None:
            return
        self._transport.stop()
        self._rings = {}
        self.ear.ring(assignment)
        self._show_rings()

    def _show_tone(self, tone: Tone) -> None:
        words = tune_text(tone)
        self.said.setText(tr("String {string}: {words}.", string=tone.string, words=words))
        strings = self._shown.piece.instrument.strings
        if 1 <= tone.string <= min(strings, len(self.needles)):
            self.needles[strings - tone.string].show_tone(tone, words)

    def _show_ring(self, ring: Ring, why: tuple[Reason, ...]) -> None:
        self._rings[ring.string] = ring_text(ring, why)
        self._show_rings()

    def _show_rings(self) -> None:
        lines = [
            tr("String {string}: {words}.", string=string, words=words)
            for string, words in sorted(self._rings.items(), reverse=True)
        ]
        check = self.ear.check
        if check is not None and check.expected is not None:
            lines.append(ring_waits(check.expected))
        self.rings.setText("\n".join(lines) or RING_IDLE)
        if lines:
            QTimer.singleShot(0, self._follow_rings)  # once the new lines have their room

    def _follow_rings(self) -> None:
        if self.isVisible():
            self.area.ensureWidgetVisible(self.ring)
            self.area.ensureVisible(0, self.rings.geometry().bottom(), 0, 8)

    def _show_state(self) -> None:
        """What the buttons would do now."""
        self.listen.setText(tr("Stop   L") if self.ear.tuning_now else tr("Listen   L"))
        assignment = self._shown.assignment()
        name = signs(assignment.chord.text) if assignment is not None else ""
        self.ring.setEnabled(assignment is not None or self.ear.check is not None)
        self.ring.setText(tr("Stop   R") if self.ear.check is not None else tr("Check {name}   R", name=name))
        only = self.ear.tuner.only if self.ear.tuner is not None else None
        for index, needle in enumerate(self.needles):
            needle.show_asked(only is not None and len(self.needles) - index == only)

    def hideEvent(self, event: QHideEvent) -> None:
        """Nothing is listened to unseen."""
        super().hideEvent(event)
        self.ear.stop()

    def end(self) -> None:
        """End the threads."""
        self.ear.close()
        self.stringings.job.close()

    def _make_rows(self, count: int) -> None:
        while len(self.buttons) < count:
            index = len(self.buttons)
            button, target, needle = QPushButton(), QLabel(), Needle(self._appearance)
            button.setAutoDefault(False)
            button.clicked.connect(
                lambda _on, index=index: self.play(self._shown.piece.instrument.strings - index)
            )
            self.buttons.append(button)
            self.targets.append(target)
            self.grid.addWidget(button, 2 * index, 0, 2, 1)
            self.needles.append(needle)
            self.grid.addWidget(target, 2 * index, 1)
            self.grid.addWidget(needle, 2 * index + 1, 1)
        while len(self.buttons) > count:
            for part in (self.buttons.pop(), self.targets.pop(), self.needles.pop()):
                part.setParent(None)
                part.deleteLater()

    def play(self, string: int) -> None:
        """One string's tone."""
        if 1 <= string <= self._shown.piece.instrument.strings:
            self._ask_for(string)
            self._play((string,))

    def play_all(self) -> None:
        """Every string, the highest number first."""
        self._ask_for(None)
        self._play(tuple(range(self._shown.piece.instrument.strings, 0, -1)))

    def _ask_for(self, string: int | None) -> None:
        if self.ear.tuner is not None:
            self.ear.tuner.only = string
            self._show_state()

    def _play(self, strings: tuple[int, ...]) -> None:
        piece = self._shown.piece
        self._transport.play_tones(tones(piece, strings, self.at_capo.isChecked()), piece, TONE_BPM)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Digits play strings, A all, Space is silence; L and R listen."""
        if is_whole(event.text()) and event.text() != "0":
            self.play(int(event.text()))
        elif event.key() == Qt.Key.Key_A:
            self.play_all()
        elif event.key() == Qt.Key.Key_L:
            self.listen_or_stop()
        elif event.key() == Qt.Key.Key_R:
            self.ring_or_stop()
        elif event.key() == Qt.Key.Key_Space:
            self._transport.stop()
        else:
            super().keyPressEvent(event)
