"""Where everything lies in the linked picture: columns in time, rows of strings, rows of fingers. No Qt.

The columns of the pattern are the columns of the result, the rows of the strings for a chord are the rows of
the result: all canvases read the same `Axis`, `Rows` and `Lanes`. Lengths are device-independent pixels.
"""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Mapping
from fractions import Fraction
from typing import NamedTuple

import msgspec

from gingham.core.fitting.placing import Stretch, slots_under
from gingham.core.fitting.result import FittedBar, Result
from gingham.core.music.meter import count_at
from gingham.core.patterns.pattern import FINGERS, Pattern, Pluck

HEADER, FOOTER = 24.0, 20.0  # chord names above the strings, bar numbers below them
_MARK_ROOM = 40.0  # marks stand in the middle of so much of a wide column
_NEAR = 0.01  # pixels
_ROW, _LANE = 46.0, 34.0  # heights that rows and lanes have where there is room


class Column(NamedTuple):
    """One place of the beat grid: where it lies, in which bar and on which chord, what the count says.

    `own` tells whether the pattern itself lies here, not one of its repeats;
    `on_beat` whether a counted beat begins here.
    """

    x: float
    width: float
    bar: int
    at: Fraction
    slot: int
    own: bool
    box: int
    span: int
    syllable: str
    on_beat: bool

    @property
    def middle(self) -> float:
        """Where marks of this column are centred."""
        return self.x + min(self.width, _MARK_ROOM) / 2


class BarBox(msgspec.Struct, frozen=True):
    """A bar's place: number (pick-up 0), x, width, and its columns first … last (none if last < first).

    `middles` says for each position where marks are centred, counted from the bar's x.
    """

    number: int
    x: float
    width: float
    first: int
    last: int
    length: Fraction
    middles: Mapping[Fraction, float]


_Place = tuple[int, Fraction, str, bool, float, float]
"""Slot, position in the bar, syllable, whether a counted beat begins there, x from the bar's start, width."""


class Axis:
    """The time axis: x is proportional to time, the shortest place is `slot_width` wide."""

    def __init__(self, result: Result, slot_width: float) -> None:
        self._scale = slot_width / float(result.finest())
        self._grids = _grids(result)
        self._plan = result.plan
        self._places = [(bar.number, bar.phases, bar.spans) for bar in result.bars]
        self.columns: list[Column] = []
        self.bars: list[BarBox] = []
        self._lay(result)
        self._xs = [column.x for column in self.columns]
        self._box_xs = [box.x for box in self.bars]
        self._numbers = {box.number: index for index, box in enumerate(self.bars)}

    @property
    def width(self) -> float:
        """Where the last bar ends."""
        return self.bars[-1].x + self.bars[-1].width if self.bars else 0.0

    def suits(self, result: Result) -> bool:
        """Whether another result has the very same places: then its axis need not be made again."""
        if len(result.bars) != len(self._places) or _grids(result) != self._grids:
            return False
        if result.plan and result.plan is self._plan:
            return True
        return all(
            (bar.phases is phases and bar.spans is spans and bar.number == number)
            or (bar.number, bar.phases, bar.spans) == (number, phases, spans)
            for bar, (number, phases, spans) in zip(result.bars, self._places, strict=True)
        )

    def _lay(self, result: Result) -> None:
        known: dict[tuple[int, int], tuple[list[_Place], dict[Fraction, float]]] = {}
        seen: set[tuple[int, int]] = set()
        x = 0.0
        for index, bar in enumerate(result.bars):
            pattern = result.pattern_in(bar)
            key = (id(bar.phases), id(pattern))
            if key not in known:
                found = self._bar(bar, pattern)
                known[key] = (found, {p[1]: p[4] + min(p[5], _MARK_ROOM) / 2 for p in found})
            places, middles = known[key]
            if places and places[0][4] and self.columns:  # a place of the bar before lasts into this one
                last = self.columns[-1]
                self.columns[-1] = last._replace(width=last.width + places[0][4])
            first, width = len(self.columns), float(bar.length) * self._scale
            for slot, at, syllable, on_beat, offset, wide in places:
                own = (id(pattern), slot) not in seen and bar.number > 0
                if own:
                    seen.add((id(pattern), slot))
                span = bar.spans[0] if len(bar.spans) == 1 else result.span_at(bar, at)
                where = (x + offset, wide, bar.number, at)
                self.columns.append(Column(*where, slot, own, index, span, syllable, on_beat))
            last_column = len(self.columns) - 1
            self.bars.append(BarBox(bar.number, x, width, first, last_column, bar.length, middles))
            x += width

    def _bar(self, bar: FittedBar, pattern: Pattern) -> list[_Place]:
        """The places of one bar."""
        beats = {*pattern.meter.beat_starts, pattern.meter.bar}
        missing = _missing(bar, pattern)
        found = [
            (slot, position)
            for at, length, phase in bar.phases
            for slot, position, _ in slots_under(pattern.starts, Stretch(at, length, phase, False, False))
        ]
        ends = [position for _, position in found[1:]] + [bar.length] * bool(found)  # none may begin here
        return [
            (
                slot, at, count_at(pattern.meter, at + missing), at + missing in beats,
                float(at) * self._scale, float(end - at) * self._scale,
            )
            for (slot, at), end in zip(found, ends, strict=True)
        ]  # fmt: skip

    def column_at(self, x: float) -> int | None:
        """The column that covers `x`; None beyond the piece."""
        if not self.columns or not 0 <= x < self.width:
            return None
        return max(0, bisect_right(self._xs, x) - 1)

    def column_of(self, box: BarBox, at: Fraction) -> int:
        """The column in which a moment of a bar lies."""
        return max(0, bisect_right(self._xs, box.x + float(at) * self._scale + _NEAR) - 1)

    def column_before(self, bar: int, at: Fraction) -> int | None:
        """The last column that begins at a position or before it; None if the bar has none."""
        box = self.box_of(bar)
        if box is None:
            return None
        inside = [i for i in range(box.first, box.last + 1) if self.columns[i].at <= at]
        return inside[-1] if inside else None

    def middle(self, box: BarBox, at: Fraction) -> float:
        """Where the marks of a moment of a bar are centred; an ornament may lie between two columns."""
        offset = box.middles.get(at)
        return box.x + (float(at) * self._scale + 15.0 if offset is None else offset)

    def box_of(self, bar: int) -> BarBox | None:
        """The place of a bar by its number."""
        index = self._numbers.get(bar)
        return None if index is None else self.bars[index]

    def x_of(self, bar: int, inside: float) -> float | None:
        """The x of a moment `inside` a bar (whole notes); None if the bar is not there."""
        box = self.box_of(bar)
        return None if box is None else box.x + min(inside * self._scale, box.width)

    def boxes_between(self, left: float, right: float) -> range:
        """Indices of the bars that can be seen between two x."""
        begins = self._box_xs
        return range(max(0, bisect_right(begins, left) - 1), bisect_right(begins, right))

    def columns_between(self, left: float, right: float) -> range:
        """Indices of the columns that can be seen between two x."""
        return range(max(0, bisect_right(self._xs, left) - 1), bisect_right(self._xs, right))

    def right_of(self, column: int) -> float:
        """Where a column ends."""
        return self.columns[column].x + self.columns[column].width


