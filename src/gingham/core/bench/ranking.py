"""Neighbours of a piece's pattern ranked, the change that raises its top speed most, and monotony."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import groupby

import msgspec

from gingham.core.bench.audition import hear, with_pattern
from gingham.core.bench.costs import SoundCost, sound_cost
from gingham.core.fitting.cache import FitCache
from gingham.core.fitting.fit import fit
from gingham.core.fitting.result import Event, FittedBar, Result
from gingham.core.judging.speed import Limit, Spot, hand_limit
from gingham.core.patterns.compare import difference
from gingham.core.patterns.grid import stroke_of
from gingham.core.patterns.pattern import Pattern, Pluck, changed
from gingham.core.patterns.variations import Variation, neighbours
from gingham.core.pieces.piece import Piece
from gingham.core.reasons import Reason, Value
from gingham.core.values import replace

SAME_BARS = 8  # from so many equal bars without an accent on, variety is worth a thought
_WORTH = 1.03  # a change must raise the top speed by so much to be named


class Ranked(msgspec.Struct, frozen=True, gc=False):
    """A neighbour: how many moments differ, top speed on the chords, what is in its way, what it costs."""

    variation: Variation
    difference: int
    limit: int
    conflicts: int
    cost: SoundCost


class Fix(msgspec.Struct, frozen=True, gc=False):
    """A change of one stroke that raises the top speed: what, the pattern after it, and both speeds."""

    reason: Reason
    pattern: Pattern
    before: int
    after: int


def ranked(piece: Piece, section: int, hand: str = "pima") -> Iterator[Ranked]:
    """Every neighbour of the section's pattern, judged; sort with `by_nearness`."""
    pattern = piece.pattern(piece.sections[section].pattern)
    cache = FitCache()
    now = fit(piece, section, cache)
    for variation in neighbours(pattern, hand):
        heard = hear(piece, section, "variation", variation.pattern, cache)
        away = difference(pattern, variation.pattern)
        cost = sound_cost(now, heard.result)
        yield Ranked(variation, away, heard.limit, heard.conflicts, cost)


def by_nearness(found: list[Ranked]) -> list[Ranked]:
    """The nearest first, among equals those without conflicts, then the faster."""
    return sorted(found, key=lambda each: (each.difference, each.conflicts, -each.limit))


def spot_slot(result: Result, spot: Spot) -> int | None:
    """The pattern's place that a spot comes from; None if it is no stroke of the section's pattern."""
    event = _event_of(result, spot)
    return None if event is None or _in_own_bar(result, spot) else event.slot


def _event_of(result: Result, spot: Spot) -> Event | None:
    bar = result.bar(spot.bar)
    events = bar.events if bar is not None else ()
    here = (e for e in events if e.at == spot.at and e.finger == spot.finger and e.string == spot.to_string)
    return next(here, None)


def best_fix(result: Result, limit: Limit, cache: FitCache) -> Fix | None:
    """The change of one stroke at the first bottleneck that raises the hand limit most; None if none does.

    Strokes are rather given to another finger, or kept on a string, than left out.
    """
    piece = result.piece
    if not limit.spots or limit.spots[0].code == "change-window":
        return None
    best: tuple[bool, int, bool, Fix] | None = None
    for reason, pattern in _candidates(result, limit.spots[0]):
        tried = fit(with_pattern(piece, result.section, "fix", pattern), result.section, cache)
        after = hand_limit(tried, piece.rules.level).tempo
        rank = (reason.code != "fix-leave-out", after, reason.value("count") != "1")
        if after >= limit.tempo * _WORTH and (best is None or rank > best[:3]):
            best = (*rank, Fix(reason, pattern, limit.tempo, after))
    return None if best is None else best[3]


