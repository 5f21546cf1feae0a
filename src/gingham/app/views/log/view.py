"""The Log page: four pictures, words beneath, and what is done with the record."""

from __future__ import annotations

from PySide6.QtCore import Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import (
    QFrame,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QLayout,
    QLineEdit,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from gingham.app.look.appearance import Appearance
from gingham.app.look.theme import SIZES
from gingham.app.views.log.pictures import DaysPicture, TempoPicture, TodayPicture, WrongPicture
from gingham.app.widgets.parts import narrow_box, plain, quiet, row
from gingham.app.widgets.typed_line import NumberBox
from gingham.core.practice.session import LONGEST, SHORTEST
from gingham.language import tr
from gingham.words.log import SCOPES

_ENTER = ("\r", "\n")


class LogView(QWidget):
    """Parts only; `controller` decides."""

    start_wanted = Signal()

    def __init__(self, appearance: Appearance, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("root")
        self.today, self.tempo = TodayPicture(appearance), TempoPicture(appearance)
        self.days, self.wrong = DaysPicture(appearance), WrongPicture(appearance)
        self.scope = narrow_box(tr("Of which pieces"), list(SCOPES.items()))
        self.section = narrow_box(tr("Of which section"), [])
        self.minutes = NumberBox(tr("Minutes of the session"), SHORTEST, LONGEST)
        self.minutes.setSuffix(tr(" minutes"))
        self.start = QPushButton(tr("Start   Enter"))
        self.start.setProperty("main", True)
        self.due, self.said = plain(), plain()
        self.status = QLabel()
        self.status.setProperty("quiet", True)
        self.places = QLabel()
        self.note = QLineEdit()
        self.note.setPlaceholderText(tr("A note for today: Enter keeps it"))
        self.note.setAccessibleName(tr("A note for today"))
        self.notes = quiet()
        self.save, self.backup = QPushButton(tr("Save as…")), QPushButton(tr("Back up…"))
        self.save.setToolTip(tr("Everything that is kept, as CSV or JSON"))
        self.backup.setToolTip(tr("A whole copy of the record"))
        self.delete = QPushButton(tr("Delete…"))
        self.delete.setToolTip(tr("A range of days, or all"))
        self.report = QPushButton(tr("Report…"))
        self.report.setToolTip(
            tr("For a teacher: the sheet with the spots that were measured, as PDF or CSV")
        )
        self._lay_out()

    def _lay_out(self) -> None:
        grid = QGridLayout(self)
        grid.setContentsMargins(12, 4, 12, 8)
        grid.setSpacing(SIZES.gap)
        grid.addWidget(_panel(self.today, _wide(self.due, self.minutes, self.start)), 0, 0)
        grid.addWidget(_panel(self.tempo, row(tr("show"), self.scope, 1)), 0, 1)
        grid.addWidget(_panel(self.days, _wide(self.said)), 1, 0)
        grid.addWidget(_panel(self.wrong, row(self.section, self.places, 1)), 1, 1)
        low = QFrame()
        low.setProperty("panel", True)
        column = QVBoxLayout(low)
        column.setContentsMargins(10, 6, 10, 6)
        column.addLayout(row(self.note, self.report, self.save, self.backup, self.delete))
        column.addLayout(_wide(self.notes, self.status))
        grid.addWidget(low, 2, 0, 1, 2)
        for index in (0, 1):
            grid.setRowStretch(index, 1)
            grid.setColumnStretch(index, 1)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Enter starts the session."""
        if event.text() in _ENTER:
            self.start_wanted.emit()
        else:
            super().keyPressEvent(event)


def _wide(first: QWidget, *others: QWidget) -> QHBoxLayout:
    """The first part as wide as there is room."""
    line = QHBoxLayout()
    line.addWidget(first, 1)
    for other in others:
        line.addWidget(other)
    return line


def _panel(picture: QWidget, under: QLayout) -> QFrame:
    frame = QFrame()
    frame.setProperty("panel", True)
    column = QVBoxLayout(frame)
    column.setContentsMargins(1, 1, 1, 8)
    column.setSpacing(2)
    column.addWidget(picture, 1)
    under.setContentsMargins(12, 0, 12, 0)
    column.addLayout(under)
    return frame
