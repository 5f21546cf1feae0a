"""A word that stays until what it is about is over, at the bottom of the window."""

from __future__ import annotations

from PySide6.QtWidgets import QLabel

from gingham.app.widgets.speaking import announce
from gingham.language import tr


class Standing(QLabel):
    """Empty most of the time."""

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName(tr("Standing notice"))
        self.setProperty("fault", True)

    def say(self, text: str) -> None:
        """Say something until something else, or nothing, is said."""
        self.setText(text)
        announce(self, text)
