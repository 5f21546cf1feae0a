"""A box of choices that shows where its words do not fit."""

from __future__ import annotations

from PySide6.QtCore import QEvent, Qt
from PySide6.QtGui import QHelpEvent, QPaintEvent
from PySide6.QtWidgets import QComboBox, QStyle, QStyleOptionComboBox, QStylePainter, QToolTip

_INSIDE = 4  # what a box keeps free beside its words
_RIGHT = Qt.TextElideMode.ElideRight


class Choice(QComboBox):
    """A box of choices; where its words do not fit they end in …, and are told whole under the pointer."""

    def paintEvent(self, _event: QPaintEvent) -> None:
        """As its base, the words shortened."""
        look = QStyleOptionComboBox()
        self.initStyleOption(look)
        control, part = QStyle.ComplexControl.CC_ComboBox, QStyle.SubControl.SC_ComboBoxEditField
        room = self.style().subControlRect(control, look, part, self).width() - _INSIDE
        look.currentText = self.fontMetrics().elidedText(
            self.currentText(), Qt.TextElideMode.ElideRight, room
        )
        painter = QStylePainter(self)
        painter.drawComplexControl(control, look)
        painter.drawControl(QStyle.ControlElement.CE_ComboBoxLabel, look)

    def event(self, event: QEvent) -> bool:
        """The pointer rests: all the words, where the box has no tip of its own."""
        if isinstance(event, QHelpEvent) and event.type() == QEvent.Type.ToolTip and not self.toolTip():
            QToolTip.showText(event.globalPos(), self.currentText(), self)
            return True
        return super().event(event)
