"""What both pictures over time have in common: scroll, cursor, playhead, keys, columns that are kept."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import QEvent, QLineF, QPointF, QRect, QRectF, Qt, Signal
from PySide6.QtGui import (
    QColor,
    QFocusEvent,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QRegion,
    QResizeEvent,
    QWheelEvent,
)
from PySide6.QtWidgets import QWidget

from gingham.app.look.appearance import Appearance, Dressed
from gingham.app.views.builder.still import Key, Still, device_rect
from gingham.app.widgets import marks
from gingham.app.widgets.geometry import Axis, Column
from gingham.app.widgets.speaking import Cell, heard, tell
from gingham.core.fitting.result import Result

_FINGER_KEYS = "pimac"
_STEPS = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}


class TimeCanvas(Dressed, QWidget):
    """A picture over the shared time axis. Says what the player wants; changes nothing itself."""

    column_chosen = Signal(int)
    finger_toggled = Signal(int, str)
    bass_chosen = Signal(int, int)
    accent_wanted = Signal(int)
    rest_wanted = Signal(int)
    play_wanted = Signal()
    scrolled = Signal(float)
    """Pixels by which the wheel wants to scroll."""

    def __init__(self, appearance: Appearance, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.wear(appearance)
        self.axis: Axis | None = None
        self.result: Result | None = None
        self.offset = 0.0
        self.column = 0
        self.playhead: float | None = None
        self._ground, self._marks = Still(), Still()
        self._stale = True
        self._above = QRegion()
        """Where something above the still picture has changed since it was painted."""
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)

    # What the view tells it.

    def show_result(self, result: Result, axis: Axis) -> None:
        """Another result on its axis."""
        self.result, self.axis = result, axis
        self.refresh()
        if self.hasFocus():
            self.tell_cursor()

    def restyle(self) -> None:
        """Another look: the whole picture again."""
        self.repaint_still()

    def set_offset(self, offset: float) -> None:
        """Scroll so that x = `offset` is at the left edge."""
        if offset != self.offset:
            self.offset = offset
            self.refresh()

    def set_column(self, column: int) -> None:
        """Put the cell cursor into a column."""
        if column != self.column:
            self.over(self.cursor_rect())
            self.column = column
            self.over(self.cursor_rect())

    def cells(self) -> list[Cell]:
        """The places in sight, each with what is there."""
        if self.axis is None or self.result is None:
            return []
        out = []
        for index in self.axis.columns_between(self.offset, self.offset + self.width() - 1):
            place = self.axis.columns[index]
            rect = QRect(round(place.x - self.offset), 0, round(place.width), self.height())
            out.append(Cell(self.told(place), rect, index == self.column))
        return out

    def told(self, place: Column) -> str:
        """What is at a place, in words."""
        raise NotImplementedError

    def tell_cursor(self) -> None:
        """Say where the cursor is, to whoever listens."""
        place = self.place(self.column)
        if place is not None and self.result is not None and heard():
            tell(self, self.told(place))

    def set_playhead(self, x: float | None) -> None:
        """Where the music is; None hides it. Only the two strips are painted again."""
        for place in (self.playhead, x):
            if place is not None:
                self.update(round(place - self.offset) - 4, 0, 8, self.height())
        self.playhead = x

    def refresh(self) -> None:
        """What is shown has changed: columns that differ are painted before the next picture."""
        if not self._stale:
            self._stale = True
            self.update()

    def repaint_still(self) -> None:
        """Drop everything that was kept."""
        self._ground.drop()
        self._marks.drop()
        self.refresh()

    def over(self, rect: QRectF) -> None:
        """Something in a layer above (in the axis' coordinates) has changed."""
        if not rect.isEmpty():
            area = rect.translated(-self.offset, 0).adjusted(-4, -4, 4, 4).toAlignedRect()
            self._above += area
            self.update(area)

    def show_now(self) -> None:
        """Paint what is new at once, not when the event loop comes to it; only where it differs."""
        if not self.isVisible():
            return
        for area in self._bring_up_to_date():
            self._above += area
        if not self._above.isEmpty():
            self.repaint(self._above)
        self._above = QRegion()

    # Painting.

    def paintEvent(self, event: QPaintEvent) -> None:
        """The kept picture, and the layers above it: what is chosen, cursor, drag, playhead."""
        self._bring_up_to_date()
        area, ratio = event.rect(), self.devicePixelRatioF()
        with marks.painting(self) as p:
            if self._marks.pixmap is None:
                p.fillRect(area, QColor(self.theme.panel))
                return
            for layer in (self._ground.pixmap, self._marks.pixmap):
                if layer is not None:
                    p.drawPixmap(QRectF(area), layer, device_rect(area, ratio))
            p.translate(-self.offset, 0)
            if self.axis is not None and self.result is not None:
                self.paint_above(p, self.axis)
            if self.playhead is not None:
                p.setPen(QPen(QColor(self.theme.ink), 2.0))
                p.drawLine(QLineF(self.playhead, 0, self.playhead, self.height()))

    def _bring_up_to_date(self) -> list[QRect]:
        """Paint the columns that differ into the kept layers; where that was, in the widget."""
        axis, result = self.axis, self.result
        if not self._stale or axis is None or result is None:
            return []
        self._stale = False
        columns = self.columns_seen(axis)
        look = (self.height(), self.width(), self.theme, axis, self.look(result))
        panel, clear = QColor(self.theme.panel), QColor(Qt.GlobalColor.transparent)
        where = (look, self.size(), self.devicePixelRatioF(), axis, self.offset)
        out: list[QRect] = []
        for layer, ground, keys, paint in (
            (self._ground, panel, self.ground_keys(axis, result, columns), self.paint_ground),
            (self._marks, clear, self.mark_keys(axis, result, columns), self.paint_marks),
        ):
            painted = layer.bring(*where, ground, keys, partial(paint, axis, result))
            out += [self.rect()] if painted is None else [area.toAlignedRect() for area in painted]
        return out

    def look(self, result: Result) -> object:
        """What every column depends on beside size and cloth."""
        raise NotImplementedError

    def ground_keys(self, axis: Axis, result: Result, columns: range) -> dict[int, Key]:
        """What the ground of each column shows: beats, strings, names."""
        raise NotImplementedError

    def mark_keys(self, axis: Axis, result: Result, columns: range) -> dict[int, Key]:
        """What is plucked in each column."""
        raise NotImplementedError

    def paint_ground(self, axis: Axis, result: Result, p: QPainter, columns: range) -> None:
        """What stays when a pluck changes; the painter is in the axis' coordinates."""
        raise NotImplementedError

    def paint_marks(self, axis: Axis, result: Result, p: QPainter, columns: range) -> None:
        """What is plucked."""
        raise NotImplementedError

    def paint_above(self, p: QPainter, axis: Axis) -> None:
        """What moves over the still picture: cursor, choice, drag."""
        raise NotImplementedError

    def cursor_rect(self) -> QRectF:
        """Where the cell cursor is, in the axis' coordinates; empty if there is none."""
        raise NotImplementedError

    def columns_seen(self, axis: Axis) -> range:
        """Indices of the columns that can be seen."""
        return axis.columns_between(self.offset, self.offset + self.width())

    def boxes_of(self, axis: Axis, columns: range) -> range:
        """Indices of the bars that some columns lie in."""
        if not columns:
            return range(0)
        return range(axis.columns[columns.start].box, axis.columns[columns.stop - 1].box + 1)

    def place(self, index: int) -> Column | None:
        """A column, None if there is none of that index."""
        if self.axis is None or not 0 <= index < len(self.axis.columns):
            return None
        return self.axis.columns[index]

    def resizeEvent(self, event: QResizeEvent) -> None:
        """A new size needs a new layer."""
        self.repaint_still()

    def changeEvent(self, event: QEvent) -> None:
        """Another font or style as well."""
        self.repaint_still()
        super().changeEvent(event)

    # Keys and mouse.

    def focusInEvent(self, event: QFocusEvent) -> None:
        """The cursor gets strong."""
        self.over(self.cursor_rect())
        super().focusInEvent(event)

    def focusOutEvent(self, event: QFocusEvent) -> None:
        """The cursor gets faint."""
        self.over(self.cursor_rect())
        super().focusOutEvent(event)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Move the cursor, edit the place under it, play."""
        if event.modifiers() & ~(Qt.KeyboardModifier.ShiftModifier | Qt.KeyboardModifier.KeypadModifier):
            event.ignore()
        elif event.key() == Qt.Key.Key_Space:
            self.play_wanted.emit()
        elif event.key() in _STEPS:
            self._step(_STEPS[Qt.Key(event.key())])
        elif event.key() in (Qt.Key.Key_Home, Qt.Key.Key_End):
            last = len(self.axis.columns) - 1 if self.axis is not None else 0
            self.column_chosen.emit(0 if event.key() == Qt.Key.Key_Home else max(0, last))
        elif not self._edit_key(event.text().lower()):
            super().keyPressEvent(event)

    def _edit_key(self, typed: str) -> bool:
        """An edit of the place under the cursor; false if the key means none."""
        if not typed or self.place(self.column) is None:
            return False
        if typed in _FINGER_KEYS:
            self.finger_toggled.emit(self.column, typed)
        elif typed in "123":
            self.bass_chosen.emit(self.column, int(typed))
        elif typed == "!":
            self.accent_wanted.emit(self.column)
        elif typed == ".":
            self.rest_wanted.emit(self.column)
        else:
            return False
        return True

    def _step(self, by: int) -> None:
        if self.place(self.column + by) is not None:
            self.column_chosen.emit(self.column + by)

    def wheelEvent(self, event: QWheelEvent) -> None:
        """The wheel scrolls in time."""
        turn = event.angleDelta().x() or event.angleDelta().y()
        self.scrolled.emit(-turn * 0.8)
        event.accept()

    def at(self, event: QMouseEvent) -> QPointF:
        """A mouse position in the axis' coordinates."""
        return event.position() + QPointF(self.offset, 0)
