"""One section read under one supposition of rules: candidates, votes, and what the fit leaves unexplained."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator
from fractions import Fraction
from itertools import pairwise

import msgspec

from gingham.core.finding.part import PartBar, PartSection, Sounded, sounded
from gingham.core.finding.tokens import WrittenPlace, places, vote
from gingham.core.fitting.cache import FitCache
from gingham.core.fitting.fit import fit
from gingham.core.fitting.result import Assignment, FittedBar, Result
from gingham.core.music.meter import SLOT_COUNTS, Meter, slot_lengths
from gingham.core.patterns.pattern import Pattern, Pluck, Slot
from gingham.core.pieces.piece import ChordOverride, NamedPattern, Piece
from gingham.core.values import replace

_ENOUGH = 0.6
_OVERRIDE_COST, _LENGTH_COST = 2.0, 0.05
_LANE_COST, _SHIFT_COST, _FIXED_COST, _AGAIN_COST = 0.4, 0.6, 0.8, 0.3
Heard = frozenset[tuple[Fraction, int | None, int | None, bool]]


class Read(msgspec.Struct, frozen=True, gc=False):
    """A section's pattern, its exceptions for single chords, and the bars that stay unexplained (indices)."""

    pattern: Pattern
    overrides: tuple[ChordOverride, ...]
    odd: tuple[int, ...]
    cost: float


def bare(assignment: Assignment | None) -> object:
    """Basses, cycle and fingers without their reasons."""
    if assignment is None:
        return None
    basses = tuple((bass.string, bass.fret) for bass in assignment.basses)
    return (basses, assignment.cycle, tuple((finger, choice.string) for finger, choice in assignment.fingers))


def with_pattern(piece: Piece, name: str, pattern: Pattern) -> Piece:
    """`piece` with other strokes under a name."""
    patterns = (NamedPattern(n.name, pattern) if n.name == name else n for n in piece.patterns)
    return replace(piece, patterns=tuple(patterns))


def heard(notes: tuple[Sounded, ...]) -> Heard:
    """What is compared: when which string sounds at which fret, and whether it is a chuck."""
    return frozenset(
        (n.at, n.string, None if n.kind == "chuck" else n.fret, n.kind == "chuck") for n in notes
    )


def odd_bars(result: Result, section: PartSection) -> tuple[int, ...]:
    """Indices of the bars that the fit does not give note for note."""
    known: dict[tuple[int, int], bool] = {}
    out = []
    for index, (part, bar) in enumerate(zip(section.bars, result.bars, strict=False)):
        key = (id(part.notes), id(bar.events))
        if key not in known:
            known[key] = heard(part.notes) != heard(sounded(bar))
        if known[key]:
            out.append(index)
    return tuple(out)


def read_section(
    piece: Piece, index: int, section: PartSection, result: Result, cache: FitCache, known: Read | None
) -> Read:
    """The pattern of one section under the piece's rules; only of the known length if one is given.

    A plan may ask how busy the thumb is: what the first reading has found says it to a second one.
    """
    first = _read(piece, index, section, result, cache, known)
    if not first.odd:
        return first
    again = fit(with_pattern(piece, section.name, first.pattern), index, cache)
    if [bare(s.assignment) for s in again.spans] == [bare(s.assignment) for s in result.spans]:
        return first
    second = _read(piece, index, section, again, cache, known)
    return second if second.cost < first.cost else first


def _read(
    piece: Piece, index: int, section: PartSection, result: Result, cache: FitCache, known: Read | None
) -> Read:
    table = _Tables(section, result)
    best: Read | None = None
    like = known.pattern if known is not None else None
    for pattern in candidates(piece.meter, table.bars, like, rolls=piece.rules.align == "run"):
        read = _judged(with_pattern(piece, section.name, pattern), index, section, cache)
        if best is None or read.cost < best.cost:
            best = read
    if best is None:
        return _judged(piece, index, section, cache)
    return best


def _judged(piece: Piece, index: int, section: PartSection, cache: FitCache) -> Read:
    """What a pattern leaves unexplained, with exceptions for single chords where they explain more."""
    pattern = piece.pattern(section.name)
    result = fit(piece, index, cache)
    odd = odd_bars(result, section)
    overrides: tuple[ChordOverride, ...] = ()
    if odd and len(odd) < len(section.bars):
        tried = chord_overrides(result, section, odd)
        if tried:
            after = fit(replace(piece, overrides=tried), index, cache)
            left = odd_bars(after, section)
            if _loss(section, left) + _OVERRIDE_COST * len(tried) < _loss(section, odd):
                odd, overrides = left, tried
    cost = _loss(section, odd) + _OVERRIDE_COST * len(overrides) + wording(pattern)
    return Read(pattern, overrides, odd, cost)


def wording(pattern: Pattern) -> float:
    """What a pattern costs to say: its strokes, and more for each that is not simply its finger's own.

    So of two readings that explain the same notes the one is taken that a player would have thought of: the
    thumb by its count, fingers at home, none twice in a row.
    """
    plucks = [s for _, s in pattern.strokes() if isinstance(s, Pluck)]
    cost = plain_wording(pattern)
    cost += sum(_LANE_COST for s in plucks if s.lane is not None)
    cost += sum(_SHIFT_COST for s in plucks if s.shift)
    cost += sum(_FIXED_COST for s in plucks if s.strings or s.fret is not None)
    played = [slot for slot in pattern.slots if slot]
    for one, other in pairwise([*played, *played[:1]] if len(played) > 1 else []):
        cost += _AGAIN_COST * len(_fingers(one) & _fingers(other))
    return cost


