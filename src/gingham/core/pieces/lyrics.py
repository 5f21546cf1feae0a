"""Words under beats and the tune's notes: lines of places like those of the chord line.

A line with bar marks, `| For-ty lan-terns | a-long the quay |`, says where its syllables lie: the words of a
bar share it from its start, one on each counted beat, or closer where they are more. `.` is a place without
a syllable, a hyphen parts the syllables of a word. A line without bar marks is spread over its bars: a guess.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from fractions import Fraction
from functools import lru_cache

import msgspec

from gingham.core.errors import PitchError, WordsError
from gingham.core.music.meter import SLOT_COUNTS, Meter, slot_lengths
from gingham.core.music.pitch import Pitch, parse_pitch

NOTHING = (".", "_")


class Syllable(msgspec.Struct, frozen=True, gc=False):
    """A syllable at a place: verse from 1, bar (pick-up 0), `at` of a whole note from the bar's start.

    `joins` tells that the word goes on, `begins` that it begins here, `guessed` that nobody has said where
    it lies. `line` is the line of the words, `start` where it stands in it.
    """

    verse: int
    bar: int
    at: Fraction
    text: str
    begins: bool
    joins: bool
    guessed: bool
    line: int
    start: int


class TuneNote(msgspec.Struct, frozen=True, gc=False):
    """A note of the tune: by its sounding pitch, or by string and fret (counted from the capo)."""

    bar: int
    at: Fraction
    pitch: Pitch | None = None
    string: int | None = None
    fret: int | None = None

    def __str__(self) -> str:
        return str(self.pitch) if self.pitch is not None else f"{self.string}@{self.fret}"


class _Token(msgspec.Struct, frozen=True, gc=False):
    text: str
    start: int
    begins: bool
    joins: bool


def _tokens(text: str, offset: int) -> list[_Token]:
    """Syllables and empty places of a bar's words."""
    out = []
    for word in re.finditer(r"\S+", text):
        parts = [word[0]] if word[0] in NOTHING else [p for p in re.split(r"(?<=\w)-(?=\w)", word[0]) if p]
        at = offset + word.start()
        for index, part in enumerate(parts):
            out.append(_Token(part, at, index == 0, index < len(parts) - 1))
            at += len(part) + 1
    return out


def _grids(meter: Meter) -> tuple[int, ...]:
    """Places a beat that words may have: a beat of three eighths is never cut in two."""
    return (1, 3, 6) if set(meter.groups) == {3} else SLOT_COUNTS


@lru_cache(maxsize=256)
def places_for(count: int, meter: Meter, length: Fraction | None = None) -> tuple[Fraction, ...]:
    """Where `count` words of a bar begin: on its counted beats, or closer on the first grid with enough.

    Raises
    ------
    WordsError
        If there are more than six to a beat.
    """
    missing = meter.bar - length if length is not None else Fraction(0)
    for per_beat in _grids(meter):
        starts, at = [], Fraction(0)
        for slot in slot_lengths(meter, (per_beat,)):
            if at >= missing:
                starts.append(at - missing)
            at += slot
        if len(starts) >= count:
            return tuple(starts[:count])
    raise WordsError("words-many", given=count, most=SLOT_COUNTS[-1] * len(meter.groups))


def _bars_of(line: str) -> list[tuple[str, int]]:
    """The bars of a marked line with their offsets; the outer marks are optional."""
    out, at = [], 0
    for part in line.split("|"):
        out.append((part, at))
        at += len(part) + 1
    if not out[0][0].strip():
        out = out[1:]
    if out and not out[-1][0].strip():
        out = out[:-1]
    return out


def marked(line: str) -> bool:
    """Whether a line of words says itself where its bars are."""
    return "|" in line


@lru_cache(maxsize=64)
def place_words(
    lines: tuple[str, ...], meter: Meter, bars: int, repeats: int = 1, pickup: Fraction | None = None
) -> tuple[Syllable, ...]:
    """Every syllable of a section's words at its place, verse by verse.

    A verse is one passage through the section's `bars`; lines that go on beyond it are the next verse's.
    Lines without bar marks are spread evenly: over all verses if their number divides by `repeats`.

    Raises
    ------
    WordsError
        With `line` (from 0) and the place in it, if a bar holds more words than it has room for.
    """
    if not bars:
        return ()
    out: list[Syllable] = []
    free = [index for index, line in enumerate(lines) if line.strip() and not marked(line)]
    verses = repeats if free and len(free) % repeats == 0 else 1
    share = Fraction(bars * verses, len(free)) if free else Fraction(0)
    at, given = Fraction(0), 0
    for index, line in enumerate(lines):
        if not line.strip():
            continue
        if marked(line):
            out += _marked_line(line, index, meter, bars, int(at), pickup)
            at += sum(1 for text, _ in _bars_of(line) if not text.strip().startswith("("))
        else:
            first = int(at) if given == 0 else int(share * given)
            out += _free_line(line, index, meter, bars, first, max(1, int(share)))
            given += 1
            at = share * given
    return tuple(out)


