"""The wall of patterns: each a small weave with its figures; what differs from the piece's is marked."""

from __future__ import annotations

from collections.abc import Sequence

import msgspec
from PySide6.QtCore import QPoint, QRectF, Qt, Signal
from PySide6.QtGui import (
    QColor,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QResizeEvent,
)
from PySide6.QtWidgets import QApplication, QScrollArea, QWidget

from gingham.app.look.appearance import Appearance, Dressed
from gingham.app.widgets import marks
from gingham.app.widgets.focus import ShowsFocus
from gingham.app.widgets.geometry import Lanes, lanes_for
from gingham.app.widgets.speaking import Cell, tell
from gingham.core.patterns.pattern import Pattern, Pluck, Sweep
from gingham.language import tr

_LEAST, _HIGH, _GAP = 226.0, 142.0, 8.0
_TITLE, _WEAVE, _NOTE = 20.0, 78.0, 18.0
_SMALLEST = 11.0  # pixels; longer words are cut


class WallTile(msgspec.Struct, frozen=True):
    """What a tile shows: `marked` are the pattern's places that differ, `note` and `under` two lines."""

    name: str
    pattern: Pattern
    marked: frozenset[int]
    note: str
    under: str


class WallPlan(msgspec.Struct, frozen=True):
    """Where tiles lie in a wall of some width. No Qt."""

    count: int
    width: float

    @property
    def columns(self) -> int:
        """How many stand in a row."""
        return max(1, int((self.width + _GAP) // (_LEAST + _GAP)))

    @property
    def height(self) -> float:
        """All rows."""
        return max(1, -(-self.count // self.columns)) * (_HIGH + _GAP)

    def rect(self, index: int) -> tuple[float, float, float, float]:
        """x, y, width and height of a tile."""
        wide = (self.width - _GAP * (self.columns - 1)) / self.columns
        row, column = divmod(index, self.columns)
        return column * (wide + _GAP), row * (_HIGH + _GAP), wide, _HIGH

    def at(self, x: float, y: float) -> int | None:
        """The tile at a point."""
        wide = (self.width + _GAP) / self.columns
        column, row = int(x // wide), int(y // (_HIGH + _GAP))
        index = row * self.columns + column
        return index if 0 <= column < self.columns and 0 <= index < self.count else None


class WallCanvas(Dressed, ShowsFocus):
    """Arrows choose, Space hears, Enter uses, B puts it into the mix; a tile can be dragged off the wall."""

    chosen = Signal(int)
    heard = Signal()
    taken = Signal()
    mixed = Signal()
    dragged = Signal(QPoint)
    """Where on the screen the chosen tile is held over."""
    dropped = Signal(QPoint)

    def __init__(self, appearance: Appearance, name: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.wear(appearance)
        self.tiles: Sequence[WallTile] = ()
        self.current = -1
        self.empty = ""
        """What is said where there are no tiles."""
        self._pressed: QPoint | None = None
        self._dragging = False
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(name)

    @property
    def plan(self) -> WallPlan:
        """Where the tiles lie now."""
        return WallPlan(len(self.tiles), float(self.width()))

    def show_tiles(self, tiles: Sequence[WallTile], current: int) -> None:
        """Other patterns, or the same with other figures."""
        self.tiles, self.current = tiles, current
        self.setFixedHeight(round(self.plan.height))
        self._say()
        self.update()

    def choose(self, index: int) -> None:
        """Choose a tile and bring it into sight."""
        if 0 <= index < len(self.tiles):
            self.current = index
            self._into_sight()
            self._say()
            self.update()
            self.chosen.emit(index)

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Another width has other rows."""
        self.setFixedHeight(round(self.plan.height))

    # Painting.

    def cells(self) -> list[Cell]:
        """The patterns in sight with their figures."""
        plan, seen = self.plan, QRectF(self.visibleRegion().boundingRect())
        rects = {index: QRectF(*plan.rect(index)) for index in self._seen(seen)}
        return [
            Cell(said_of(self.tiles[i]), rect.toAlignedRect(), i == self.current) for i, rect in rects.items()
        ]

    def _seen(self, area: QRectF) -> range:
        """The tiles of the rows that a part of the wall shows."""
        plan = self.plan
        first = max(0, int(area.top() // (_HIGH + _GAP))) * plan.columns
        last = (int(area.bottom() // (_HIGH + _GAP)) + 1) * plan.columns
        return range(min(first, len(self.tiles)), min(last, len(self.tiles)))

    def paintEvent(self, event: QPaintEvent) -> None:
        """The tiles in sight."""
        plan, seen = self.plan, QRectF(event.rect())
        with marks.painting(self) as p:
            if not self.tiles and self.empty:
                area = QRectF(self.rect()).adjusted(8, 8, -8, -8)
                marks.sentence(p, area, self.empty, self.theme.quiet, 14)
            for index in self._seen(seen):
                rect = QRectF(*plan.rect(index)).adjusted(1, 1, -1, -1)
                self._paint(p, rect, self.tiles[index], index == self.current)

    def _paint(self, p: QPainter, rect: QRectF, tile: WallTile, chosen: bool) -> None:
        marks.plate(p, rect, self.theme, chosen=chosen, focused=self.hasFocus())
        words = QRectF(rect.left() + 8, rect.top() + 3, rect.width() - 16, _TITLE)
        marks.cut(p, words, tile.name, self.theme.ink, marks.font(13.5, True), _SMALLEST)
        paint_weave(
            p,
            QRectF(rect.left() + 8, words.bottom() + 2, rect.width() - 16, _WEAVE),
            tile,
            self,
            chosen=chosen,
        )
        words = QRectF(words.left(), rect.bottom() - 2 * _NOTE - 2, words.width(), _NOTE)
        marks.cut(p, words, tile.note, self.theme.ink, marks.font(12.5), _SMALLEST)
        marks.cut(p, words.translated(0, _NOTE), tile.under, self.theme.quiet, marks.font(12))

    # Choosing.

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """A click chooses."""
        index = self.plan.at(event.position().x(), event.position().y())
        if index is not None:
            self.choose(index)
            self._pressed = event.globalPosition().toPoint()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """A pressed tile goes with the pointer once it has left its place."""
        if self._pressed is None:
            return
        here = event.globalPosition().toPoint()
        far = (here - self._pressed).manhattanLength() >= QApplication.startDragDistance()
        if far and not self._dragging:
            self._dragging = True
            self.setCursor(Qt.CursorShape.ClosedHandCursor)
        if self._dragging:
            self.dragged.emit(here)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        """Let go of it."""
        self._pressed = None
        if self._dragging:
            self._dragging = False
            self.unsetCursor()
            self.dropped.emit(event.globalPosition().toPoint())

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        """A double click uses it."""
        self.taken.emit()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Arrows, pages, the ends; hearing, using."""
        columns = self.plan.columns
        steps = {
            Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1, Qt.Key.Key_Up: -columns, Qt.Key.Key_Down: columns,
            Qt.Key.Key_PageUp: -3 * columns, Qt.Key.Key_PageDown: 3 * columns,
            Qt.Key.Key_Home: -len(self.tiles), Qt.Key.Key_End: len(self.tiles),
        }  # fmt: skip
        by = steps.get(Qt.Key(event.key()))
        if by is not None and self.tiles:
            self.choose(min(max(0, self.current + by), len(self.tiles) - 1))
        elif event.key() == Qt.Key.Key_Space:
            self.heard.emit()
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.taken.emit()
        elif event.key() == Qt.Key.Key_B and not event.modifiers():
            self.mixed.emit()
        else:
            super().keyPressEvent(event)

    def _into_sight(self) -> None:
        viewport = self.parentWidget()
        area = viewport.parentWidget() if viewport is not None else None
        if isinstance(area, QScrollArea):
            x, y, wide, high = self.plan.rect(self.current)
            area.ensureVisible(round(x + wide / 2), round(y + high / 2), 0, round(high / 2) + 8)

    def _say(self) -> None:
        """For those who hear the window."""
        if 0 <= self.current < len(self.tiles):
            tile = self.tiles[self.current]
            place = tr("{current} of {tiles}", current=self.current + 1, tiles=len(self.tiles))
            tell(self, f"{said_of(tile)}; {place}")


def said_of(tile: WallTile) -> str:
    """A tile in one sentence."""
    return f"{tile.name}: {'; '.join(part for part in (tile.note, tile.under) if part)}"


def paint_weave(p: QPainter, area: QRectF, tile: WallTile, of: Dressed, *, chosen: bool) -> None:
    """A pattern in small: beats shaded, a mark for each pluck with its letter where there is room.

    Places that differ from the piece's pattern are underlined, on the chosen tile framed.
    """
    theme, pattern = of.theme, tile.pattern
    lanes = lanes_for((pattern,), area.height() + 20)
    row = area.height() / len(lanes.fingers)
    total = float(pattern.length)
    beats, bar = set(pattern.meter.beat_starts), pattern.meter.bar
    edges = [area.left() + float(at) / total * area.width() for at in pattern.starts]
    for index, at in enumerate(pattern.starts[:-1]):
        if at % bar in beats:
            wide = edges[index + 1] - edges[index]
            ground = marks.laid_over(theme.selected if chosen else theme.panel, theme.check)
            p.fillRect(QRectF(edges[index], area.top(), wide, area.height()), ground)
    for place, finger in enumerate(lanes.fingers):
        dye = theme.finger(finger)
        dye.setAlpha(90)
        p.fillRect(QRectF(area.left(), area.top() + (place + 0.5) * row, area.width(), 1), dye)
    for index, slot in enumerate(pattern.slots):
        step = edges[index + 1] - edges[index]
        x = edges[index] + min(step, 30.0) / 2
        for stroke in slot:
            if isinstance(stroke, Pluck):
                y = area.top() + (lanes.fingers.index(stroke.finger) + 0.5) * row
                wide = max(3.0, min(22.0, step - 2))
                _mark(p, of, QRectF(x - wide / 2, y - 7, wide, 14), stroke.finger)
            elif isinstance(stroke, Sweep):
                _sweep(p, of, x, area, stroke, lanes, row)
        if index in tile.marked and not chosen:
            p.fillRect(QRectF(edges[index] + 2, area.bottom() + 1, step - 4, 2), QColor(theme.accent))
        elif index in tile.marked:
            p.setPen(QPen(QColor(theme.accent), 1.4))
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.drawRoundedRect(QRectF(edges[index] + 0.5, area.top() - 1, step - 1, area.height() + 2), 4, 4)


def _mark(p: QPainter, of: Dressed, rect: QRectF, finger: str) -> None:
    p.setPen(Qt.PenStyle.NoPen)
    p.setBrush(of.theme.finger(finger))
    p.drawRoundedRect(rect, 4, 4)
    if rect.width() >= 11:
        marks.text(p, rect, of.theme.naming.finger(finger), of.theme.on_finger, 11, bold=True)


def _sweep(p: QPainter, of: Dressed, x: float, area: QRectF, sweep: Sweep, lanes: Lanes, row: float) -> None:
    """A brush as an arrow over the hand's rows, the thumb's in its own; a chuck as a cross on its end."""
    top, low = area.top() + 6, area.top() + row * (len(lanes.fingers) - 1) - 4
    if sweep.kind == "thumb-brush":
        top, low = low + 6, area.bottom() - 2
    ends = (low, top) if sweep.kind == "brush-up" else (top, low)
    marks.arrow(p, x, *ends, QColor(of.theme.ink))
    if sweep.kind == "chuck":
        marks.text(p, QRectF(x - 8, low - 8, 16, 16), "×", of.theme.ink, 15, bold=True)
