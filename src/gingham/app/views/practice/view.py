"""The Practise view: the stages at the left with what plays them, the picture to follow beside them."""

from __future__ import annotations

from PySide6.QtCore import QSignalBlocker, Qt, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QFrame,
    QHBoxLayout,
    QListView,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from gingham.app.look.appearance import Appearance
from gingham.app.look.theme import SIZES
from gingham.app.views.practice.follow import FollowCanvas
from gingham.app.widgets.parts import head, quiet
from gingham.app.widgets.typed_line import NumberBox
from gingham.core.pieces.tempo import FASTEST_BPM, SLOWEST_BPM
from gingham.core.practice.stages import ORDERS
from gingham.words.actions import with_keys
from gingham.words.practice import ORDER_NAMES

_LEFT = 288
_STEP = 4


class StageList(QListWidget):
    """Stages to choose from, under the names of their sections.

    Enter or Space plays (or stops), D marks as done, + and − change the stage's tempo.
    """

    play_wanted = Signal()
    done_wanted = Signal()
    faster_wanted = Signal(int)
    stage_chosen = Signal(int)

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName("Stages, in order")
        self.setWordWrap(True)
        self.setResizeMode(QListView.ResizeMode.Adjust)
        self.setTextElideMode(Qt.TextElideMode.ElideNone)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.currentRowChanged.connect(lambda _row: self.stage_chosen.emit(self.stage))

    def fill(self, rows: list[tuple[str, list[str]]]) -> None:
        """Each section's name with its stages; the name is left out where there is one section."""
        self.clear()
        index = 0
        for name, stages in rows:
            if len(rows) > 1:
                title = QListWidgetItem(name)
                title.setFlags(Qt.ItemFlag.NoItemFlags)
                font = title.font()
                font.setBold(True)
                title.setFont(font)
                self.addItem(title)
            for words in stages:
                item = QListWidgetItem(words)
                item.setData(Qt.ItemDataRole.UserRole, index)
                self.addItem(item)
                index += 1

    @property
    def stage(self) -> int:
        """The index of the chosen stage; −1 for none."""
        item = self.currentItem()
        index = item.data(Qt.ItemDataRole.UserRole) if item is not None else None
        return -1 if index is None else int(index)

    def choose(self, stage: int) -> None:
        """Choose a stage by its index."""
        for row in range(self.count()):
            if self.item(row).data(Qt.ItemDataRole.UserRole) == stage:
                self.setCurrentRow(row)
                return

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Its own keys; the arrows as in any list."""
        if event.key() in (Qt.Key.Key_Space, Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.play_wanted.emit()
        elif event.key() == Qt.Key.Key_D:
            self.done_wanted.emit()
        elif event.text() in ("+", "-"):
            self.faster_wanted.emit(_STEP if event.text() == "+" else -_STEP)
        else:
            super().keyPressEvent(event)


class PracticeView(QWidget):
    """Parts only; `controller` decides."""

    def __init__(self, appearance: Appearance, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("root")
        self.stages = StageList()
        self.order = QComboBox()
        self.order.setAccessibleName("Order of learning")
        self.order.setAccessibleDescription("Order of learning")
        for kind in ORDERS:
            self.order.addItem(ORDER_NAMES[kind], kind)
        self.follow = FollowCanvas(appearance)
        self.tempo = NumberBox("Tempo of this stage in beats a minute", SLOWEST_BPM, FASTEST_BPM)
        self.tempo.setSuffix(" beats/min")
        self.tempo.setToolTip(
            with_keys(
                "The stage’s own tempo; the piece keeps its tempo (+ and − in the list)", "faster", "slower"
            )
        )
        self.goal = quiet()
        self.play = QPushButton("Play this stage   Space")
        self.play.setProperty("main", True)
        self.done = QPushButton("Done   D")
        self.done.setToolTip("Mark this stage as done, or not done")
        self.status = quiet()
        self.mirrored = QCheckBox("Shapes mirrored")
        self.mirrored.setToolTip(with_keys("For a left hand, or for a player who faces the screen", "mirror"))
        self.flipped = QCheckBox("Lowest string on top")
        self.flipped.setToolTip(
            with_keys("The strings as they lie when you look down on your own instrument", "lowest-on-top")
        )
        self.care = quiet("Go slower at once if it pulls; stop at pain.")
        row = QHBoxLayout(self)
        row.setContentsMargins(12, 4, 12, 8)
        row.setSpacing(SIZES.gap)
        row.addWidget(self._left())
        frame = QFrame()
        frame.setProperty("panel", True)
        inside = QVBoxLayout(frame)
        inside.setContentsMargins(1, 1, 1, 1)
        inside.addWidget(self.follow)
        row.addWidget(frame, 1)

    def _left(self) -> QFrame:
        frame = QFrame()
        frame.setProperty("panel", True)
        frame.setFixedWidth(_LEFT)
        column = QVBoxLayout(frame)
        column.setContentsMargins(10, 8, 10, 8)
        top = QHBoxLayout()
        top.addWidget(head("Stages"))
        top.addWidget(self.order, 1)
        column.addLayout(top)
        column.addWidget(self.stages, 1)
        column.addWidget(self.status)
        tempo = QHBoxLayout()
        tempo.addWidget(self.tempo)
        tempo.addWidget(self.goal, 1)
        column.addLayout(tempo)
        buttons = QHBoxLayout()
        buttons.addWidget(self.play, 1)
        buttons.addWidget(self.done)
        column.addLayout(buttons)
        for part in (self.mirrored, self.flipped, self.care):
            column.addWidget(part)
        return frame

    def show_tempo(self, tempo: int, goal: int) -> None:
        """The stage's tempo, and the piece's, without asking for it."""
        with QSignalBlocker(self.tempo):
            self.tempo.setValue(tempo)
        self.goal.setText(f"goal {goal}" if goal != tempo else "the goal")

    def show_playing(self, playing: bool) -> None:
        """Play, or stop while it plays."""
        self.play.setText("Stop   Space" if playing else "Play this stage   Space")
