"""The bottom bar: tempo, layers, the count, play, and the pattern in words."""

from __future__ import annotations

from PySide6.QtCore import QRectF, Qt, Signal
from PySide6.QtGui import QColor, QPainter, QPaintEvent
from PySide6.QtWidgets import (
    QButtonGroup,
    QFrame,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from gingham.app.look.appearance import Appearance, Dressed
from gingham.app.look.theme import SIZES
from gingham.app.widgets import marks
from gingham.app.widgets.choice import Choice
from gingham.app.widgets.labels import ShortLabel
from gingham.app.widgets.typed_line import NumberBox, TypedLine
from gingham.core.pieces.tempo import FASTEST_BPM, SLOWEST_BPM
from gingham.language import tr
from gingham.words.actions import with_keys
from gingham.words.saying import SCRIPTS

_STATUS = (120, 220)  # how wide it may be, whatever it says


class CountStrip(Dressed, QWidget):
    """The count of the bar, large; the syllable that is heard now stands out."""

    def __init__(self, appearance: Appearance, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.wear(appearance)
        self.syllables: tuple[tuple[str, bool], ...] = ()
        self.now: int | None = None
        self.left_beats = 0
        self.setMinimumSize(150, 36)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Preferred)
        self.setAccessibleName(tr("The count"))

    def show_bar(self, syllables: tuple[tuple[str, bool], ...]) -> None:
        """The syllables of a bar, each with whether a counted beat begins there."""
        if syllables != self.syllables:
            self.syllables = syllables
            self.update()

    def show_now(self, now: int | None) -> None:
        """The syllable that is heard; None for none."""
        if now != self.now or self.left_beats:
            self.now, self.left_beats = now, 0
            self.update()

    def show_count_in(self, beats: int) -> None:
        """Beats left in the count-in."""
        if beats != self.left_beats:
            self.now, self.left_beats = None, beats
            self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        """Syllables in equal steps; the one that is heard on a ground of its own."""
        area = QRectF(self.rect())
        with marks.painting(self) as p:
            if self.left_beats:
                marks.text(
                    p,
                    area,
                    tr("in {left_beats}", left_beats=self.left_beats),
                    self.theme.accent,
                    24,
                    bold=True,
                )
            elif self.syllables:
                self._paint_syllables(p, area)

    def _paint_syllables(self, p: QPainter, area: QRectF) -> None:
        step = min(40.0, area.width() / len(self.syllables))
        left = area.center().x() - step * len(self.syllables) / 2
        for index, (syllable, strong) in enumerate(self.syllables):
            rect = QRectF(left + index * step, area.top() + 2, step, area.height() - 4)
            ink = self.theme.ink if strong else self.theme.quiet
            if index == self.now:
                p.setPen(QColor(self.theme.accent))
                p.setBrush(QColor(self.theme.accent))
                p.drawRoundedRect(rect.adjusted(1, 0, -1, 0), 6, 6)
                ink = self.theme.on_accent
            marks.text(
                p, rect, self.theme.naming.syllable(syllable, index), ink, 24 if strong else 19, bold=strong
            )


class BottomBar(QFrame):
    """Says what the player wants to hear and types."""

    play_wanted = Signal()
    tempo_chosen = Signal(int)
    layer_chosen = Signal(object)
    """The fingers that are not to be heard, as a frozen set."""

    def __init__(self, appearance: Appearance, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setProperty("panel", True)
        self.count = CountStrip(appearance)
        self.words = TypedLine(appearance, tr("Pattern in words"))
        self.words.setToolTip(
            with_keys(tr("The pattern as text, for example 4/4 x2: p+m . p i ; p m p i"), "go-words")
        )
        self.say = ShortLabel()
        self.script = Choice()
        self.script.setAccessibleName(tr("What to say"))
        self.script.setToolTip(
            with_keys(tr("How the pattern is said; the bench has all ways to copy"), "bench")
        )
        for kind, name in SCRIPTS.items():
            self.script.addItem(name, kind)
        column = QVBoxLayout(self)
        column.setContentsMargins(SIZES.pad, 6, SIZES.pad, 8)
        column.setSpacing(5)
        column.addLayout(self._transport())
        column.addLayout(self._typed())

    def _transport(self) -> QHBoxLayout:
        self.tempo = NumberBox(tr("Tempo in beats a minute"), SLOWEST_BPM, FASTEST_BPM)
        self.tempo.setSuffix(tr(" beats/min"))
        self.tempo.setToolTip(with_keys(tr("Tempo: faster, slower"), "faster", "slower"))
        self.tempo.valueChanged.connect(self.tempo_chosen)
        self.thumb, self.index = QPushButton(tr("Thumb")), QPushButton(tr("+ index"))
        self.middle, self.all = QPushButton(tr("+ middle")), QPushButton(tr("All"))
        self.layers = {
            self.thumb: frozenset({"i", "m", "a", "c", ""}),
            self.index: frozenset({"m", "a", "c"}),
            self.middle: frozenset({"a", "c"}),
            self.all: frozenset[str](),
        }
        self._layers = QButtonGroup(self)
        for button, muted in self.layers.items():
            button.setCheckable(True)
            button.setToolTip(
                with_keys(tr("What is heard; single fingers in the Play menu; thumb alone"), "thumb-alone")
            )
            button.clicked.connect(lambda _on, muted=muted: self.layer_chosen.emit(muted))
            self._layers.addButton(button)
        self.all.setChecked(True)
        self.play = QPushButton()
        self.play.setProperty("main", True)
        self.play.setMinimumWidth(140)
        self.play.setToolTip(with_keys(tr("Play or stop: Space in the pictures, or anywhere"), "play"))
        self.play.clicked.connect(lambda _on: self.play_wanted.emit())
        self.show_playing(False)
        self.status = ShortLabel()
        self.status.setProperty("quiet", True)
        self.status.setMinimumWidth(_STATUS[0])  # what it says changes while the music plays; nothing moves
        self.status.setMaximumWidth(_STATUS[1])
        self.status.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        self._loop_words, self._silent_words = "", ""
        self.tempo_note = QLabel()
        self.tempo_note.setProperty("quiet", True)
        row = QHBoxLayout()
        row.setSpacing(SIZES.gap)
        for widget in (self.tempo, self.tempo_note, *self.layers):
            row.addWidget(widget)
        row.addWidget(self.count, 3)
        row.addWidget(self.status, 2)
        row.addWidget(self.play)
        return row

    def _typed(self) -> QHBoxLayout:
        row = QHBoxLayout()
        row.setSpacing(SIZES.gap)
        label = QLabel(tr("Pattern in words"))
        label.setProperty("quiet", True)
        row.addWidget(label)
        row.addWidget(self.words, 3)
        row.addWidget(self.script)
        row.addWidget(self.say, 2)
        return row

    def show_tempo(self, tempo: int, note: str) -> None:
        """The piece's tempo, without asking for it again; `note` says what else it comes to."""
        self.tempo_note.setText(note)
        self.tempo_note.setVisible(bool(note))
        if tempo != self.tempo.value():
            self.tempo.blockSignals(True)
            self.tempo.setValue(tempo)
            self.tempo.blockSignals(False)

    def show_layer(self, muted: frozenset[str]) -> None:
        """Which layer is heard; none is marked where single fingers are silent."""
        found = next((button for button, own in self.layers.items() if own == muted), None)
        self._layers.setExclusive(False)
        for button in self.layers:
            button.setChecked(button is found)
        self._layers.setExclusive(True)

    def show_status(self, words: str) -> None:
        """What is looped, or which chord comes; a machine that makes no sound is said instead."""
        self._loop_words = words
        self._say_status()

    def show_silence(self, why: str) -> None:
        """Why nothing is heard, as long as it is so; empty when it sounds."""
        self._silent_words = why
        self._say_status()

    def _say_status(self) -> None:
        self.status.show_whole(
            tr("No sound: {silent_words}", silent_words=self._silent_words)
            if self._silent_words
            else self._loop_words
        )
        before = self.status.property("fault")
        self.status.setProperty("fault", bool(self._silent_words))
        self.status.setProperty("quiet", not self._silent_words)
        if before is not None and before != bool(self._silent_words):  # the first time it is polished anyway
            self.status.style().polish(self.status)
        if self._silent_words:
            self.status.setToolTip(
                with_keys(tr("{silent_words} Choose a sound card", silent_words=self._silent_words), "device")
            )

    def type_tempo(self) -> None:
        """Put the cursor into the tempo, its digits selected."""
        self.tempo.setFocus()
        self.tempo.selectAll()

    def show_playing(self, playing: bool) -> None:
        """Play, or stop while it plays."""
        self.play.setText(tr("Stop   Space") if playing else tr("Play   Space"))
