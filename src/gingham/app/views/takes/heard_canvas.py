"""Heard over meant: strings over beats, every planned pluck as an outline, what was heard laid over it."""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from fractions import Fraction

import msgspec
from PySide6.QtCore import QLineF, QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from gingham.app.look.appearance import Appearance, Dressed
from gingham.app.widgets import marks
from gingham.app.widgets.focus import ShowsFocus
from gingham.app.widgets.speaking import Cell, announce
from gingham.core.fitting.played import PlayedBar
from gingham.core.listening.analysis import Analysis
from gingham.core.listening.score import Mark
from gingham.core.music.meter import count_at
from gingham.language import tr
from gingham.words.names import signs
from gingham.words.takes import EMPTY, mark_text

_LEFT, _HEAD, _FOOT = 16.0, 24.0, 22.0
_PLACE = 46.0  # the shortest place of a pattern, in pixels
_SHIFT, _MOST = 0.45, 18.0  # pixels for a millisecond of lateness, and how far a mark goes at most
_ROW = 38.0


class Layout(msgspec.Struct, frozen=True):
    """Where things lie: pixels a whole note, the height of a row, the strings. No Qt."""

    scale: float
    row: float
    strings: int
    flipped: bool

    def x(self, time: float) -> float:
        """Of a moment in whole notes from the first bar."""
        return _LEFT + time * self.scale

    def time(self, x: float) -> float:
        """The moment under a pixel."""
        return max(0.0, (x - _LEFT) / self.scale)

    def y(self, string: int) -> float:
        """A string's line."""
        place = self.strings - string + 1 if self.flipped else string
        return _HEAD + self.row * (place - 0.5)


