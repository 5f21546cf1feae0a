"""A pattern said in any school's words: what is understood, and every reading of it, the likeliest first.

What is said becomes an order of strokes (see `said_words` for the words), and `sitting` lays it on the beats;
a count that is said with it settles that (`said_count`). Where words can mean several things, each reading is
kept apart, with what it supposes.
"""

from __future__ import annotations

import re

import msgspec

from gingham.core.errors import MeterError, PatternError
from gingham.core.instruments.instrument import CATALOGUE, Instrument
from gingham.core.music.meter import Meter, parse_meter
from gingham.core.patterns.figures import Way
from gingham.core.patterns.pattern import PickWay, Slot
from gingham.core.patterns.said_count import (
    Beat,
    Count,
    Word,
    between_words,
    counted_alone,
    find_count,
    misfit,
    on_beats,
    seated,
)
from gingham.core.patterns.said_reader import Choice, Order, choices, read_order
from gingham.core.patterns.said_words import DASHES, DIGITS, FILLERS, LIKELY_WORDS, RESTS
from gingham.core.patterns.shorthand import parse_pattern, print_slot, read_slot
from gingham.core.patterns.sitting import said_ways
from gingham.core.reasons import Reason
from gingham.core.values import replace

MOST_WORDS = 400
_HEAD = re.compile(r"\s*(?P<meter>[0-9]{1,2}/[0-9]{1,2})(?P<grid>\s+x[0-9,]+)?\s*:")
_METER = re.compile(r"[0-9]{1,2}/[0-9]{1,2}")
_WORD = re.compile(r"[,:|;()]|[^\s,:|;()]+")


class Reading(msgspec.Struct, frozen=True, gc=False):
    """One way to understand the words: tokens of the shorthand, what was supposed, and how they can sit."""

    tokens: tuple[str, ...]
    supposed: tuple[Reason, ...]
    ways: tuple[Way, ...]


class Said(msgspec.Struct, frozen=True, gc=False):
    """Every reading, the likeliest first; there is at least one, with at least one way to sit."""

    readings: tuple[Reading, ...]

    @property
    def ways(self) -> tuple[Way, ...]:
        """The ways of all readings."""
        return tuple(way for reading in self.readings for way in reading.ways)

    @property
    def tokens(self) -> tuple[str, ...]:
        """The strokes of the likeliest reading."""
        return self.readings[0].tokens

    @property
    def supposed(self) -> tuple[Reason, ...]:
        """What the likeliest reading supposes."""
        return self.readings[0].supposed


def read_said(text: str, instrument: Instrument = CATALOGUE["guitar"], given: Meter | None = None) -> Said:
    """Read what a player says for an instrument; `given` None leaves the meter open.

    Raises
    ------
    PatternError
        With `start` and `end` on the word that means nothing, is too much for a hand, or on a count that
        does not fit the words.
    """
    written = _written(text)
    if written is not None:
        return written
    head = _HEAD.match(text)
    begin = head.end() if head else 0
    if head is not None:
        given = _meter(head["meter"], head.start("meter"))
    words, stated = _words(text, begin)
    given = stated or given
    if not words:
        raise PatternError("spoken-empty", start=0, end=len(text))
    if len(words) > MOST_WORDS:
        raise PatternError("spoken-long", start=words[MOST_WORDS].start, end=len(text), most=MOST_WORDS)
    if head is not None and head["grid"]:
        return _on_grid(head[0], words, instrument)
    beats, count, words = _counted(words, given)
    if not words and count is not None:
        return _count_alone(count, given)
    if all(word.low in RESTS or word.low in DASHES for word in words):
        raise PatternError("spoken-empty", start=0, end=len(text))
    found = _read_all(words, instrument)
    said = _settled(found, beats, count, given, instrument)
    picks = found[0].picks
    return Said(tuple(_picked(reading, picks) for reading in said.readings)) if picks else said


def _picked(reading: Reading, picks: tuple[PickWay, ...]) -> Reading:
    return replace(
        reading, ways=tuple(replace(w, pattern=replace(w.pattern, picks=picks)) for w in reading.ways)
    )


def _written(text: str) -> Said | None:
    """What is written in the shorthand, with its meter, means what it says; None if it is not."""
    if ":" not in text:
        return None
    try:
        pattern = parse_pattern(text)
    except PatternError:
        return None
    tokens = tuple(map(print_slot, pattern.slots))
    return Said((Reading(tokens, (), (Way(Reason.of("way-given"), pattern),)),))


def _meter(text: str, at: int) -> Meter:
    try:
        return parse_meter(text)
    except MeterError as error:
        raise PatternError(error.code, start=at, end=at + len(text), **error.values) from error


def _words(text: str, begin: int) -> tuple[tuple[Word, ...], Meter | None]:
    """The words with their places, and a meter if one is said (`in 6/8`)."""
    out: list[Word] = []
    given: Meter | None = None
    parted = False
    for match in _WORD.finditer(text, begin):
        word = match[0].strip('“”"') or match[0]
        if word in (",", ":"):
            parted = True
            continue
        if _METER.fullmatch(word):
            given = _meter(word, match.start())
            if out and out[-1].low == "in":
                out.pop()
            continue
        stopped = len(word) > 1 and word.endswith((".", "…"))
        out += _parts(word.rstrip(".…") if stopped else word, match.start(), parted)
        parted = stopped
    return tuple(out), given


