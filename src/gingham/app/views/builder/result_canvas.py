"""What you play: strings over beats, with the thumb's ribbon, woven pinches, chord names and bar numbers."""

from __future__ import annotations

from fractions import Fraction
from itertools import groupby, pairwise

from PySide6.QtCore import QEvent, QPoint, QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QColor, QHelpEvent, QKeyEvent, QMouseEvent, QPainter, QPen
from PySide6.QtWidgets import QToolTip, QWidget

from gingham.app.look.appearance import Appearance
from gingham.app.views.builder.canvas import TimeCanvas
from gingham.app.views.builder.still import Key
from gingham.app.widgets import marks
from gingham.app.widgets.geometry import HEADER, Axis, BarBox, Column, Rows
from gingham.app.widgets.marks import Look
from gingham.app.widgets.speaking import tell
from gingham.core.fitting.result import Event, Result
from gingham.core.fitting.strokes import IMPOSSIBLE
from gingham.language import tr
from gingham.words.names import signs
from gingham.words.panel import event_text, place_text
from gingham.words.reasons import problem_text

_FRETTING_HAND = frozenset({"hammer", "pull", "slide"})
_SWEPT = frozenset({"brush-down", "brush-up", "chuck"})
Events = tuple[Event, ...]
Moment = tuple[float, Events, tuple[object, ...]]
Way = tuple[float, int, float, int]


