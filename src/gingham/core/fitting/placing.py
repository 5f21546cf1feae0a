"""The pattern in time: which part of it lies under each stretch of each bar."""

from __future__ import annotations

from dataclasses import dataclass, field
from fractions import Fraction
from functools import lru_cache

from gingham.core.music.meter import Meter
from gingham.core.patterns.pattern import Pattern
from gingham.core.pieces.chordline import Span


@dataclass(frozen=True, slots=True)
class Stretch:
    """A stretch of one bar under one chord and one run of the pattern: equal ones are fitted once.

    `at` is counted from the bar's start, `phase` is where in the pattern it begins. `enters` says that a
    chord enters here, `bar_starts` that a bar line does: both start the thumb's count again.
    """

    at: Fraction
    length: Fraction
    phase: Fraction
    enters: bool
    bar_starts: bool
    _hash: int = field(init=False, compare=False, repr=False)

    def __post_init__(self) -> None:
        object.__setattr__(
            self, "_hash", hash((self.at, self.length, self.phase, self.enters, self.bar_starts))
        )

    def __hash__(self) -> int:
        # Looked up once per bar and fit: hashing three fractions anew each time is what would cost.
        return self._hash


@dataclass(frozen=True, slots=True)
class Segment:
    """A stretch at its place: bar number (pick-up 0) and index of its span."""

    bar: int
    span: int
    stretch: Stretch


def place(
    spans: tuple[Span, ...], of: Meter, pattern: Pattern, align: str, pickup: Fraction = Fraction(0)
) -> tuple[Segment, ...]:
    """Cut the spans at bar lines, and where the pattern starts anew, into segments in order of time.

    `pickup` is the length of bar 0. In it the pattern lies so that its end meets the first bar line.
    """
    out: list[Segment] = []
    known: dict[Stretch, Stretch] = {}
    runs_from = Fraction(0)  # when the pattern last started under align=chord, from the first bar line
    for index, span in enumerate(spans):
        at = (span.bar - 1) * of.bar + span.at if span.bar else span.at - pickup
        end = at + span.length
        cell = pattern.length
        if align == "chord":
            runs_from = runs_from if span.running else at
            cell = _cell(pattern, span.length)
        enters = not span.running
        while at < end:
            bar = int(at // of.bar)
            bar_at = at - bar * of.bar
            phase = _phase(align, at, of.bar, pattern.length) if align != "chord" else (at - runs_from) % cell
            stop = min(end, (bar + 1) * of.bar)
            if align == "chord":
                stop = min(stop, at + cell - phase)
            in_bar = bar_at if bar >= 0 else at + pickup
            stretch = Stretch(in_bar, stop - at, phase, enters, in_bar == 0)
            out.append(Segment(bar + 1, index, known.setdefault(stretch, stretch)))
            at, enters = stop, False
    return tuple(out)


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


def _phase(align: str, at: Fraction, bar: Fraction, length: Fraction) -> Fraction:
    """Where in the pattern the time `at` (from the first bar line) lies, for align bar and run."""
    if align == "run":
        return at % length
    whole_bars = -(-length // bar) * bar
    return (at % whole_bars) % length


def _cell(pattern: Pattern, length: Fraction) -> Fraction:
    """The part of the pattern that a chord of `length` takes: whole, or up to the last break that fits."""
    if length >= pattern.length:
        return pattern.length
    starts = pattern.starts
    fitting = [starts[index] for index in pattern.breaks if 0 < starts[index] <= length]
    return max(fitting, default=pattern.length)