def _marked_line(
    line: str, index: int, meter: Meter, bars: int, begin: int, pickup: Fraction | None
) -> Iterator[Syllable]:
    number = begin
    for text, offset in _bars_of(line):
        inside = re.fullmatch(r"\s*\((.*)\)\s*", text)
        before = inside is not None and pickup is not None
        body = inside[1] if inside is not None else text
        tokens = _tokens(body, offset + (text.index("(") + 1 if inside else 0))
        try:
            places = places_for(len(tokens), meter, pickup if before else None)
        except WordsError as error:
            end = offset + len(text)
            raise WordsError(error.code, line=index, start=offset, end=end, **error.values) from error
        bar = 0 if before else number % bars + 1
        for token, at in zip(tokens, places, strict=True):
            if token.text not in NOTHING:
                yield Syllable(number // bars + 1, bar, at, token.text, token.begins, token.joins, False,
                               index, token.start)  # fmt: skip
        number += 0 if before else 1


def _free_line(line: str, index: int, meter: Meter, bars: int, begin: int, count: int) -> Iterator[Syllable]:
    """The words of a line over `count` bars: a guess, as even as it can be."""
    tokens = _tokens(line, 0)
    most = SLOT_COUNTS[-1] * len(meter.groups)
    count = max(count, -(-len(tokens) // most))
    for number in range(count):
        part = tokens[len(tokens) * number // count : len(tokens) * (number + 1) // count]
        bar = begin + number
        for token, at in zip(part, places_for(len(part), meter), strict=True):
            if token.text not in NOTHING:
                yield Syllable(bar // bars + 1, bar % bars + 1, at, token.text, token.begins, token.joins,
                               True, index, token.start)  # fmt: skip


def parse_tune(text: str, meter: Meter) -> tuple[TuneNote, ...]:
    """Read a tune: `| G4 . B4 . | 2@1 . |`, one place after another as in the words; `.` goes on.

    Raises
    ------
    WordsError
        With the place of a note that cannot be read, or of a bar with too many.
    """
    out: list[TuneNote] = []
    for number, (bar, offset) in enumerate(_bars_of(text) if text.strip() else [], 1):
        found = list(re.finditer(r"\S+", bar))
        try:
            places = places_for(len(found), meter)
        except WordsError as error:
            raise WordsError(error.code, start=offset, end=offset + len(bar), **error.values) from error
        for match, at in zip(found, places, strict=True):
            if match[0] not in NOTHING:
                out.append(_tune_note(match[0], number, at, offset + match.start()))
    return tuple(out)


def _tune_note(text: str, bar: int, at: Fraction, start: int) -> TuneNote:
    if held := re.fullmatch(r"([0-9]{1,2})@([0-9]{1,2})", text):
        if int(held[1]) == 0:
            raise WordsError("tune-note", start=start, end=start + len(text), text=text)
        return TuneNote(bar, at, None, int(held[1]), int(held[2]))
    try:
        return TuneNote(bar, at, parse_pitch(text))
    except PitchError as error:
        raise WordsError("tune-note", start=start, end=start + len(text), text=text) from error


def print_tune(notes: tuple[TuneNote, ...], meter: Meter) -> str:
    """The tune as it is typed, each bar on the widest grid that holds its notes."""
    if not notes:
        return ""
    bars = []
    for number in range(1, notes[-1].bar + 1):
        inside = {note.at: str(note) for note in notes if note.bar == number}
        bars.append(" ".join(_grid(inside, meter)))
    return "| " + " | ".join(bars) + " |"


def _grid(inside: dict[Fraction, str], meter: Meter) -> list[str]:
    for per_beat in _grids(meter):
        starts, at = [], Fraction(0)
        for slot in slot_lengths(meter, (per_beat,)):
            starts.append(at)
            at += slot
        if inside.keys() <= set(starts):
            return [inside.get(start, ".") for start in starts]
    raise WordsError("tune-grid")
