"""Capo positions as necks one below another: the easiest first, its shapes, its effort as a bar."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from gingham.app.look.appearance import Appearance, Dressed
from gingham.app.widgets import marks
from gingham.app.widgets.focus import ShowsFocus
from gingham.app.widgets.speaking import Cell, tell
from gingham.core.bench.capo import HIGHEST, CapoPlace
from gingham.language import tr
from gingham.words.tuning import capo_lines

_ROW, _NECK, _FRETS = 66.0, 88.0, HIGHEST + 2


class PlacesCanvas(Dressed, ShowsFocus):
    """One place is chosen: arrows or a click; Enter or a double click takes it."""

    chosen = Signal(int)
    taken = Signal(int)

    def __init__(self, appearance: Appearance, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.wear(appearance)
        self.places: tuple[CapoPlace, ...] = ()
        self.now = 0
        self.current = 0
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(tr("Capo positions, the easiest first"))
        self.setFixedHeight(round(_ROW))

    def show_places(self, places: tuple[CapoPlace, ...], now: int) -> None:
        """Other positions; `now` is the fret at which the capo sits."""
        self.places, self.now, self.current = places, now, 0
        self.setFixedHeight(round(_ROW * max(1, len(places))))
        self._say()
        self.update()

    def rect_of(self, index: int) -> QRectF:
        """The row of a place."""
        return QRectF(1, index * _ROW + 1, self.width() - 2, _ROW - 4)

    def cells(self) -> list[Cell]:
        """The positions."""
        return [
            Cell(
                ", ".join(capo_lines(place, here=place.capo == self.now)),
                self.rect_of(index).toAlignedRect(),
                index == self.current,
            )
            for index, place in enumerate(self.places)
        ]

    def paintEvent(self, event: QPaintEvent) -> None:
        """All rows."""
        hardest = max((place.effort for place in self.places), default=1.0) or 1.0
        with marks.painting(self) as p:
            for index, place in enumerate(self.places):
                self._paint(p, self.rect_of(index), place, index == self.current, place.effort / hardest)

    def _paint(self, p: QPainter, rect: QRectF, place: CapoPlace, chosen: bool, share: float) -> None:
        marks.plate(p, rect, self.theme, chosen=chosen, focused=self.hasFocus())
        self._paint_neck(p, QRectF(rect.left() + 8, rect.top() + 9, _NECK, 24), place.capo)
        left = rect.left() + _NECK + 18
        title, shapes, differ = capo_lines(place, here=place.capo == self.now)
        words = QRectF(left, rect.top() + 4, rect.right() - left - 6, 17)
        marks.cut(p, words, title, self.theme.ink, marks.font(13, True))
        marks.cut(p, words.translated(0, 18), shapes, self.theme.ink, marks.font(13))
        marks.cut(p, words.translated(0, 38), differ, self.theme.quiet, marks.font(12))
        track = QRectF(rect.left() + 8, rect.bottom() - 15, _NECK, 6)
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(QColor(self.theme.edge))
        p.drawRoundedRect(track, 3, 3)
        p.setBrush(QColor(self.theme.accent))
        p.drawRoundedRect(QRectF(track.left(), track.top(), max(6.0, track.width() * share), 6), 3, 3)

    def _paint_neck(self, p: QPainter, area: QRectF, capo: int) -> None:
        """The neck lying, the nut left, the capo across it; mirrored for the other hand."""
        step = area.width() / _FRETS

        def x(fret: float) -> float:
            return area.right() - fret * step if self.appearance.mirrored else area.left() + fret * step

        p.setPen(QPen(QColor(self.theme.string), 1))
        for line in range(6):
            y = area.top() + line * area.height() / 5
            p.drawLine(QPointF(area.left(), y), QPointF(area.right(), y))
        for fret in range(1, _FRETS + 1):
            p.drawLine(QPointF(x(fret), area.top()), QPointF(x(fret), area.bottom()))
        p.setPen(QPen(QColor(self.theme.ink), 3))
        p.drawLine(QPointF(x(0), area.top() - 1), QPointF(x(0), area.bottom() + 1))
        if capo:
            p.setPen(QPen(QColor(self.theme.accent), 5, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
            p.drawLine(QPointF(x(capo - 0.4), area.top() - 3), QPointF(x(capo - 0.4), area.bottom() + 3))

    # Choosing.

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """A click chooses."""
        self._choose(int(event.position().y() // _ROW))

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        """A double click takes."""
        self.taken.emit(self.current)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Up and down choose, Enter takes."""
        steps = {int(Qt.Key.Key_Up): -1, int(Qt.Key.Key_Down): 1}
        if event.key() in steps:
            self._choose(self.current + steps[event.key()])
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.taken.emit(self.current)
        else:
            super().keyPressEvent(event)

    def _choose(self, index: int) -> None:
        if 0 <= index < len(self.places):
            self.current = index
            self._say()
            self.update()
            self.chosen.emit(index)

    def _say(self) -> None:
        """For those who hear the window."""
        if self.places:
            place = self.places[self.current]
            tell(self, ", ".join(capo_lines(place, here=place.capo == self.now)))
