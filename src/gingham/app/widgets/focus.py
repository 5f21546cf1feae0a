"""A painted widget that looks otherwise while it has the keyboard."""

from __future__ import annotations

from PySide6.QtGui import QFocusEvent
from PySide6.QtWidgets import QWidget


class ShowsFocus(QWidget):
    """Painted again whenever the keyboard comes or goes."""

    def focusInEvent(self, event: QFocusEvent) -> None:
        """The keyboard has come."""
        super().focusInEvent(event)
        self.update()

    def focusOutEvent(self, event: QFocusEvent) -> None:
        """And has gone."""
        super().focusOutEvent(event)
        self.update()
