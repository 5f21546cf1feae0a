"""The inline question how far a change goes: only here, on this chord, everywhere."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PySide6.QtCore import QPoint, Qt
from PySide6.QtGui import QFocusEvent, QKeyEvent
from PySide6.QtWidgets import QFrame, QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from gingham.language import tr

Option = tuple[str, str, Callable[[], None]]
"""Key, words, what it does."""


class AskBar(QFrame):
    """A bar over the picture with a button and a key for each answer. Escape leaves everything as it was."""

    def __init__(self, parent: QWidget, *, upright: bool = False) -> None:
        super().__init__(parent)
        self._over = parent
        self.setProperty("panel", True)
        self.setObjectName("ask")
        self.setAccessibleName(tr("How far does the change go?"))
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAutoFillBackground(True)
        self._row: QHBoxLayout | QVBoxLayout = QVBoxLayout(self) if upright else QHBoxLayout(self)
        self._row.setContentsMargins(10, 6, 10, 6)
        self._row.setSpacing(6)
        self.question = QLabel()
        self.question.setProperty("head", True)
        self._row.addWidget(self.question)
        self._options: dict[str, Callable[[], None]] = {}
        self._cancelled: Callable[[], None] | None = None
        self._back_to: QWidget | None = None
        self.hide()

    def ask(
        self,
        question: str,
        options: list[Option],
        where: QPoint,
        back_to: QWidget,
        cancelled: Callable[[], None] | None = None,
    ) -> None:
        """Show the question at a point of the parent; afterwards the focus goes back.

        `cancelled` takes back what has led to the question, where something has been done already.
        """
        self._clear()
        self._cancelled = cancelled
        self.question.setText(question)
        self._back_to = back_to
        for key, words, run in options:
            self._options[key] = run
            self._add_button(f"{words} ({key.upper()})", partial(self._answer, run))
        self._add_button(tr("Cancel (Esc)"), self._cancel)
        self.adjustSize()
        x = max(0, min(where.x(), self._over.width() - self.width() - 8))
        self.move(x, where.y())
        self.show()
        self.raise_()
        self.setFocus()

    def _add_button(self, words: str, run: Callable[[], None]) -> None:
        button = QPushButton(words)
        button.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        button.clicked.connect(lambda _on: run())
        self._row.addWidget(button)

    def _clear(self) -> None:
        self._options.clear()
        while self._row.count() > 1:
            item = self._row.takeAt(1)
            widget = item.widget() if item is not None else None
            if widget is not None:
                widget.setParent(None)
                widget.deleteLater()

    def _answer(self, run: Callable[[], None]) -> None:
        self.leave()
        run()

    def _cancel(self) -> None:
        self.leave()
        if self._cancelled is not None:
            self._cancelled()

    def leave(self) -> None:
        """Close without a change."""
        if not self.isVisible():
            return
        within = self.hasFocus() or self.isAncestorOf(self.window().focusWidget())
        self.hide()
        if within and self._back_to is not None:
            self._back_to.setFocus()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """The answer's letter, or Escape."""
        run = self._options.get(event.text().lower())
        if event.key() == Qt.Key.Key_Escape:
            self._cancel()
        elif run is not None:
            self._answer(run)
        else:
            super().keyPressEvent(event)

    def focusOutEvent(self, event: QFocusEvent) -> None:
        """Going elsewhere in the window leaves the question, unless to one of its own buttons."""
        super().focusOutEvent(event)
        after = self.window().focusWidget()
        if event.reason() in (Qt.FocusReason.MouseFocusReason, Qt.FocusReason.ShortcutFocusReason) and not (
            after is not None and self.isAncestorOf(after)
        ):
            self._back_to = None
            self.hide()
