"""The result in time: what sounds when, in whole notes from the start, swing applied."""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Callable, Iterator, Sequence
from fractions import Fraction
from itertools import groupby, pairwise
from operator import attrgetter, itemgetter
from typing import TypeVar

import msgspec

from gingham.core.courtesy import give_way
from gingham.core.fitting.performance import Performance
from gingham.core.fitting.played import played_bars
from gingham.core.fitting.result import Assignment, FittedBar, Result
from gingham.core.music.meter import Meter
from gingham.core.pieces.piece import Piece
from gingham.core.sound.feel import bright, gain
from gingham.core.values import replace

T = TypeVar("T")
COUNT_INS = ("bar", "subdivided", "two", "ready")
_NEAR = 1e-9
_BRUSH_SPREAD = Fraction(1, 200)  # of a whole note between two strings of a brush


class SoundedNote(msgspec.Struct, frozen=True, gc=False):
    """One string sounding from `at` (whole notes from the timeline's start, already swung).

    `gain` is 0–1, `finger` who plucks (empty for the fretting hand's own notes), `bright` that a finger
    follows through, `level` the accent (0–2). `midi` is None for a chuck, and where a string only stops: then
    the gain is 0. `free` are the open strings of the chord, as (string, midi): they may answer.
    """

    at: float
    string: int
    midi: int | None
    gain: float
    finger: str
    soft: bool = False
    bright: bool = False
    level: int = 0
    free: tuple[tuple[int, int], ...] = ()


Click = tuple[float, int]
Entry = tuple[float, float, int, int]


class BarPlace(msgspec.Struct, frozen=True, gc=False):
    """Where a bar of the timeline begins, and which section and bar number it is."""

    at: float
    section: int
    bar: int


class Timeline(msgspec.Struct, frozen=True, gc=False):
    """Notes in order of time, clicks, places of bars, chord changes, and the length in whole notes.

    A click is (position, strength): 2 on a bar line, 1 on a counted beat, 0 between. A change is (position,
    when it is called, section, index of the chord's span).
    """

    notes: tuple[SoundedNote, ...]
    clicks: tuple[Click, ...]
    places: tuple[BarPlace, ...]
    length: float
    beat: float
    bar: float
    changes: tuple[Entry, ...] = ()
    count: tuple[Click, ...] = ()
    """The clicks of one bar in the piece's meter, for counting in."""

    def coming(self, at: float) -> Entry | None:
        """The next change after a position, once it has been called."""
        index = bisect_right(self.changes, at, key=itemgetter(0))
        change = self.changes[index] if index < len(self.changes) else None
        return change if change is not None and change[1] <= at else None

    def place(self, at: float) -> tuple[BarPlace, float]:
        """The bar at a position, and how far into it (whole notes)."""
        index = bisect_right(self.places, at + 1e-9, key=attrgetter("at"))
        found = self.places[max(0, index - 1)]
        return found, at - found.at


def between(ordered: Sequence[T], begin: float, end: float, key: Callable[[T], float]) -> Iterator[T]:
    """What lies in `begin ≤ time < end` of things in order of time; nothing before it is looked at."""
    for index in range(bisect_left(ordered, begin, key=key), len(ordered)):
        if key(ordered[index]) >= end:
            return
        yield ordered[index]


def swung(at: Fraction, meter: Meter, swing: Fraction) -> Fraction:
    """A straight position within a bar moved by swing: the beat's first half takes `swing` of it."""
    if swing == Fraction(1, 2):
        return at
    beat = meter.tempo_beat
    whole, part = divmod(at, beat)
    share = part / beat
    half = Fraction(1, 2)
    late = 2 * share * swing if share < half else swing + 2 * (share - half) * (1 - swing)
    return (whole + late) * beat


def performed(performance: Performance) -> Timeline:
    """A piece from beginning to end; one that fades gets softer from round to round of its last turn."""
    return timeline(list(performance.results), times=performance.times, loudness=performance.loudness)


