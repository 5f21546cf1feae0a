"""The whole piece as small woven tiles: where things are, what is in sight, where to go."""

from __future__ import annotations

from bisect import bisect_right

import msgspec
from PySide6.QtCore import QPointF, QRect, QRectF, QSize, Qt, Signal
from PySide6.QtGui import (
    QColor,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QPixmap,
    QPolygonF,
)
from PySide6.QtWidgets import QSizePolicy, QWidget

from gingham.app.look.appearance import Appearance, Dressed
from gingham.app.look.theme import SIZES
from gingham.app.widgets import marks
from gingham.app.widgets.focus import ShowsFocus
from gingham.app.widgets.speaking import Cell, announce
from gingham.app.widgets.tiles import paint_threads, paint_tile
from gingham.core.judging.piece_map import PieceMap, Tile
from gingham.language import tr
from gingham.words.piece_text import map_text

_WIDEST, _GAP, _LEAST_GAP = 64.0, 12.0, 3.0
_DRAWN = 3.0  # tiles narrower than this are a band
_LABEL = 14.0
_EDGE = 3.0  # room for the frame


class MapPlan(msgspec.Struct, frozen=True):
    """Where tiles lie in a canvas of some width. No Qt."""

    count: int
    starts: tuple[int, ...]
    width: float

    @property
    def gap(self) -> float:
        """Room between sections."""
        gaps = max(1, len(self.starts) - 1)
        return max(min(_GAP, 0.15 * self.width / gaps), min(_LEAST_GAP, 0.15 * self.width / gaps))

    @property
    def step(self) -> float:
        """The width of a tile."""
        room = self.width - 2 * _EDGE - self.gap * max(0, len(self.starts) - 1)
        return min(_WIDEST, room / max(1, self.count))

    def section_of(self, index: int) -> int:
        """The section of a tile; of sections without bars the last one that begins there."""
        return bisect_right(self.starts, index) - 1

    def x(self, index: float) -> float:
        """Where a tile begins; a fraction lies inside it."""
        return _EDGE + index * self.step + self.gap * max(0, self.section_of(int(index)))

    def tile_at(self, x: float) -> int:
        """The tile nearest to an x."""
        low, high = 0, self.count - 1
        while low < high:
            middle = (low + high + 1) // 2
            if self.x(middle) <= x:
                low = middle
            else:
                high = middle - 1
        return max(0, low)


