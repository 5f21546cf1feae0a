"""The thumb's line as a contour: time to the right, pitch upward, the degree at every note, jumps marked."""

from __future__ import annotations

import msgspec
from PySide6.QtCore import QLineF, QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from gingham.app.look.appearance import Appearance, Dressed
from gingham.app.widgets import marks
from gingham.app.widgets.speaking import Cell, tell
from gingham.core.fitting.result import Result
from gingham.core.judging.bassline import BassNote
from gingham.language import tr
from gingham.words.names import short_degree, signs

_STEP, _TOP, _BOTTOM, _EDGE = 34.0, 34.0, 36.0, 26.0
_PLATE = 215  # opacity of the ground under a degree, so that the line behind it does not cross the word


class Contour(msgspec.Struct, frozen=True):
    """Where the notes lie in a canvas of some height. No Qt."""

    notes: tuple[BassNote, ...]
    height: float

    @property
    def width(self) -> float:
        """The width that all notes need."""
        return 2 * _EDGE + _STEP * max(0, len(self.notes) - 1)

    def x(self, index: int) -> float:
        """A note's place in time; notes stand at equal distances."""
        return _EDGE + _STEP * index

    def y(self, index: int) -> float:
        """A note's height by its pitch."""
        midis = [note.pitch.midi for note in self.notes]
        low, high = min(midis), max(midis)
        room = self.height - _TOP - _BOTTOM - 2 * 14
        share = (self.notes[index].pitch.midi - low) / max(1, high - low)
        return self.height - _BOTTOM - 14 - share * room

    def nearest(self, x: float) -> int:
        """The note nearest to an x."""
        return min(max(0, round((x - _EDGE) / _STEP)), len(self.notes) - 1)


class LineCanvas(Dressed, QWidget):
    """Paints the contour; a click or the arrow keys choose a note."""

    chosen = Signal(int)
    """The chord (index of its span) of the chosen note."""

    def __init__(self, appearance: Appearance, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.wear(appearance)
        self.result: Result | None = None
        self.contour = Contour((), 180.0)
        self.current = 0
        self.setMinimumHeight(190)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(tr("The thumb’s line: pitch over time"))

    def show_line(self, result: Result, notes: tuple[BassNote, ...]) -> None:
        """Another line."""
        self.result, self.contour = result, Contour(notes, max(190.0, self.height()))
        self.current = min(self.current, max(0, len(notes) - 1))
        self.setMinimumWidth(round(self.contour.width))
        self.update()

    def cells(self) -> list[Cell]:
        """The thumb's notes in order."""
        contour = Contour(self.contour.notes, self.height())
        return [
            Cell(
                self._told(i),
                marks.mark_rect(contour.x(i), contour.y(i), 24).toAlignedRect(),
                i == self.current,
            )
            for i in range(len(contour.notes))
        ]

    def _told(self, index: int) -> str:
        note = self.contour.notes[index]
        chord = self.result.spans[note.span].span.chord if self.result is not None else None
        name = f"{signs(chord.text)}, " if chord is not None else ""
        jumps = tr(", a jump") if note.jumps else ""
        return tr(
            "{name}bar {bar}: {pitch}, {short_degree}{jumps}",
            name=name,
            bar=note.bar,
            pitch=signs(str(note.pitch)),
            short_degree=short_degree(note.degree),
            jumps=jumps,
        )

    def paintEvent(self, event: QPaintEvent) -> None:
        """Chord names, the band, the notes."""
        with marks.painting(self) as p:
            p.fillRect(self.rect().adjusted(0, 0, 1, 1), QColor(self.theme.panel))
            contour = Contour(self.contour.notes, self.height())
            if not contour.notes or self.result is None:
                words = tr("The thumb’s notes appear here once there are chords.")
                marks.sentence(p, QRectF(self.rect()), words, self.theme.quiet, 14)
                return
            self._paint_chords(p, contour, self.result)
            for index in range(1, len(contour.notes)):
                self._paint_step(p, contour, index)
            for index in range(len(contour.notes)):
                self._paint_note(p, contour, index)

    def _paint_chords(self, p: QPainter, contour: Contour, result: Result) -> None:
        last = -1
        for index, note in enumerate(contour.notes):
            if note.span == last:
                continue
            last = note.span
            x = contour.x(index) - _STEP / 2
            p.setPen(QPen(QColor(self.theme.edge), 1.0))
            p.drawLine(QLineF(x, 0, x, self.height()))
            chord = result.spans[note.span].span.chord
            name = signs(chord.text) if chord is not None else ""
            rect = QRectF(x + 5, 3, 3 * _STEP, 20)
            marks.aligned(p, rect, name, self.theme.ink, marks.font(14, True), marks.LEFT)
            bar = QRectF(x + 5, self.height() - 18, 2 * _STEP, 16)
            marks.aligned(p, bar, tr("bar {bar}", bar=note.bar), self.theme.quiet, marks.font(11), marks.LEFT)

    def _paint_step(self, p: QPainter, contour: Contour, index: int) -> None:
        jumps = contour.notes[index].jumps
        colour = QColor(self.theme.fault) if jumps else self.theme.finger("p")
        if not jumps:
            colour.setAlpha(90)
        pen = QPen(colour, 2.0 if jumps else 5.0)
        if jumps:
            pen.setStyle(Qt.PenStyle.DashLine)
        p.setPen(pen)
        start = QPointF(contour.x(index - 1), contour.y(index - 1))
        p.drawLine(start, QPointF(contour.x(index), contour.y(index)))

    def _paint_note(self, p: QPainter, contour: Contour, index: int) -> None:
        note = contour.notes[index]
        rect = marks.mark_rect(contour.x(index), contour.y(index), 24)
        marks.finger_mark(p, rect, self.theme, "p", (signs(str(note.pitch.note)),))
        under = QRectF(rect.left() - 4, rect.bottom() + 1, rect.width() + 8, 13)
        plate = QColor(self.theme.panel)
        plate.setAlpha(_PLATE)
        p.fillRect(under.adjusted(4, 1, -4, 0), plate)
        marks.stamped(p, under, short_degree(note.degree), self.theme.quiet, 11)
        if index == self.current and self.hasFocus():
            marks.cursor(p, rect.adjusted(-3, -3, 3, 3), self.theme, True)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """A click chooses the nearest note."""
        if self.contour.notes:
            self._choose(self.contour.nearest(event.position().x()))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Left and right go through the notes."""
        by = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()))
        if by is None:
            super().keyPressEvent(event)
        elif 0 <= self.current + by < len(self.contour.notes):
            self._choose(self.current + by)

    def _choose(self, index: int) -> None:
        self.current = index
        tell(self, self._told(index))
        self.update()
        self.chosen.emit(self.contour.notes[index].span)