def timeline(
    results: list[Result],
    *,
    times: tuple[int, ...] | None = None,
    bars: tuple[int, int] | None = None,
    loudness: Callable[[int, int], float] = lambda _turn, _round: 1.0,
) -> Timeline:
    """The sections one after the other, each once or as often as `times` says.

    `bars` (first, last) cuts the first section to those bars; `loudness` is the share that a round of a turn
    has of its own.
    """
    notes: list[SoundedNote] = []
    clicks: list[Click] = []
    places: list[BarPlace] = []
    changes: list[Entry] = []
    over = Fraction(0)
    piece = results[0].piece
    finest = min(result.finest() for result in results)
    rounds = [1] * len(results) if times is None else list(times)
    known: dict[tuple[int, bool], _BarLine] = {}
    walk = played_bars(zip(results, rounds, strict=True), bars)
    for (turn, done), group in groupby(walk, key=lambda each: (each.turn, each.round)):
        result, fade, starts = results[turn], loudness(turn, done), dict[int, Fraction]()
        for each in group:
            give_way()
            bar, here = each.bar, float(each.start)
            starts[bar.number], over = each.start, each.start + bar.length
            places.append(BarPlace(here, result.section, bar.number))
            key = (id(bar.events), bar.number == 0)
            if key not in known:
                known[key] = _bar_line(bar, result, finest)
            clicks += [(here + at, strength) for at, strength in known[key].clicks]
            notes += [_later(note, here, fade) for note in known[key].notes]
        changes += _changes(result, starts)
        notes += _stops(result, starts)
    notes.sort(key=lambda note: note.at)
    return Timeline(
        tuple(notes),
        tuple(clicks),
        tuple(places),
        float(over),
        float(piece.meter.tempo_beat),
        float(piece.meter.bar),
        tuple(changes),
        tuple(_clicks(Fraction(0), piece.meter.bar, piece.meter, finest)),
    )


def cut(line: Timeline, begin: float, end: float) -> Timeline:
    """The stretch from `begin` to `end` of a timeline (whole notes), to be looped by itself."""
    notes = tuple(replace(n, at=n.at - begin) for n in line.notes if begin - _NEAR <= n.at < end - _NEAR)
    clicks = tuple((at - begin, how) for at, how in line.clicks if begin - _NEAR <= at < end - _NEAR)
    ends = [place.at for place in line.places[1:]] + [line.length]
    places = tuple(
        BarPlace(place.at - begin, place.section, place.bar)
        for place, over in zip(line.places, ends, strict=True)
        if place.at < end - _NEAR and over > begin + _NEAR
    )
    changes = tuple(
        (at - begin, max(0.0, called - begin), section, span)
        for at, called, section, span in line.changes
        if begin - _NEAR <= at < end - _NEAR
    )
    return replace(line, notes=notes, clicks=clicks, places=places, length=end - begin, changes=changes)


def called(line: Timeline, beats: int, *, loop: bool) -> Timeline:
    """The same with each change called so many beats ahead (0: as it was, a pattern or a bar ahead).

    In a loop the chord at its start is called before its end, where there are others.
    """
    ahead = beats * line.beat
    entries = list(line.changes)
    if beats:
        entries = [(at, max(0.0, at - ahead), section, span) for at, _, section, span in entries]
    first = line.changes[0] if line.changes else None
    if loop and first is not None and first[0] <= _NEAR and len(entries) > 1:
        before = ahead if beats else min(line.bar, line.length)
        entries.append((line.length, max(0.0, line.length - before), first[2], first[3]))
    return replace(line, changes=tuple(entries))


def joined(first: Timeline, second: Timeline) -> Timeline:
    """One stretch after another, as across the seam of a loop."""
    by = first.length
    return replace(
        first,
        notes=(*first.notes, *(replace(note, at=note.at + by) for note in second.notes)),
        clicks=(*first.clicks, *((at + by, how) for at, how in second.clicks)),
        places=(*first.places, *(replace(place, at=place.at + by) for place in second.places)),
        changes=(*first.changes, *((at + by, called + by, s, i) for at, called, s, i in second.changes)),
        length=first.length + second.length,
    )


def around(line: Timeline, at: float, before: float, after: float) -> Timeline:
    """A chord change at `at` with time on each side; at the very start the end of the piece comes first."""
    if at - before >= -_NEAR:
        return cut(line, max(0.0, at - before), min(line.length, at + after))
    seam = joined(cut(line, line.length + at - before, line.length), cut(line, 0.0, at + after))
    called = tuple((when, 0.0 if when == before else call, s, i) for when, call, s, i in seam.changes)
    return replace(seam, changes=called)


def _changes(result: Result, starts: dict[int, Fraction]) -> list[Entry]:
    """When each chord enters, and when it is called: one pattern, or a bar, ahead."""
    ahead = min(result.pattern.length, result.piece.meter.bar)
    out: list[Entry] = []
    for index, span in enumerate(result.spans):
        give_way()
        same = index > 0 and span.assignment == result.spans[index - 1].assignment
        if span.span.bar in starts and not same:
            at = starts[span.span.bar] + span.span.at
            out.append((float(at), float(max(Fraction(0), at - ahead)), result.section, index))
    return out


