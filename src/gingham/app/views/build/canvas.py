"""What both pictures over time have in common: scroll, cell cursor, playhead, keys, a cached still layer."""

from __future__ import annotations

from math import ceil

from PySide6.QtCore import QEvent, QLineF, QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import (
    QColor,
    QFocusEvent,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QPixmap,
    QResizeEvent,
    QWheelEvent,
)
from PySide6.QtWidgets import QWidget

from gingham.app.theme import Theme
from gingham.app.views.build import marks
from gingham.app.views.build.geometry import Axis, Column
from gingham.core.fitting.result import Result

_FINGER_KEYS = "pimac"
_STEPS = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}


class TimeCanvas(QWidget):
    """A picture over the shared time axis. Says what the player wants; changes nothing itself."""

    column_chosen = Signal(int)
    finger_toggled = Signal(int, str)
    bass_chosen = Signal(int, int)
    accent_wanted = Signal(int)
    rest_wanted = Signal(int)
    play_wanted = Signal()
    scrolled = Signal(float)
    """Pixels by which the wheel wants to scroll."""

    def __init__(self, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.theme = theme
        self.axis: Axis | None = None
        self.result: Result | None = None
        self.offset = 0.0
        self.column = 0
        self.playhead: float | None = None
        self._still: QPixmap | None = None
        self._ground: tuple[object, QPixmap] | None = None
        self._still_size = QSize()
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)

    # What the view tells it.

    def show_result(self, result: Result, axis: Axis) -> None:
        """Another result on its axis."""
        self.result, self.axis = result, axis
        self.repaint_still()

    def set_theme(self, theme: Theme) -> None:
        """Another cloth."""
        self.theme = theme
        self.repaint_still()

    def set_offset(self, offset: float) -> None:
        """Scroll so that x = `offset` is at the left edge."""
        if offset != self.offset:
            self.offset = offset
            self.repaint_still()

    def set_column(self, column: int) -> None:
        """Put the cell cursor into a column."""
        if column != self.column:
            self.column = column
            self.repaint_still()

    def set_playhead(self, x: float | None) -> None:
        """Where the music is; None hides it. Only the two strips are painted again."""
        for place in (self.playhead, x):
            if place is not None:
                self.update(round(place - self.offset) - 4, 0, 8, self.height())
        self.playhead = x

    def repaint_still(self) -> None:
        """Drop the cached layer."""
        self._still = None
        self.update()

    def show_now(self) -> None:
        """Paint what is new at once, not when the event loop comes to it."""
        if self._still is None:
            self.repaint()

    # Painting.

    def paintEvent(self, event: QPaintEvent) -> None:
        """The still layer from the cache, the playhead on top."""
        if self._still is None or self._still_size != self.size():
            self._still, self._still_size = self._make_still(), self.size()
        with marks.painting(self) as p:
            p.drawPixmap(0, 0, self._still)
            if self.playhead is not None:
                x = self.playhead - self.offset
                p.setPen(QPen(QColor(self.theme.ink), 2.0))
                p.drawLine(QLineF(x, 0, x, self.height()))

    def _make_still(self) -> QPixmap:
        """The ground, kept as long as nothing it shows has changed, and on it what the result says."""
        if self.axis is None or self.result is None:
            return self._empty_layer()
        axis, result = self.axis, self.result
        look = (self.offset, self.width(), self.height(), self.devicePixelRatioF(), self.theme, id(axis))
        key = (look, self.ground_of(axis, result))
        if self._ground is None or self._ground[0] != key:
            ground = self._empty_layer()
            with marks.painting(ground) as p:
                p.translate(-self.offset, 0)
                self.paint_ground(p, axis, result)
            self._ground = (key, ground)
        layer = QPixmap(self._ground[1])
        with marks.painting(layer) as p:
            p.translate(-self.offset, 0)
            self.paint_still(p, axis, result)
        return layer

    def _empty_layer(self) -> QPixmap:
        ratio = self.devicePixelRatioF()
        layer = QPixmap(QSize(ceil(self.width() * ratio), ceil(self.height() * ratio)))
        layer.setDevicePixelRatio(ratio)
        layer.fill(QColor(self.theme.panel))
        return layer

    def ground_of(self, axis: Axis, result: Result) -> object:
        """What the ground depends on beside size, place and cloth."""
        raise NotImplementedError

    def paint_ground(self, p: QPainter, axis: Axis, result: Result) -> None:
        """What stays when a pluck changes; the painter is in the axis' coordinates."""
        raise NotImplementedError

    def paint_still(self, p: QPainter, axis: Axis, result: Result) -> None:
        """Everything else that does not move while playing."""
        raise NotImplementedError

    def seen(self, axis: Axis) -> range:
        """Indices of the bars that can be seen."""
        area = self.visible()
        return axis.boxes_between(area.left(), area.right())

    def visible(self) -> QRectF:
        """What can be seen, in the axis' coordinates."""
        return QRectF(self.offset, 0, self.width(), self.height())

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
        self._still = self._ground = None
        super().changeEvent(event)

    # Keys and mouse.

    def focusInEvent(self, event: QFocusEvent) -> None:
        """The cursor gets strong."""
        self.repaint_still()
        super().focusInEvent(event)

    def focusOutEvent(self, event: QFocusEvent) -> None:
        """The cursor gets faint."""
        self.repaint_still()
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
