"""Small labels of the window."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtGui import QFontMetrics, QResizeEvent
from PySide6.QtWidgets import QLabel, QSizePolicy


class ShortLabel(QLabel):
    """A label that cuts its text with an ellipsis instead of widening the window."""

    def __init__(self) -> None:
        super().__init__()
        self._whole = ""
        self.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)

    def show_whole(self, text: str) -> None:
        """Show a text as far as it fits; the tooltip has all of it."""
        self._whole = text
        self.setToolTip(text)
        self.setAccessibleName(text)
        self._cut()

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Another width, another cut."""
        self._cut()

    def _cut(self) -> None:
        metrics = QFontMetrics(self.font())
        self.setText(metrics.elidedText(self._whole, Qt.TextElideMode.ElideRight, self.width()))
