"""The pattern in time: which part of it lies under each stretch of each bar."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from fractions import Fraction
from functools import lru_cache
from itertools import groupby
from math import lcm

import msgspec

from gingham.core.music.meter import Meter
from gingham.core.patterns.pattern import Pattern
from gingham.core.pieces.chordline import Span


class Stretch(msgspec.Struct, frozen=True, cache_hash=True, gc=False):
    """A stretch of one bar under one chord and one run of the pattern: equal ones are fitted once.

    `at` is counted from the bar's start, `phase` is where in the pattern it begins. `enters` says that a
    chord enters here, `bar_starts` that a bar line does: both start the thumb's count again. `missing` is
    what a pick-up bar lacks at its start, so that it is counted as the end of a bar. The hash is kept: it is
    looked up once per bar and fit, and hashing three fractions anew each time is what would cost.
    """

    at: Fraction
    length: Fraction
    phase: Fraction
    enters: bool
    bar_starts: bool
    missing: Fraction = Fraction(0)


Phases = tuple[tuple[Fraction, Fraction, Fraction], ...]


class Segment(msgspec.Struct, frozen=True, gc=False):
    """A stretch at its place: bar number (pick-up 0) and index of its span."""

    bar: int
    span: int
    stretch: Stretch


class BarPlan(msgspec.Struct, frozen=True, gc=False):
    """What lies in one bar, whatever the chords' strings are: the segments, their spans and phases.

    `places` is the span of each segment, `spans` every span once.
    """

    number: int
    segments: tuple[Segment, ...]
    spans: tuple[int, ...]
    phases: Phases
    places: tuple[int, ...]


Where = tuple[tuple[int, int], ...]
"""The stretches of one span, in order of time: index of the bar, index of the segment in it."""


def place(
    spans: tuple[Span, ...], meter: Meter, pattern: Pattern, align: str, pickup: Fraction = Fraction(0)
) -> tuple[BarPlan, ...]:
    """Cut the spans at bar lines, and where the pattern starts anew, into the segments of each bar.

    `pickup` is the length of bar 0. In it the pattern lies so that its end meets the first bar line.
    """
    return tuple(_plans(_Placing(spans, meter, pattern, align, pickup).segments()))


def where_spans(plan: Iterable[BarPlan], spans: int) -> tuple[Where, ...]:
    """For each of so many spans where its stretches are."""
    out: list[Where] = [()] * spans
    for index, bar in enumerate(plan):
        for part, span in enumerate(bar.places):
            out[span] += ((index, part),)
    return tuple(out)


def _plans(segments: Iterator[Segment]) -> Iterator[BarPlan]:
    """Segments gathered by bar; bars that look alike share their phases."""
    shared: dict[object, Phases] = {}
    for number, found in groupby(segments, key=lambda segment: segment.bar):
        inside = tuple(found)
        key = tuple(segment.stretch for segment in inside)
        phases = shared.setdefault(key, tuple((s.at, s.length, s.phase) for s in key))
        places = tuple(s.span for s in inside)
        yield BarPlan(number, inside, tuple(dict.fromkeys(places)), phases, places)


class _Placing:
    """The work of `place` in whole ticks of the finest fraction that occurs: exact, and fast."""

    def __init__(
        self, spans: tuple[Span, ...], meter: Meter, pattern: Pattern, align: str, pickup: Fraction
    ) -> None:
        times = [meter.bar, pickup, *pattern.starts, *(t for span in spans for t in (span.at, span.length))]
        self._ticks = lcm(*{time.denominator for time in times})
        self._spans, self._align = spans, align
        self._bar, self._pickup = self._in_ticks(meter.bar), self._in_ticks(pickup)
        self._starts = [self._in_ticks(start) for start in pattern.starts]
        self._breaks = pattern.breaks
        self._length = self._starts[-1]
        self._known: dict[tuple[int, int, int, int, bool, bool], Stretch] = {}

    def _in_ticks(self, time: Fraction) -> int:
        return time.numerator * (self._ticks // time.denominator)

    def segments(self) -> Iterator[Segment]:
        """All segments in order of time."""
        runs_from = 0  # when the pattern last started under align=chord, from the first bar line
        for index, span in enumerate(self._spans):
            inside = self._in_ticks(span.at)
            at = (span.bar - 1) * self._bar + inside if span.bar else inside - self._pickup
            end = at + self._in_ticks(span.length)
            cell = self._length
            if self._align == "chord":
                runs_from = runs_from if span.running else at
                cell = self._cell(end - at)
            enters = not span.running
            while at < end:
                bar = at // self._bar
                phase = (at - runs_from) % cell if self._align == "chord" else self._phase(at)
                stop = min(end, (bar + 1) * self._bar)
                if self._align == "chord":
                    stop = min(stop, at + cell - phase)
                in_bar = at - bar * self._bar if bar >= 0 else at + self._pickup
                missing = 0 if bar >= 0 else self._bar - self._pickup
                stretch = self._stretch(in_bar, stop - at, phase, missing, enters)
                yield Segment(bar + 1, index, stretch)
                at, enters = stop, False

    def _stretch(self, at: int, length: int, phase: int, missing: int, enters: bool) -> Stretch:
        """The stretch of these ticks; equal ones are one value."""
        key = (at, length, phase, missing, enters, at == 0)
        if key not in self._known:
            begins, lasts, inside, lacks = (Fraction(time, self._ticks) for time in key[:4])
            self._known[key] = Stretch(begins, lasts, inside, enters, at == 0, lacks)
        return self._known[key]

    def _phase(self, at: int) -> int:
        """Where in the pattern the time `at` (from the first bar line) lies, for align bar and run."""
        if self._align == "run":
            return at % self._length
        whole_bars = -(-self._length // self._bar) * self._bar
        return (at % whole_bars) % self._length

    def _cell(self, length: int) -> int:
        """The part of the pattern that a chord of `length` takes: all, or up to the last break that fits."""
        if length >= self._length:
            return self._length
        fitting = [self._starts[index] for index in self._breaks if 0 < self._starts[index] <= length]
        return max(fitting, default=self._length)


@lru_cache(maxsize=4096)
def slots_under(starts: tuple[Fraction, ...], stretch: Stretch) -> tuple[tuple[int, Fraction, Fraction], ...]:
    """(slot index, position in the bar, length) of every slot that begins under the stretch.

    `starts` are the pattern's slot positions, its end last.
    """
    out: list[tuple[int, Fraction, Fraction]] = []
    turn = -stretch.phase
    while turn < stretch.length:
        for index in range(len(starts) - 1):
            offset = turn + starts[index]
            if 0 <= offset < stretch.length:
                out.append((index, stretch.at + offset, starts[index + 1] - starts[index]))
        turn += starts[-1]
    return tuple(out)