class HeardCanvas(Dressed, ShowsFocus):
    """Left and right go from pluck to pluck, Page keys from bar to bar; Enter plays, B marks the place."""

    mark_chosen = Signal(int)
    play_wanted = Signal()
    place_marked = Signal(int, str)
    """A bar (as it is played) and a place in it that the player marks by hand, or no longer."""

    def __init__(self, appearance: Appearance, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.wear(appearance)
        self.analysis: Analysis | None = None
        self.shown: tuple[Mark, ...] = ()
        self.hand_marked: frozenset[tuple[int, str]] = frozenset()
        self.current = -1
        self.playhead: float | None = None
        self.empty = EMPTY
        self._bars: tuple[PlayedBar, ...] = ()
        self._scale = 200.0
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(tr("Heard over meant"))

    def show_analysis(self, analysis: Analysis | None) -> None:
        """Another take; None for none."""
        self.analysis = analysis
        self.shown = analysis.marks if analysis is not None else ()
        last = max((mark.bar for mark in self.shown), default=0)
        bars = analysis.question.bars if analysis is not None else ()
        self._bars = tuple(each for each in bars if each.number <= last)
        self.current = 0 if self.shown else -1
        self.playhead = None
        if analysis is not None:
            self._scale = _PLACE / float(bars[0].result.finest())
        self.updateGeometry()
        self.setMinimumWidth(self.sizeHint().width())
        self._say()
        self.update()

    def show_marked(self, places: frozenset[tuple[int, str]]) -> None:
        """The places (bar, of a whole note in it) that the player has marked by hand."""
        self.hand_marked = places
        self.update()

    def show_playhead(self, time: float | None) -> None:
        """Where the sound is, in whole notes from the first bar."""
        before, self.playhead = self.playhead, time
        for each in (before, time):
            if each is not None:
                self.update(round(self.plan.x(each)) - 3, 0, 7, self.height())

    @property
    def plan(self) -> Layout:
        """Where things lie now."""
        strings = len(self.analysis.question.plan.tuning) if self.analysis is not None else 6
        row = min(_ROW, (self.height() - _HEAD - _FOOT) / strings)
        return Layout(self._scale, row, strings, self.theme.lowest_on_top)

    @property
    def end(self) -> float:
        """Where the last bar ends, in whole notes."""
        return float(self._bars[-1].start + self._bars[-1].bar.length) if self._bars else 0.0

    def sizeHint(self) -> QSize:
        """As long as the take."""
        return QSize(round(2 * _LEFT + self.end * self._scale) if self._bars else 400, 300)

    # Moving about.

    def choose(self, index: int) -> None:
        """Put the cursor on a pluck."""
        if 0 <= index < len(self.shown) and index != self.current:
            self.current = index
            self._say()
            self.update()
            self.mark_chosen.emit(index)

    def choose_bar(self, number: int) -> None:
        """Put the cursor on the first pluck of a bar, or on what went wrong there."""
        inside = [i for i, mark in enumerate(self.shown) if mark.bar == number]
        wrong = [i for i in inside if self.shown[i].state in ("wrong", "missed", "extra", "unclear")]
        if inside:
            self.choose((wrong or inside)[0])

    @property
    def bar(self) -> int:
        """The number of the cursor's bar; 1 without one."""
        return self.shown[self.current].bar if 0 <= self.current < len(self.shown) else 1

    def x_of_cursor(self) -> float:
        """Where the cursor is."""
        return self.plan.x(self.shown[self.current].time) if 0 <= self.current < len(self.shown) else 0.0

    def _step_bar(self, by: int) -> None:
        numbers = sorted({mark.bar for mark in self.shown})
        if numbers:
            place = min(max(0, numbers.index(self.bar) + by), len(numbers) - 1)
            self.choose(next(i for i, mark in enumerate(self.shown) if mark.bar == numbers[place]))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Its own keys; everything else goes on."""
        steps = {Qt.Key.Key_Right: 1, Qt.Key.Key_Left: -1}
        bars = {Qt.Key.Key_PageDown: 1, Qt.Key.Key_PageUp: -1}
        key = event.key()
        if event.modifiers() & ~Qt.KeyboardModifier.KeypadModifier:
            super().keyPressEvent(event)
        elif key in steps:
            self.choose(min(max(0, self.current + steps[Qt.Key(key)]), len(self.shown) - 1))
        elif key in bars:
            self._step_bar(bars[Qt.Key(key)])
        elif key == Qt.Key.Key_Home:
            self.choose(0)
        elif key == Qt.Key.Key_End:
            self.choose(len(self.shown) - 1)
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.play_wanted.emit()
        elif key == Qt.Key.Key_B:
            self._mark_here()
        else:
            super().keyPressEvent(event)

    def _mark_here(self) -> None:
        if 0 <= self.current < len(self.shown):
            mark = self.shown[self.current]
            self.place_marked.emit(mark.bar, str(mark.at))
            self._say()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """The nearest pluck."""
        self.setFocus()
        place, plan = event.position(), self.plan
        if self.shown:
            near = [QPointF(plan.x(m.time), plan.y(m.string)) - place for m in self.shown]
            self.choose(min(range(len(near)), key=lambda i: abs(near[i].x()) + abs(near[i].y())))

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        """Hear it from there."""
        self.play_wanted.emit()

    def cells(self) -> list[Cell]:
        """The plucks in sight."""
        if self.analysis is None:
            return []
        seen = QRectF(self.visibleRegion().boundingRect())
        plan = self.plan
        rects = ((i, self._rect(plan, mark)) for i, mark in self._between(seen))
        return [Cell(self._words(i), rect.toAlignedRect(), i == self.current) for i, rect in rects]

    def _words(self, index: int) -> str:
        assert self.analysis is not None
        return mark_text(self.shown[index], self.analysis.question.plan.meter)

    def words(self) -> str:
        """What became of the pluck under the cursor."""
        if not 0 <= self.current < len(self.shown):
            return ""
        mark = self.shown[self.current]
        mine = tr("; marked by you") if (mark.bar, str(mark.at)) in self.hand_marked else ""
        return self._words(self.current) + mine

    def _say(self) -> None:
        words = self.words()
        self.setAccessibleDescription(words)
        if words and self.hasFocus():
            announce(self, words)

    # Painting.

    def _between(self, area: QRectF) -> list[tuple[int, Mark]]:
        plan, times = self.plan, [mark.time for mark in self.shown]
        first = bisect_left(times, plan.time(area.left() - 60))
        last = bisect_right(times, plan.time(area.right() + 60))
        return [(i, self.shown[i]) for i in range(first, last)]

    def _rect(self, plan: Layout, mark: Mark, string: int | None = None) -> QRectF:
        return marks.mark_rect(plan.x(mark.time) + 12, plan.y(string or mark.string), plan.row)

    def paintEvent(self, event: QPaintEvent) -> None:
        """What is in sight: beats, strings, chords; outlines of what was meant, then what was heard."""
        area = QRectF(event.rect())
        with marks.painting(self) as p:
            p.fillRect(event.rect(), QColor(self.theme.panel))
            if self.analysis is None:
                marks.sentence(p, QRectF(self.rect()), self.empty, self.theme.quiet, 14)
                return
            plan = self.plan
            self._paint_bars(p, plan, area)
            left, right = max(area.left(), _LEFT - 4), min(area.right(), plan.x(self.end))
            for string in range(1, plan.strings + 1):
                marks.string_line(p, left, right, plan.y(string), string, self.theme)
            for _, mark in self._between(area):
                self._paint_mark(p, plan, mark)
            if 0 <= self.current < len(self.shown):
                rect = self._rect(plan, self.shown[self.current])
                marks.cursor(p, rect.adjusted(-4, -4, 4, 4), self.theme, self.hasFocus())
            if self.playhead is not None:
                p.setPen(QPen(QColor(self.theme.accent), 2))
                x = plan.x(self.playhead)
                p.drawLine(QLineF(x, _HEAD, x, self.height() - _FOOT))

    def _paint_bars(self, p: QPainter, plan: Layout, area: QRectF) -> None:
        """Beats shaded, bar lines, numbers, the counts below, chords above where they enter."""
        theme, bottom = self.theme, _HEAD + plan.row * plan.strings
        first, last = plan.time(area.left()), plan.time(area.right())
        for each in self._bars:
            start, length = float(each.start), float(each.bar.length)
            if start + length < first or start > last:
                continue
            meter = each.result.piece.meter
            beats = [float(at) for at in meter.beat_starts if at < each.bar.length]
            for at, end in zip(beats, [*beats[1:], length], strict=True):
                x = plan.x(start + at)
                marks.shade(
                    p, x, _HEAD, (end - at) * plan.scale / 2, bottom - _HEAD,
                    marks.laid_over(theme.panel, theme.check),
                )  # fmt: skip
                count = count_at(meter, meter.beat_starts[beats.index(at)])
                marks.stamped(p, QRectF(x, bottom + 2, 26, 18), count, theme.quiet, 12, bold=at == 0)
            p.setPen(QPen(QColor(theme.edge), 1.5))
            p.drawLine(QLineF(plan.x(start) - 3, _HEAD, plan.x(start) - 3, bottom))
            self._paint_head(p, plan, each)

    def _paint_head(self, p: QPainter, plan: Layout, each: PlayedBar) -> None:
        """The bar's number, the chords that enter, and a pennant at each place that the player has marked."""
        theme, taken = self.theme, 0.0
        for index in each.bar.spans:
            span = each.result.spans[index].span
            if span.bar == each.bar.number and span.chord is not None:
                x = plan.x(float(each.start + span.at))
                words = signs(span.chord.text)
                marks.aligned(p, QRectF(x, 2, 90, 20), words, theme.ink, marks.font(15, True), marks.LEFT)
                taken = max(taken, x + marks.advance(words, 15, bold=True) + 8) if not span.at else taken
        x = max(plan.x(float(each.start)), taken)
        marks.aligned(p, QRectF(x, 4, 110, 18), str(each.number), theme.quiet, marks.font(12), marks.LEFT)
        for bar, at in self.hand_marked:
            if bar == each.number:
                self._paint_pennant(p, plan.x(float(each.start + Fraction(at))))

    def _paint_pennant(self, p: QPainter, x: float) -> None:
        """A small flag over the strings: the player's own mark."""
        p.setPen(QPen(QColor(self.theme.accent), 1.8))
        p.setBrush(QColor(self.theme.accent))
        p.drawLine(QLineF(x, _HEAD - 14, x, _HEAD + 4))
        p.drawPolygon([QPointF(x, _HEAD - 14), QPointF(x + 12, _HEAD - 9), QPointF(x, _HEAD - 4)])

    def _paint_mark(self, p: QPainter, plan: Layout, mark: Mark) -> None:
        theme = self.theme
        rect = self._rect(plan, mark)
        finger = mark.finger or ""
        letter = theme.naming.finger(finger) if finger else "+"
        if mark.state == "extra":
            self._paint_outline(p, rect, theme.fault, Qt.PenStyle.SolidLine, ("+", str(mark.fret)))
            return
        words = (letter, str(mark.fret))
        if mark.state in ("missed", "unclear", "beyond"):
            style = Qt.PenStyle.DashLine if mark.state == "missed" else Qt.PenStyle.DotLine
            ink = theme.fault if mark.state == "missed" else theme.quiet
            self._paint_outline(p, rect, ink, style, words)
            return
        meant = words if mark.state == "wrong" else ("",)
        marks.finger_mark(p, rect, theme, finger, meant, marks.Look.GHOST)
        late = mark.late_ms or 0.0
        shift = max(-_MOST, min(_MOST, _SHIFT * late))
        heard = self._rect(plan, mark, mark.heard).translated(shift, 0)
        if mark.state == "wrong" and mark.heard is not None:
            p.setPen(QPen(QColor(theme.fault), 2))
            p.drawLine(QLineF(rect.center(), heard.center()))
            marks.finger_mark(p, heard, theme, finger, (letter, str(mark.heard_fret)))
            p.setPen(QPen(QColor(theme.fault), 2.4))
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.drawRoundedRect(heard.adjusted(-3, -3, 3, 3), 7, 7)
            return
        marks.finger_mark(p, heard, theme, finger, words)

    def _paint_outline(
        self, p: QPainter, rect: QRectF, ink: str, style: Qt.PenStyle, words: tuple[str, str]
    ) -> None:
        p.setPen(QPen(QColor(ink), 1.8, style))
        p.setBrush(QColor(self.theme.panel))
        p.drawRoundedRect(rect, 5, 5)
        half = rect.width() / 2
        marks.text(p, rect.adjusted(2, 0, -half, 0), words[0], ink, 12, bold=True)
        marks.text(p, rect.adjusted(half - 2, 0, -2, 0), words[1], ink, 13)
