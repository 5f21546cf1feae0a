"""Two bars of the loop as they stand in the picture: strings, plucks, the thumb's way, the light."""

from __future__ import annotations

from collections.abc import Sequence
from fractions import Fraction

import msgspec
from PySide6.QtCore import QLineF, QPointF, QRectF
from PySide6.QtGui import QColor, QPainter, QPen

from gingham.app.look.theme import Theme
from gingham.app.widgets import marks
from gingham.app.widgets.geometry import Axis, Column
from gingham.app.widgets.speaking import Cell
from gingham.core.fitting.result import Event
from gingham.core.practice.loop import Loop, LoopBar
from gingham.core.practice.stages import heard
from gingham.words.panel import place_text

_COUNTS = 34.0
_LARGE = 2  # more bars than this have smaller counts
_AHEAD = 38.0  # how far beside the light the thumb's next string is pointed to
_PALE = 0.3  # what is there but not asked for


class Pair(msgspec.Struct, frozen=True):
    """Indices of the bars that stand in the picture; `ahead` says that the second one comes after the end."""

    first: int
    second: int | None
    ahead: bool = False


def pair_of(index: int, count: int) -> Pair:
    """The pair in which a bar of the loop stands; a last bar without a partner has the first beside it."""
    first = index - index % 2
    if first + 1 < count:
        return Pair(first, first + 1)
    return Pair(first, 0 if count > 1 else None, ahead=count > 1)


class Plan(msgspec.Struct, frozen=True):
    """Where things lie. `flipped` has string 1 lowest, as it lies when the player looks down on it. No Qt.

    `room` is left between the counts and the strings.
    """

    left: float
    top: float
    width: float
    height: float
    strings: int
    bars: int
    flipped: bool = False
    room: float = 0.0

    @property
    def bar_width(self) -> float:
        """The width of one bar."""
        return self.width / self.bars

    @property
    def row(self) -> float:
        """The height of one string's row."""
        return (self.height - _COUNTS - self.room) / self.strings

    def y(self, string: int) -> float:
        """A string's line."""
        place = self.strings - string + 1 if self.flipped else string
        return self.top + _COUNTS + self.room + (place - 0.5) * self.row

    def x(self, place: int, share: float) -> float:
        """A share of a bar (the first is place 0)."""
        return self.left + (place + share) * self.bar_width


