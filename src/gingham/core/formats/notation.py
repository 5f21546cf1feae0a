"""What notation asks of a fitted bar: pieces with a printable length, tied where need be, and the words."""

from __future__ import annotations

from collections.abc import Iterator
from fractions import Fraction

import msgspec

from gingham.core.errors import WordsError
from gingham.core.fitting.performance import Performance
from gingham.core.fitting.result import Event, FittedBar, Result
from gingham.core.pieces.lyrics import Syllable

_TYPES = (
    (Fraction(1), "whole"),
    (Fraction(1, 2), "half"),
    (Fraction(1, 4), "quarter"),
    (Fraction(1, 8), "eighth"),
    (Fraction(1, 16), "16th"),
    (Fraction(1, 32), "32nd"),
    (Fraction(1, 64), "64th"),
    (Fraction(1, 128), "128th"),
)


class NoteValue(msgspec.Struct, frozen=True, gc=False):
    """A printable length: note type, dots, and (actual, normal) of a tuplet or None."""

    length: Fraction
    type: str
    dots: int
    tuplet: tuple[int, int] | None


class Chunk(msgspec.Struct, frozen=True, gc=False):
    """A stretch of a bar with what is struck at its start; `tied` goes on from the chunk before.

    `events` is empty in a rest. `goes_on` tells that the next chunk is tied to this one.
    """

    at: Fraction
    value: NoteValue
    events: tuple[Event, ...]
    tied: bool
    goes_on: bool


def note_values(length: Fraction) -> tuple[NoteValue, ...]:
    """`length` (of a whole note) as printable values, longest first."""
    out: list[NoteValue] = []
    left = length
    while left > 0:
        value = next((v for v in _VALUES if v.length <= left and _suits(v.length, left)), _VALUES[-1])
        out.append(value)
        left -= value.length
    return tuple(out)


def _suits(part: Fraction, length: Fraction) -> bool:
    """Whether a part lies on the grid of the whole length, so that no finer one is needed."""
    return length.denominator % part.denominator == 0


def _values() -> tuple[NoteValue, ...]:
    out = []
    for length, name in _TYPES:
        out.append(NoteValue(length, name, 0, None))
        out.append(NoteValue(length * Fraction(3, 2), name, 1, None))
        out.append(NoteValue(length * Fraction(2, 3), name, 0, (3, 2)))
    return tuple(sorted(out, key=lambda v: (-v.length, v.tuplet is not None)))


_VALUES = _values()


def chunks(bar: FittedBar, words: tuple[Syllable, ...]) -> Iterator[Chunk]:
    """The bar cut wherever something is struck or a syllable falls; each onset lasts until the next one."""
    events = [e for e in bar.events if not e.silent and (e.pitch is not None or e.kind == "chuck")]
    onsets = sorted({e.at for e in events})
    cuts = sorted({Fraction(0), *onsets, *(w.at for w in words if w.at < bar.length)})
    now: tuple[Event, ...] = ()
    pieces: list[tuple[Fraction, NoteValue, tuple[Event, ...], bool]] = []
    for index, at in enumerate(cuts):
        end = cuts[index + 1] if index + 1 < len(cuts) else bar.length
        struck = at in onsets
        if struck:
            now = _one_a_string(e for e in events if e.at == at)
        begin = at
        for value in note_values(end - at):
            pieces.append((begin, value, now, bool(now) and not (struck and begin == at)))
            begin += value.length
    for index, (at, value, sounding, tied) in enumerate(pieces):
        goes_on = index + 1 < len(pieces) and pieces[index + 1][3] and bool(sounding)
        yield Chunk(at, value, sounding, tied, goes_on)


def _one_a_string(events: Iterator[Event]) -> tuple[Event, ...]:
    """The notes of one moment, lowest string first; two on a string cannot both sound."""
    return tuple({e.string: e for e in sorted(events, key=lambda e: -e.string)}.values())


def sung(performance: Performance) -> list[tuple[Result, int, list[tuple[Syllable, ...]]]]:
    """Each turn with how often it is played and the words of each of its rounds.

    Verses go on from turn to turn and begin again when there are no more.
    """
    visits: dict[str, int] = {}
    out = []
    for result, times in zip(performance.results, performance.times, strict=True):
        section = result.piece.sections[result.section]
        verses = verses_of(result)
        first = visits.get(section.name, 0)
        visits[section.name] = first + times
        rounds = [verses[(first + turn) % len(verses)] for turn in range(times)] if verses else []
        out.append((result, times, rounds if len(set(map(id, rounds))) > 1 else rounds[:1]))
    return out


def verses_of(result: Result) -> list[tuple[Syllable, ...]]:
    """The words of a section, verse by verse; none where they do not fit its bars any more."""
    piece, section = result.piece, result.piece.sections[result.section]
    try:
        placed = section.placed_words(piece.meter)
    except WordsError:
        return []
    last = max((s.verse for s in placed), default=0)
    return [tuple(s for s in placed if s.verse == verse) for verse in range(1, last + 1)]