def _stops(result: Result, starts: dict[int, Fraction]) -> list[SoundedNote]:
    """Strings that stop where a chord changes: a finger leaves them, or lands on another fret."""
    out: list[SoundedNote] = []
    for one, other in pairwise(result.spans):
        give_way()
        if one.assignment is None or other.span.bar not in starts:
            continue
        at = float(starts[other.span.bar] + other.span.at)
        for string in one.strings:
            now = other.assignment.fret(string) if other.assignment is not None else None
            if one.assignment.fret(string) != now:
                out.append(SoundedNote(at - _NEAR, string, None, 0.0, ""))
    return out


def clicks_alone(meter: Meter, bars: int) -> Timeline:
    """Bars of nothing but clicks on the counted beats."""
    starts = [meter.bar * number for number in range(bars)]
    finest = min(meter.beats) / 2
    clicks = tuple(click for start in starts for click in _clicks(start, meter.bar, meter, finest))
    places = tuple(BarPlace(float(start), 0, number) for number, start in enumerate(starts, 1))
    count = tuple(_clicks(Fraction(0), meter.bar, meter, finest))
    return Timeline(
        (), clicks, places, float(meter.bar * bars), float(meter.tempo_beat), float(meter.bar), count=count
    )


def _clicks(start: Fraction, length: Fraction, meter: Meter, finest: Fraction) -> list[Click]:
    """The clicks of a bar: beats, and between them the places of a grid of `finest` (eighths in n/8)."""
    out: list[Click] = []
    at = Fraction(0)
    offset = meter.bar - length  # a pick-up ends where the bar line is
    for beat in meter.beats:
        between = Fraction(1, 8) if meter.unit == 8 else max(finest, beat / 4)
        count = max(1, int(beat / between))
        for part in range(count):
            inside = at + part * beat / count
            if inside >= offset:
                strength = 0 if part else 2 if at == 0 else 1
                out.append((float(start + inside - offset), strength))
        at += beat
    return out


class _BarLine(msgspec.Struct, frozen=True):
    """A kind of bar in time, counted from its start; equal bars share one."""

    notes: tuple[SoundedNote, ...]
    clicks: tuple[Click, ...]


def _bar_line(bar: FittedBar, result: Result, finest: Fraction) -> _BarLine:
    clicks = _clicks(Fraction(0), bar.length, result.piece.meter, finest)
    return _BarLine(tuple(_notes(bar, result)), tuple(clicks))


def _later(note: SoundedNote, by: float, fade: float) -> SoundedNote:
    """A note of a bar at its place in the line."""
    return SoundedNote(
        by + note.at,
        note.string,
        note.midi,
        fade * note.gain,
        note.finger,
        note.soft,
        note.bright,
        note.level,
        note.free,
    )


def _notes(bar: FittedBar, result: Result) -> list[SoundedNote]:
    piece, meter = result.piece, result.piece.meter
    beats = frozenset(meter.beat_starts)
    out: list[SoundedNote] = []
    swept: dict[Fraction, int] = {}
    missing = meter.bar - bar.length  # a pick-up swings as the end of a bar does
    for event in bar.events:
        if event.silent or (event.pitch is None and event.kind != "chuck"):
            continue
        at = swung(event.at + missing, meter, piece.swing) - missing
        if event.kind in ("brush-down", "brush-up"):
            at += _BRUSH_SPREAD * swept.get(event.at, 0)
            swept[event.at] = swept.get(event.at, 0) + 1
        midi = None if event.kind == "chuck" or event.pitch is None else event.pitch.midi
        soft = event.kind in ("hammer", "pull", "slide")
        on = result.assignment_at(bar, event.at)
        profile = on.accents if on is not None else piece.rules.accents
        loud = gain(event, profile, event.at + missing, beats)
        shine = bright(event, profile)
        who = "" if soft else event.finger or ""
        open_ = _free(on, piece) if on is not None else ()
        out.append(SoundedNote(float(at), event.string, midi, loud, who, soft, shine, event.accent, open_))
    return out


def _free(on: Assignment, piece: Piece) -> tuple[tuple[int, int], ...]:
    """The strings that a chord leaves open, with their MIDI numbers."""
    strings = range(1, piece.instrument.strings + 1)
    return tuple((s, piece.instrument.open_midi(s) + piece.capo) for s in strings if on.fret(s) == 0)
