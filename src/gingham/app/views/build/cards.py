"""The chord cards: each span's name, length, thumb strings, and its shape with the needed fingers filled."""

from __future__ import annotations

from dataclasses import dataclass

from PySide6.QtCore import QLineF, QPointF, QRectF, Qt, Signal
from PySide6.QtGui import (
    QColor,
    QFocusEvent,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QResizeEvent,
    QWheelEvent,
)
from PySide6.QtWidgets import QWidget

from gingham.app.theme import SIZES, Theme
from gingham.app.views.build import marks
from gingham.core.fitting.result import Assignment, FittedSpan, Result
from gingham.core.judging.holding import needed_fingers
from gingham.words.card import beats_text, thumb_text
from gingham.words.names import signs

_FRETS = 4
_WORD_ROWS = ((0, 26), (28, 17), (46, 17), (66, 19))  # top and height: name, two quiet lines, thumb


@dataclass(frozen=True, slots=True)
class Diagram:
    """Where a shape's strings and frets lie inside `area`; strings run down, string 1 on the right."""

    area: QRectF
    strings: int

    def x(self, string: int) -> float:
        """The line of a string."""
        return self.area.right() - (string - 1) * self.area.width() / (self.strings - 1)

    def y(self, fret: float) -> float:
        """The line of a fret, counted from the diagram's top."""
        return self.area.top() + fret * self.area.height() / _FRETS


def first_fret(frets: tuple[int | None, ...]) -> int:
    """The fret that a diagram begins at: 1 unless the shape goes beyond the fourth fret."""
    held = [fret for fret in frets if fret]
    return 1 if not held or max(held) <= _FRETS else min(held)


