"""The list of stages under the names of their sections, each with its dots at the right."""

from __future__ import annotations

from PySide6.QtCore import QModelIndex, QPersistentModelIndex, QRect, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QPainter, QResizeEvent
from PySide6.QtWidgets import (
    QListWidget,
    QStyle,
    QStyledItemDelegate,
    QStyleOptionViewItem,
)

from gingham.app.look.appearance import Appearance
from gingham.app.widgets.headed_list import NUMBER, HeadedList
from gingham.language import tr

_STEP = 4
_DOTS = NUMBER + 1
_DOTS_WIDE = 44
_LETTERS = "CNHTESKOMLRAP"
_ENTER = (Qt.Key.Key_Return, Qt.Key.Key_Enter)


class _Row(QStyledItemDelegate):
    """The words, and dots at the right edge in a place of their own."""

    def __init__(self, appearance: Appearance, parent: QListWidget) -> None:
        super().__init__(parent)
        self._appearance = appearance

    def paint(
        self, painter: QPainter, option: QStyleOptionViewItem, index: QModelIndex | QPersistentModelIndex
    ) -> None:
        """The row as usual, its words kept clear of the dots."""
        dots = index.data(_DOTS)
        if not dots:
            super().paint(painter, option, index)
            return
        whole = QRect(option.rect)
        chosen = bool(option.state & QStyle.StateFlag.State_Selected)
        theme = self._appearance.theme
        if chosen:
            painter.fillRect(whole, QColor(theme.accent))
        option.rect = whole.adjusted(0, 0, -_DOTS_WIDE, 0)
        super().paint(painter, option, index)
        painter.setPen(QColor(theme.on_accent) if chosen else theme.finger("a"))
        place = whole.adjusted(whole.width() - _DOTS_WIDE, 0, -6, 0)
        painter.drawText(place, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, dots)


class StageList(HeadedList):
    """Stages to choose from.

    Space plays (or stops), Enter or the pedal goes on in the session, D marks as done, + and − change the
    stage's tempo; the other letters belong to the page.
    """

    play_wanted = Signal()
    done_wanted = Signal()
    go_on_wanted = Signal()
    give_up_wanted = Signal()
    delete_wanted = Signal()
    faster_wanted = Signal(int)
    pedal_chosen = Signal(int)
    """The key that the pedal sends, once it has been asked for."""
    stage_chosen = Signal(int)

    def __init__(self, appearance: Appearance) -> None:
        super().__init__(tr("Stages, in order"))
        self.setMinimumHeight(96)
        self.pedal = int(Qt.Key.Key_PageDown)
        """The key of a pedal: it goes on as Enter does."""
        self.asks_pedal = False
        self.setItemDelegate(_Row(appearance, self))
        self.currentRowChanged.connect(lambda _row: self.stage_chosen.emit(self.stage))

    def fill(self, rows: list[tuple[str, list[tuple[str, str]]]]) -> None:
        """Each section's name with its stages (words and dots); no name where there is one section."""
        self.clear()
        index = 0
        for name, stages in rows:
            if len({each for each, _ in rows}) > 1:
                self.add_heading(name)
            for words, dots in stages:
                item = self.add_row(words, index)
                item.setData(_DOTS, dots)
                item.setData(Qt.ItemDataRole.AccessibleTextRole, f"{words} {dots}".strip())
                index += 1

    def dots(self, row: int) -> str:
        """The dots of a row."""
        return str(self.item(row).data(_DOTS) or "")

    @property
    def stage(self) -> int:
        """The index of the chosen stage; −1 for none."""
        return self.number

    def choose(self, stage: int) -> None:
        """Choose a stage by its index."""
        for row in range(self.count()):
            if self.item(row).data(NUMBER) == stage:
                self.setCurrentRow(row)
                self.scrollToItem(self.item(row))
                return

    def meaning(self, event: QKeyEvent) -> str:
        """The letter of the page that a key is; empty for any other."""
        plain = event.modifiers() in (Qt.KeyboardModifier.NoModifier, Qt.KeyboardModifier.ShiftModifier)
        letter = event.text().upper()
        return letter if plain and len(letter) == 1 and letter in _LETTERS else ""

    def resizeEvent(self, event: QResizeEvent) -> None:
        """What is chosen stays in sight."""
        super().resizeEvent(event)
        self.scrollToItem(self.currentItem())

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Its own keys; the page's letters go on to the page; the arrows as in any list."""
        if self.asks_pedal:
            self.asks_pedal = False
            self.pedal_chosen.emit(event.key())
        elif event.key() == Qt.Key.Key_Space:
            self.play_wanted.emit()
        elif event.key() in (*_ENTER, self.pedal):
            self.go_on_wanted.emit()
        elif event.key() == Qt.Key.Key_Escape:
            self.give_up_wanted.emit()
        elif event.key() == Qt.Key.Key_Delete:
            self.delete_wanted.emit()
        elif event.key() == Qt.Key.Key_D:
            self.done_wanted.emit()
        elif event.text() in ("+", "-"):
            self.faster_wanted.emit(_STEP if event.text() == "+" else -_STEP)
        elif self.meaning(event):
            event.ignore()
        else:
            super().keyPressEvent(event)
