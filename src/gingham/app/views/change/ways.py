"""WaysOut to make a change easier, each with a button that takes it."""

from __future__ import annotations

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from gingham.core.bench.remedies import Remedy
from gingham.language import tr
from gingham.words.reasons import remedy_text

MOST = 4


class WaysOut(QWidget):
    """Up to four; numbered, so that a key takes them."""

    taken = Signal(int)

    def __init__(self) -> None:
        super().__init__()
        self.buttons = [QPushButton(tr("Use it   {number}", number=number + 1)) for number in range(MOST)]
        self.words = [QLabel() for _ in range(MOST)]
        self._rows = [QWidget() for _ in range(MOST)]
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        for number, (words, button, row) in enumerate(zip(self.words, self.buttons, self._rows, strict=True)):
            words.setWordWrap(True)
            button.clicked.connect(lambda _on, number=number: self.taken.emit(number))
            line = QHBoxLayout(row)
            line.setContentsMargins(0, 0, 0, 0)
            line.addWidget(words, 1)
            line.addWidget(button)
            row.hide()
            column.addWidget(row)

    def show_ways(self, ways: tuple[Remedy, ...]) -> None:
        """The ways out of a change; what cannot be done by a button is advice."""
        for number, row in enumerate(self._rows):
            row.setVisible(number < len(ways))
            if number < len(ways):
                text = remedy_text(ways[number].reason)
                self.words[number].setText(f"{text[:1].upper()}{text[1:]}")
                self.buttons[number].setVisible(ways[number].piece is not None)
                self.buttons[number].setAccessibleName(tr("Use it: {text}", text=text))