class ResultCanvas(TimeCanvas):
    """Every pluck on its string at its time: the finger's letter and the fret."""

    pluck_moved = Signal(int, int, int)
    """Column, string it is on, string it shall go to."""
    pluck_left_out = Signal(int, int)
    """Column and string."""

    def __init__(self, appearance: Appearance, parent: QWidget | None = None) -> None:
        super().__init__(appearance, parent)
        self.string = 1
        self.span = -1
        self.loop: tuple[int, int] | None = None
        self._pressed: tuple[int, int] | None = None
        self._over = 0
        self._moments: dict[int, list[Moment]] = {}
        self._ways: dict[int, list[Way]] = {}
        self._keyed: tuple[Axis, Result, range] | None = None
        self._mark_keys: dict[int, Key] = {}
        """What `mark_keys` has said last, and of what."""
        self.setAccessibleName(tr("What you play: strings over beats"))
        self.setMinimumHeight(126)

    def rows(self) -> Rows:
        """The rows of strings at the present height."""
        count = self.result.piece.instrument.strings if self.result is not None else 6
        return Rows(count, self.height(), self.theme.lowest_on_top)

    def told(self, place: Column) -> str:
        """`Am7, bar 2 at 1: thumb on string 5 open, middle on string 2 fret 1`."""
        assert self.result is not None
        events = (
            [e for e in self.result.bars[place.box].events if e.at == place.at] if self._in(place) else []
        )
        return place_text(self.result, place.span, place.bar, place.syllable, events)

    def _in(self, place: Column) -> bool:
        return self.result is not None and place.box < len(self.result.bars)

    def set_span(self, span: int) -> None:
        """The chord that is selected."""
        if span != self.span:
            self.span = span
            self.refresh()

    def set_loop(self, loop: tuple[int, int] | None) -> None:
        """The bars that go round."""
        if loop != self.loop:
            self.loop = loop
            self.refresh()

    def event_at(self, column: int, string: int) -> Event | None:
        """The pluck on a string at a column."""
        place = self.place(column)
        if place is None or self.result is None:
            return None
        events = self.result.bars[place.box].events
        return next((e for e in events if e.at == place.at and e.string == string), None)

    # Painting.

    def look(self, result: Result) -> object:
        """The strings, and whether there are chords."""
        return (result.piece.instrument.strings, self._named(result), self.theme.lowest_on_top)

    def _named(self, result: Result) -> bool:
        return bool(result.piece.sections[result.section].chords.bars)

    def ground_keys(self, axis: Axis, result: Result, columns: range) -> dict[int, Key]:
        """The chord with its thumb strings, whether it is chosen, where its name begins; the bar's words."""
        chords: dict[int, object] = {}
        bars: dict[int, object] = {}
        out: dict[int, Key] = {}
        for index in columns:
            column = axis.columns[index]
            if column.span not in chords:
                chords[column.span] = self._chord_key(axis, result, column.span)
            if column.box not in bars:
                bars[column.box] = (self._looped(column.bar), self._bar_words(result, column.bar))
            out[index] = ((chords[column.span], bars[column.box]), False)
        return out

    def _chord_key(self, axis: Axis, result: Result, index: int) -> object:
        span = result.spans[index]
        basses = tuple(c.string for c in span.assignment.basses) if span.assignment is not None else ()
        left = span_edges(axis, result, index)[0]
        begins = self.offset if left < self.offset or not self._named(result) else left
        return (index, span.span.chord, basses, index == self.span, begins)

    def mark_keys(self, axis: Axis, result: Result, columns: range) -> dict[int, Key]:
        """The events of each column, what is wrong with them, and the ribbon over it."""
        keyed, self._keyed = self._keyed, (axis, result, columns)
        if keyed and keyed[0] is axis and keyed[1] is result and keyed[2] == columns:
            return self._mark_keys  # another chord is chosen, no mark has changed
        moments = self._moments = self._moments_in(axis, result, self.boxes_of(axis, columns))
        ways = self._ways = self._ribbon_over(axis, result, columns)
        self._mark_keys = {
            index: ((found := moments.get(index), ways.get(index)), found is not None and _wide(found))
            for index in columns
        }
        return self._mark_keys

    def _moments_in(self, axis: Axis, result: Result, boxes: range) -> dict[int, list[Moment]]:
        """What sounds together, by column: (x of the mark, events, strings that cannot be played)."""
        out: dict[int, list[Moment]] = {}
        for number in boxes:
            box, bar = axis.bars[number], result.bars[number]
            for at, found in groupby(bar.events, key=_at):
                index = axis.column_of(box, at)
                faults = tuple(
                    dict(problem.values).get("string")
                    for problem in bar.problems
                    if problem.code in IMPOSSIBLE and problem.at == at
                )
                out.setdefault(index, []).append((axis.middle(box, at), tuple(found), faults))
        return out

    def _ribbon_over(self, axis: Axis, result: Result, columns: range) -> dict[int, list[Way]]:
        """The steps of the thumb's ribbon that cross each column, as (from x, string, to x, string)."""
        out: dict[int, list[Way]] = {}
        if columns:
            for before, after in pairwise(self._thumb_steps(axis, result, self.boxes_of(axis, columns))):
                way = (before[0], before[1], after[0], after[1])
                for index in range(max(before[2], columns.start), min(after[2], columns.stop - 1) + 1):
                    out.setdefault(index, []).append(way)
        return out

    def paint_ground(self, axis: Axis, result: Result, p: QPainter, columns: range) -> None:
        """Check, strings, chord names."""
        rows, boxes = self.rows(), self.boxes_of(axis, columns)
        if boxes:
            self._paint_ground(p, axis, result, boxes, rows)
        if self._named(result):
            self._paint_headers(p, axis, result, boxes)
        else:
            self._paint_empty(p)

    def paint_marks(self, axis: Axis, result: Result, p: QPainter, columns: range) -> None:
        """The ribbon, then the marks."""
        rows = self.rows()
        ways = {way for index in columns for way in self._ways.get(index, ())}
        for x, string, to_x, to_string in sorted(ways):
            points = [QPointF(x, rows.y(string)), QPointF(to_x, rows.y(to_string))]
            marks.ribbon(p, points, self.theme)
        for index in columns:
            self._paint_column(p, index, rows)

    def paint_above(self, p: QPainter, axis: Axis) -> None:
        """A pluck that is dragged, the cursor."""
        self._paint_drag(p, self.rows())
        if not (rect := self.cursor_rect()).isEmpty():
            marks.cursor(p, rect, self.theme, self.hasFocus())

    def cursor_rect(self) -> QRectF:
        """Around the mark at the cursor's place and string."""
        column, rows = self.place(self.column), self.rows()
        if column is None:
            return QRectF()
        rect = marks.mark_rect(column.middle, rows.y(min(self.string, rows.strings)), rows.step + 4)
        return rect.adjusted(-3.5, -3.5, 3.5, 3.5)

    def _paint_ground(self, p: QPainter, axis: Axis, result: Result, boxes: range, rows: Rows) -> None:
        """The gingham check of beats and thumb strings, the strings, bar lines and bar numbers."""
        p.setRenderHint(QPainter.RenderHint.Antialiasing, False)
        shown = axis.bars[boxes.start : boxes.stop]
        for box in shown:
            for column in axis.columns[box.first : box.last + 1]:
                self._paint_check(p, result, column, rows)
        left, right = shown[0].x, shown[-1].x + shown[-1].width
        for string in range(1, rows.strings + 1):
            marks.string_line(p, left, right, rows.y(string), string, self.theme)
        for box in shown:
            marks.shade(p, box.x, HEADER, 1, rows.bottom - HEADER, marks.laid_over(self.theme.string))
            self._paint_number(p, box, rows, result)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)

    def _paint_check(self, p: QPainter, result: Result, column: Column, rows: Rows) -> None:
        """One column of the ground: darker on a beat, on the thumb's strings, on the selected chord."""
        theme, assignment = self.theme, result.spans[column.span].assignment
        ground = (theme.panel, theme.selected) if column.span == self.span else (theme.panel,)
        if column.on_beat:
            ground = (*ground, theme.check)
        if len(ground) > 1:
            colour = marks.laid_over(*ground)
            marks.shade(p, column.x, HEADER, column.width, rows.bottom - HEADER, colour)
        colour = marks.laid_over(*ground, theme.check_thumb)
        for string in {choice.string for choice in assignment.basses} if assignment is not None else ():
            marks.shade(p, column.x, rows.y(string) - rows.step / 2, column.width, rows.step, colour)

    def _paint_number(self, p: QPainter, box: BarBox, rows: Rows, result: Result) -> None:
        """The bar's number, its own pattern and where that ends, and a band under the bars that go round."""
        looped = self._looped(box.number)
        if looped:
            marks.shade(p, box.x, rows.bottom + 1, box.width, 3, QColor(self.theme.accent))
        words = self._bar_words(result, box.number)
        rect = QRectF(box.x + 4, rows.bottom + 3, box.width - 8, 16)
        ink = self.theme.accent if looped else self.theme.quiet
        marks.aligned(p, rect, words, ink, marks.font(12, looped), marks.LEFT)

    def _looped(self, number: int) -> bool:
        return self.loop is not None and self.loop[0] <= number <= self.loop[1]

    def _bar_words(self, result: Result, number: int) -> str:
        return (
            "pick-up"
            if number == 0
            else tr("bar {number}{own_words}", number=number, own_words=own_words(result, number))
        )

    def _paint_headers(self, p: QPainter, axis: Axis, result: Result, boxes: range) -> None:
        """Chord names over the strings; one that began further left stays in sight."""
        for span in _spans_in(result, boxes):
            left, right = span_edges(axis, result, span)
            here = span == self.span
            if here:
                marks.shade(p, left, 0, right - left, HEADER, QColor(self.theme.selected))
                marks.shade(p, left, 0, right - left, 2.5, QColor(self.theme.accent))
            chord = result.spans[span].span.chord
            words = signs(chord.text) if chord is not None else tr("silence")
            start = max(left, self.offset) + 4
            rect = QRectF(start, 2, max(10.0, right - start - 2), HEADER - 2)
            marks.aligned(p, rect, words, self.theme.ink, marks.font(14, chord is not None), marks.LEFT)

    def _paint_empty(self, p: QPainter) -> None:
        """No chords yet: what to do first."""
        words = tr("Type chords in the line at the top, such as  | Am7 | D/F# | G | Em |")
        rect = QRectF(self.offset + 4, 2, self.width() - 8, HEADER - 2)
        marks.aligned(p, rect, words, self.theme.quiet, marks.font(14), marks.LEFT)

    def _thumb_steps(self, axis: Axis, result: Result, boxes: range) -> list[tuple[float, int, int]]:
        """(x, string, column) of the thumb's plucks in some bars, the bar before and the bar behind."""
        around = range(max(0, boxes.start - 1), min(len(axis.bars), boxes.stop + 1))
        return [
            (x, event.string, axis.column_at(x) or 0)
            for index in around
            for event in result.bars[index].events
            if event.finger == "p" and event.pick is None and event.plucked and not event.silent
            for x in (axis.middle(axis.bars[index], event.at),)
        ]

    def _paint_column(self, p: QPainter, index: int, rows: Rows) -> None:
        """All marks of one column: those of its own moment, and of ornaments before the next one."""
        for x, events, faults in self._moments.get(index, ()):
            self._paint_pinch(p, x, events, rows)
            self._paint_sweep(p, x, events, rows)
            for event in events:
                self._paint_event(p, x, event, rows, event.string in faults)

    def _paint_pinch(self, p: QPainter, x: float, events: Events, rows: Rows) -> None:
        together = sorted((e for e in events if e.plucked and not e.silent), key=lambda e: e.string)
        if len(together) > 1:
            top, bottom = together[0], together[-1]
            dyes = (self.theme.finger(top.plucker or "p"), self.theme.finger(bottom.plucker or "p"))
            if rows.flipped:
                top, bottom, dyes = bottom, top, dyes[::-1]
            marks.woven(p, x, rows.y(top.string), rows.y(bottom.string), dyes, ghost=False)

    def _paint_sweep(self, p: QPainter, x: float, events: Events, rows: Rows) -> None:
        swept = [event for event in events if event.kind in _SWEPT]
        if swept:
            first, last = rows.y(swept[0].string), rows.y(swept[-1].string)
            edge = rows.step * (0.45 if last > first else -0.45)
            marks.arrow(p, x - 17, first - edge, last + edge, self.theme.finger(swept[0].plucker or "i"))

    def _paint_event(self, p: QPainter, x: float, event: Event, rows: Rows, fault: bool) -> None:
        rect = marks.mark_rect(x, rows.y(event.string), rows.step)
        fret = "×" if event.fret is None else str(event.fret)
        if event.kind in _FRETTING_HAND:
            self._paint_ornament(p, rect, event, fret)
            return
        words = ("×",) if event.kind == "chuck" else (self.theme.naming.finger(event.plucker or "?"), fret)
        look = Look.LEFT_OUT if event.silent else Look.FULL
        marks.finger_mark(p, rect, self.theme, event.plucker or "i", words, look)
        if event.accent and not event.silent:
            marks.accent_sign(p, rect, self.theme, event.accent)
        if event.kind == "walk":
            marks.walk_sign(p, rect, self.theme)
        if event.overridden:
            marks.own_choice_sign(p, rect, self.theme)
        if fault:
            marks.fault_sign(p, rect, self.theme)

    def _paint_ornament(self, p: QPainter, rect: QRectF, event: Event, fret: str) -> None:
        """The fretting hand's own note: a letter in a plain frame (h, p or s) and the fret."""
        p.setPen(QPen(QColor(self.theme.quiet), 1.2))
        p.setBrush(QColor(self.theme.panel))
        p.drawRoundedRect(rect.adjusted(1, 1, -1, -1), 9, 9)
        marks.text(p, rect.adjusted(3, 0, -3, 0), f"{event.kind[0]} {fret}", self.theme.ink, 12)

    def _paint_drag(self, p: QPainter, rows: Rows) -> None:
        """Where a dragged pluck would land."""
        if self._pressed is None or self._over in (0, self._pressed[1]):
            return
        column, event = self.place(self._pressed[0]), self.event_at(*self._pressed)
        if column is not None and event is not None:
            rect = marks.mark_rect(column.middle, rows.y(self._over), rows.step)
            marks.finger_mark(
                p,
                rect,
                self.theme,
                event.plucker or "i",
                (self.theme.naming.finger(event.plucker or "?"),),
                Look.LEFT_OUT,
            )

    # Mouse and keys.

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """The cursor goes there; a pluck under it can be dragged to another string."""
        if event.button() != Qt.MouseButton.LeftButton or self.axis is None:
            return
        where = self.at(event)
        column = self.axis.column_at(where.x())
        if column is None:
            return
        self.over(self.cursor_rect())
        self.string = self.rows().string_at(where.y())
        self.over(self.cursor_rect())
        self._over = self.string
        self._pressed = (column, self.string) if self.event_at(column, self.string) is not None else None
        self.column_chosen.emit(column)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """Show where a dragged pluck would land."""
        over = self.rows().string_at(event.position().y())
        if self._pressed is not None and over != self._over:
            self._over = over
            self.update()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        """A drag to another string asks how far it goes."""
        pressed, over = self._pressed, self._over
        self._pressed, self._over = None, 0
        if pressed is not None and over not in (0, pressed[1]):
            self.pluck_moved.emit(*pressed, over)
        self.update()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Up and down go to another string, with Shift the pluck goes there; Delete leaves it out."""
        key, by = event.key(), {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}.get(Qt.Key(event.key()), 0)
        if key == Qt.Key.Key_Escape and self._pressed is not None:
            self._pressed, self._over = None, 0
            self.update()
        elif by:
            self._go_to_string(
                self.rows().below(self.string, by),
                bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier),
            )
        elif key == Qt.Key.Key_Delete:
            if self.event_at(self.column, self.string) is not None:
                self.pluck_left_out.emit(self.column, self.string)
        else:
            super().keyPressEvent(event)

    def _go_to_string(self, string: int, take_pluck: bool) -> None:
        if not 1 <= string <= self.rows().strings:
            return
        if take_pluck and self.event_at(self.column, self.string) is not None:
            self.pluck_moved.emit(self.column, self.string, string)
            return
        self.over(self.cursor_rect())
        self.string = string
        self.over(self.cursor_rect())
        found = self.event_at(self.column, string)
        tell(
            self,
            event_text(found) if found is not None else tr("string {string}: nothing here", string=string),
        )

    def event(self, event: QEvent) -> bool:
        """Under the mouse pointer: what is plucked there, and what is wrong with it."""
        if isinstance(event, QHelpEvent) and event.type() == QEvent.Type.ToolTip:
            words = self.words_at(event.pos())
            QToolTip.showText(event.globalPos(), words, self) if words else QToolTip.hideText()
            return True
        return super().event(event)

    def words_at(self, where: QPoint) -> str:
        """The pluck at a point of the widget in words, with its problems; empty where there is none."""
        column = self.axis.column_at(where.x() + self.offset) if self.axis is not None else None
        if column is None or self.result is None:
            return ""
        string = self.rows().string_at(where.y())
        found, place = self.event_at(column, string), self.place(column)
        if found is None or place is None:
            return ""
        faults = [
            problem_text(problem)
            for problem in self.result.bars[place.box].problems
            if problem.at == place.at and dict(problem.values).get("string") == string
        ]
        return "\n".join([event_text(found, self.result.piece.capo), *faults])


def _wide(moments: list[Moment]) -> bool:
    """Whether marks reach over the edges of their column: signs around them, arrows, ornaments."""
    if len(moments) > 1 or moments[0][2]:
        return True
    return any(e.overridden or e.kind != "pluck" for e in moments[0][1])


def _at(event: Event) -> Fraction:
    return event.at


def _spans_in(result: Result, boxes: range) -> list[int]:
    """The chords of some bars, in order."""
    return sorted({span for index in boxes for span in result.bars[index].spans})


def span_edges(axis: Axis, result: Result, index: int) -> tuple[float, float]:
    """Where a chord begins and ends on the axis."""
    span = result.spans[index].span
    left = axis.x_of(span.bar, float(span.at)) or 0.0
    if index + 1 == len(result.spans):
        return left, axis.width
    after = result.spans[index + 1].span
    right = axis.x_of(after.bar, float(after.at))
    return left, axis.width if right is None else right


def own_words(result: Result, number: int) -> str:
    """Which pattern a bar has of its own, and at the next one that the section's goes on."""
    section = result.piece.sections[result.section]
    name, before = section.pattern_in(number), section.pattern_in(number - 1)
    if name != section.pattern:
        return f" · {name}"
    return tr(" · back to {name}", name=name) if before != name else ""
