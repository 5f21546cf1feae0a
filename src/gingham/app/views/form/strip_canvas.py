"""The piece as a strip of cloth: its turns as blocks as long as they last, bars woven, repeats stacked."""

from __future__ import annotations

import msgspec
from PySide6.QtCore import QEvent, QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QSizePolicy, QWidget

from gingham.app.look.appearance import Appearance, Dressed
from gingham.app.look.theme import SIZES
from gingham.app.widgets import marks
from gingham.app.widgets.focus import ShowsFocus
from gingham.app.widgets.speaking import Cell, tell
from gingham.app.widgets.tiles import paint_threads, paint_tile
from gingham.core.judging.piece_map import PieceMap, Tile
from gingham.core.pieces.form import Turn
from gingham.language import tr
from gingham.words.form import ENDING_NAMES, turn_text

_HIGH, _GAP, _LAYER, _END, _LEAST = 122, 10.0, 4.0, 78.0, 18.0
_WIDEST = 40.0  # of a bar
_DRAWN = 3.0


class StripPlan(msgspec.Struct, frozen=True):
    """Where blocks lie: each as wide as its bars, none narrower than can be hit; the ending last. No Qt."""

    bars: tuple[int, ...]
    width: float

    @property
    def step(self) -> float:
        """The width of one bar."""
        room = self.width - _END - _GAP * (len(self.bars) + 1)
        return min(_WIDEST, max(0.05, room / max(1, sum(self.bars))))

    def edges(self) -> list[tuple[float, float]]:
        """Left and right of each block."""
        wide = [max(_LEAST, count * self.step) for count in self.bars]
        spare = self.width - _END - _GAP * (len(self.bars) + 1)
        shrink = min(1.0, spare / sum(wide)) if wide and sum(wide) > 0 else 1.0
        out, x = [], 4.0
        for each in wide:
            out.append((x, x + each * shrink))
            x += each * shrink + _GAP
        return out

    def block_at(self, x: float) -> int | None:
        """The block at an x, or the nearest one; None without blocks."""
        edges = self.edges()
        near = [abs((left + right) / 2 - x) - (right - left) / 2 for left, right in edges]
        return min(range(len(edges)), key=near.__getitem__) if edges else None


