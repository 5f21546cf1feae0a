"""Strings at once: pinches and doubles with span and top note; the gaps between the strings in use."""

from __future__ import annotations

from fractions import Fraction
from itertools import pairwise

import msgspec

from gingham.core.fitting.result import Event, Result
from gingham.core.music.pitch import Note
from gingham.core.values import replace


class Pinch(msgspec.Struct, frozen=True, gc=False):
    """Strings plucked at once: where first, (plucker, string) from the lowest-numbered finger string up.

    `top` is what is heard above all (the melody's string), by its name in the shape, `span` how many strings
    the hand covers, `close` pairs of neighbouring strings that two fingers pluck. `times` counts how often it
    comes on the chord.
    """

    bar: int
    at: Fraction
    count: str
    plucks: tuple[tuple[str, int], ...]
    top: Note
    top_string: int
    degree: str
    span: int
    close: tuple[tuple[int, int], ...]
    times: int = 1


def pinches(result: Result, index: int) -> tuple[Pinch, ...]:
    """The pinches and doubles of one chord, each set of strings once, in time."""
    found: dict[tuple[tuple[str, int], ...], Pinch] = {}
    for bar in result.bars_of(index):
        for at in sorted({event.at for event in bar.events}):
            if result.span_at(bar, at) != index:
                continue
            events = [
                e for e in bar.events if e.at == at and e.plucked and e.pitch is not None and not e.silent
            ]
            if len(events) < 2:
                continue
            made = _pinch(bar.number, events, result)
            known = found.get(made.plucks)
            found[made.plucks] = made if known is None else replace(known, times=known.times + 1)
    return tuple(found.values())


def _pinch(bar: int, events: list[Event], result: Result) -> Pinch:
    plucks = tuple(sorted(((e.plucker or "p", e.string) for e in events), key=lambda each: each[1]))
    top = max(events, key=lambda e: (e.pitch.midi if e.pitch is not None else 0, -e.string))
    assert top.pitch is not None
    note = result.named(bar, top)
    strings = [string for _, string in plucks]
    fingers = [string for plucker, string in plucks if plucker != "p"]
    close = tuple((a, b) for a, b in pairwise(fingers) if b - a == 1)
    span = max(strings) - min(strings) + 1
    where = (bar, events[0].at, events[0].count)
    return Pinch(*where, plucks, note, top.string, top.degree or "", span, close)


def gaps(strings: frozenset[int]) -> tuple[tuple[int, int], ...]:
    """Pairs of neighbours among the strings in use with unused strings between them, the lowest first."""
    return tuple((a, b) for a, b in pairwise(sorted(strings, reverse=True)) if a - b > 1)