class MapCanvas(Dressed, ShowsFocus):
    """Paints the map once for each piece; what moves over it (sight, cursor, playhead) is laid on top.

    Keys: left and right go by bars, page keys by sections, up and down by conflicts; Enter lists these.
    """

    bar_chosen = Signal(int, int)
    """Section and bar."""
    list_wanted = Signal()

    def __init__(self, appearance: Appearance, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.wear(appearance)
        self.map: PieceMap | None = None
        self.cursor_tile: int | None = None
        self.sight: tuple[int, int] | None = None
        """First and last tile that Build's pictures show."""
        self.playhead: float | None = None
        self._picture: QPixmap | None = None
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setMouseTracking(True)
        self.setAccessibleName(tr("Map of the piece"))

    def sizeHint(self) -> QSize:
        """Two lines of words high."""
        return QSize(600, SIZES.map_height)

    @property
    def plan(self) -> MapPlan:
        """Where the tiles lie now."""
        tiles, starts = (len(self.map.tiles), self.map.starts) if self.map is not None else (0, ())
        return MapPlan(tiles, starts, float(self.width()))

    # What is shown.

    def show_map(self, found: PieceMap) -> None:
        """Another piece, or the same one after an edit."""
        same = self.map is not None and self.map.tiles == found.tiles and self.map.starts == found.starts
        renamed = self.map is None or self.map.piece.sections != found.piece.sections
        self.map = found
        if not same or renamed:
            self._picture = None
            self.update()
        self._say()

    def show_cursor(self, tile: int | None) -> None:
        """The bar of the cell cursor."""
        if tile != self.cursor_tile:
            self.cursor_tile = tile
            self._say()
            self.update()

    def show_sight(self, sight: tuple[int, int] | None) -> None:
        """The bars that can be seen."""
        if sight != self.sight:
            self.sight = sight
            self.update()

    def show_playhead(self, place: float | None) -> None:
        """Where the music is, in tiles from the first."""
        before, self.playhead = self.playhead, place
        if before != place:
            for each in (before, place):
                if each is not None:
                    self.update(QRect(round(self.plan.x(each)) - 3, 0, 7, self.height()))

    def cells(self) -> list[Cell]:
        """The bars, as far as they can be told apart."""
        if self.map is None or self.plan.step < _DRAWN:
            return []
        plan = self.plan
        rects = (self._tile_rect(index, plan).toAlignedRect() for index in range(len(self.map.tiles)))
        return [Cell(map_text(self.map, i), rect, i == self.cursor_tile) for i, rect in enumerate(rects)]

    def restyle(self) -> None:
        """Other colours."""
        self._picture = None
        self.update()

    def _say(self) -> None:
        """For those who hear the window."""
        if self.map is not None:
            words = map_text(self.map, self.cursor_tile)
            self.setAccessibleDescription(words)
            if self.hasFocus():
                announce(self, words)

    # Painting.

    def paintEvent(self, event: QPaintEvent) -> None:
        """The cloth, then the bars in sight, the cursor's bar, the playhead."""
        if self.map is None:
            return  # it is being made
        if not self.map.tiles:
            with marks.painting(self) as p:
                words = tr("Every bar of the piece will be a small tile here: a click goes there.")
                marks.sentence(p, QRectF(self.rect()), words, self.theme.quiet, 13)
            return
        ratio = self.devicePixelRatioF()
        if self._picture is None or self._picture.deviceIndependentSize().toSize() != self.size():
            self._picture = self._painted(ratio)
        with marks.painting(self) as p:
            p.drawPixmap(QPointF(0, 0), self._picture)
            self._paint_over(p)

    def _painted(self, ratio: float) -> QPixmap:
        assert self.map is not None
        picture = QPixmap(self.size() * ratio)
        picture.setDevicePixelRatio(ratio)
        picture.fill(Qt.GlobalColor.transparent)
        plan = self.plan
        with marks.painting(picture) as p:
            self._paint_sections(p, plan)
            if plan.step < _DRAWN:
                self._paint_band(p, plan)
            else:
                known: dict[tuple[int, bool], QPixmap] = {}
                for index, tile in enumerate(self.map.tiles):
                    self._paint_tile(p, self._tile_rect(index, plan), tile, known)
            self._paint_signs(p, plan)
        return picture

    def _tile_rect(self, index: int, plan: MapPlan) -> QRectF:
        between = 1.0 if plan.step > 8 else 0.0
        return QRectF(plan.x(index), _LABEL, plan.step - between, self.height() - _LABEL - _EDGE)

    def _paint_sections(self, p: QPainter, plan: MapPlan) -> None:
        """Names over the tiles; the sections that come again lie on further layers of cloth."""
        assert self.map is not None
        for index, section in enumerate(self.map.piece.sections):
            begin = plan.starts[index]
            after = plan.starts[index + 1] if index + 1 < len(plan.starts) else plan.count
            if after <= begin:
                continue
            left, right = plan.x(begin), plan.x(after - 1) + plan.step
            words = f"{section.name} ×{section.repeats}" if section.repeats > 1 else section.name
            room = QRectF(left, 0, right - left + plan.gap - 3, _LABEL - 2)
            if room.width() > 14:
                marks.cut(p, room, words, self.theme.quiet, marks.font(12))
            p.setPen(QPen(QColor(self.theme.string), 1))
            for layer in range(1, min(3, section.repeats)):
                y = self.height() - _EDGE + layer * 1.5 - 0.5
                p.drawLine(QPointF(left + 2 * layer, y), QPointF(right - 2, y))

    def _paint_tile(
        self, p: QPainter, rect: QRectF, tile: Tile, known: dict[tuple[int, bool], QPixmap]
    ) -> None:
        key = (id(tile.weave), tile.own)
        if key not in known:
            known[key] = self._woven(tile, rect)
        p.drawPixmap(rect.topLeft(), known[key])

    def _woven(self, tile: Tile, rect: QRectF) -> QPixmap:
        """One bar: its plucks as short threads, strings from top to bottom."""
        ratio = self.devicePixelRatioF()
        picture = QPixmap(QSize(max(1, round(rect.width() * ratio)), max(1, round(rect.height() * ratio))))
        picture.setDevicePixelRatio(ratio)
        assert self.map is not None
        with marks.painting(picture) as p:
            area = QRectF(0, 0, rect.width(), rect.height())
            paint_tile(p, area, tile, self.theme, self.map.piece.instrument.strings)
        return picture

    def _paint_band(self, p: QPainter, plan: MapPlan) -> None:
        """More bars than can be drawn: each section a band, with the threads of some of its bars."""
        assert self.map is not None
        shown = -1.0
        for index, tile in enumerate(self.map.tiles):
            x = plan.x(index)
            p.fillRect(
                QRectF(x, _LABEL, max(1.0, plan.step), self.height() - _LABEL - _EDGE),
                QColor(self.theme.field),
            )
            if x - shown >= _DRAWN:
                shown = x
                area = QRectF(x, _LABEL + 2, 1.0, self.height() - _LABEL - _EDGE - 4)
                paint_threads(p, area, tile, self.theme, self.map.piece.instrument.strings)

    def _paint_signs(self, p: QPainter, plan: MapPlan) -> None:
        """A dot where something is in the way, a ring where something is worth knowing, a corner where one
        of the hardest changes lands."""
        assert self.map is not None
        p.setPen(Qt.PenStyle.NoPen)
        last = -9.0
        for index, tile in enumerate(self.map.tiles):
            if not tile.problems and not tile.remarks and not tile.hard:
                continue
            rect = self._tile_rect(index, plan)
            if tile.hard:
                p.setBrush(QColor(self.theme.ink))
                left, low = rect.left(), rect.bottom()
                p.drawPolygon(QPolygonF([QPointF(left, low), QPointF(left, low - 8), QPointF(left + 8, low)]))
            if (tile.problems or tile.remarks) and rect.left() - last > 2:
                last = rect.left()
                p.setPen(QPen(QColor(self.theme.fault if tile.problems else self.theme.quiet), 1.4))
                p.setBrush(QColor(self.theme.fault if tile.problems else self.theme.panel))
                p.drawEllipse(QPointF(rect.left() + max(2.0, rect.width() - 3), _LABEL + 1.5), 3.0, 3.0)
                p.setPen(Qt.PenStyle.NoPen)

    def _paint_over(self, p: QPainter) -> None:
        plan, low = self.plan, self.height() - 1.0
        p.setBrush(Qt.BrushStyle.NoBrush)
        if self.cursor_tile is not None and self.cursor_tile < plan.count:
            rect = self._tile_rect(self.cursor_tile, plan)
            wide = max(rect.width(), 3.0)
            p.fillRect(QRectF(rect.left(), low - 2, wide, 3), QColor(self.theme.accent))
        if self.sight is not None and self.sight[1] < plan.count:
            left, right = plan.x(self.sight[0]), plan.x(self.sight[1]) + plan.step
            p.setPen(QPen(QColor(self.theme.accent), 2.4 if self.hasFocus() else 1.6))
            p.drawRoundedRect(
                QRectF(left - 2, _LABEL - 2, max(4.0, right - left + 3), low - _LABEL + 1), 4, 4
            )
        if self.playhead is not None:
            x = plan.x(self.playhead)
            p.setPen(QPen(QColor(self.theme.accent), 2))
            p.drawLine(QPointF(x, _LABEL - 3), QPointF(x, low))

    # Going there.

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """A bar is chosen; dragging goes on."""
        self._choose_at(event.position().x())

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """Follow the mouse while its button is down; else say what lies under it."""
        if event.buttons() & Qt.MouseButton.LeftButton:
            self._choose_at(event.position().x())
        elif self.map is not None and self.map.tiles:
            self.setToolTip(map_text(self.map, self.plan.tile_at(event.position().x())))

    def _choose_at(self, x: float) -> None:
        if self.map is not None and self.map.tiles:
            self._choose(self.plan.tile_at(x))

    def _choose(self, index: int) -> None:
        if self.map is not None and self.map.tiles:
            tile = self.map.tiles[min(max(0, index), len(self.map.tiles) - 1)]
            self.bar_chosen.emit(tile.section, tile.bar)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Bars, sections, conflicts, their list."""
        now = self.cursor_tile or 0
        key = event.key()
        if self.map is None or not self.map.tiles:
            super().keyPressEvent(event)
        elif key in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            self._choose(now + (1 if key == Qt.Key.Key_Right else -1))
        elif key in (Qt.Key.Key_PageUp, Qt.Key.Key_PageDown):
            self._step_section(now, 1 if key == Qt.Key.Key_PageDown else -1)
        elif key in (Qt.Key.Key_Home, Qt.Key.Key_End):
            self._choose(0 if key == Qt.Key.Key_Home else len(self.map.tiles) - 1)
        elif key in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            self._step_conflict(now, 1 if key == Qt.Key.Key_Down else -1)
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.list_wanted.emit()
        else:
            super().keyPressEvent(event)

    def _step_section(self, now: int, by: int) -> None:
        starts = self.plan.starts
        index = self.plan.section_of(now) + by
        if 0 <= index < len(starts):
            self._choose(starts[index])

    def _step_conflict(self, now: int, by: int) -> None:
        assert self.map is not None
        places = [index for index, tile in enumerate(self.map.tiles) if tile.problems or tile.remarks]
        ahead = [index for index in places if (index - now) * by > 0]
        if ahead:
            self._choose(ahead[0] if by > 0 else ahead[-1])
