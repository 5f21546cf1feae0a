"""The pattern: fingers over beats. Its own bars are strong, the repeats are ghosts that can be edited too."""

from __future__ import annotations

from PySide6.QtCore import QLineF, QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPen
from PySide6.QtWidgets import QWidget

from gingham.app.theme import Theme
from gingham.app.views.build import marks
from gingham.app.views.build.canvas import TimeCanvas
from gingham.app.views.build.geometry import FOOTER, Axis, Column, Lanes, lanes_for
from gingham.app.views.build.marks import Look
from gingham.core.fitting.result import Result
from gingham.core.patterns.pattern import Pattern, Pluck, Slot, Sweep
from gingham.core.patterns.shorthand import print_stroke
from gingham.words.names import short_syllable

Cell = tuple[int, str]


class PatternCanvas(TimeCanvas):
    """Which finger plays at which place of the beat grid."""

    finger_moved = Signal(int, str, int, str)
    """From column and finger to column and finger."""

    def __init__(self, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(theme, parent)
        self.finger = "p"
        self._pressed: Cell | None = None
        self._over: Cell | None = None
        self.setAccessibleName("Pattern: fingers over beats")
        self.setToolTip(
            "Click to put a finger in or take it out; drag to move it. Keys: P I M A C, 1 2 3, ! and ."
        )
        self.setMinimumHeight(94)

    def lanes(self) -> Lanes:
        """The rows of fingers at the present height."""
        pattern = self.result.pattern if self.result is not None else None
        return (
            lanes_for(pattern, self.height())
            if pattern is not None
            else Lanes(("a", "m", "i", "p"), self.height())
        )

    def slot(self, column: Column) -> Slot:
        """What the hand plays at a column (a variant of the pattern where the chord asks for one)."""
        assert self.result is not None
        return played(self.result, column).slots[column.slot]

    # Painting.

    def paint_still(self, p: QPainter, axis: Axis, result: Result) -> None:
        """Ground, then bar by bar what can be seen, the cursor last."""
        lanes, seen = self.lanes(), self.visible()
        boxes = axis.boxes_between(seen.left(), seen.right())
        shown = axis.bars[boxes.start : boxes.stop]
        columns = axis.columns[shown[0].first : shown[-1].last + 1] if shown else []
        self._paint_ground(p, columns, lanes)
        for box in shown:
            marks.shade(p, box.x, 0, 1, lanes.bottom, QColor(self.theme.string))
        self._paint_breaks(p, columns, lanes)
        for column in columns:
            self._paint_slot(p, column, lanes)
            self._paint_count(p, column, lanes)
        self._paint_drag(p, axis, lanes)
        self._paint_cursor(p, lanes)

    def _paint_ground(self, p: QPainter, columns: list[Column], lanes: Lanes) -> None:
        """The beats shaded, a thread of its dye for each finger."""
        if not columns:
            return
        beat = marks.laid_over(self.theme.panel, self.theme.check)
        for column in columns:
            if column.on_beat:
                marks.shade(p, column.x, 0, column.width, lanes.bottom, beat)
        left, right = columns[0].x, columns[-1].x + columns[-1].width
        for finger in lanes.fingers:
            dye = self.theme.finger(finger)
            dye.setAlpha(120)
            y = round(lanes.y(finger))
            p.fillRect(round(left), y, round(right - left), 1, dye)

    def _paint_breaks(self, p: QPainter, columns: list[Column], lanes: Lanes) -> None:
        """A dashed line where the pattern may be cut."""
        assert self.result is not None
        pen = QPen(QColor(self.theme.quiet), 1.2)
        pen.setDashPattern([3.0, 3.0])
        p.setPen(pen)
        for column in columns:
            if column.slot in self.result.pattern.breaks:
                p.drawLine(QLineF(column.x, 0, column.x, lanes.bottom))

    def _paint_slot(self, p: QPainter, column: Column, lanes: Lanes) -> None:
        look = Look.FULL if column.own else Look.GHOST
        slot = self.slot(column)
        plucks = [s for s in slot if isinstance(s, Pluck)]
        fingers = sorted({s.finger for s in plucks}, key=lanes.y)
        if len(fingers) > 1:
            dyes = (self.theme.finger(fingers[0]), self.theme.finger(fingers[-1]))
            marks.woven(p, column.middle, lanes.y(fingers[0]), lanes.y(fingers[-1]), dyes, look is Look.GHOST)
        for pluck in plucks:
            self._paint_pluck(p, column, pluck, lanes, look)
        for stroke in slot:
            if isinstance(stroke, Sweep):
                self._paint_sweep(p, column, stroke, lanes, look)
        if not slot:
            self._paint_rest(p, column, lanes)

    def _paint_pluck(self, p: QPainter, column: Column, pluck: Pluck, lanes: Lanes, look: Look) -> None:
        rect = marks.mark_rect(column.middle, lanes.y(pluck.finger), lanes.step)
        marks.finger_mark(p, rect, self.theme, pluck.finger, (_word(pluck),), look)
        if pluck.lane is not None:
            marks.bass_underline(p, rect, self.theme, pluck.lane, look)
        if pluck.accent:
            marks.accent_sign(p, rect, self.theme, pluck.accent)

    def _paint_sweep(self, p: QPainter, column: Column, sweep: Sweep, lanes: Lanes, look: Look) -> None:
        """A brush takes the whole hand: one tall mark over the fingers (the thumb's in its row)."""
        if sweep.kind == "thumb-brush":
            rect = marks.mark_rect(column.middle, lanes.y("p"), lanes.step)
        else:
            top = marks.mark_rect(column.middle, lanes.y(lanes.fingers[0]), lanes.step)
            rect = top.united(marks.mark_rect(column.middle, lanes.y("i"), lanes.step))
        finger = "p" if sweep.kind == "thumb-brush" else "i"
        marks.finger_mark(p, rect, self.theme, finger, (print_stroke(sweep).rstrip("!"),), look)
        if sweep.accent:
            marks.accent_sign(p, rect, self.theme, sweep.accent)

    def _paint_rest(self, p: QPainter, column: Column, lanes: Lanes) -> None:
        """An empty place is part of the groove and is drawn."""
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(QColor(self.theme.quiet))
        p.drawEllipse(QPointF(column.middle, lanes.y("p")), 2.6, 2.6)

    def _paint_count(self, p: QPainter, column: Column, lanes: Lanes) -> None:
        ink = self.theme.ink if column.on_beat else self.theme.quiet
        rect = QRectF(column.middle - 20, lanes.bottom + 1, 40, FOOTER - 2)
        marks.stamped(p, rect, short_syllable(column.syllable), ink, 13, column.on_beat)

    def _paint_cursor(self, p: QPainter, lanes: Lanes) -> None:
        column = self.place(self.column)
        if column is not None and self.finger in lanes.fingers:
            rect = marks.mark_rect(column.middle, lanes.y(self.finger), lanes.step + 4).adjusted(-3, -3, 3, 3)
            marks.cursor(p, rect, self.theme, self.hasFocus())

    def _paint_drag(self, p: QPainter, axis: Axis, lanes: Lanes) -> None:
        """Where a dragged pluck would go."""
        if self._pressed is None or self._over in (None, self._pressed) or self._over is None:
            return
        column = axis.columns[self._over[0]]
        rect = marks.mark_rect(column.middle, lanes.y(self._over[1]), lanes.step)
        marks.finger_mark(p, rect, self.theme, self._over[1], (self._over[1],), Look.LEFT_OUT)

    # Mouse and keys.

    def _cell(self, event: QMouseEvent) -> Cell | None:
        if self.axis is None:
            return None
        where = self.at(event)
        column = self.axis.column_at(where.x())
        return None if column is None else (column, self.lanes().finger_at(where.y()))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """The cursor goes there; what follows decides between click and drag."""
        cell = self._cell(event)
        if event.button() != Qt.MouseButton.LeftButton or cell is None:
            return
        self.finger = cell[1]
        self._pressed = self._over = cell
        self.column_chosen.emit(cell[0])

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """Show where a dragged pluck would go."""
        if self._pressed is not None:
            cell = self._cell(event)
            if cell is not None and cell != self._over:
                self._over = cell
                self.repaint_still()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        """A click toggles, a drag of a pluck moves it."""
        pressed, over = self._pressed, self._over
        self._pressed = self._over = None
        if pressed is None or over is None:
            return
        if pressed == over:
            self.finger_toggled.emit(*pressed)
        elif self.plays(*pressed):
            self.finger_moved.emit(*pressed, *over)
        self.repaint_still()

    def plays(self, column: int, finger: str) -> bool:
        """Whether a finger plucks at a column."""
        place = self.place(column)
        return place is not None and any(
            isinstance(s, Pluck) and s.finger == finger for s in self.slot(place)
        )

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Up and down go to another finger, Enter toggles it, Escape leaves a drag."""
        fingers = self.lanes().fingers
        if event.key() == Qt.Key.Key_Escape and self._pressed is not None:
            self._pressed = self._over = None
            self.repaint_still()
        elif event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down) and not event.modifiers():
            by = -1 if event.key() == Qt.Key.Key_Up else 1
            index = fingers.index(self.finger) if self.finger in fingers else len(fingers) - 1
            self.finger = fingers[min(max(0, index + by), len(fingers) - 1)]
            self.repaint_still()
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and not event.modifiers():
            self.finger_toggled.emit(self.column, self.finger)
        else:
            super().keyPressEvent(event)


def played(result: Result, column: Column) -> Pattern:
    """The pattern as it is played on a column's chord: itself, or the variant that the chord asks for."""
    assignment = result.spans[column.span].assignment
    return result.pattern if assignment is None else result.pattern.as_variant(assignment.variant)


def _word(pluck: Pluck) -> str:
    """What a mark says: the finger, and whatever the pattern fixes beyond it."""
    shown = print_stroke(pluck).rstrip("!")
    return shown if pluck.lane is None else shown[0] + shown[2:]
