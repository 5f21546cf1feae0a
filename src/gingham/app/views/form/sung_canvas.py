"""Words and tune where they lie: syllables under the strings, the tune on them, four bars at a time."""

from __future__ import annotations

from fractions import Fraction

import msgspec
from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from gingham.app.look.appearance import Appearance, Dressed
from gingham.app.widgets import marks
from gingham.app.widgets.focus import ShowsFocus
from gingham.app.widgets.geometry import Axis
from gingham.app.widgets.speaking import Cell, tell
from gingham.app.widgets.standing import Plan, Standing
from gingham.core.fitting.result import Result
from gingham.core.judging.tune import TuneCheck
from gingham.core.pieces.lyrics import Syllable
from gingham.core.practice.loop import Loop, LoopBar, whole_section
from gingham.language import tr
from gingham.words.form import note_text
from gingham.words.names import signs

_BARS = 4
_EDGE, _CHORDS, _LINE, _NOTE = 8.0, 22.0, 22.0, 7.0
_NOTES = 13.0  # room for a note over the highest string
_VERSES = 3  # so many lines of words stand under the strings at most
_LEAST = 250


class _Placed(msgspec.Struct, frozen=True):
    """A note of the tune in the picture."""

    check: TuneCheck
    middle: QPointF


class SungCanvas(Dressed, ShowsFocus):
    """Arrows go from note to note (from bar to bar without a tune), Page Up and Down turn, Enter carries."""

    bar_wanted = Signal(int)
    note_chosen = Signal(int)
    carry_wanted = Signal(int)

    def __init__(self, appearance: Appearance, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.wear(appearance)
        self.result: Result | None = None
        self.checks: tuple[TuneCheck, ...] = ()
        self.syllables: tuple[Syllable, ...] = ()
        self.current = -1
        """Which note of the tune is chosen."""
        self.first = 0
        """The first bar in the picture, an index."""
        self._standing: Standing | None = None
        self.setMinimumSize(420, _LEAST)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(tr("Words and tune on the strings"))

    def show_section(
        self, result: Result | None, checks: tuple[TuneCheck, ...], syllables: tuple[Syllable, ...], bar: int
    ) -> None:
        """Another section, or other words; the picture shows the four bars around a bar."""
        self.result, self.checks, self.syllables = result, checks, syllables
        self._standing = None
        if result is not None and result.bars:
            loop = whole_section(result)
            self._standing = Standing(loop, {result.section: Axis(result, 10.0)}, self.theme, frozenset())
            at = next((i for i, each in enumerate(loop.bars) if each.bar == bar), 0)
            self.first = at - at % _BARS
        if not 0 <= self.current < len(checks):
            self.current = next(
                (i for i, check in enumerate(checks) if check.by is None), 0 if checks else -1
            )
        self._say()
        self.update()

    # Where things lie.

    @property
    def _loop(self) -> Loop | None:
        return self._standing.loop if self._standing is not None else None

    def _verses(self) -> int:
        return min(_VERSES, max((each.verse for each in self.syllables), default=0))

    def _plan(self, result: Result) -> Plan:
        high = self.height() - _CHORDS - _LINE * self._verses() - 8
        wide = self.width() - 2 * _EDGE
        strings, flipped = result.piece.instrument.strings, self.theme.lowest_on_top
        return Plan(_EDGE, _CHORDS, wide, high, strings, _BARS, flipped, _NOTES)

    def _bars(self) -> list[tuple[int, LoopBar]]:
        """The bars in the picture with their places."""
        loop = self._loop
        return list(enumerate(loop.bars[self.first : self.first + _BARS])) if loop is not None else []

    def notes(self) -> dict[int, _Placed]:
        """The notes of the tune in the picture, by their number."""
        if self.result is None or self._standing is None:
            return {}
        plan, out = self._plan(self.result), {}
        for place, bar in self._bars():
            for index, check in enumerate(self.checks):
                if check.note.bar == bar.bar and bar.begin <= check.note.at < bar.end:
                    middle = self._standing.middle(plan, place, bar, check.note.at, self._string(check))
                    out[index] = _Placed(check, middle - QPointF(0, min(22.0, plan.row / 2) + 3))
        return out

    def _string(self, check: TuneCheck) -> int:
        """The string that sounds a note, would sound it, or the highest."""
        if check.by is not None and self.result is not None:
            bar = self.result.bar(check.note.bar)
            for event in bar.events if bar is not None else ():
                midi = event.pitch.midi if event.pitch is not None else None
                if event.at == check.note.at and midi == check.pitch.midi:
                    return event.string
        return check.carriers[0].string if check.carriers else 1

    # Painting.

    def cells(self) -> list[Cell]:
        """The plucks, the notes of the tune and the syllables in the picture."""
        if self.result is None or self._standing is None:
            return []
        meter, standing = self.result.piece.meter, self._standing
        assert standing is not None
        shown = range(self.first, min(self.first + _BARS, len(standing.loop.bars)))
        out = standing.cells(self._plan(self.result), shown)
        for index, note in self.notes().items():
            spot = QRectF(note.middle.x() - 10, note.middle.y() - 10, 20, 20).toAlignedRect()
            out.append(Cell(note_text(note.check, meter), spot, index == self.current))
        for place, bar in self._bars():
            said = [s for s in self.syllables if s.bar == bar.bar]
            for verse in sorted({s.verse for s in said}):
                words = "".join(s.text + ("-" if s.joins else " ") for s in said if s.verse == verse)
                plan = self._plan(self.result)
                left = round(plan.x(place, 0))
                area = QRectF(left, self._line(plan, verse), plan.bar_width, _LINE).toAlignedRect()
                out.append(
                    Cell(
                        tr(
                            "bar {bar}, verse {verse}: {words}", bar=bar.bar, verse=verse, words=words.strip()
                        ),
                        area,
                        False,
                    )
                )
        return out

    def _line(self, plan: Plan, verse: int) -> float:
        return plan.top + plan.height + 4 + (verse - 1) * _LINE

    def paintEvent(self, event: QPaintEvent) -> None:
        """Strings, plucks, the tune on them, the words under them."""
        with marks.painting(self) as p:
            p.fillRect(self.rect(), QColor(self.theme.panel))
            result, standing = self.result, self._standing
            if result is None or standing is None:
                words = tr("Type chords in Build: words and tune lie on their plucks.")
                marks.sentence(p, QRectF(self.rect()), words, self.theme.quiet, 14)
                return
            standing.theme = self.theme
            plan = self._plan(result)
            self._paint_chords(p, plan, result)
            standing.paint_row(p, plan, self.first)
            self._paint_words(p, plan, standing)
            for index, note in self.notes().items():
                self._paint_note(p, index, note)

    def _paint_chords(self, p: QPainter, plan: Plan, result: Result) -> None:
        for place, bar in self._bars():
            for index in result.bars[bar.bar - result.bars[0].number].spans:
                span = result.spans[index].span
                at = span.at if span.bar == bar.bar else Fraction(0)
                if span.chord is None or (place and span.bar != bar.bar):
                    continue
                x = plan.x(place, float((at - bar.begin) / (bar.end - bar.begin)))
                rect = QRectF(x + 4, 0, plan.bar_width - 4, _CHORDS)
                marks.aligned(
                    p, rect, signs(span.chord.text), self.theme.ink, marks.font(14, True), marks.LEFT
                )

    def _paint_words(self, p: QPainter, plan: Plan, standing: Standing) -> None:
        for place, bar in self._bars():
            said = [s for s in self.syllables if s.bar == bar.bar and s.verse <= _VERSES]
            for verse in {s.verse for s in said}:
                line = sorted((s for s in said if s.verse == verse), key=lambda s: s.at)
                xs = [standing.middle(plan, place, bar, s.at, 1).x() for s in line]
                ends = [*xs[1:], plan.x(place + 1, 0) + 8]
                for syllable, x, end in zip(line, xs, ends, strict=True):
                    words = syllable.text + ("-" if syllable.joins else "")
                    ink = self.theme.quiet if syllable.guessed or verse > 1 else self.theme.ink
                    rect = QRectF(x - 12, self._line(plan, verse), end - x - 2, _LINE)
                    marks.cut(p, rect, words, ink, marks.font(15))

    def _paint_note(self, p: QPainter, index: int, note: _Placed) -> None:
        """Filled where the part sounds it, hollow where not; its name at its right."""
        ink, chosen = QColor(self.theme.ink), index == self.current
        if chosen:
            p.setPen(QPen(QColor(self.theme.accent), 2.4))
            p.setBrush(QColor(self.theme.selected))
            p.drawEllipse(note.middle, _NOTE + 5, _NOTE + 5)
        p.setPen(QPen(ink, 2.0))
        p.setBrush(ink if note.check.by is not None else QColor(self.theme.panel))
        p.drawEllipse(note.middle, _NOTE, _NOTE)
        name = signs(str(note.check.pitch.note))
        size = marks.font(13, True)
        wide = marks.advance(name, 13, True)
        rect = QRectF(note.middle.x() + _NOTE + 5, note.middle.y() - 9, wide + 4, 18)
        p.fillRect(rect, QColor(self.theme.panel))
        marks.aligned(p, rect, name, self.theme.ink, size, marks.CENTRE)

    # Choosing.

    def choose(self, index: int) -> None:
        """Choose a note of the tune; its bar comes into the picture."""
        if not 0 <= index < len(self.checks):
            return
        self.current = index
        self.turn_to(self.checks[index].note.bar)
        self._say()
        self.update()
        self.note_chosen.emit(index)

    def turn_to(self, bar: int) -> None:
        """Bring a bar into the picture."""
        loop = self._loop
        at = next((i for i, each in enumerate(loop.bars) if each.bar == bar), None) if loop else None
        if at is not None and not self.first <= at < self.first + _BARS:
            self.first = at - at % _BARS
            self.update()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """A click chooses a note, else the bar goes under the cursor."""
        where = event.position()
        for index, note in self.notes().items():
            if (note.middle - where).manhattanLength() <= 2 * _NOTE:
                self.choose(index)
                return
        if self.result is not None:
            place = int((where.x() - _EDGE) // self._plan(self.result).bar_width)
            bars = dict(self._bars())
            if place in bars:
                self.bar_wanted.emit(bars[place].bar)

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        """A double click on a note carries it."""
        if any((n.middle - event.position()).manhattanLength() <= 2 * _NOTE for n in self.notes().values()):
            self.carry_wanted.emit(self.current)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Notes, pages, carrying."""
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()))
        page = {Qt.Key.Key_PageUp: -_BARS, Qt.Key.Key_PageDown: _BARS}.get(Qt.Key(event.key()))
        if step is not None and not self.checks:
            page, step = step * _BARS, None
        if step is not None:
            self.choose(min(max(0, self.current + step), len(self.checks) - 1))
        elif page is not None:
            self._page(page)
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.current >= 0:
            self.carry_wanted.emit(self.current)
        else:
            super().keyPressEvent(event)

    def _page(self, by: int) -> None:
        loop = self._loop
        if loop is not None and 0 <= self.first + by < len(loop.bars):
            self.first += by
            self.bar_wanted.emit(loop.bars[self.first].bar)
            self._say()
            self.update()

    def _say(self) -> None:
        """For those who hear the window."""
        words = tr("no tune yet")
        if self.result is not None and 0 <= self.current < len(self.checks):
            said = note_text(self.checks[self.current], self.result.piece.meter)
            words = tr(
                "{said} note {current} of {checks}",
                said=said,
                current=self.current + 1,
                checks=len(self.checks),
            )
        tell(self, words)