class CardStrip(QWidget):
    """The row of cards. Paints only those that can be seen."""

    chosen = Signal(int)
    play_wanted = Signal()

    def __init__(self, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.theme = theme
        self.result: Result | None = None
        self.current = -1
        self._offset = 0.0
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setFixedHeight(round(SIZES.card_height))
        self.setAccessibleName("Chords with their shapes")

    def show_result(self, result: Result | None) -> None:
        """The cards of another result."""
        self.result = result
        self._scroll_to_current()
        self.update()

    def set_current(self, index: int) -> None:
        """Select a card and bring it into sight."""
        self.current = index
        if self.result is not None and 0 <= index < len(self.result.spans):
            chord = self.result.spans[index].span.chord
            self.setAccessibleDescription(chord.text if chord is not None else "silence")
        self._scroll_to_current()
        self.update()

    def set_theme(self, theme: Theme) -> None:
        """Another cloth."""
        self.theme = theme
        self.update()

    def card_rect(self, index: int) -> QRectF:
        """Where a card lies in the widget."""
        step = SIZES.card_width + SIZES.gap
        return QRectF(index * step - self._offset + 1, 1, SIZES.card_width - 2, self.height() - 2)

    def _count(self) -> int:
        return len(self.result.spans) if self.result is not None else 0

    def _scroll(self, offset: float) -> None:
        most = self._count() * (SIZES.card_width + SIZES.gap) - SIZES.gap - self.width()
        self._offset = min(max(0.0, offset), max(0.0, most))
        self.update()

    def _scroll_to_current(self) -> None:
        if self.current < 0:
            self._scroll(0.0)
            return
        rect = self.card_rect(self.current)
        if rect.left() < 0:
            self._scroll(self._offset + rect.left() - 1)
        elif rect.right() > self.width():
            self._scroll(self._offset + rect.right() - self.width() + 1)
        else:
            self._scroll(self._offset)

    # Painting.

    def paintEvent(self, event: QPaintEvent) -> None:
        """The cards that can be seen; without chords a word on what to do."""
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        if self.result is None or not self.result.spans:
            words = "Type chords in the line above: each gets a card with its shape and the thumb’s strings."
            rect = QRectF(self.rect()).adjusted(14, 0, -14, 0)
            marks.aligned(p, rect, words, self.theme.quiet, marks.font(14), marks.CENTRE)
        else:
            self._paint_cards(p, self.result)
        p.end()

    def _paint_cards(self, p: QPainter, result: Result) -> None:
        step = SIZES.card_width + SIZES.gap
        first = max(0, int(self._offset // step))
        last = min(self._count(), int((self._offset + self.width()) // step) + 1)
        for index in range(first, last):
            self._paint_card(p, result, index)
        self._paint_more(p, first, last)

    def _paint_card(self, p: QPainter, result: Result, index: int) -> None:
        rect, fitted = self.card_rect(index), result.spans[index]
        here = index == self.current
        pen = QPen(QColor(self.theme.accent if here else self.theme.edge), 1.0)
        if here:
            pen.setWidthF(2.4 if self.hasFocus() else 1.4)
        p.setPen(pen)
        p.setBrush(QColor(self.theme.selected if here else self.theme.panel))
        p.drawRoundedRect(rect, SIZES.radius, SIZES.radius)
        self._paint_words(
            p, QRectF(rect.left() + 11, rect.top() + 6, 102, rect.height() - 12), result, fitted
        )
        if fitted.assignment is not None:
            area = QRectF(rect.left() + 125, rect.top() + 25, 65, rect.height() - 36)
            self._paint_shape(p, area, fitted, fitted.assignment)

    def _paint_words(self, p: QPainter, area: QRectF, result: Result, fitted: FittedSpan) -> None:
        chord, on = fitted.span.chord, fitted.assignment
        name = signs(chord.text) if chord is not None else "silence"
        rows = [
            QRectF(area.left(), area.top() + y, area.width(), h)
            for y, h in ((0, 26), (28, 17), (46, 17), (66, 19))
        ]
        marks.aligned(p, rows[0], name, self.theme.ink, marks.font(20, True), marks.LEFT)
        sounds = f"sounds {signs(on.sounding.text)}" if on is not None and result.piece.capo else ""
        length = beats_text(fitted.span.length, result.piece.meter)
        quiet = [sounds, length] if sounds else [length, ""]
        if chord is not None and on is None:
            marks.aligned(p, rows[3], "no shape found", self.theme.fault, marks.font(13, True), marks.LEFT)
        for rect, words in zip(rows[1:3], quiet, strict=True):
            marks.aligned(p, rect, words, self.theme.quiet, marks.font(13), marks.LEFT)
        if on is not None:
            marks.aligned(
                p, rows[3], thumb_text(on), self.theme.finger("p"), marks.font(13, True), marks.LEFT
            )

    def _paint_shape(self, p: QPainter, area: QRectF, fitted: FittedSpan, on: Assignment) -> None:
        frets = on.shape.frets
        grid, base = Diagram(area, len(frets)), first_fret(frets)
        p.setPen(QPen(QColor(self.theme.string), 1.0))
        for string in range(1, grid.strings + 1):
            p.drawLine(QLineF(grid.x(string), area.top(), grid.x(string), area.bottom()))
        for fret in range(_FRETS + 1):
            p.drawLine(QLineF(area.left(), grid.y(fret), area.right(), grid.y(fret)))
        if base == 1:
            p.setPen(QPen(QColor(self.theme.ink), 2.6))
            p.drawLine(QLineF(area.left(), area.top(), area.right(), area.top()))
        else:
            rect = QRectF(area.left() - 24, grid.y(0) + 1, 18, 14)
            marks.aligned(p, rect, str(base), self.theme.quiet, marks.font(12), marks.RIGHT)
        self._paint_dots(p, grid, base, fitted, on)

    def _paint_dots(self, p: QPainter, grid: Diagram, base: int, fitted: FittedSpan, on: Assignment) -> None:
        needed = needed_fingers(fitted)
        fingers = on.fretting.fingers if on.fretting is not None else (0,) * grid.strings
        if on.fretting is not None and on.fretting.barre is not None:
            barre = on.fretting.barre
            y = grid.y(barre.fret - base + 0.5)
            p.setPen(QPen(QColor(self.theme.ink), 3.0))
            p.drawLine(QLineF(grid.x(barre.from_string), y, grid.x(barre.to_string), y))
        for index, fret in enumerate(on.shape.frets):
            string = grid.strings - index
            if not fret:
                self._paint_open(p, grid, string, fret is None, string in fitted.strings)
                continue
            middle = QPointF(grid.x(string), grid.y(fret - base + 0.5))
            held = fingers[index] in needed if fingers[index] else string in fitted.strings
            self._paint_dot(p, middle, fingers[index], held)

    def _paint_dot(self, p: QPainter, middle: QPointF, finger: int, needed: bool) -> None:
        """A fretting finger: its digit in a ring, filled where a plucked string needs it."""
        p.setPen(QPen(QColor(self.theme.ink), 1.3))
        p.setBrush(QColor(self.theme.ink if needed else self.theme.panel))
        p.drawEllipse(middle, 6.4, 6.4)
        if finger:
            rect = QRectF(middle.x() - 6.6, middle.y() - 6.6, 13.2, 13.2)
            marks.text(p, rect, str(finger), self.theme.panel if needed else self.theme.ink, 11)

    def _paint_open(self, p: QPainter, grid: Diagram, string: int, silent: bool, plucked: bool) -> None:
        """A cross over a silent string, a ring over an open one (strong where it is plucked)."""
        x, y = grid.x(string), grid.area.top() - 8
        ink = QColor(self.theme.ink if plucked else self.theme.quiet)
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.setPen(QPen(ink, 1.8 if plucked else 1.1))
        if silent:
            p.drawLine(QLineF(x - 3, y - 3, x + 3, y + 3))
            p.drawLine(QLineF(x - 3, y + 3, x + 3, y - 3))
        else:
            p.drawEllipse(QPointF(x, y), 3.2, 3.2)

    def _paint_more(self, p: QPainter, first: int, last: int) -> None:
        """A wedge at the edge where there are more cards than can be seen."""
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(QColor(self.theme.accent))
        y, right = self.height() / 2, float(self.width())
        if self._offset > 1:
            p.drawPolygon([QPointF(7, y - 6), QPointF(7, y + 6), QPointF(1, y)])
        if self.card_rect(self._count() - 1).right() > self.width() + 1:
            p.drawPolygon([QPointF(right - 7, y - 6), QPointF(right - 7, y + 6), QPointF(right - 1, y)])

    # Mouse and keys.

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """A click selects a card."""
        for index in range(self._count()):
            if self.card_rect(index).contains(event.position()):
                self.chosen.emit(index)

    def wheelEvent(self, event: QWheelEvent) -> None:
        """The wheel scrolls through the cards."""
        self._scroll(self._offset - (event.angleDelta().x() or event.angleDelta().y()))
        event.accept()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Left and right select the chord before and the next one."""
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()))
        if step is not None and not event.modifiers():
            if 0 <= self.current + step < self._count():
                self.chosen.emit(self.current + step)
        elif event.key() == Qt.Key.Key_Space:
            self.play_wanted.emit()
        else:
            super().keyPressEvent(event)

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Keep the selected card in sight."""
        self._scroll_to_current()

    def focusInEvent(self, event: QFocusEvent) -> None:
        """The selected card gets a strong edge."""
        self.update()
        super().focusInEvent(event)

    def focusOutEvent(self, event: QFocusEvent) -> None:
        """And a plain one."""
        self.update()
        super().focusOutEvent(event)
