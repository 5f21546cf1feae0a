"""A count that is said with a pattern: `thumb thumb index thumb, 1 2 and 3`, or word by word between.

A count settles how the pattern sits: where each stroke stands, in which meter and on which grid.
"""

from __future__ import annotations

from fractions import Fraction
from itertools import pairwise

import msgspec

from gingham.core.errors import PatternError
from gingham.core.music.meter import SLOT_COUNTS, Meter, meter
from gingham.core.patterns.pattern import Pattern, Pluck, Slot, slot_starts
from gingham.core.patterns.said_words import COUNT_MARKS, COUNTS, DIGITS, SYLLABLES
from gingham.core.values import replace

_METERS = {2: (2, 4), 3: (3, 4), 4: (4, 4), 5: (5, 4), 6: (6, 8), 7: (7, 8), 9: (9, 8), 12: (12, 8)}
_CLEAR = 3  # counted beats that make a row of numbers a count although nothing else says so


class Word(msgspec.Struct, frozen=True, gc=False):
    """A word as said: in lower case, where it stands, and whether a comma or full stop parts it off."""

    text: str
    low: str
    start: int
    end: int
    parted: bool = False


class Beat(msgspec.Struct, frozen=True, gc=False):
    """One syllable of a count: the counted number, the share of it that has passed, whether it is plucked.

    `bar` counts bars from 0: the count begins again at each.
    """

    number: int
    part: Fraction
    plucked: bool = True
    bar: int = 0


class Count(msgspec.Struct, frozen=True, gc=False):
    """The count that was found: its syllables, the words that it was said with, and where it stands."""

    beats: tuple[Beat, ...]
    rest: tuple[Word, ...]
    start: int
    end: int

    @property
    def plucked(self) -> tuple[Beat, ...]:
        """The syllables on which something is plucked."""
        return tuple(beat for beat in self.beats if beat.plucked)


def find_count(words: tuple[Word, ...]) -> tuple[Count, bool] | None:
    """A count before or after the strokes, and whether it can be nothing else; None if there is none."""
    marks = [i for i, word in enumerate(words) if word.low in COUNT_MARKS]
    if marks:
        mark = marks[0]
        beats = read_count(words[mark + 1 :])
        return (_count(beats, words[:mark], words[mark:]), True) if beats else None
    for begin in range(len(words)):
        beats = read_count(words[begin:]) if words[begin].low in ("1", "one") else ()
        if _is_clear(beats):
            return _count(beats, words[:begin], words[begin:]), _surely(beats)
    for end in range(len(words) - 1, 1, -1):
        beats = read_count(words[:end]) if words[0].low in ("1", "one") else ()
        if _is_clear(beats):
            return _count(beats, words[end:], words[:end]), _surely(beats)
    return None


def _count(beats: tuple[Beat, ...], rest: tuple[Word, ...], said: tuple[Word, ...]) -> Count:
    return Count(beats, rest, said[0].start, said[-1].end)


def _is_clear(beats: tuple[Beat, ...]) -> bool:
    numbers = {beat.number for beat in beats}
    between = any(beat.part or not beat.plucked for beat in beats)
    return len(numbers) >= _CLEAR or (len(numbers) > 1 and between)


def _surely(beats: tuple[Beat, ...]) -> bool:
    return len({beat.number for beat in beats}) >= _CLEAR and any(beat.part for beat in beats)


def read_count(words: tuple[Word, ...]) -> tuple[Beat, ...]:
    """The syllables of a count that goes on from 1; empty if the words are none."""
    out: list[Beat] = []
    plucked = True
    for word in words:
        if word.low in ("(", ")"):
            plucked = word.low == ")"
            continue
        beat = _next_beat(word.low, out[-1] if out else None)
        if beat is None:
            return ()
        out.append(replace(beat, plucked=plucked))
    return tuple(out)


def _next_beat(said: str, before: Beat | None) -> Beat | None:
    number = COUNTS.get(said)
    bar = before.bar if before else 0
    if number is not None:
        if before and number == 1 and before.number > 1:
            return Beat(1, Fraction(0), bar=bar + 1)
        follows = number == (before.number + 1 if before else 1)
        return Beat(number, Fraction(0), bar=bar) if follows else None
    if before is None or said not in SYLLABLES:
        return None
    parts = [Fraction(*part) for part in SYLLABLES[said] if Fraction(*part) > before.part]
    return Beat(before.number, parts[0], bar=bar) if parts else None


def between_words(words: tuple[Word, ...]) -> tuple[tuple[Beat, ...], tuple[Word, ...]] | None:
    """`1 thumb and index 2 thumb and middle`: a count with a stroke said after each syllable; None if not."""
    if not words or words[0].low not in ("1", "one") or any(word.low in ("(", ")") for word in words):
        return None
    beats: list[Beat] = []
    strokes: list[Word] = []
    for word in words:
        beat = _next_beat(word.low, beats[-1] if beats else None)
        if beat is not None:
            beats.append(replace(beat, plucked=False))
        elif beats and not beats[-1].plucked:
            beats[-1] = replace(beats[-1], plucked=True)
            strokes.append(word)
        else:
            return None
    said = any(word.low not in DIGITS for word in strokes)
    return (tuple(beats), tuple(strokes)) if said and _is_clear(tuple(beats)) else None


