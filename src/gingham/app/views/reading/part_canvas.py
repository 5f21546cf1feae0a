"""A part that was read, as cloth: a tile for every bar; those that break their pattern are stitched."""

from __future__ import annotations

from collections.abc import Mapping
from itertools import groupby

import msgspec
from PySide6.QtCore import QRectF, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QResizeEvent
from PySide6.QtWidgets import QScrollArea, QWidget

from gingham.app.look.appearance import Appearance, Dressed
from gingham.app.widgets import marks
from gingham.app.widgets.focus import ShowsFocus
from gingham.app.widgets.speaking import Cell, tell
from gingham.app.widgets.tiles import paint_threads
from gingham.core.finding.exceptions import Exceptional
from gingham.core.judging.piece_map import PieceMap, Tile
from gingham.language import tr
from gingham.words.importing import exception_text

_LEAST, _HIGH, _GAP, _HEAD, _NUMBER = 66.0, 58.0, 5.0, 24.0, 15.0
_MOST_CELLS = 120
Break = tuple[int, int]
"""A bar by its section's index and its number."""


class PartPlan(msgspec.Struct, frozen=True):
    """Where the bars of sections of some lengths lie in a width: rows under a heading. No Qt."""

    lengths: tuple[int, ...]
    width: float

    @property
    def columns(self) -> int:
        """Bars in a row: a multiple of four where there is room, no more than the longest section has."""
        most = max(1, int((self.width + _GAP) // (_LEAST + _GAP)))
        most = most - most % 4 if most >= 4 else most
        return max(1, min(most, max((4, *self.lengths))))

    @property
    def tops(self) -> tuple[float, ...]:
        """Where each section's heading begins, and the end of the last one."""
        out = [0.0]
        for length in self.lengths:
            out.append(out[-1] + _HEAD + -(-length // self.columns) * (_HIGH + _GAP))
        return tuple(out)

    def rect(self, section: int, place: int, top: float) -> tuple[float, float, float, float]:
        """x, y, width and height of a section's bar (its place from 0); `top` is that of the section."""
        wide = (self.width - _GAP * (self.columns - 1)) / self.columns
        row, column = divmod(place, self.columns)
        return column * (wide + _GAP), top + _HEAD + row * (_HIGH + _GAP), wide, _HIGH


class PartCanvas(Dressed, ShowsFocus):
    """Arrows go over the bars, Tab leaves; N to the next bar that breaks its pattern, Space turns it over."""

    chosen = Signal(int)
    """A tile's index."""
    turned = Signal()

    def __init__(self, appearance: Appearance, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.wear(appearance)
        self.map: PieceMap | None = None
        self.broken: Mapping[Break, Exceptional] = {}
        self.corrected: frozenset[Break] = frozenset()
        self.current = -1
        self._groups: list[list[Tile]] = []
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(tr("The part as it was read"))

    def show_part(self, found: PieceMap | None, broken: Mapping[Break, Exceptional]) -> None:
        """Another part; the first bar that breaks its pattern is chosen."""
        self.map, self.broken, self.corrected = found, broken, frozenset()
        tiles = found.tiles if found is not None else ()
        self._groups = [list(group) for _, group in groupby(tiles, key=lambda tile: tile.section)]
        self.setFixedHeight(round(self.plan.tops[-1]) + 4)
        first = next((i for i, tile in enumerate(tiles) if (tile.section, tile.bar) in broken), 0)
        self.current = -1
        self.choose(first)
        self.update()

    def show_corrected(self, corrected: frozenset[Break]) -> None:
        """Other bars follow their pattern now."""
        self.corrected = corrected
        self._say()
        self.update()

    @property
    def plan(self) -> PartPlan:
        """Where the bars lie now."""
        return PartPlan(tuple(map(len, self._groups)), max(60.0, float(self.width())))

    def _rect(self, index: int, plan: PartPlan | None = None) -> QRectF:
        assert self.map is not None
        plan, section = plan or self.plan, 0
        while section + 1 < len(self._groups) and index >= len(self._groups[section]):
            index -= len(self._groups[section])
            section += 1
        return QRectF(*plan.rect(section, index, plan.tops[section]))

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Another width has other rows."""
        self.setFixedHeight(round(self.plan.tops[-1]) + 4)

    # Painting.

    def _words(self, tile: Tile) -> str:
        each = self.broken.get((tile.section, tile.bar))
        name = self.map.piece.sections[tile.section].name if self.map is not None else ""
        if each is None:
            return tr("{name}, bar {bar}: follows its pattern", name=name, bar=tile.bar)
        done = tr("; put right: it follows its pattern") if self._is_corrected(tile) else ""
        return f"{exception_text(each)}{done}"

    def _is_corrected(self, tile: Tile) -> bool:
        return (tile.section, tile.bar) in self.corrected

    def cells(self) -> list[Cell]:
        """The bars with what breaks their pattern; in a long part only those around the cursor."""
        tiles = self.map.tiles if self.map is not None else ()
        first = max(0, min(self.current - _MOST_CELLS // 2, len(tiles) - _MOST_CELLS))
        return [
            Cell(self._words(tiles[i]), self._rect(i).toAlignedRect(), i == self.current)
            for i in range(first, min(len(tiles), first + _MOST_CELLS))
        ]

    def paintEvent(self, event: QPaintEvent) -> None:
        """Headings and the bars in sight."""
        if self.map is None:
            return
        seen, plan, index = QRectF(event.rect()), self.plan, 0
        tops = plan.tops
        with marks.painting(self) as p:
            for section, group in enumerate(self._groups):
                if tops[section + 1] >= seen.top() and tops[section] <= seen.bottom():
                    self._paint_section(p, plan, section, tops[section], group, index, seen)
                index += len(group)

    def _paint_section(
        self,
        p: QPainter,
        plan: PartPlan,
        section: int,
        top: float,
        group: list[Tile],
        index: int,
        seen: QRectF,
    ) -> None:
        assert self.map is not None
        of = self.map.piece.sections[group[0].section]
        words = f"{of.name}{f' ×{of.repeats}' if of.repeats > 1 else ''} · {of.pattern}"
        marks.cut(p, QRectF(0, top, self.width(), _HEAD), words, self.theme.ink, marks.font(13.5, True))
        for place, tile in enumerate(group):
            rect = QRectF(*plan.rect(section, place, top))
            if rect.intersects(seen):
                self._paint_tile(p, rect, tile, index + place == self.current)

    def _paint_tile(self, p: QPainter, rect: QRectF, tile: Tile, chosen: bool) -> None:
        assert self.map is not None
        theme, broken = self.theme, (tile.section, tile.bar) in self.broken
        p.fillRect(rect, QColor(theme.selected if chosen else theme.field))
        if broken and not self._is_corrected(tile):
            pen = QPen(QColor(theme.accent), 2.0, Qt.PenStyle.DashLine)
        elif chosen:
            pen = QPen(QColor(theme.accent), 1.6)
        else:
            pen = QPen(QColor(theme.edge), 1)
        p.setPen(pen)
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawRect(rect.adjusted(1, 1, -1, -1))
        sign = " ✓" if self._is_corrected(tile) else " ≠" if broken else ""
        words = QRectF(rect.left() + 5, rect.top() + 2, rect.width() - 8, _NUMBER)
        ink = theme.ink if broken or chosen else theme.quiet
        marks.cut(p, words, f"{tile.bar}{sign}", ink, marks.font(12, broken))
        threads = rect.adjusted(4, _NUMBER + 4, -3, -4)
        strings = self.map.piece.instrument.strings
        p.setOpacity(0.35 if self._is_corrected(tile) else 1.0)
        paint_threads(p, threads, tile, theme, strings)
        p.setOpacity(1.0)

    # Choosing.

    def choose(self, index: int) -> None:
        """Choose a bar and bring it into sight."""
        if self.map is not None and 0 <= index < len(self.map.tiles) and index != self.current:
            self.current = index
            self._into_sight()
            self._say()
            self.update()
            self.chosen.emit(index)

    def next_break(self, by: int) -> None:
        """To the next bar that breaks its pattern, or the one before."""
        if self.map is None:
            return
        odd = [i for i, tile in enumerate(self.map.tiles) if (tile.section, tile.bar) in self.broken]
        ahead = [i for i in odd if (i > self.current if by > 0 else i < self.current)]
        if ahead:
            self.choose(ahead[0] if by > 0 else ahead[-1])

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """A click chooses."""
        count = len(self.map.tiles) if self.map is not None else 0
        plan = self.plan
        for index in range(count):
            if self._rect(index, plan).contains(event.position()):
                self.choose(index)
                return

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        """A double click turns a bar over."""
        self.turned.emit()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Arrows, the next break, turning over."""
        columns = self.plan.columns
        steps = {
            Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1, Qt.Key.Key_Up: -columns, Qt.Key.Key_Down: columns,
            Qt.Key.Key_Home: -(10**6), Qt.Key.Key_End: 10**6,
        }  # fmt: skip
        by = steps.get(Qt.Key(event.key()))
        if by is not None and self.map is not None:
            self.choose(min(max(0, self.current + by), len(self.map.tiles) - 1))
        elif event.key() == Qt.Key.Key_N:
            self.next_break(-1 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1)
        elif event.key() == Qt.Key.Key_Space:
            self.turned.emit()
        else:
            super().keyPressEvent(event)

    def _into_sight(self) -> None:
        viewport = self.parentWidget()
        area = viewport.parentWidget() if viewport is not None else None
        if isinstance(area, QScrollArea):
            middle = self._rect(self.current).center()
            area.ensureVisible(round(middle.x()), round(middle.y()), 0, round(_HIGH))

    def _say(self) -> None:
        """For those who hear the window."""
        if self.map is not None and 0 <= self.current < len(self.map.tiles):
            tell(self, self._words(self.map.tiles[self.current]))
