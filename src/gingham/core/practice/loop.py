"""What a stage loops, bar by bar: what is plucked, which chord comes next, where the thumb goes. No clock.

Times are whole notes from where the loop begins; what comes after its end is its beginning again.
"""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Mapping
from fractions import Fraction
from math import ceil

import msgspec

from gingham.core.fitting.result import Event, FittedBar, Result
from gingham.core.judging.changes import Change, change_from
from gingham.core.patterns.pattern import FINGERS, Pattern
from gingham.core.practice.stages import Passage, Stage, cut_bars, heard


def cell_length(pattern: Pattern) -> Fraction:
    """The shortest part of a pattern that, repeated, is the whole of it: often half a bar."""
    slots, length = pattern.slots, pattern.length
    for parts in (8, 6, 4, 3, 2):
        if len(slots) % parts:
            continue
        size, step = len(slots) // parts, length / parts
        again = all(slots[i] == slots[i % size] for i in range(len(slots)))
        evenly = all(
            pattern.starts[i] == pattern.starts[i % size] + step * (i // size) for i in range(len(slots))
        )
        if again and evenly:
            return step
    return length


class LoopBar(msgspec.Struct, frozen=True, gc=False):
    """A bar of the loop: index of its section, its number, and what of it is played (whole notes inside it).

    `at` is when that begins in the loop.
    """

    section: int
    bar: int
    begin: Fraction
    end: Fraction
    at: Fraction


class Entered(msgspec.Struct, frozen=True, gc=False):
    """A chord of the loop: when it enters, its section, the index of its span."""

    at: Fraction
    section: int
    span: int


class Coming(msgspec.Struct, frozen=True, gc=False):
    """The chord now and the next other one, with the way there; `wait` is how long it is until then."""

    now: Entered
    after: Entered | None
    wait: Fraction
    change: Change | None


class Loop:
    """A loop over fitted sections."""

    def __init__(self, bars: tuple[LoopBar, ...], results: Mapping[int, Result]) -> None:
        self.bars, self.results = bars, results
        self.length = bars[-1].at + bars[-1].end - bars[-1].begin if bars else Fraction(0)
        self.chords = self._chords()
        self._starts = [chord.at for chord in self.chords]
        self.plucks = self._plucks()

    def fitted(self, bar: LoopBar) -> FittedBar:
        """The bar as it is fitted."""
        result = self.results[bar.section]
        return result.bars[bar.bar - result.bars[0].number]

    def _chords(self) -> list[Entered]:
        out: list[Entered] = []
        for each in self.bars:
            for span in self.fitted(each).spans:
                where = self.results[each.section].spans[span].span
                begins = where.at if where.bar == each.bar else Fraction(0)
                ends = begins + where.length if where.bar == each.bar else each.end
                if begins >= each.end or ends <= each.begin:
                    continue
                if out and (out[-1].section, out[-1].span) == (each.section, span):
                    continue  # it has been held since the bar before
                out.append(Entered(each.at + max(begins, each.begin) - each.begin, each.section, span))
        return out

    def _plucks(self) -> list[tuple[Fraction, Event]]:
        return [
            (each.at + event.at - each.begin, event)
            for each in self.bars
            for event in self.fitted(each).events
            if each.begin <= event.at < each.end and not event.silent
        ]

    def index_of(self, section: int, bar: int, inside: float) -> int | None:
        """The bar of the loop in which a place lies; None if it is outside."""
        near = 1e-6
        for index, each in enumerate(self.bars):
            if (each.section, each.bar) == (section, bar) and each.begin - near <= inside < each.end + near:
                return index
        return None

    def time_of(self, section: int, bar: int, inside: float) -> float | None:
        """When a place of the piece comes in the loop; None if it does not."""
        index = self.index_of(section, bar, inside)
        return None if index is None else float(self.bars[index].at) + inside - float(self.bars[index].begin)

    def coming(self, time: float) -> Coming | None:
        """The chord at a time and the next one that is held otherwise; None where there is no chord."""
        if not self.chords:
            return None
        now = max(0, bisect_right(self._starts, time + 1e-6) - 1)
        for ahead in range(1, len(self.chords)):
            index = (now + ahead) % len(self.chords)
            if self._held(index) != self._held(now):
                break
        else:
            return Coming(self.chords[now], None, Fraction(0), None)
        after = self.chords[index]
        round_on = self.length if index <= now else Fraction(0)
        last = self.chords[(index - 1) % len(self.chords)]
        wait = after.at + round_on - Fraction(time).limit_denominator(960)
        change = change_from(
            (self.results[last.section], last.span), (self.results[after.section], after.span)
        )
        return Coming(self.chords[now], after, max(Fraction(0), wait), change)

    def cell(self, time: float) -> tuple[int, int]:
        """Which cell of how many on this chord: the shortest stretch of its pattern that repeats.

        Equal neighbours count on, across the seam of the loop too.
        """
        if not self.chords:
            return 1, 1
        now = max(0, bisect_right(self._starts, time + 1e-6) - 1)
        begin, count = now, len(self.chords)
        while begin > 0 and self._held(begin - 1) == self._held(now):
            begin -= 1
        end = now + 1
        while end < count and self._held(end) == self._held(now):
            end += 1
        over = self.chords[end].at if end < count else self.length
        length = cell_length(self.results[self.chords[now].section].pattern)
        passed, whole = (
            Fraction(time).limit_denominator(960) - self.chords[begin].at,
            over - self.chords[begin].at,
        )
        cells = max(1, ceil(whole / length))
        return min(cells, 1 + int(passed / length)), cells

    def _held(self, index: int) -> object:
        chord = self.chords[index]
        assignment = self.results[chord.section].spans[chord.span].assignment
        return None if assignment is None else (assignment.chord, assignment.shape)

    def thumb(self, time: float, muted: frozenset[str]) -> tuple[Event | None, Event | None]:
        """The thumb's pluck now (the last that has begun) and its next; (None, None) if it is not heard."""
        strokes = [each for each in self.plucks if each[1].finger == "p" and heard(each[1], muted)]
        if not strokes:
            return None, None
        begun = bisect_right([at for at, _ in strokes], time + 1e-6)
        return strokes[begun - 1][1], strokes[begun % len(strokes)][1]

    def thumb_ahead(self, time: float, coming: Coming, muted: frozenset[str]) -> tuple[int, int] | None:
        """The thumb's string now and the first one it takes on the chord that comes.

        None where it stays on its string, or is not heard.
        """
        strokes = [each for each in self.plucks if each[1].finger == "p" and heard(each[1], muted)]
        if not strokes or coming.after is None:
            return None
        change = (time + float(coming.wait)) % float(self.length)
        first = bisect_left([float(at) for at, _ in strokes], change - 1e-6) % len(strokes)
        one, other = strokes[first - 1][1].string, strokes[first][1].string
        return (one, other) if one != other else None


def loop_of(stage: Stage, results: Mapping[int, Result]) -> Loop:
    """What a stage loops; `results` holds the sections that it is in."""
    bars: list[LoopBar] = []
    at = Fraction(0)
    for passage in stage.passages:
        bars += _bars(results[passage.section], passage, at)
        at += passage.end - passage.begin
    return Loop(tuple(bars), results)


def planted(stage: Stage, results: Mapping[int, Result]) -> tuple[tuple[str, int], ...]:
    """Where the fingers stand before the first pluck: (finger, string) of all that pluck on the first chord.

    Each finger is on the string of its own first pluck; what is swept or not asked for is left out.
    """
    loop = loop_of(stage, results)
    over = loop.chords[1].at if len(loop.chords) > 1 else loop.length
    found: dict[str, int] = {}
    for at, event in loop.plucks:
        if at < over and event.plucked and event.finger and event.pick is None and stage.hears(event):
            found.setdefault(event.finger, event.string)
    return tuple((finger, found[finger]) for finger in FINGERS if finger in found)


def whole_section(result: Result) -> Loop:
    """A section from its start to its end."""
    bars = tuple(_bars(result, Passage(result.section, Fraction(0), result.length()), Fraction(0)))
    return Loop(bars, {result.section: result})


def _bars(result: Result, passage: Passage, at: Fraction) -> list[LoopBar]:
    """The bars of a passage; the first of them begins at `at` of the loop."""
    return [
        LoopBar(result.section, bar.number, left, right, at + start + left - passage.begin)
        for start, left, right, bar in cut_bars(result, passage)
    ]