def on_beats(words: tuple[Word, ...]) -> tuple[tuple[Beat, ...], tuple[Word, ...]] | None:
    """`thumb on 1, index on and, middle on the and of 2`, `on 1 pinch, on 2 thumb`; None if not said so."""
    if sum(word.low == "on" for word in words) < 2:
        return None
    beats: list[Beat] = []
    strokes: list[Word] = []
    rest, before = list(words), words[0].low == "on"
    while rest:
        stroke = None if before else rest.pop(0)
        beat = _beat_after_on(rest, beats[-1] if beats else None)
        if beat is None or (before and not rest):
            return None
        beats.append(beat)
        strokes.append(stroke or rest.pop(0))
    ordered = all((a.number, a.part) < (b.number, b.part) for a, b in pairwise(beats))
    return (tuple(beats), tuple(strokes)) if ordered else None


def _beat_after_on(rest: list[Word], last: Beat | None) -> Beat | None:
    """`on 2`, `on the and`, `on the and of 2`, taken off the front of the words; None if it is not there."""
    if not rest or rest.pop(0).low != "on":
        return None
    if rest and rest[0].low == "the":
        rest.pop(0)
    said = rest.pop(0).low if rest else ""
    number = DIGITS.get(said, last.number if last is not None else None)
    if len(rest) > 1 and rest[0].low == "of" and rest[1].low in DIGITS:
        number = DIGITS[rest[1].low]
        del rest[:2]
    if number is None or not (said in DIGITS or said in SYLLABLES):
        return None
    return Beat(number, Fraction(0) if said in DIGITS else Fraction(*SYLLABLES[said][0]))


def seated(slots: tuple[Slot, ...], beats: tuple[Beat, ...], given: Meter | None) -> Pattern | None:
    """The strokes on the plucked syllables of a count; None where both differ in number or no grid fits."""
    plucked = [beat for beat in beats if beat.plucked]
    played = slots if len(slots) == len(plucked) else tuple(slot for slot in slots if slot)
    last = max((beat.number for beat in beats), default=0)
    of = given if given is not None else meter(*_METERS[last]) if last in _METERS else None
    if of is None or len(played) != len(plucked):
        return None
    if last > of.count:
        return _by_places(played, beats, of)
    places = {_place(beat, of): slot for beat, slot in zip(plucked, played, strict=True)}
    wanted = {*places, *(_place(beat, of) for beat in beats)}
    bars = 1 + max(beat.bar for beat in beats)
    for per_beat in _grids(of):
        starts = slot_starts(of, per_beat, bars * _bar_places(of, per_beat))
        if wanted <= set(starts[:-1]):
            return Pattern(of, per_beat, tuple(places.get(start, ()) for start in starts[:-1]))
    return None


def _by_places(played: tuple[Slot, ...], beats: tuple[Beat, ...], of: Meter) -> Pattern | None:
    """A count that numbers every place of the grid; None if the numbers do not fill bars evenly."""
    last, groups = max(beat.number for beat in beats), len(of.groups)
    if any(beat.part for beat in beats) or last % groups or last // groups not in SLOT_COUNTS:
        return None
    rest = iter(played)
    return Pattern(of, (last // groups,), tuple(next(rest) if beat.plucked else () for beat in beats))


def counted_alone(beats: tuple[Beat, ...]) -> tuple[Slot, ...]:
    """Strokes for a count without words: the thumb on the beats, index and middle by turns between."""
    between = 0
    out: list[Slot] = []
    for beat in beats:
        if beat.plucked:
            out.append((Pluck("im"[between % 2] if beat.part else "p"),))
            between += bool(beat.part)
    return tuple(out)


def _place(beat: Beat, of: Meter) -> Fraction:
    """Where a syllable stands in the bar: in n/8 meters the numbers count the eighths."""
    return beat.bar * of.bar + (beat.number - 1 + beat.part) / of.unit


def _grids(of: Meter) -> tuple[tuple[int, ...], ...]:
    if len({*of.groups}) > 1:
        return (of.groups, tuple(2 * group for group in of.groups))
    return tuple((count,) for count in SLOT_COUNTS if of.groups[0] == 1 or count % of.groups[0] == 0)


def _bar_places(of: Meter, per_beat: tuple[int, ...]) -> int:
    return per_beat[0] * len(of.groups) if len(per_beat) == 1 else sum(per_beat)


def misfit(count: Count, strokes: int) -> PatternError:
    """The fault of a count that has more or fewer places than there are words."""
    return PatternError(
        "spoken-count", start=count.start, end=count.end, counts=len(count.plucked), strokes=strokes
    )
