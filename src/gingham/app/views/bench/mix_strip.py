"""The mix: bars in a row, each a small weave; tiles are dropped between them, keys move and remove them."""

from __future__ import annotations

import msgspec
from PySide6.QtCore import QPoint, QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from gingham.app.look.appearance import Appearance, Dressed
from gingham.app.widgets import marks
from gingham.app.widgets.focus import ShowsFocus
from gingham.app.widgets.speaking import Cell, tell
from gingham.app.widgets.wall import WallTile, paint_weave
from gingham.core.patterns.mixing import MOST_BARS
from gingham.core.patterns.pattern import Pattern
from gingham.language import tr

_WIDE, _LEAST, _GAP, _HIGH = 150.0, 44.0, 6.0, 104
_TITLE = 20.0
_EMPTY = tr("Drag patterns from the wall into this row, or press B on one: each becomes a bar of the mix.")


class MixBar(msgspec.Struct, frozen=True):
    """One bar of the mix: the pattern whose first bar it is, under its name."""

    name: str
    pattern: Pattern


class MixStrip(Dressed, ShowsFocus):
    """Arrows choose, Shift and an arrow move a bar, Delete takes it out; bars can be dragged to and fro."""

    changed = Signal()
    full = Signal()

    def __init__(self, appearance: Appearance, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.wear(appearance)
        self.bars: list[MixBar] = []
        self.current = -1
        self._gap: int | None = None
        """Before which bar something would be dropped."""
        self._held: int | None = None
        self.setFixedHeight(_HIGH)
        self.setMouseTracking(False)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(tr("Bars of the mix"))

    # What it holds.

    def put(self, bar: MixBar, before: int | None = None) -> None:
        """Put a bar before another one, at the end if that is not given."""
        if len(self.bars) >= MOST_BARS:
            self.full.emit()
            return
        at = len(self.bars) if before is None else before
        while any(each.name == bar.name and each.pattern != bar.pattern for each in self.bars):
            bar = MixBar(f"{bar.name}′", bar.pattern)  # the piece's pattern has changed meanwhile
        self.bars.insert(at, bar)
        self._changed(at)

    def set_bars(self, bars: list[MixBar]) -> None:
        """Other bars altogether."""
        self.bars = bars[:MOST_BARS]
        self._changed(len(self.bars) - 1)

    def hover(self, place: QPoint) -> None:
        """Something is held over a place of the screen: show where it would go."""
        gap = self._gap_at(place)
        if gap != self._gap:
            self._gap = gap
            self.update()

    def drop(self, place: QPoint, bar: MixBar) -> None:
        """It was let go there; beside the row nothing happens."""
        gap = self._gap_at(place)
        self._gap = None
        self.update()
        if gap is not None:
            self.put(bar, gap)

    def _changed(self, current: int) -> None:
        self.current = min(current, len(self.bars) - 1)
        self._say()
        self.update()
        self.changed.emit()

    # Where it lies.

    @property
    def _step(self) -> float:
        room = (self.width() + _GAP) / max(1, len(self.bars) + 1)
        return max(_LEAST, min(_WIDE, room))

    def bar_rect(self, index: int) -> QRectF:
        """Where a bar lies in the widget."""
        return QRectF(index * self._step + 1, 1, self._step - _GAP, _HIGH - 2)

    def _gap_at(self, place: QPoint) -> int | None:
        here = self.mapFromGlobal(place)
        if not self.rect().contains(here):
            return None
        return min(len(self.bars), max(0, round(here.x() / self._step)))

    def _bar_at(self, place: QPointF) -> int | None:
        index = int(place.x() // self._step)
        return index if 0 <= index < len(self.bars) else None

    # Painting.

    def cells(self) -> list[Cell]:
        """The bars in order."""
        return [
            Cell(
                tr("bar {bar}: {name}", bar=i + 1, name=bar.name),
                self.bar_rect(i).toAlignedRect(),
                i == self.current,
            )
            for i, bar in enumerate(self.bars)
        ]

    def paintEvent(self, event: QPaintEvent) -> None:
        """The bars, room for the next one, and where something would be dropped."""
        with marks.painting(self) as p:
            room = self.bar_rect(len(self.bars))
            if not self.bars:
                room.setRight(self.width() - 1.0)
            p.setPen(QPen(QColor(self.theme.string), 1.4, Qt.PenStyle.DashLine))
            p.setBrush(Qt.BrushStyle.NoBrush)
            if room.right() <= self.width():
                p.drawRoundedRect(room, 7, 7)
            if not self.bars:
                marks.sentence(p, room, _EMPTY, self.theme.quiet, 13)
            for index, bar in enumerate(self.bars):
                rect, chosen = self.bar_rect(index), index == self.current
                marks.plate(p, rect, self.theme, chosen=chosen, focused=self.hasFocus())
                words = QRectF(rect.left() + 6, rect.top() + 2, rect.width() - 12, _TITLE)
                marks.cut(p, words, f"{index + 1}  {bar.name}", self.theme.ink, marks.font(12.5, chosen))
                area = QRectF(words.left(), words.bottom() + 2, words.width(), rect.height() - _TITLE - 10)
                tile = WallTile(bar.name, bar.pattern, frozenset(), "", "")
                paint_weave(p, area, tile, self, chosen=chosen)
            if self._gap is not None:
                x = self._gap * self._step - _GAP / 2 + 1
                p.fillRect(QRectF(x - 1.5, 0, 3, _HIGH), QColor(self.theme.accent))

    # Choosing and moving.

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """A click chooses; what is pressed can be dragged."""
        index = self._bar_at(event.position())
        self._held = index
        if index is not None:
            self.current = index
            self._say()
            self.update()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """Show where the held bar would go."""
        if self._held is not None:
            self.hover(event.globalPosition().toPoint())

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        """Let the held bar go; outside the row it is taken out."""
        held, self._held, self._gap = self._held, None, None
        self.update()
        if held is None:
            return
        gap = self._gap_at(event.globalPosition().toPoint())
        if gap is None:
            self._remove(held)
        elif gap not in (held, held + 1):
            self._move(held, gap if gap < held else gap - 1)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Arrows, with Shift they move the bar; Delete and Backspace take it out."""
        by = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()))
        if by is not None and self.bars:
            to = min(max(0, self.current + by), len(self.bars) - 1)
            if event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
                self._move(self.current, to)
            else:
                self.current = to
                self._say()
                self.update()
        elif event.key() in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace) and self.current >= 0:
            self._remove(self.current)
        else:
            super().keyPressEvent(event)

    def _move(self, index: int, to: int) -> None:
        if index != to:
            self.bars.insert(to, self.bars.pop(index))
            self._changed(to)

    def _remove(self, index: int) -> None:
        del self.bars[index]
        self._changed(min(index, len(self.bars) - 1))

    def _say(self) -> None:
        """For those who hear the window."""
        chosen = self.bars[self.current] if 0 <= self.current < len(self.bars) else None
        place = tr("bar {current} of {bars}", current=self.current + 1, bars=len(self.bars))
        tell(self, _EMPTY if chosen is None else f"{place}: {chosen.name}")