def _grids(result: Result) -> tuple[object, ...]:
    """The grids of the patterns, and the bars that have one of their own: beside phases and spans all that
    an axis depends on."""
    grids = [(p.meter, p.per_beat, len(p.slots)) for p in result.patterns()]
    return (grids, [(number, id(pattern)) for number, pattern in result.own_patterns()])


def _missing(bar: FittedBar, pattern: Pattern) -> Fraction:
    """What a pick-up lacks at its start: its counts are those of the end of a bar."""
    return pattern.meter.bar - bar.length if bar.number == 0 else Fraction(0)


class Rows(msgspec.Struct, frozen=True):
    """Rows of strings, string 1 on top (lowest if `flipped`), in a canvas of some height."""

    strings: int
    height: float
    flipped: bool = False

    @property
    def step(self) -> float:
        """The height of one row."""
        return min(_ROW, (self.height - HEADER - FOOTER) / self.strings)

    @property
    def bottom(self) -> float:
        """Where the last row ends."""
        return HEADER + self.step * self.strings

    def y(self, string: int) -> float:
        """The string's line."""
        return HEADER + self.step * (self._place(string) - 0.5)

    def string_at(self, y: float) -> int:
        """The string whose row covers `y`; the nearest one outside."""
        return self._place(min(max(1, int((y - HEADER) // self.step) + 1), self.strings))

    def below(self, string: int, by: int = 1) -> int:
        """The string so many rows below another one (above if negative); it may be none."""
        return string - by if self.flipped else string + by

    def _place(self, string: int) -> int:
        return self.strings - string + 1 if self.flipped else string


class Lanes(msgspec.Struct, frozen=True):
    """Rows of fingers, the thumb lowest, in a canvas of some height; below them the count."""

    fingers: tuple[str, ...]
    height: float

    @property
    def step(self) -> float:
        """The height of one row."""
        return min(_LANE, (self.height - FOOTER) / len(self.fingers))

    @property
    def bottom(self) -> float:
        """Where the thumb's row ends."""
        return self.step * len(self.fingers)

    def y(self, finger: str) -> float:
        """The middle of a finger's row; the little finger's is above the canvas if it has none."""
        index = self.fingers.index(finger) if finger in self.fingers else -1
        return self.step * (index + 0.5)

    def finger_at(self, y: float) -> str:
        """The finger whose row covers `y`; the nearest one outside."""
        return self.fingers[min(max(0, int(y // self.step)), len(self.fingers) - 1)]


def lanes_for(patterns: tuple[Pattern, ...], height: float) -> Lanes:
    """Thumb, index, middle and ring finger, and the little finger where a pattern uses it."""
    strokes = [each for pattern in patterns for each in pattern.strokes()]
    strokes += [(0, s) for pattern in patterns for v in pattern.variants for slot in v.slots for s in slot]
    little = any(isinstance(stroke, Pluck) and stroke.finger == "c" for _, stroke in strokes)
    shown = FINGERS if little else FINGERS[:-1]
    return Lanes(tuple(reversed(shown)), height)
