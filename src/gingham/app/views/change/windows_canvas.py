"""One change as a picture: both shapes, and for each finger the window in which it may move."""

from __future__ import annotations

from fractions import Fraction

import msgspec
from PySide6.QtCore import QPointF, QRect, QRectF
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from gingham.app.look.appearance import Appearance, Dressed
from gingham.app.widgets import marks
from gingham.app.widgets.card_face import face_of
from gingham.app.widgets.diagram import Diagram, first_fret, paint_shape, rows_for
from gingham.app.widgets.speaking import Cell
from gingham.core.fitting.result import Result
from gingham.core.judging.changes import Change, FingerMove
from gingham.language import tr
from gingham.words.changes import fretting_finger, move_text, window_text

_SHAPES, _ROW = 104.0, 36.0


class Span(msgspec.Struct, frozen=True):
    """The stretch of time that the windows lie in, as whole notes from the change. No Qt."""

    begin: Fraction
    end: Fraction

    def share(self, time: Fraction) -> float:
        """A time as a share of the stretch, 0 to 1."""
        return min(1.0, max(0.0, float((time - self.begin) / (self.end - self.begin))))


def stretch_of(change: Change, bar: Fraction) -> Span:
    """From the first finger that may lift (a bar before at most) to the last that lands (a bar after)."""
    timed = [move for move in change.fingers if move.kind != "stays"]
    begin = min((move.free for move in timed if move.free is not None), default=-bar / 2)
    end = max((move.due for move in timed if move.due is not None), default=bar / 2)
    return Span(max(-bar, min(begin, -bar / 4)), min(bar, max(end, bar / 4)))


class WindowsCanvas(Dressed, QWidget):
    """Looks only; the words beside it can be read aloud."""

    def __init__(self, appearance: Appearance, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.wear(appearance)
        self.result: Result | None = None
        self.change: Change | None = None
        self._spans = (0, 0)
        self.setAccessibleName(tr("The change as a picture"))

    def show_change(self, result: Result, change: Change, before: int, after: int) -> None:
        """A change from one span into another."""
        self.result, self.change, self._spans = result, change, (before, after)
        self.setFixedHeight(round(_SHAPES + _ROW * len(self.moves)))
        meter = result.piece.meter
        said = [f"{fretting_finger(m.finger)} {move_text(m, change, meter)}" for m in self.moves]
        self.setAccessibleDescription("; ".join(said))
        self.update()

    @property
    def moves(self) -> list[FingerMove]:
        """The fingers that do something, in order of landing, those that stay last."""
        moves = self.change.fingers if self.change is not None else ()
        return sorted(moves, key=lambda move: (move.kind == "stays", move.kind == "lifts"))

    def cells(self) -> list[Cell]:
        """Each finger with its way and the time it has."""
        if self.result is None or self.change is None:
            return []
        piece, change, out = self.result.piece, self.change, []
        for row, move in enumerate(self.moves):
            time = window_text(move, piece.meter, piece.tempo)
            words = f"{fretting_finger(move.finger)}: {move_text(move, change, piece.meter)}, {time}"
            out.append(Cell(words, QRect(0, round(_SHAPES + row * _ROW), self.width(), round(_ROW))))
        return out

    def paintEvent(self, event: QPaintEvent) -> None:
        """Shapes above, windows below."""
        if self.result is None or self.change is None:
            return
        with marks.painting(self) as p:
            wide = self.width()
            for span, left in zip(self._spans, (0.0, wide / 2 + 14), strict=True):
                self._paint_shape(p, QRectF(left, 0, wide / 2 - 14, _SHAPES), span)
            middle = QRectF(wide / 2 - 14, 26, 28, 50)
            marks.text(p, middle, "→", self.theme.quiet, 22)
            for row, move in enumerate(self.moves):
                self._paint_move(p, QRectF(0, _SHAPES + row * _ROW, wide, _ROW), move)

    def _paint_shape(self, p: QPainter, area: QRectF, span: int) -> None:
        assert self.result is not None
        face = face_of(self.result, span, False, False, self.appearance.mirrored)
        if not face.dots:
            return
        frets = tuple(dot.fret for dot in face.dots)
        wide = min(84.0, area.width() - 30)
        neck = QRectF(area.center().x() - wide / 2 + 6, area.top() + 18, wide, 70)
        grid = Diagram(neck, len(face.dots), first_fret(frets), rows_for(frets), face.mirrored, 1.1)
        paint_shape(p, grid, self.theme, face.dots, face.barres)

    def _paint_move(self, p: QPainter, area: QRectF, move: FingerMove) -> None:
        assert self.result is not None and self.change is not None
        piece, change = self.result.piece, self.change
        words = QRectF(area.left(), area.top(), area.width(), 20)
        name = fretting_finger(move.finger)
        marks.aligned(
            p,
            QRectF(words.left(), words.top(), 62, 20),
            name,
            self.theme.ink,
            marks.font(13, True),
            marks.LEFT,
        )
        tight = move.window is not None and move.window <= 0
        time = window_text(move, piece.meter, piece.tempo)
        ink = self.theme.fault if tight else self.theme.quiet
        marks.aligned(
            p, QRectF(words.right() - 52, words.top(), 52, 20), time, ink, marks.font(12), marks.RIGHT
        )
        rest = QRectF(words.left() + 66, words.top(), words.width() - 122, 20)
        marks.aligned(
            p, rest, move_text(move, change, piece.meter), self.theme.ink, marks.font(12), marks.LEFT
        )
        self._paint_window(p, QRectF(area.left(), area.top() + 22, area.width(), 8), move, tight=tight)

    def _paint_window(self, p: QPainter, track: QRectF, move: FingerMove, *, tight: bool) -> None:
        """When the finger may be on its way; the line is the change."""
        assert self.result is not None and self.change is not None
        span = stretch_of(self.change, self.result.piece.meter.bar)
        p.setPen(QPen(QColor(self.theme.edge), 1))
        p.setBrush(QColor(self.theme.field))
        p.drawRoundedRect(track, 4, 4)
        if move.kind != "stays":
            free = move.free if move.free is not None else span.begin
            due = move.due if move.due is not None else span.end
            left, right = (track.left() + span.share(t) * track.width() for t in (free, max(free, due)))
            p.setPen(QColor(self.theme.accent))
            p.setBrush(QColor(self.theme.fault if tight else self.theme.accent))
            p.setOpacity(1.0 if move.due is not None else 0.45)
            p.drawRoundedRect(QRectF(left, track.top(), max(4.0, right - left), track.height()), 4, 4)
            p.setOpacity(1.0)
        x = track.left() + span.share(Fraction(0)) * track.width()
        p.setPen(QPen(QColor(self.theme.ink), 1.4))
        p.drawLine(QPointF(x, track.top() - 3), QPointF(x, track.bottom() + 3))
