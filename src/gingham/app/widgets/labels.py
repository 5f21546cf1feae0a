"""Small labels of the window."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QSize, Qt
from PySide6.QtGui import QFontMetrics, QResizeEvent
from PySide6.QtWidgets import QLabel, QSizePolicy

_WIDTHS = 3
"""How many heights a text keeps: with and without a scroll bar, before and now."""


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


class LongText(QLabel):
    """Long words with marks in an area that scrolls: as high as they need to be at its width.

    A plain label lays its words out at half a dozen widths to find one that looks good (7 ms for a dozen
    lines); here the area says how wide.
    """

    def __init__(self) -> None:
        super().__init__()
        self._heights: dict[tuple[str, int], int] = {}
        self.setTextFormat(Qt.TextFormat.RichText)
        self.setWordWrap(True)
        self.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)

    def sizeHint(self) -> QSize:
        """Whatever width there is."""
        return QSize(0, 0)

    def minimumSizeHint(self) -> QSize:
        """Whatever width there is."""
        return QSize(0, 0)

    def heightForWidth(self, width: int) -> int:
        """The height of the words at a width, laid out once; both in pixels."""
        asked = self.text(), width
        if asked not in self._heights:
            if len(self._heights) > _WIDTHS:
                self._heights.clear()
            self._heights[asked] = super().heightForWidth(width)
        return self._heights[asked]

    def changeEvent(self, event: QEvent) -> None:
        """Another font, other heights."""
        self._heights.clear()
        super().changeEvent(event)