class Standing:
    """Paints a pair of bars of a loop. The axes say where the pattern's places lie in each bar."""

    def __init__(self, loop: Loop, axes: dict[int, Axis], theme: Theme, muted: frozenset[str]) -> None:
        self.loop, self.axes, self.theme, self.muted = loop, axes, theme, muted

    def columns(self, bar: LoopBar) -> Sequence[Column]:
        """The places of the pattern in what is played of a bar."""
        axis = self.axes[bar.section]
        box = axis.box_of(bar.bar)
        inside = axis.columns[box.first : box.last + 1] if box is not None else ()
        return [column for column in inside if bar.begin <= column.at < bar.end]

    def column_at(self, bar: LoopBar, inside: float) -> int:
        """The place in which a moment of a bar lies."""
        found = 0
        for index, column in enumerate(self.columns(bar)):
            if float(column.at) <= inside + 1e-6:
                found = index
        return found

    def paint(
        self,
        p: QPainter,
        plan: Plan,
        pair: Pair,
        light: tuple[int, int] | None,
        ahead: tuple[int, int] | None = None,
    ) -> None:
        """`light` is the bar and the place in it that sounds now, `ahead` the thumb's string and its next."""
        shown = [pair.first] if pair.second is None else [pair.first, pair.second]
        for place, index in enumerate(shown):
            bar = self.loop.bars[index]
            here = (
                light[1] if light is not None and light[0] == index and not (place and pair.ahead) else None
            )
            self._paint_grid(p, plan, place, bar, here)
        self._paint_strings(p, plan)
        for place, index in enumerate(shown):
            p.setOpacity(0.45 if place and pair.ahead else 1.0)
            self._paint_plucks(p, plan, place, self.loop.bars[index])
            p.setOpacity(1.0)
        if ahead is not None and light is not None and light[0] in shown:
            self._paint_ahead(p, plan, shown.index(light[0]), light, ahead)
        if len(shown) == 2:
            p.setPen(QPen(QColor(self.theme.quiet), 2))
            x = plan.x(1, 0)
            p.drawLine(QLineF(x, plan.top + _COUNTS - 4, x, plan.top + plan.height))

    def _paint_ahead(
        self, p: QPainter, plan: Plan, place: int, light: tuple[int, int], ahead: tuple[int, int]
    ) -> None:
        """A beat before the change: an arrow from the thumb's string to its next, beside the light."""
        bar = self.loop.bars[light[0]]
        at = self.columns(bar)[light[1]].at
        one, other = (self.middle(plan, place, bar, at, string) for string in ahead)
        x = min(one.x() + _AHEAD, plan.left + plan.width - _AHEAD / 2)
        colour = QColor(self.theme.finger("p"))
        p.setPen(QPen(colour, 5))
        p.drawLine(QLineF(x, one.y(), x, other.y()))
        marks.arrow(p, x, one.y(), other.y(), colour)
        p.setPen(QPen(colour, 3))
        p.drawEllipse(QPointF(x, other.y()), 15, 15)

    def paint_row(self, p: QPainter, plan: Plan, first: int) -> None:
        """As many bars as the plan has, from one on: nothing moves over them."""
        shown = self.loop.bars[first : first + plan.bars]
        for place, bar in enumerate(shown):
            self._paint_grid(p, plan, place, bar, None)
        self._paint_strings(p, plan)
        for place, bar in enumerate(shown):
            self._paint_plucks(p, plan, place, bar)
            if place:
                p.setPen(QPen(QColor(self.theme.quiet), 1))
                x = plan.x(place, 0)
                p.drawLine(QLineF(x, plan.top + _COUNTS - 4, x, plan.top + plan.height))

    def cells(self, plan: Plan, shown: Sequence[int], light: tuple[int, int] | None = None) -> list[Cell]:
        """Each place of some bars of the loop, for those who hear the picture."""
        out = []
        for place, index in enumerate(shown):
            bar = self.loop.bars[index]
            result, fitted = self.loop.results[bar.section], self.loop.fitted(bar)
            columns = self.columns(bar)
            edges = [*(plan.x(place, self._share(bar, c.at)) for c in columns), plan.x(place + 1, 0)]
            for number, column in enumerate(columns):
                events = [e for e in fitted.events if e.at == column.at and heard(e, self.muted)]
                words = place_text(result, column.span, bar.bar, column.syllable, events)
                left, wide = edges[number], edges[number + 1] - edges[number]
                rect = QRectF(left, plan.top, wide, plan.height).toAlignedRect()
                out.append(Cell(words, rect, (index, number) == light))
        return out

    def middle(self, plan: Plan, place: int, bar: LoopBar, at: Fraction, string: int) -> QPointF:
        """Where something at a moment of a bar stands on a string."""
        columns = self.columns(bar)
        share = self._share(bar, at)
        after = [self._share(bar, column.at) for column in columns if column.at > at]
        wide = min((after[0] if after else 1.0) - share, 62.0 / plan.bar_width)
        return QPointF(plan.x(place, share + wide / 2), plan.y(string))

    def _share(self, bar: LoopBar, at: Fraction) -> float:
        """Where in what is played of a bar a moment lies, 0 to 1."""
        return float((at - bar.begin) / (bar.end - bar.begin))

    def _paint_grid(self, p: QPainter, plan: Plan, place: int, bar: LoopBar, here: int | None) -> None:
        """Beats shaded, the light, the count over it."""
        columns = self.columns(bar)
        ends = [column.at for column in columns[1:]] + [bar.end]
        for index, (column, end) in enumerate(zip(columns, ends, strict=True)):
            left, right = (plan.x(place, self._share(bar, at)) for at in (column.at, end))
            area = QRectF(left, plan.top, right - left, plan.height)
            if index == here:
                p.fillRect(area, QColor(self.theme.light))
            elif column.on_beat:
                p.fillRect(
                    area.adjusted(0, _COUNTS, 0, 0), marks.laid_over(self.theme.panel, self.theme.check)
                )
            ink = self.theme.ink if column.on_beat else self.theme.quiet
            words = self.theme.naming.syllable(column.syllable, index)
            count = QRectF(left, plan.top, right - left, _COUNTS - 4)
            size = (24 if column.on_beat else 20) if plan.bars <= _LARGE else (17 if column.on_beat else 14)
            marks.text(p, count, words, ink, size, bold=column.on_beat)

    def _paint_strings(self, p: QPainter, plan: Plan) -> None:
        for string in range(1, plan.strings + 1):
            y = plan.y(string)
            p.setPen(QPen(QColor(self.theme.string), 1.0 + 0.6 * (string - 1) / 2))
            p.drawLine(QLineF(plan.left, y, plan.left + plan.width, y))

    def _paint_plucks(self, p: QPainter, plan: Plan, place: int, bar: LoopBar) -> None:
        played = [
            event
            for event in self.loop.fitted(bar).events
            if bar.begin <= event.at < bar.end and not event.silent
        ]
        if "p" not in self.muted:
            thumb = [event for event in played if event.finger == "p" and event.plucked]
            marks.ribbon(p, [self._middle(plan, place, bar, event) for event in thumb], self.theme)
        opacity = p.opacity()
        self._paint_pinches(p, plan, place, bar, played)
        for event in sorted(played, key=lambda each: heard(each, self.muted)):
            asked = heard(event, self.muted)
            p.setOpacity(opacity if asked else opacity * _PALE)
            self._paint_pluck(p, plan, self._middle(plan, place, bar, event), event, heard=asked)
        p.setOpacity(opacity)
        self._paint_brushes(p, plan, place, bar, played)

    def _paint_pinches(self, p: QPainter, plan: Plan, place: int, bar: LoopBar, played: list[Event]) -> None:
        """A woven column between thumb and the finger farthest from it, where both pluck at once."""
        for thumb in (event for event in played if event.finger == "p" and event.plucked):
            others = [e for e in played if e.at == thumb.at and e.plucked and e.finger not in (None, "p")]
            if not others or "p" in self.muted or any(not heard(e, self.muted) for e in others):
                continue
            one = self._middle(plan, place, bar, thumb)
            far = max(others, key=lambda e: abs(e.string - thumb.string))
            top, low = sorted((one.y(), self._middle(plan, place, bar, far).y()))
            dyes = (self.theme.finger("p"), self.theme.finger(far.finger or "i"))
            marks.woven(p, one.x(), top, low, dyes, False)

    def _paint_brushes(self, p: QPainter, plan: Plan, place: int, bar: LoopBar, played: list[Event]) -> None:
        """Which way a brush goes, beside its strings."""
        opacity = p.opacity()
        for kind in ("brush-down", "brush-up"):
            for at in {event.at for event in played if event.kind == kind}:
                swept = [event for event in played if event.at == at and event.kind == kind]
                p.setOpacity(opacity if heard(swept[0], self.muted) else opacity * _PALE)
                ys = sorted(self._middle(plan, place, bar, event).y() for event in swept)
                x = self._middle(plan, place, bar, swept[0]).x() - 32
                down = (kind == "brush-down") != plan.flipped  # down is away from the player's chin
                ends = (ys[0], ys[-1]) if not down else (ys[-1], ys[0])
                marks.arrow(p, x, *ends, QColor(self.theme.ink))
        p.setOpacity(opacity)

    def _middle(self, plan: Plan, place: int, bar: LoopBar, event: Event) -> QPointF:
        """Where a pluck stands: in the middle of its place."""
        return self.middle(plan, place, bar, event.at, event.string)

    def _paint_pluck(self, p: QPainter, plan: Plan, middle: QPointF, event: Event, *, heard: bool) -> None:
        slots = max(1, len(self.columns(self.loop.bars[0])))
        high = min(44.0, plan.row - 5)
        wide = min(58.0, max(20.0, 0.94 * plan.bar_width / slots), 1.5 * high)
        rect = QRectF(middle.x() - wide / 2, middle.y() - high / 2, wide, high)
        name = self.theme.naming.finger(event.finger or "")
        fret = "" if event.fret is None else str(event.fret)
        words = (name, fret) if name and fret else (name or fret or "×",)
        words = ("×",) if event.kind == "chuck" else words
        look = marks.Look.FULL if heard else marks.Look.GHOST
        marks.finger_mark(p, rect, self.theme, event.plucker or "i", words, look)