def _parts(word: str, start: int, parted: bool) -> list[Word]:
    """A word, or the words that dashes join (`up-pick`); what the shorthand can read stays whole."""
    if len(word) < 2 or not re.search(r"\w[-–.]+\w", word) or reads(word):
        bare = word.strip("-–.") or word[:1]
        return [Word(bare, bare.lower(), start, start + len(word), parted)]
    return [
        Word(
            match[0],
            match[0].lower(),
            start + match.start(),
            start + match.end(),
            parted and not match.start(),
        )
        for match in re.finditer(r"[^-–.]+", word)
    ]


def reads(word: str) -> bool:
    """Whether the shorthand knows a token."""
    try:
        read_slot(word, 0)
    except PatternError:
        return False
    return True


def _on_grid(head: str, words: tuple[Word, ...], instrument: Instrument) -> Said:
    """Words after a written grid: nothing is left to choose but what they mean."""
    out = []
    for order in _read_all(tuple(w for w in words if w.low not in "()"), instrument):
        pattern = parse_pattern(f"{head} {' '.join(order.tokens)}")
        out.append(Reading(order.tokens, order.supposed, (Way(Reason.of("way-given"), pattern),)))
    return Said(tuple(out))


def _counted(
    words: tuple[Word, ...], given: Meter | None
) -> tuple[tuple[Beat, ...], Count | None, tuple[Word, ...]]:
    """The count that is said with the words, if any, and the words without it."""
    for reader in (between_words, on_beats):
        found = reader(words)
        if found is not None:
            return found[0], None, found[1]
    count = find_count(words)
    if count is None:
        return (), None, tuple(word for word in words if word.low not in "()")
    found_count, sure = count
    if not sure and not _fits(found_count, given):
        return (), None, words
    return found_count.beats, found_count, found_count.rest


def _fits(count: Count, given: Meter | None) -> bool:
    """Whether bare numbers are a count: as many as the words beside them, or a whole bar of the meter."""
    said = [word for word in count.rest if word.low not in FILLERS]
    if not said:
        whole = given is not None and count.beats[-1].number == given.count
        return whole or any(beat.part or not beat.plucked for beat in count.beats)
    return len(said) == len(count.plucked) and not any(word.low in DIGITS for word in said)


def _count_alone(count: Count, given: Meter | None) -> Said:
    slots = counted_alone(count.beats)
    pattern = seated(slots, count.beats, given)
    if pattern is None or not any(slots):
        raise misfit(count, len(slots))
    tokens = tuple("+".join(s.finger for s in slot if hasattr(s, "finger")) for slot in slots)
    way = Way(Reason.of("said-count"), pattern)
    return Said((Reading(tokens, (Reason.of("spoken-count-alone"),), (way,)),))


def _read_all(words: tuple[Word, ...], instrument: Instrument) -> list[Order]:
    """Every reading of the words; the fault of the likeliest one if it has one."""
    found: list[Order] = []
    for index, choice in enumerate(choices(words, instrument)):
        try:
            order = read_order(words, instrument, choice)
        except PatternError as error:
            if index == 0:
                raise _with_offer(error, words, instrument, choice) from error
            continue
        if any(token not in (".", ";", "|") for token in order.tokens) and all(
            known.tokens != order.tokens for known in found
        ):
            found.append(order)
    if not found:
        raise PatternError("spoken-empty", start=words[0].start if words else 0, end=None)
    return found


def _with_offer(
    error: PatternError, words: tuple[Word, ...], instrument: Instrument, choice: Choice
) -> PatternError:
    """The fault with the nearest word, if one is like it, or else what the rest of the words says."""
    if error.code != "spoken-word":
        return error
    from difflib import get_close_matches

    near = get_close_matches(str(error.values["text"]).lower(), LIKELY_WORDS, 1, 0.65)
    rest = tuple(word for word in words if not word.start <= error.start < word.end)
    offered = near[0] if near else _without(rest, instrument, choice)
    code = "spoken-word-near" if near else "spoken-word-without" if offered else "spoken-word"
    return PatternError(code, start=error.start, end=error.end, **error.values, offered=offered)


def _without(words: tuple[Word, ...], instrument: Instrument, choice: Choice) -> str:
    try:
        return " ".join(read_order(words, instrument, choice).tokens) if words else ""
    except PatternError:
        return ""


def _settled(
    found: list[Order],
    beats: tuple[Beat, ...],
    count: Count | None,
    given: Meter | None,
    instrument: Instrument,
) -> Said:
    """Each reading on its beats: where the count puts it, else by what is likely."""
    out: list[Reading] = []
    for order in found:
        slots = tuple(_slot(token) for token in order.tokens if token not in (";", "|"))
        if not beats:
            out.append(Reading(order.tokens, order.supposed, said_ways(slots, given, instrument.strings)))
            continue
        pattern = seated(slots, beats, given)
        if pattern is not None:
            way = Way(Reason.of("said-count"), pattern)
            out.append(Reading(order.tokens, order.supposed, (way,)))
        elif count is not None and not out and order is found[-1]:
            raise misfit(count, sum(1 for slot in slots if slot))
    if not out:
        slots = tuple(_slot(token) for token in found[0].tokens if token not in (";", "|"))
        return Said(
            (Reading(found[0].tokens, found[0].supposed, said_ways(slots, given, instrument.strings)),)
        )
    return Said(tuple(out))


def _slot(token: str) -> Slot:
    return () if token == "." else read_slot(token)
