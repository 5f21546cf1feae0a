"""How long each string rings until it is plucked, refretted or damped; where bass notes rub meanwhile."""

from __future__ import annotations

from fractions import Fraction
from itertools import pairwise

import msgspec

from gingham.core.fitting.result import Event, FittedBar, Result
from gingham.core.music.pitch import Note, Pitch

_RUB = 2  # semitones within which two low notes that ring together are felt to rub


class Ring(msgspec.Struct, frozen=True, gc=False):
    """One note: where it is plucked, and for how long its string rings (in whole notes).

    `pitch` sounds, `note` is its name in the shape, below the capo.

    `ended` says by what: `again` (the string is plucked again), `change` (a finger leaves it or lands on
    it) or `damped` (a chuck).
    """

    bar: int
    at: Fraction
    count: str
    span: int
    string: int
    pitch: Pitch
    note: Note
    length: Fraction
    ended: str
    thumb: bool


class Clash(msgspec.Struct, frozen=True, gc=False):
    """A low note that is plucked while another a semitone or two away still rings, and for how long."""

    bar: int
    count: str
    old: Ring
    new: Ring
    together: Fraction


class _Moment(msgspec.Struct, frozen=True, gc=False):
    time: Fraction
    string: int
    event: Event | None
    bar: FittedBar | None
    ends: str


def rings(result: Result) -> tuple[Ring, ...]:
    """Every note of a section going round, in order of time."""
    total = result.length()
    by_string: dict[int, list[_Moment]] = {}
    for moment in _moments(result):
        by_string.setdefault(moment.string, []).append(moment)
    out: list[tuple[Fraction, Ring]] = []
    for moments in by_string.values():
        first = moments[0]
        again = _Moment(first.time + total, first.string, first.event, first.bar, first.ends)
        for one, other in pairwise([*moments, again]):
            event, bar = one.event, one.bar
            if event is None or bar is None or event.pitch is None:
                continue
            span = result.span_at(bar, event.at)
            length = other.time - one.time
            made = Ring(
                bar.number, event.at, event.count, span, event.string, event.pitch,
                result.named(bar.number, event), length, other.ends, event.finger == "p",
            )  # fmt: skip
            out.append((one.time, made))
    return tuple(ring for _, ring in sorted(out, key=lambda each: (each[0], -each[1].string)))


def _moments(result: Result) -> list[_Moment]:
    """Whatever begins or ends a note on a string, in order of time; at one time the end comes first."""
    out: list[_Moment] = []
    strings = range(1, result.piece.instrument.strings + 1)
    begins = {bar.number: begin for begin, bar in result.timed_bars()}
    for one, other in pairwise(result.spans):
        if one.assignment is None or other.span.bar not in begins:
            continue
        at = begins[other.span.bar] + other.span.at
        for string in one.strings:
            now = other.assignment.fret(string) if other.assignment is not None else None
            if one.assignment.fret(string) != now:
                out.append(_Moment(at, string, None, None, "change"))
    for begin, bar in result.timed_bars():
        for event in bar.events:
            if event.silent:
                continue
            if event.kind == "chuck":
                out += [_Moment(begin + event.at, string, None, None, "damped") for string in strings]
            elif event.pitch is not None:
                out.append(_Moment(begin + event.at, event.string, event, bar, "again"))
    return sorted(out, key=lambda moment: (moment.time, moment.event is not None))


def clashes(result: Result) -> tuple[Clash, ...]:
    """The thumb's notes that rub with one that it has left ringing, each pair of notes once."""
    begins = {bar.number: begin for begin, bar in result.timed_bars()}
    low = [(begins[ring.bar] + ring.at, ring) for ring in rings(result) if ring.thumb]
    found: dict[tuple[int, int, int, int], Clash] = {}
    for index, (time, new) in enumerate(low):
        for before, old in low[max(0, index - 8) : index]:
            apart = abs(new.pitch.midi - old.pitch.midi)
            together = min(before + old.length - time, new.length)
            if old.string != new.string and 0 < apart <= _RUB and together > 0:
                key = (old.string, old.pitch.midi, new.string, new.pitch.midi)
                found.setdefault(key, Clash(new.bar, new.count, old, new, together))
    return tuple(found.values())
