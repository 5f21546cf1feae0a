"""What a stringing means for a chord: which string is lowest, and pinches that sound one pitch twice."""

from __future__ import annotations

from collections import defaultdict

import msgspec

from gingham.core.fitting.held import Held
from gingham.core.fitting.result import Event, Result
from gingham.core.music.pitch import Pitch


class Unison(msgspec.Struct, frozen=True, gc=False):
    """Plucks at one place that sound the same pitch: where first, by whom, on which strings, how often."""

    bar: int
    count: str
    pluckers: tuple[str, ...]
    strings: tuple[int, ...]
    pitch: Pitch
    times: int


def lowest_string(result: Result, index: int) -> int | None:
    """The string that sounds lowest in a chord’s shape, of equal ones the higher number; None in silence.

    On re-entrant strings this is seldom string 4.
    """
    assignment = result.spans[index].assignment
    if assignment is None:
        return None
    piece = result.piece
    held = Held(assignment.chord, assignment.shape, piece.instrument, piece.capo)
    strings = [s for s in range(piece.instrument.strings, 0, -1) if held.sounds(s)]
    return min(strings, key=held.midi, default=None)


def unisons(result: Result, index: int) -> list[Unison]:
    """The pinches of a chord in which two strings sound one pitch, each pair of strings once."""
    found: defaultdict[tuple[int, ...], list[tuple[int, list[Event]]]] = defaultdict(list)
    for bar in result.bars_of(index):
        for at in dict.fromkeys(event.at for event in bar.events):
            if result.span_at(bar, at) != index:
                continue
            for same in _alike([event for event in bar.events if event.at == at]):
                found[tuple(event.string for event in same)].append((bar.number, same))
    return [_unison(places) for places in found.values()]


def _alike(events: list[Event]) -> list[list[Event]]:
    """The plucks of one place that share a pitch."""
    by_pitch: defaultdict[int, list[Event]] = defaultdict(list)
    for event in events:
        if event.plucked and event.pitch is not None and not event.silent:
            by_pitch[event.pitch.midi].append(event)
    return [same for same in by_pitch.values() if len({event.string for event in same}) > 1]


def _unison(places: list[tuple[int, list[Event]]]) -> Unison:
    bar, same = places[0]
    pitch = same[0].pitch
    assert pitch is not None
    pluckers = tuple(event.plucker or "p" for event in same)
    return Unison(bar, same[0].count, pluckers, tuple(e.string for e in same), pitch, len(places))
