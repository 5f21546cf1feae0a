"""Over the picture: how long a session is to be, which part is on, what is offered, what is asked."""

from __future__ import annotations

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QHBoxLayout, QLabel, QLineEdit, QPushButton, QVBoxLayout, QWidget

from gingham.app.widgets.parts import quiet
from gingham.app.widgets.typed_line import NumberBox
from gingham.core.practice.session import LONGEST, SHORTEST
from gingham.language import tr


class SessionBar(QWidget):
    """Parts only. One line, and a second one where there is something to say or to ask."""

    answered = Signal(str)
    """What has been typed where something was asked."""

    def __init__(self) -> None:
        super().__init__()
        self.minutes = NumberBox(tr("Minutes of the session"), SHORTEST, LONGEST)
        self.minutes.setSuffix(tr(" minutes"))
        self.now = QLabel()
        self.now.setWordWrap(True)
        self.why = quiet()
        self.go = QPushButton(tr("Start the session   Enter"))
        self.go.setProperty("main", True)
        self.other = QPushButton(tr("Other   O"))
        self.other.setToolTip(tr("Another stage of the same kind instead"))
        self.more = QPushButton(tr("Longer   M"))
        self.more.setToolTip(tr("Two minutes more for this part"))
        self.leave = QPushButton(tr("End   Esc"))
        self.leave.setToolTip(tr("Leave the session; what was practised is kept"))
        self.well = QPushButton(tr("It is well again"))
        self.asked = QLineEdit()
        self.asked.returnPressed.connect(self._answer)
        self.asked.hide()
        self.well.hide()
        column = QVBoxLayout(self)
        column.setContentsMargins(12, 6, 12, 2)
        column.setSpacing(2)
        line = QHBoxLayout()
        line.setSpacing(6)
        line.addWidget(self.minutes)
        line.addWidget(self.now, 1)
        for each in (self.other, self.more, self.leave, self.well, self.go):
            line.addWidget(each)
        column.addLayout(line)
        column.addWidget(self.why)
        column.addWidget(self.asked)
        self.show_idle("")

    def _answer(self) -> None:
        text = self.asked.text().strip()
        self.asked.clear()
        self.asked.hide()
        self.answered.emit(text)

    def ask(self, question: str) -> None:
        """Ask for words or a number; Enter answers."""
        self.asked.setPlaceholderText(question)
        self.asked.setAccessibleName(question)
        self.asked.show()
        self.asked.setFocus()

    def show_idle(self, words: str, *, may_start: bool = True) -> None:
        """No session: how long one would be."""
        self.minutes.show()
        for each in (self.other, self.more, self.leave):
            each.hide()
        self.go.setText(tr("Start the session   Enter"))
        self.go.setEnabled(may_start)
        self.now.setText("")
        self.show_why(words)

    def show_part(self, words: str, why: str, *, offered: bool) -> None:
        """A part of the session, or an offer."""
        self.minutes.hide()
        for each in (self.other, self.more, self.leave):
            each.show()
        self.go.setEnabled(True)
        self.go.setText(tr("Do that   Enter") if offered else tr("Go on   Enter"))
        self.leave.setText(tr("No   Esc") if offered else tr("End   Esc"))
        if self.now.text() != words:
            self.now.setText(words)
        self.show_why(why)

    def show_why(self, words: str) -> None:
        """The second line; no room where it is empty."""
        if self.why.text() != words:
            self.why.setText(words)
        self.why.setVisible(bool(words))
