"""The chosen pattern, large, on the strings of the chord under the cursor."""

from __future__ import annotations

from PySide6.QtCore import QRectF
from PySide6.QtGui import QColor, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from gingham.app.look.appearance import Appearance, Dressed
from gingham.app.widgets import marks
from gingham.app.widgets.geometry import Axis
from gingham.app.widgets.speaking import Cell
from gingham.app.widgets.standing import Plan, Standing, pair_of
from gingham.core.fitting.result import Result
from gingham.core.practice.loop import Loop, whole_section
from gingham.language import tr

_EDGE = 10.0


class LargeCanvas(Dressed, QWidget):
    """As it would be played: strings, frets, the thumb's way. It only shows."""

    def __init__(self, appearance: Appearance, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.wear(appearance)
        self.loop: Loop | None = None
        self._axes: dict[int, Axis] = {}
        self._first, self._marked = 0, frozenset[int]()
        self.setMinimumSize(280, 190)
        self.setAccessibleName(tr("The chosen pattern on the strings of this chord"))

    def show_result(self, result: Result | None, bar: int, marked: frozenset[int]) -> None:
        """The pattern fitted to the section, from a bar on; `marked` are its places that differ."""
        if result is None or not result.bars:
            self.loop = None
        else:
            whole = whole_section(result)
            at = next((i for i, each in enumerate(whole.bars) if each.bar == bar), 0)
            count = 2 if result.pattern.length > result.piece.meter.bar else 1
            self.loop = Loop(whole.bars[at : at + count], whole.results)
            self._axes = {result.section: Axis(result, 10.0)}
            self._marked = marked
        self.update()

    def _plan(self, loop: Loop) -> Plan:
        result = next(iter(loop.results.values()))
        strings, flipped = result.piece.instrument.strings, self.theme.lowest_on_top
        wide, high = self.width() - 2 * _EDGE, float(self.height() - 6)
        return Plan(_EDGE, 2, wide, high, strings, len(loop.bars), flipped)

    def cells(self) -> list[Cell]:
        """The places of the pattern."""
        if self.loop is None or not self.loop.bars:
            return []
        standing = Standing(self.loop, self._axes, self.theme, frozenset())
        return standing.cells(self._plan(self.loop), range(len(self.loop.bars)))

    def paintEvent(self, event: QPaintEvent) -> None:
        """The bar or two that the pattern lasts."""
        if self.loop is None or not self.loop.bars:
            return
        with marks.painting(self) as p:
            plan, bars = self._plan(self.loop), len(self.loop.bars)
            standing = Standing(self.loop, self._axes, self.theme, frozenset())
            standing.paint(p, plan, pair_of(0, bars), None)
            p.setPen(QPen(QColor(self.theme.accent), 1.8))
            for place, bar in enumerate(self.loop.bars):
                columns = standing.columns(bar)
                ends = [float(c.at - bar.begin) for c in columns[1:]] + [float(bar.end - bar.begin)]
                length = float(bar.end - bar.begin)
                for column, end in zip(columns, ends, strict=True):
                    if column.slot in self._marked:
                        left = plan.x(place, float(column.at - bar.begin) / length)
                        right = plan.x(place, end / length)
                        p.drawRoundedRect(QRectF(left + 1, 34, right - left - 2, plan.height - 34), 6, 6)