class StripCanvas(Dressed, ShowsFocus):
    """Arrows choose a turn, Alt and arrows (or dragging) move it, + and − play it more or less often.

    Delete takes it out, Insert doubles it, Enter shows its section, Space plays.
    """

    turns_wanted = Signal(object, int)
    """The turns as they shall be, and which of them is chosen then."""
    section_wanted = Signal(str)
    play_wanted = Signal()

    def __init__(self, appearance: Appearance, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.wear(appearance)
        self.map: PieceMap | None = None
        self.turns: tuple[Turn, ...] = ()
        self.ending = "stop"
        self.current = 0
        self._pressed: int | None = None
        self._over: int | None = None
        self.setFixedHeight(_HIGH)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(tr("The piece as it is played, turn by turn"))
        self.setToolTip(tr("Drag a block, or Alt and arrows; + and − for how often; Delete takes a turn out"))

    def sizeHint(self) -> QSize:
        """A strip."""
        return QSize(600, _HIGH)

    def show_form(self, found: PieceMap, turns: tuple[Turn, ...], ending: str) -> None:
        """Another piece or form."""
        self.map, self.turns, self.ending = found, turns, ending
        self.current = min(self.current, max(0, len(turns) - 1))
        self._say()
        self.update()

    def tiles_of(self, turn: Turn) -> tuple[Tile, ...]:
        """The bars of a turn's section."""
        if self.map is None:
            return ()
        index = next((i for i, s in enumerate(self.map.piece.sections) if s.name == turn.section), None)
        if index is None or index >= len(self.map.starts):
            return ()
        after = self.map.starts[index + 1] if index + 1 < len(self.map.starts) else len(self.map.tiles)
        return self.map.tiles[self.map.starts[index] : after]

    @property
    def plan(self) -> StripPlan:
        """Where the blocks lie now."""
        return StripPlan(tuple(len(self.tiles_of(turn)) for turn in self.turns), float(self.width()))

    # Painting.

    def cells(self) -> list[Cell]:
        """The turns."""
        count = len(self.turns)
        return [
            Cell(
                turn_text(turn, len(self.tiles_of(turn)), index + 1, count),
                QRectF(left, 0, right - left, _HIGH).toAlignedRect(),
                index == self.current,
            )
            for index, (turn, (left, right)) in enumerate(zip(self.turns, self.plan.edges(), strict=True))
        ]

    def paintEvent(self, event: QPaintEvent) -> None:
        """The blocks, what is dragged, the ending."""
        with marks.painting(self) as p:
            edges = self.plan.edges()
            for index, (left, right) in enumerate(edges):
                self._paint_block(p, QRectF(left, 10, right - left, _HIGH - 16), index)
            if self._pressed is not None and self._over not in (None, self._pressed) and edges:
                left, right = edges[self._over or 0]
                x = left - _GAP / 2 if (self._over or 0) < self._pressed else right + _GAP / 2
                p.setPen(QPen(QColor(self.theme.accent), 3))
                p.drawLine(QPointF(x, 6), QPointF(x, _HIGH - 4))
            after = edges[-1][1] + _GAP if edges else 4.0
            end = QRectF(after, 24, _END - 14, _HIGH - 44)
            p.setPen(QPen(QColor(self.theme.edge), 1))
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.drawRoundedRect(end, SIZES.radius, SIZES.radius)
            p.setPen(QColor(self.theme.ink))
            p.setFont(marks.font(12.5))
            wrapped = Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap
            p.drawText(end.adjusted(3, 0, -3, 0), wrapped, ENDING_NAMES[self.ending])

    def _paint_block(self, p: QPainter, rect: QRectF, index: int) -> None:
        turn, chosen = self.turns[index], index == self.current
        edge = QPen(QColor(self.theme.edge), 1)
        for layer in range(min(3, turn.times) - 1, 0, -1):  # the cloth lies double where it comes again
            p.setPen(edge)
            p.setBrush(QColor(self.theme.panel))
            p.drawRoundedRect(rect.translated(layer * _LAYER, -layer * _LAYER), SIZES.radius, SIZES.radius)
        marks.plate(p, rect, self.theme, chosen=chosen, focused=self.hasFocus())
        words = QRectF(rect.left() + 6, rect.top() + 3, rect.width() - 8, 19)
        name = f"{turn.section} ×{turn.times}" if turn.times > 1 else turn.section
        marks.cut(p, words, name, self.theme.ink, marks.font(14, True))
        marks.cut(p, words.translated(0, 19), self._pattern(turn), self.theme.quiet, marks.font(12))
        self._paint_tiles(
            p, QRectF(rect.left() + 4, rect.top() + 44, rect.width() - 8, rect.height() - 50), turn
        )

    def _paint_tiles(self, p: QPainter, area: QRectF, turn: Turn) -> None:
        tiles = self.tiles_of(turn)
        if not tiles or self.map is None:
            return
        strings, step = self.map.piece.instrument.strings, area.width() / len(tiles)
        if step < _DRAWN:  # as many as can be told apart
            p.fillRect(area, QColor(self.theme.field))
            every = max(1, round(_DRAWN / step))
            for index in range(0, len(tiles), every):
                at = QRectF(area.left() + index * step, area.top(), 1, area.height())
                paint_threads(p, at, tiles[index], self.theme, strings)
            return
        for index, tile in enumerate(tiles):
            rect = QRectF(
                area.left() + index * step, area.top(), step - (1 if step > 8 else 0), area.height()
            )
            paint_tile(p, rect, tile, self.theme, strings)

    def _pattern(self, turn: Turn) -> str:
        if self.map is None:
            return ""
        found = [s.pattern for s in self.map.piece.sections if s.name == turn.section]
        return found[0] if found else ""

    # Choosing and moving.

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """A block is chosen, and may be dragged."""
        self._pressed = self._over = self.plan.block_at(event.position().x())
        if self._pressed is not None:
            self._choose(self._pressed)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """Show where it would go."""
        if self._pressed is not None:
            self._over = self.plan.block_at(event.position().x())
            self.update()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        """It goes there; where it was not dragged, its section is shown."""
        pressed, over = self._pressed, self._over
        self._pressed = self._over = None
        if pressed is not None and over is not None:
            if pressed == over:
                self.section_wanted.emit(self.turns[pressed].section)
            else:
                self._move(pressed, over)
        self.update()

    def event(self, event: QEvent) -> bool:
        """Alt and arrows move a block here; elsewhere they go from chord to chord."""
        if event.type() == QEvent.Type.ShortcutOverride and isinstance(event, QKeyEvent):
            alt = bool(event.modifiers() & Qt.KeyboardModifier.AltModifier)
            if alt and event.key() in (Qt.Key.Key_Left, Qt.Key.Key_Right):
                event.accept()
                return True
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Choosing, moving, more and less."""
        by = {int(Qt.Key.Key_Left): -1, int(Qt.Key.Key_Right): 1}.get(event.key(), 0)
        if not self.turns:
            super().keyPressEvent(event)
        elif by and event.modifiers() & Qt.KeyboardModifier.AltModifier:
            if 0 <= self.current + by < len(self.turns):
                self._move(self.current, self.current + by)
        elif by:
            self._choose(min(max(0, self.current + by), len(self.turns) - 1))
        elif not self._change(event):
            super().keyPressEvent(event)

    def _change(self, event: QKeyEvent) -> bool:
        turn, rest = self.turns[self.current], list(self.turns)
        if event.text() in ("+", "-") and event.text():
            rest[self.current] = Turn(turn.section, max(1, turn.times + (1 if event.text() == "+" else -1)))
            self.turns_wanted.emit(tuple(rest), self.current)
        elif event.key() == Qt.Key.Key_Insert:
            rest.insert(self.current, turn)
            self.turns_wanted.emit(tuple(rest), self.current + 1)
        elif event.key() == Qt.Key.Key_Delete and len(rest) > 1:
            del rest[self.current]
            self.turns_wanted.emit(tuple(rest), max(0, self.current - 1))
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.section_wanted.emit(turn.section)
        elif event.key() == Qt.Key.Key_Space:
            self.play_wanted.emit()
        else:
            return False
        return True

    def _move(self, start: int, to: int) -> None:
        turns = list(self.turns)
        turns.insert(to, turns.pop(start))
        self.turns_wanted.emit(tuple(turns), to)

    def _choose(self, index: int) -> None:
        self.current = index
        self._say()
        self.update()

    def choose(self, index: int) -> None:
        """Choose a turn."""
        if 0 <= index < len(self.turns):
            self._choose(index)

    def _say(self) -> None:
        """For those who hear the window."""
        if self.turns:
            turn = self.turns[self.current]
            tell(self, turn_text(turn, len(self.tiles_of(turn)), self.current + 1, len(self.turns)))
