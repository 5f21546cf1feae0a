"""The Practise view: the stages at the left, the picture to follow, play below."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import (
    QComboBox,
    QFrame,
    QHBoxLayout,
    QLabel,
    QListWidget,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from gingham.app.look.appearance import Appearance
from gingham.app.look.theme import SIZES
from gingham.app.views.practice.follow import FollowCanvas
from gingham.core.practice.stages import ORDERS
from gingham.words.practice import ORDER_NAMES


class StageList(QListWidget):
    """Stages to choose from: Enter or Space plays (or stops), D marks as done."""

    play_wanted = Signal()
    done_wanted = Signal()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Three keys; the arrows as in any list."""
        if event.key() in (Qt.Key.Key_Space, Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.play_wanted.emit()
        elif event.key() == Qt.Key.Key_D:
            self.done_wanted.emit()
        else:
            super().keyPressEvent(event)


class PracticeView(QWidget):
    """Parts only; `controller` decides."""

    def __init__(self, appearance: Appearance, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("root")
        self.stages = StageList()
        self.stages.setAccessibleName("Stages, in order")
        self.stages.setWordWrap(True)
        self.order = QComboBox()
        self.order.setAccessibleName("Order of learning")
        for kind in ORDERS:
            self.order.addItem(ORDER_NAMES[kind], kind)
        self.follow = FollowCanvas(appearance)
        self.play = QPushButton("Play this stage   Space")
        self.play.setProperty("main", True)
        self.done = QPushButton("Done   D")
        self.done.setToolTip("Mark this stage as done, or not done")
        self.status = QLabel()
        self.status.setProperty("quiet", True)
        row = QHBoxLayout(self)
        row.setContentsMargins(12, 8, 12, 8)
        row.setSpacing(SIZES.gap)
        row.addWidget(self._left())
        frame = QFrame()
        frame.setProperty("panel", True)
        inside = QVBoxLayout(frame)
        inside.addWidget(self.follow)
        row.addWidget(frame, 1)

    def _left(self) -> QFrame:
        frame = QFrame()
        frame.setProperty("panel", True)
        frame.setFixedWidth(300)
        column = QVBoxLayout(frame)
        head = QLabel("Stages")
        head.setProperty("head", True)
        column.addWidget(head)
        column.addWidget(self.order)
        column.addWidget(self.stages, 1)
        column.addWidget(self.status)
        buttons = QHBoxLayout()
        buttons.addWidget(self.play, 1)
        buttons.addWidget(self.done)
        column.addLayout(buttons)
        return frame
