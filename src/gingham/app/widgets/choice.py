"""A box of choices that shows where its words do not fit."""

from __future__ import annotations

from PySide6.QtCore import QEvent, Qt
from PySide6.QtGui import QHelpEvent
from PySide6.QtWidgets import QComboBox, QStyleOptionComboBox, QToolTip

_BESIDE = 26  # what a box needs beside its words: margins and the arrow


class Choice(QComboBox):
    """A box of choices; where its words do not fit they end in …, and are told whole under the pointer."""

    def initStyleOption(self, option: QStyleOptionComboBox) -> None:
        """As its base, the words shortened: what is painted asks here."""
        super().initStyleOption(option)
        room, right = self.width() - _BESIDE, Qt.TextElideMode.ElideRight
        option.currentText = self.fontMetrics().elidedText(self.currentText(), right, room)

    def event(self, event: QEvent) -> bool:
        """The pointer rests: all the words, where the box has no tip of its own."""
        if isinstance(event, QHelpEvent) and event.type() == QEvent.Type.ToolTip and not self.toolTip():
            QToolTip.showText(event.globalPos(), self.currentText(), self)
            return True
        return super().event(event)
