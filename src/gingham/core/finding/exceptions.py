"""Bars that break their pattern, kept: single plucks as exceptions, more as bars of their own."""

from __future__ import annotations

from collections.abc import Callable
from fractions import Fraction

import msgspec

from gingham.core.errors import GinghamError
from gingham.core.finding.part import PartBar, PartSection, sounded
from gingham.core.finding.sections import bar_places, grid_of, heard, odd_bars
from gingham.core.finding.tokens import WrittenPlace
from gingham.core.fitting.cache import FitCache
from gingham.core.fitting.fit import fit
from gingham.core.fitting.result import FittedBar, Result
from gingham.core.music.meter import SLOT_COUNTS
from gingham.core.patterns.pattern import Pattern, Pluck, Slot, Stroke, order
from gingham.core.pieces.edits import add_override, tidied
from gingham.core.pieces.form_edits import set_bar_pattern
from gingham.core.pieces.piece import HereOverride, NamedPattern, Piece
from gingham.core.values import replace

_MOST_PLUCKS = 2  # more that differ in a bar are a bar of its own


class Exceptional(msgspec.Struct, frozen=True, gc=False):
    """A bar that breaks its section's pattern: notes that the pattern does not give, and ones it misses.

    `kept` is how the piece keeps it: `plucks` (exceptions at single places), `bar` (a pattern of its own), or
    empty where it could not be kept note for note.
    """

    section: str
    bar: int
    added: int
    missing: int
    kept: str


def keep_exceptions(piece: Piece, kept: tuple[PartSection, ...]) -> tuple[Piece, tuple[Exceptional, ...]]:
    """`piece` with every bar that breaks its pattern as the part has it, and the list of them.

    All bars of a section are tried together, first with single plucks, then with bars of their own; what does
    not come out note for note is taken back.
    """
    cache = FitCache()
    out: list[Exceptional] = []
    for index, section in enumerate(kept):
        result = fit(piece, index, cache)
        left = list(odd_bars(result, section))
        ways: dict[int, str] = {}
        for way, change in (("plucks", _with_plucks), ("bar", _with_own_bar)):
            piece, done = _tried(piece, index, section, result, left, change, cache)
            ways |= dict.fromkeys(done, way)
            left = [number for number in left if number not in ways]
        for number in sorted([*ways, *left]):
            part, bar = section.bars[number], result.bars[number]
            own, given = heard(part.notes), heard(sounded(bar))
            way = ways.get(number, "")
            out.append(Exceptional(section.name, bar.number, len(own - given), len(given - own), way))
    return piece, tuple(out)


def follow_pattern(piece: Piece, bars: frozenset[tuple[int, int]]) -> Piece:
    """`piece` with some bars (section's index, number) as their section's pattern has them."""
    names = {(piece.sections[section].name, bar) for section, bar in bars}
    overrides = tuple(
        o for o in piece.overrides if not (isinstance(o, HereOverride) and (o.section, o.bar) in names)
    )
    sections = tuple(
        replace(section, bars=tuple(own for own in section.bars if (index, own.bar) not in bars))
        for index, section in enumerate(piece.sections)
    )
    return tidied(replace(piece, overrides=overrides, sections=sections))


Change = Callable[[Piece, int, PartBar, FittedBar, Result], Piece | None]


def _tried(
    piece: Piece,
    index: int,
    section: PartSection,
    result: Result,
    numbers: list[int],
    change: Change,
    cache: FitCache,
) -> tuple[Piece, list[int]]:
    """`piece` with a change for each of some bars, those that come out right, and their indices."""

    def changed(base: Piece, wanted: list[int]) -> tuple[Piece, list[int]]:
        made = []
        for number in wanted:
            after = _changed(base, index, section.bars[number], result.bars[number], result, change)
            if after is not None:
                base = after
                made.append(number)
        return base, made

    after, made = changed(piece, numbers)
    still = set(odd_bars(fit(after, index, cache), section))
    right = [number for number in made if number not in still]
    return (after, made) if right == made else changed(piece, right)


def _changed(
    piece: Piece, index: int, part: PartBar, bar: FittedBar, result: Result, change: Change
) -> Piece | None:
    if bar.number == 0:
        return None
    try:
        return change(piece, index, part, bar, result)
    except GinghamError:
        return None


def _with_plucks(piece: Piece, index: int, part: PartBar, bar: FittedBar, result: Result) -> Piece | None:
    """Single plucks on another string, or left out; None if more than a few differ."""
    wanted = heard(part.notes)
    wrong = [
        e for e in bar.events
        if not e.silent and e.kind == "pluck" and (e.at, e.string, e.fret, False) not in wanted
    ]  # fmt: skip
    if not 1 <= len(wrong) <= _MOST_PLUCKS:
        return None
    missing = sorted(wanted - heard(sounded(bar)), key=lambda n: (n[0], n[1] or 0))
    name = piece.sections[index].name
    for event in wrong:
        aim = next((n for n in missing if n[0] == event.at), None)
        if aim is not None:
            missing.remove(aim)
        string = aim[1] if aim is not None else None
        here = HereOverride(name, bar.number, event.at, event.finger or "p", string)
        piece = add_override(piece, here)
    return None if missing else piece


def _with_own_bar(piece: Piece, index: int, part: PartBar, bar: FittedBar, result: Result) -> Piece | None:
    """A pattern for this bar alone."""
    found = bar_places(part, bar, result)
    grid = _grid(piece, found)
    if grid is None:
        return None
    per_beat, starts = grid
    here = {place.at: place for place in found}
    slots = tuple(_slot(here[at]) if at in here else () for at in starts)
    section = piece.sections[index]
    name = f"{section.name}, bar {bar.number}"
    pattern = Pattern(piece.meter, (per_beat,), slots)
    same = next((n for n in piece.patterns if n.pattern == pattern), None)
    return set_bar_pattern(piece, index, bar.number, same or NamedPattern(name, pattern))


def _grid(piece: Piece, found: list[WrittenPlace]) -> tuple[int, list[Fraction]] | None:
    for per_beat in SLOT_COUNTS:
        starts = grid_of(piece.meter, per_beat)
        if all(place.at in starts for place in found):
            return per_beat, starts
    return None


def _slot(place: WrittenPlace) -> Slot:
    """The best way for each note, every finger once."""
    chosen: list[Stroke] = []
    taken: set[str] = set()
    for ways in sorted(place.ways, key=lambda ways: ways[0][1]):
        for stroke, _ in ways:
            if isinstance(stroke, Pluck):
                if stroke.finger in taken:
                    continue
                taken.add(stroke.finger)
            chosen.append(stroke)
            break
    return order(tuple(chosen))
