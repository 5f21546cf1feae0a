"""The Practise view: stages and ladder at the left, the session above the picture to follow."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QSignalBlocker, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QFrame, QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from gingham.app.look.appearance import Appearance
from gingham.app.look.theme import SIZES
from gingham.app.views.practice.follow import FollowCanvas
from gingham.app.views.practice.ladder_canvas import LadderCanvas
from gingham.app.views.practice.session_bar import SessionBar
from gingham.app.views.practice.stage_list import StageList
from gingham.app.widgets.parts import button, narrow_box, quiet, row
from gingham.app.widgets.typed_line import NumberBox, TypedLine
from gingham.core.pieces.tempo import FASTEST_BPM, SLOWEST_BPM
from gingham.core.practice.orders import JOINS, ORDERS
from gingham.language import tr
from gingham.words.actions import with_keys
from gingham.words.practice import JOIN_NAMES, ORDER_NAMES

_LEFT = 288


class PracticeView(QWidget):
    """Parts only; `controller` decides."""

    key_pressed = Signal(str)
    """A letter that the page has a meaning for, wherever the keyboard is on it."""

    def __init__(self, appearance: Appearance, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("root")
        self.stages = StageList(appearance)
        self.order = narrow_box(tr("Order of learning"), [(kind, ORDER_NAMES[kind]) for kind in ORDERS])
        self.joins = narrow_box(tr("The order in which fingers join"), [(k, JOIN_NAMES[k]) for k in JOINS])
        self.follow = FollowCanvas(appearance)
        self.ladder = LadderCanvas(appearance)
        self.session = SessionBar()
        self.tempo = NumberBox(tr("Tempo of this stage in beats a minute"), SLOWEST_BPM, FASTEST_BPM)
        self.tempo.setSuffix(tr(" beats/min"))
        self.tempo.setToolTip(
            with_keys(
                tr("The stage’s own tempo; the piece keeps its tempo (+ and − in the list)"),
                "faster",
                "slower",
            )
        )
        self.goal, self.status, self.why, self.stands = quiet(), quiet(), quiet(), quiet()
        self.play = QPushButton(tr("Play   Space"))
        self.play.setProperty("main", True)
        self.done = QPushButton(tr("Done  D"))
        self.done.setMinimumWidth(0)
        self.done.setToolTip(tr("Mark this stage as done, or not done"))
        self.marks = {
            key: self._mark(key, words, tip)
            for key, words, tip in (
                ("C", tr("Clean   C"), tr("The rounds since the last mark were clean")),
                ("N", tr("Not   N"), tr("Not clean; E says uneven, S other strings, K late change")),
                (
                    "H",
                    tr("Hurts   H"),
                    tr("Stops at once; ladder and barre rest until you say that it is well"),
                ),
            )
        }
        self.test = self._mark("T", tr("Test  T"), tr("Start test: faster from round to round, until N"))
        self.own = TypedLine(appearance, tr("A stage of the piece's own"))
        self.own.setPlaceholderText(tr("Verse 3-4 pi @60: the thumb leads"))
        self.own.setToolTip(
            tr("A stage of your own, or your teacher’s: section, bars, fingers, tempo: words (A)")
        )
        self.own_fault = QLabel()
        self.own_fault.setProperty("fault", True)
        self.own_fault.setWordWrap(True)
        self.own_fault.hide()
        self._lay_out()

    def _lay_out(self) -> None:
        whole = QHBoxLayout(self)
        whole.setContentsMargins(12, 4, 12, 8)
        whole.setSpacing(SIZES.gap)
        whole.addWidget(self._left())
        frame = QFrame()
        frame.setProperty("panel", True)
        inside = QVBoxLayout(frame)
        inside.setContentsMargins(1, 1, 1, 1)
        inside.setSpacing(0)
        inside.addWidget(self.session)
        inside.addWidget(self.follow, 1)
        whole.addWidget(frame, 1)

    def _left(self) -> QFrame:
        frame = QFrame()
        frame.setProperty("panel", True)
        frame.setFixedWidth(_LEFT)
        column = QVBoxLayout(frame)
        column.setContentsMargins(10, 8, 10, 8)
        column.setSpacing(6)
        column.addWidget(self.order)
        column.addWidget(self.joins)
        column.addWidget(self.stages, 1)
        column.addWidget(self.own)
        column.addWidget(self.own_fault)
        column.addWidget(self.status)
        column.addWidget(self.why)
        column.addWidget(self.ladder)
        column.addWidget(self.stands)
        column.addLayout(row(self.tempo, self.goal))
        column.addWidget(self.play)
        column.addLayout(row(self.test, self.done))
        column.addLayout(row(*self.marks.values()))
        return frame

    def _mark(self, key: str, words: str, tip: str) -> QPushButton:
        made = button(words, tip, self._presser(key))
        made.setMinimumWidth(0)
        return made

    def _presser(self, key: str) -> Callable[[], None]:
        return lambda: self.key_pressed.emit(key)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """The page's letters work wherever nothing else wants them."""
        key = self.stages.meaning(event)
        if key:
            self.key_pressed.emit(key)
        else:
            super().keyPressEvent(event)

    def show_tempo(self, tempo: int, goal: int, *, timed: bool = True) -> None:
        """The stage's tempo, and the piece's, without asking for it."""
        with QSignalBlocker(self.tempo):
            self.tempo.setValue(tempo)
        self.tempo.setEnabled(timed)
        words = tr("goal {goal}", goal=goal) if goal != tempo else tr("the goal")
        self.goal.setText(words if timed else tr("no tempo"))

    def show_stage(self, why: str, asks: str) -> None:
        """Why the chosen stage is there, and what it asks for."""
        self.why.setText(f"{why} {asks}".strip())

    def show_standing(self, lines: list[str]) -> None:
        """The words under the ladder."""
        self.stands.setText("\n".join(lines))

    def show_playing(self, playing: bool) -> None:
        """Play, or stop while it plays."""
        self.play.setText(tr("Stop   Space") if playing else tr("Play   Space"))
