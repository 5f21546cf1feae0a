"""A neck to finger a shape on: fingers are put, moved and taken off, by mouse or by key."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QWheelEvent
from PySide6.QtWidgets import QWidget

from gingham.app.look.appearance import Appearance, Dressed
from gingham.app.widgets import marks
from gingham.app.widgets.diagram import Diagram, Dot, dot_at, first_fret, paint_shape, rows_for
from gingham.app.widgets.focus import ShowsFocus
from gingham.app.widgets.speaking import Cell, tell
from gingham.core.shapes.fingers import FINGER_KEYS
from gingham.core.shapes.fretting import Barre
from gingham.language import tr

_HEIGHT, _ROWS, _SCALE = 172, 5, 1.35


_SLIDES = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}


class NeckCanvas(Dressed, ShowsFocus):
    """Shows one shape and asks for changes of it; it decides nothing itself."""

    put = Signal(int, int)
    """String and fret where a finger is put, or taken off; fret 0 opens a string or silences it."""
    moved = Signal(int, int)
    """A string's finger shall stand at this fret."""
    fingered = Signal(int, int)
    """String, and the finger that shall stand there."""
    heard = Signal()
    taken = Signal()
    slid = Signal(int)
    """The whole shape shall go so many frets up."""

    def __init__(self, appearance: Appearance, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.wear(appearance)
        self.dots: tuple[Dot, ...] = ()
        self.barres: tuple[Barre, ...] = ()
        self.base, self.capo = 1, 0
        self.string, self.fret = 0, 0
        """The place of the cursor; string 0 for none."""
        self._dragged = 0
        self.setFixedHeight(_HEIGHT)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(tr("Neck: finger a shape of your own"))
        self.setToolTip(
            tr(
                "Click puts a finger or takes it off; above the nut it opens a string or silences it; drag a "
                "finger along its string. Keys: arrows, X puts or takes off, 1 2 3 4 T name the finger, "
                "page keys go up and down the neck, Shift and an arrow slide the whole shape"
            )
        )

    def show_shape(
        self, dots: tuple[Dot, ...], barres: tuple[Barre, ...], capo: int = 0, *, afresh: bool
    ) -> None:
        """What stands on the neck; `afresh` looks at the place where it is held."""
        self.dots, self.barres, self.capo = dots, barres, capo
        frets = tuple(dot.fret for dot in dots)
        if afresh or not all(self.base <= fret < self.base + self._rows() for fret in frets if fret):
            self.base = first_fret(frets)
        if afresh:
            self.string = 0
        self._say()
        self.update()

    def _rows(self) -> int:
        return max(_ROWS, rows_for(tuple(dot.fret for dot in self.dots)))

    @property
    def grid(self) -> Diagram:
        """Where strings and frets lie."""
        wide = min(176.0, self.width() - 76.0)
        area = QRectF((self.width() - wide) / 2 + 8, 24, wide, self.height() - 34)
        return Diagram(
            area, len(self.dots), self.base, self._rows(), self.appearance.mirrored, _SCALE, self.capo
        )

    def cells(self) -> list[Cell]:
        """The strings from the lowest: what stops each."""
        out = []
        for dot in sorted(self.dots, key=lambda dot: -dot.string):
            state = {None: tr("silent"), 0: tr("open")}.get(dot.fret, tr("fret {fret}", fret=dot.fret))
            finger = tr(", finger {finger}", finger=dot.finger) if dot.fret and dot.finger else ""
            middle = self.grid.middle(dot.string, dot.fret or 0)
            rect = QRectF(middle.x() - 10, middle.y() - 10, 20, 20).toAlignedRect()
            out.append(
                Cell(
                    tr("string {string}: {state}{finger}", string=dot.string, state=state, finger=finger),
                    rect,
                    dot.string == self.string,
                )
            )
        return out

    def paintEvent(self, event: QPaintEvent) -> None:
        """The neck, and the cursor while the keyboard is here."""
        if not self.dots:
            return
        with marks.painting(self) as p:
            grid = self.grid
            paint_shape(p, grid, self.theme, self.dots, self.barres)
            if self.capo:
                self._paint_capo(p, grid)
            if self.hasFocus() and self.string:
                middle = grid.middle(self.string, self.fret)
                room = QPointF(11, 11)
                marks.cursor(p, QRectF(middle - room, middle + room), self.theme, True)

    def _paint_capo(self, p: QPainter, grid: Diagram) -> None:
        """The capo where the nut would be, and both numbers of every fret: from the capo, from the nut."""
        area, quiet = grid.area, self.theme.quiet
        left = QRectF(area.left() - 52, 0, 34, 14)
        right = QRectF(min(area.right() + 18, self.width() - 25), 0, 25, 14)
        if grid.base == 1:
            bar = QRectF(area.left() - 6, area.top() - 4, area.width() + 12, 7)
            p.setPen(Qt.PenStyle.NoPen)
            p.setBrush(QColor(self.theme.ink))
            p.drawRoundedRect(bar, 3, 3)
        small = marks.font(11)
        for rect, word, how in ((left, tr("capo"), marks.RIGHT), (right, tr("nut"), marks.LEFT)):
            marks.aligned(p, rect.translated(0, area.top() - 18), word, quiet, small, how)
        for row in range(grid.rows):
            y, fret = grid.y(row + 0.5) - 7, grid.base + row
            ink = (quiet, self.theme.ink) if self.theme.naming.frets == "nut" else (self.theme.ink, quiet)
            if row or grid.base == 1:  # beside the first row the diagram has its own number
                marks.aligned(p, left.translated(0, y), str(fret), ink[0], small, marks.RIGHT)
            marks.aligned(p, right.translated(0, y), str(fret + self.capo), ink[1], small, marks.LEFT)

    # Mouse.

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """On a finger: it may be dragged; elsewhere one is put."""
        if not self.dots:
            return
        self._dragged = dot_at(self.grid, self.dots, event.position())
        self.string, self.fret = self.grid.place_at(event.position())
        self.update()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """A finger goes along its string."""
        if self._dragged:
            _, fret = self.grid.place_at(event.position())
            if fret != self.fret and fret:
                self.string, self.fret = self._dragged, fret
                self.moved.emit(self._dragged, fret)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        """Where the button went down, a finger is put or taken off."""
        if not self.dots:
            return
        place = self.grid.place_at(event.position())
        if place == (self.string, self.fret) and (not self._dragged or self._stands(place)):
            self.put.emit(*place)
        self._dragged = 0

    def _stands(self, place: tuple[int, int]) -> bool:
        """Whether a finger that was pressed has not gone anywhere."""
        return any((dot.string, dot.fret) == place for dot in self.dots)

    def wheelEvent(self, event: QWheelEvent) -> None:
        """Up and down the neck."""
        self._shift(-1 if event.angleDelta().y() > 0 else 1)

    # Keys.

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Arrows, a finger's digit, putting, hearing, taking."""
        steps = {
            Qt.Key.Key_Left: (1, 0), Qt.Key.Key_Right: (-1, 0),
            Qt.Key.Key_Up: (0, -1), Qt.Key.Key_Down: (0, 1),
        }  # fmt: skip
        key, finger = Qt.Key(event.key()), FINGER_KEYS.get(event.text().upper())
        if not self.dots:
            super().keyPressEvent(event)
        elif key in _SLIDES and event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
            self.slid.emit(_SLIDES[key])
        elif key in steps:
            self._step(*steps[key])
        elif key in (Qt.Key.Key_PageUp, Qt.Key.Key_PageDown):
            self._shift(1 if key == Qt.Key.Key_PageDown else -1)
        elif finger and self.string:
            self.fingered.emit(self.string, finger)
        elif key in (Qt.Key.Key_X, Qt.Key.Key_Delete) and self.string:
            self.put.emit(self.string, self.fret)
        elif key == Qt.Key.Key_Space:
            self.heard.emit()
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.taken.emit()
        else:
            super().keyPressEvent(event)

    def _step(self, strings: int, frets: int) -> None:
        if not self.string:
            self.string, self.fret = len(self.dots), self.base
        else:
            way = -strings if self.appearance.mirrored else strings
            self.string = min(max(1, self.string + way), len(self.dots))
            self.fret = max(0, self.fret + frets)
            if self.fret and not self.base <= self.fret < self.base + self._rows():
                self._shift(1 if self.fret >= self.base + self._rows() else -1)
        self._say()
        self.update()

    def _shift(self, by: int) -> None:
        self.base = min(max(1, self.base + by), 15)
        self.update()

    def _say(self) -> None:
        """For those who hear the window."""
        dot = next((dot for dot in self.dots if dot.string == self.string), None)
        if dot is None:
            return
        here = tr("a finger") if dot.fret == self.fret and self.fret else tr("no finger")
        state = {None: tr("silent"), 0: tr("open")}.get(dot.fret, tr("fret {fret}", fret=dot.fret))
        tell(
            self,
            tr(
                "string {string} ({state}), fret {fret}: {here}",
                string=self.string,
                state=state,
                fret=self.fret,
                here=here,
            ),
        )