def _candidates(result: Result, spot: Spot) -> Iterator[tuple[Reason, Pattern]]:
    """Patterns with one stroke at the spot changed: the one that ends the gap, or the one that begins it."""
    event = _event_of(result, spot)
    if event is None or _in_own_bar(result, spot):
        return
    assignment = next((s.assignment for s in result.spans if s.assignment is not None), None)
    if assignment is None or (assignment.variant is not None and len(result.spans) == 1):
        return
    homes = {finger: choice.string for finger, choice in assignment.fingers}
    slots = [(event.slot, event)]
    before = _before(result, spot, event)
    if before is not None and before.slot != event.slot:
        slots.append((before.slot, before))
    for slot, stroke_event in slots:
        stroke = stroke_of(result.pattern, slot, stroke_event.finger or "")
        if stroke is not None:
            yield from _changes_of(result.pattern, slot, stroke, stroke_event, homes, result.piece.rules.hand)


def _in_own_bar(result: Result, spot: Spot) -> bool:
    """Whether a spot, or the pluck before it, lies in a bar that does not play the section's pattern."""
    here = result.index_of(spot.bar) or 0
    return any(result.bars[index].pattern is not None for index in (here, here - 1))


def _before(result: Result, spot: Spot, event: Event) -> Event | None:
    """The event that begins the gap: the same finger's last one, or the one before the next finger."""
    here = result.index_of(spot.bar) or 0
    own = [e for e in result.bars[here].events if e.at < event.at]
    earlier = [e for e in (*result.bars[here - 1].events, *own) if e.plucked and not e.silent]
    same = [e for e in earlier if e.finger == event.finger]
    found = same or earlier
    return found[-1] if found else None


def _changes_of(
    pattern: Pattern, slot: int, stroke: Pluck, event: Event, homes: dict[str, int], hand: str
) -> Iterator[tuple[Reason, Pattern]]:
    values: dict[str, Value] = {"count": event.count, "finger": stroke.finger}
    busy = {s.finger for s in pattern.slots[slot] if isinstance(s, Pluck)}
    if stroke.finger != "p":
        for other, home in homes.items():
            if other not in busy and other in hand and abs(event.string - home) <= 2:
                moved = replace(stroke, finger=other, shift=event.string - home if not stroke.strings else 0)
                yield (
                    Reason.of("fix-give", **values, to=other),
                    changed(pattern, slot, stroke.finger, moved),
                )
                if not stroke.strings and moved.shift:
                    at_home = replace(moved, shift=0)
                    yield (
                        Reason.of("fix-give-home", **values, to=other, string=home),
                        changed(pattern, slot, stroke.finger, at_home),
                    )
    elif event.lane is not None and event.lane > 1:
        yield Reason.of("fix-stay", **values), changed(pattern, slot, "p", replace(stroke, lane=1))
    rest = tuple(s for s in pattern.slots[slot] if s is not stroke)
    if sum(map(len, pattern.slots)) > 2:
        yield Reason.of("fix-leave-out", **values), pattern.with_slot(slot, rest)


def _played(result: Result, bar: FittedBar) -> tuple[object, ...]:
    """What a bar plays of the pattern: which part, of its own pattern or of a version for its chords."""
    versions = (result.spans[index].assignment for index in bar.spans)
    return bar.phases, bar.pattern, tuple(each.variant if each is not None else None for each in versions)


def monotony(result: Result) -> Reason | None:
    """The longest run of bars that play the same part of an unaccented pattern, if it is long; else None."""
    if any(stroke.accent for _, stroke in result.pattern.strokes()):
        return None
    own = [
        (_played(result, bar), any(e.overridden or e.kind == "walk" for e in bar.events))
        for bar in result.bars
    ]
    runs = [(len(list(group)), plain) for (_, changed_), group in groupby(own) for plain in [not changed_]]
    longest = max((length for length, plain in runs if plain), default=0)
    times = result.piece.sections[result.section].repeats
    total = longest * times if longest == len(result.bars) else longest
    return Reason.of("same-bar", times=total) if total >= SAME_BARS else None