def plain_wording(pattern: Pattern) -> float:
    """The least that so many strokes in so many places can cost to say."""
    return sum(map(len, pattern.slots)) + _LENGTH_COST * len(pattern.slots)


def _fingers(slot: Slot) -> set[str]:
    return {s.finger for s in slot if isinstance(s, Pluck) and s.finger != "p"}


def _loss(section: PartSection, odd: tuple[int, ...]) -> int:
    return sum(1 + len(section.bars[i].notes) for i in odd)


def chord_overrides(result: Result, section: PartSection, odd: tuple[int, ...]) -> tuple[ChordOverride, ...]:
    """Basses or fingers that lie on another string wherever one chord is played."""
    votes: Counter[ChordOverride] = Counter()
    for index in odd:
        bar = result.bars[index]
        wanted, given = heard(section.bars[index].notes), heard(sounded(bar))
        for event in bar.events:
            assignment = result.assignment_at(bar, event.at)
            if assignment is None or event.finger is None or not event.plucked or event.overridden:
                continue
            if (event.at, event.string, event.fret, False) in wanted:
                continue
            others = [n for n in wanted - given if n[0] == event.at and n[1] is not None]
            if len(others) == 1 and assignment.fret(others[0][1] or 1) == others[0][2]:
                lane = f"p{event.lane}" if event.finger == "p" else event.finger
                votes[ChordOverride(assignment.chord.text, assignment.shape, lane, others[0][1] or 1)] += 1
    out: dict[tuple[str, object, str], ChordOverride] = {}
    for override, _ in votes.most_common():
        out.setdefault((override.symbol, override.shape, override.lane), override)
    return tuple(out.values())


class _Tables:
    """The places of every whole bar of a section; bars that are alike are worked out once."""

    def __init__(self, section: PartSection, result: Result) -> None:
        known: dict[object, list[WrittenPlace]] = {}
        self.bars: list[list[WrittenPlace]] = []
        for part, bar in zip(section.bars, result.bars, strict=False):
            if bar.number == 0:
                continue
            assignments = assignments_in(bar, result)
            key = (id(part.notes), tuple((at, id(each)) for at, each in assignments.items()))
            if key not in known:
                known[key] = bar_places(part, bar, result)
            self.bars.append(known[key])


def assignments_in(bar: FittedBar, result: Result) -> dict[Fraction, Assignment]:
    """The assignment that stands from each place of a bar on."""
    on: dict[Fraction, Assignment] = {}
    for index in bar.spans:
        fitted = result.spans[index]
        if fitted.assignment is not None:
            on[fitted.span.at if fitted.span.bar == bar.number else Fraction(0)] = fitted.assignment
    if on:
        on.setdefault(Fraction(0), on[min(on)])
    return on


def bar_places(part: PartBar, bar: FittedBar, result: Result) -> list[WrittenPlace]:
    """Every place of a bar with the ways to write it; none in silence."""
    assignments = assignments_in(bar, result)
    return places(part.notes, assignments, assignments) if assignments else []


def candidates(
    meter: Meter, bars: list[list[WrittenPlace]], like: Pattern | None, *, rolls: bool = False
) -> Iterator[Pattern]:
    """Patterns of every length that could repeat, on the fewest places a beat that hold the bars.

    With `like` only those of its grid and length; where it `rolls` over the bar line, those that do not
    divide the bar.
    """
    done: set[tuple[Slot, ...]] = set()
    for per_beat in grids(meter, bars) if like is None else like.per_beat[:1]:
        starts = grid_of(meter, per_beat)
        index = {at: i for i, at in enumerate(starts)}
        table = [{index[place.at]: place for place in bar if place.at in index} for bar in bars]
        sizes = _sizes(len(starts), len(bars), rolls) if like is None else [len(like.slots)]
        for size in sizes:
            slots = tuple(_slot(table, position, size, len(starts)) for position in range(size))
            if any(slots) and slots not in done:
                done.add(slots)
                yield Pattern(meter, (per_beat,), slots)


def grid_of(meter: Meter, per_beat: int) -> list[Fraction]:
    """The positions in a bar with so many places a beat."""
    out, at = [], Fraction(0)
    for length in slot_lengths(meter, (per_beat,)):
        out.append(at)
        at += length
    return out


def grids(meter: Meter, bars: list[list[WrittenPlace]]) -> list[int]:
    """Places per beat: the fewest that hold most bars, and the fewest that hold all."""
    out: list[int] = []
    for share in (_ENOUGH, 1.0):
        for per_beat in SLOT_COUNTS:
            grid = set(grid_of(meter, per_beat))
            held = sum(all(place.at in grid for place in bar) for bar in bars)
            if held >= share * len(bars):
                out.append(per_beat)
                break
    return list(dict.fromkeys(out)) or [4]


def _sizes(count: int, bars: int, rolls: bool) -> list[int]:
    """Lengths in places: parts of a bar, a bar, two, four; rolling, all others up to two bars."""
    if rolls:
        return [n for n in range(3, 2 * count) if count % n and n % count]
    parts = [n for n in range(2, count) if count % n == 0]
    return [*parts, count, *(count * n for n in (2, 4) if 2 * n <= bars)]


def _slot(table: list[dict[int, WrittenPlace]], position: int, size: int, count: int) -> Slot:
    """What most of the occurrences of one place play."""
    found = []
    for number, bar in enumerate(table):
        if bar:
            for inside in range(count):
                if (number * count + inside) % size == position:
                    place = bar.get(inside)
                    found.append(place.ways if place is not None else ())
    return vote(found) if found else ()
