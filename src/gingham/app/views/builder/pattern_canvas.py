"""The pattern: fingers over beats. Its own bars are strong, the repeats are ghosts that can be edited too."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QLineF, QRectF, Qt, Signal
from PySide6.QtGui import QColor, QHelpEvent, QKeyEvent, QMouseEvent, QPainter, QPen
from PySide6.QtWidgets import QToolTip, QWidget

from gingham.app.look.appearance import Appearance
from gingham.app.views.builder.canvas import TimeCanvas
from gingham.app.views.builder.still import Key
from gingham.app.widgets import marks
from gingham.app.widgets.geometry import FOOTER, Axis, Column, Lanes, lanes_for
from gingham.app.widgets.marks import Look
from gingham.app.widgets.slot_marks import paint_slot
from gingham.core.fitting.result import Result
from gingham.core.fitting.strokes import IMPOSSIBLE
from gingham.core.patterns.pattern import Pattern, Pluck, Slot, Sweep
from gingham.core.patterns.shorthand import print_stroke
from gingham.core.pieces.piece import standing_rules
from gingham.core.reasons import Problem
from gingham.language import tr
from gingham.words.names import FINGER_NAMES
from gingham.words.reasons import problem_text

Cell = tuple[int, str]
SIGNS = ("d", "u", "~", "k", "^", "_", ">", ";")
_SHIFT_OR_PAD = Qt.KeyboardModifier.ShiftModifier | Qt.KeyboardModifier.KeypadModifier
_SHIFTED = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}
_CLIPBOARD = {Qt.Key.Key_C: "copy", Qt.Key.Key_X: "cut", Qt.Key.Key_V: "paste", Qt.Key.Key_A: "all"}
_PLACE_KEYS = {
    Qt.Key.Key_Insert: "insert",
    Qt.Key.Key_Delete: "clear",
    Qt.Key.Key_Backspace: "clear",
}


class PatternCanvas(TimeCanvas):
    """Which finger plays at which place of the beat grid."""

    finger_moved = Signal(int, str, int, str)
    """From column and finger to column and finger."""
    sign_typed = Signal(str)
    """A sign of the shorthand for the chosen places: a brush, an ornament, a break point."""
    shift_wanted = Signal(int)
    """The finger at the cursor, or the sweep's far end, so many strings over."""
    edit_wanted = Signal(str)
    """`copy`, `cut`, `paste`, `insert`, `delete` or `clear` for the chosen places."""

    def __init__(self, appearance: Appearance, parent: QWidget | None = None) -> None:
        super().__init__(appearance, parent)
        self.finger = "p"
        self._lanes: tuple[Result, Lanes] | None = None
        self._pressed: Cell | None = None
        self._over: Cell | None = None
        self.anchor: int | None = None
        """Where the chosen places begin (the cursor is where they end); None: the cursor's place alone."""
        self._choosing = False
        self.slow_slot: int | None = None
        """The place of the pattern at which the top speed is set."""
        self.setAccessibleName(tr("Pattern: fingers over beats"))
        self.setToolTip(
            tr(
                "Click to put a finger in or take it out; drag to move it; drag from an empty place, or "
                "Shift and arrows, to choose places. Keys: P I M A C, 1 2 3, ! . and the signs of the "
                "shorthand (F1)"
            )
        )
        self.setMinimumHeight(82)

    def lanes(self) -> Lanes:
        """The rows of fingers at the present height."""
        if self.result is None:
            return Lanes(("a", "m", "i", "p"), self.height())
        known = self._lanes
        if known is None or known[0] is not self.result or known[1].height != self.height():
            self._lanes = known = (self.result, lanes_for(self.result.patterns(), self.height()))
        return known[1]

    def slot(self, column: Column) -> Slot:
        """What the hand plays at a column (a variant of the pattern where the chord asks for one)."""
        assert self.result is not None
        return played(self.result, column).slots[column.slot]

    def told(self, place: Column) -> str:
        """`Bar 2 at 1&: index`, the pattern's own place or a repeat of it."""
        plucks = (s for s in self.slot(place) if isinstance(s, Pluck))
        accent = ("", tr(" accented"), tr(" strongly accented"))
        fingers = [f"{FINGER_NAMES[s.finger]}{accent[s.accent]}" for s in plucks]
        others = [print_stroke(s) for s in self.slot(place) if not isinstance(s, Pluck)]
        what = ", ".join([*fingers, *others]) or tr("rest")
        return tr(
            "bar {bar} at {syllable}: {what}{again}",
            bar=place.bar,
            syllable=place.syllable,
            what=what,
            again="" if place.own else tr(", again"),
        )

    def chosen(self) -> range:
        """The columns that the player has chosen: the cursor's alone, or from the anchor to it."""
        other = self.column if self.anchor is None else self.anchor
        return range(min(other, self.column), max(other, self.column) + 1)

    def choose(self, anchor: int | None, column: int) -> None:
        """Choose the columns from `anchor` to `column`."""
        self._choosing = True
        self.column_chosen.emit(column)
        self._choosing = False
        self.anchor = anchor
        self.update()

    def set_column(self, column: int) -> None:
        """Put the cursor into a column; a choice that was made before ends."""
        if not self._choosing and column != self.column:
            self.anchor = None
        super().set_column(column)

    def show_slow(self, slot: int | None) -> None:
        """Mark the place at which the top speed is set."""
        if slot != self.slow_slot:
            self.slow_slot = slot
            self.refresh()

    # Painting.

    def look(self, result: Result) -> object:
        """The rows of fingers."""
        return self.lanes()

    def ground_keys(self, axis: Axis, result: Result, columns: range) -> dict[int, Key]:
        """Where the pattern may be cut (the dashes lie on the edge); beats and counts are the axis' own."""
        out: dict[int, Key] = {}
        for index in columns:
            cut = axis.columns[index].slot in pattern_at(result, axis.columns[index]).breaks
            out[index] = (cut, cut)
        return out

    def mark_keys(self, axis: Axis, result: Result, columns: range) -> dict[int, Key]:
        """What the hand does at each place, and what is wrong with it."""
        patterns: dict[tuple[int, int], Pattern] = {}
        out: dict[int, Key] = {}
        picks = self.hand() == "pick"
        for index in columns:
            column = axis.columns[index]
            key = (column.box, column.span)
            if key not in patterns:
                patterns[key] = played(result, column)
            slow = column.own and column.slot == self.slow_slot and not self._in_own_bar(column)
            faulty = bool(result.bars[column.box].problems) and bool(self.faults(column))
            slot = patterns[key].slots[column.slot]
            pick = self.pick(column) if picks else None
            out[index] = ((slot, column.own, faulty, slow, pick), faulty or slow)
        return out

    def paint_ground(self, axis: Axis, result: Result, p: QPainter, columns: range) -> None:
        """Beats, threads, bar lines, break points, the count."""
        lanes, some = self.lanes(), axis.columns[columns.start : columns.stop]
        self._paint_ground(p, some, lanes)
        for index in self.boxes_of(axis, columns):
            marks.shade(p, axis.bars[index].x, 0, 1, lanes.bottom, QColor(self.theme.string))
        self._paint_breaks(p, some, lanes)
        for column in some:
            self._paint_count(p, column, lanes)

    def paint_marks(self, axis: Axis, result: Result, p: QPainter, columns: range) -> None:
        """Place by place."""
        lanes = self.lanes()
        for column in axis.columns[columns.start : columns.stop]:
            self._paint_slot(p, column, lanes)

    def paint_above(self, p: QPainter, axis: Axis) -> None:
        """The chosen places, a pluck that is dragged, the cursor."""
        lanes = self.lanes()
        self._paint_chosen(p, axis, lanes)
        self._paint_drag(p, axis, lanes)
        if not (rect := self.cursor_rect()).isEmpty():
            marks.cursor(p, rect, self.theme, self.hasFocus())

    def cursor_rect(self) -> QRectF:
        """Around the mark at the cursor's place and finger."""
        column, lanes = self.place(self.column), self.lanes()
        if column is None or self.finger not in lanes.fingers:
            return QRectF()
        rect = marks.mark_rect(column.middle, lanes.y(self.finger), lanes.step + 4)
        return rect.adjusted(-3, -3, 3, 3)

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

    def _paint_chosen(self, p: QPainter, axis: Axis, lanes: Lanes) -> None:
        """A cloth laid over the chosen places."""
        chosen = self.chosen()
        if self.anchor is None or chosen[-1] >= len(axis.columns):
            return
        first, last = axis.columns[chosen[0]], axis.columns[chosen[-1]]
        colour = QColor(self.theme.accent)
        colour.setAlpha(46)
        p.fillRect(QRectF(first.x, 0, last.x + last.width - first.x, lanes.bottom), colour)

    def _paint_slow(self, p: QPainter, column: Column, lanes: Lanes) -> None:
        """The bottleneck: a bracket over the place, and an exclamation mark."""
        top = lanes.y(lanes.fingers[0]) - lanes.step / 2 + 1
        p.setPen(QPen(QColor(self.theme.fault), 2.0))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawRoundedRect(QRectF(column.middle - 15, top, 30, lanes.bottom - top - 1), 7, 7)

    def _paint_breaks(self, p: QPainter, columns: list[Column], lanes: Lanes) -> None:
        """A dashed line where the pattern may be cut."""
        assert self.result is not None
        pen = QPen(QColor(self.theme.quiet), 1.2)
        pen.setDashPattern([3.0, 3.0])
        p.setPen(pen)
        for column in columns:
            if column.slot in pattern_at(self.result, column).breaks:
                p.drawLine(QLineF(column.x, 0, column.x, lanes.bottom))

    def _paint_slot(self, p: QPainter, column: Column, lanes: Lanes) -> None:
        look = Look.FULL if column.own else Look.GHOST
        paint_slot(p, self.theme, self.slot(column), column.middle, lanes, look, self.pick(column))
        if self.faults(column):
            top = lanes.y(lanes.fingers[0]) - lanes.step / 2
            marks.fault_badge(p, QRectF(column.middle + 7, top, 12, 12), self.theme)
        if column.own and column.slot == self.slow_slot and not self._in_own_bar(column):
            self._paint_slow(p, column, lanes)

    def _in_own_bar(self, column: Column) -> bool:
        """Whether a column lies in a bar that has a pattern of its own."""
        result = self.result
        return result is not None and bool(result.bars) and result.bars[column.box].pattern is not None

    def _paint_count(self, p: QPainter, column: Column, lanes: Lanes) -> None:
        ink = self.theme.ink if column.on_beat else self.theme.quiet
        rect = QRectF(column.middle - 20, lanes.bottom + 1, 40, FOOTER - 2)
        numbered = self.axis is not None and self.theme.naming.counts == "places"
        place = column_place(self.axis, column) if numbered and self.axis is not None else 0
        words = self.theme.naming.syllable(column.syllable, place)
        marks.stamped(p, rect, words, ink, 13, column.on_beat)

    def _paint_drag(self, p: QPainter, axis: Axis, lanes: Lanes) -> None:
        """Where a dragged pluck would go."""
        if self._pressed is None or self._over in (None, self._pressed) or self._over is None:
            return
        column = axis.columns[self._over[0]]
        rect = marks.mark_rect(column.middle, lanes.y(self._over[1]), lanes.step)
        marks.finger_mark(
            p, rect, self.theme, self._over[1], (self.theme.naming.finger(self._over[1]),), Look.LEFT_OUT
        )

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
        if event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
            self.choose(self.column if self.anchor is None else self.anchor, cell[0])
            return
        self._pressed = self._over = cell
        self.choose(None, cell[0])

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """Show where a dragged pluck would go."""
        if self._pressed is not None:
            cell = self._cell(event)
            if cell is not None and cell != self._over:
                self._over = cell
                if not (self.plays(*self._pressed) or self.sweeps(*self._pressed)):
                    self.choose(self._pressed[0], cell[0])
                self.update()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        """A click toggles, a drag of a pluck moves it, a drag from an empty place has chosen places."""
        pressed, over = self._pressed, self._over
        self._pressed = self._over = None
        if pressed is None or over is None:
            return
        if pressed == over:
            self.finger_toggled.emit(*pressed)
        elif self.plays(*pressed) or self.sweeps(*pressed):
            self.finger_moved.emit(*pressed, *over)
        self.update()

    def plays(self, column: int, finger: str) -> bool:
        """Whether a finger plucks at a column."""
        place = self.place(column)
        return place is not None and any(
            isinstance(s, Pluck) and s.finger == finger for s in self.slot(place)
        )

    def sweeps(self, column: int, finger: str) -> bool:
        """Whether a brush or chuck covers a finger's row at a column."""
        place = self.place(column)
        kinds = [s.kind for s in self.slot(place) if isinstance(s, Sweep)] if place is not None else []
        return any((kind == "thumb-brush") == (finger == "p") for kind in kinds)

    def hand(self) -> str:
        """What plucks in this section: a hand of fingers, or a flat pick."""
        if self.result is None:
            return "pima"
        return standing_rules(self.result.piece, self.result.section).hand

    def pick(self, column: Column) -> str | None:
        """The direction of a flat pick at a place; None for fingers."""
        if self.result is None:
            return None
        at = self.result.bars[column.box].events
        return next((e.pick for e in at if e.slot == column.slot and e.at == column.at and e.pick), None)

    def faults(self, column: Column) -> list[Problem]:
        """What cannot be played at a column as it stands."""
        if self.result is None:
            return []
        problems = self.result.bars[column.box].problems
        return [p for p in problems if p.at == column.at and p.code in IMPOSSIBLE]

    def event(self, event: QEvent) -> bool:
        """What is in the way at the place under the mouse, where there is something."""
        if isinstance(event, QHelpEvent) and event.type() == QEvent.Type.ToolTip and self.axis is not None:
            index = self.axis.column_at(event.pos().x() + self.offset)
            found = self.faults(self.axis.columns[index]) if index is not None else []
            if found:
                QToolTip.showText(event.globalPos(), "\n".join(map(problem_text, found)), self)
                return True
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Up and down go to another finger, Enter toggles it, Escape leaves a drag or a choice."""
        fingers = self.lanes().fingers
        if event.key() == Qt.Key.Key_Escape and (self._pressed or self.anchor) is not None:
            self._pressed = self._over = None
            self.choose(None, self.column)
        elif self._choosing_key(event) or self._place_key(event):
            return
        elif event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down) and not event.modifiers():
            by = -1 if event.key() == Qt.Key.Key_Up else 1
            index = fingers.index(self.finger) if self.finger in fingers else len(fingers) - 1
            self.finger = fingers[min(max(0, index + by), len(fingers) - 1)]
            self.update()
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and not event.modifiers():
            self.finger_toggled.emit(self.column, self.finger)
        else:
            super().keyPressEvent(event)

    def _choosing_key(self, event: QKeyEvent) -> bool:
        """Shift with the arrows chooses places; arrows alone end the choice. True if the key is used up."""
        key, shift = Qt.Key(event.key()), bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
        last = len(self.axis.columns) - 1 if self.axis is not None else 0
        aims = {
            Qt.Key.Key_Left: self.column - 1,
            Qt.Key.Key_Right: self.column + 1,
            Qt.Key.Key_Home: 0,
            Qt.Key.Key_End: last,
        }
        if key not in aims or event.modifiers() & ~_SHIFT_OR_PAD:
            return False
        if not shift:
            self.anchor = None
            return False
        if 0 <= aims[key] <= last:
            self.choose(self.column if self.anchor is None else self.anchor, aims[key])
        return True

    def _place_key(self, event: QKeyEvent) -> bool:
        """Keys for the chosen places: clipboard, insert and delete, signs of the shorthand, strings over."""
        key, modifiers = Qt.Key(event.key()), event.modifiers()
        if modifiers & Qt.KeyboardModifier.ControlModifier:
            what = _CLIPBOARD.get(key)
        elif modifiers & Qt.KeyboardModifier.ShiftModifier and key in _SHIFTED:
            self.shift_wanted.emit(_SHIFTED[key])
            return True
        elif modifiers & Qt.KeyboardModifier.ShiftModifier and key == Qt.Key.Key_Delete:
            what = "delete"
        else:
            what = _PLACE_KEYS.get(key)
        if what is not None:
            self.edit_wanted.emit(what)
        elif event.text() in SIGNS and self.place(self.column) is not None:
            self.sign_typed.emit(event.text())
        else:
            return False
        return True


def column_place(axis: Axis, column: Column) -> int:
    """The number of places since the bar line."""
    first = axis.bars[column.box].first
    return axis.columns.index(column, first) - first


def played(result: Result, column: Column) -> Pattern:
    """The pattern as it is played on a column's chord: itself, or the variant that the chord asks for."""
    assignment = result.spans[column.span].assignment
    pattern = pattern_at(result, column)
    return pattern if assignment is None else pattern.as_variant(assignment.variant)


def pattern_at(result: Result, column: Column) -> Pattern:
    """The pattern of a column's bar: the section's, or the bar's own."""
    return result.pattern_in(result.bars[column.box]) if result.bars else result.pattern
