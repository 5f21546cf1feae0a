"""The chord line: `| G / / D/F# | Em7 | C{x32010} ~C{x32030} | % |`, read, printed and spread over bars."""

from __future__ import annotations

import re
from fractions import Fraction
from functools import lru_cache

import msgspec

from gingham.core.errors import ChordLineError, InputError, NumberError
from gingham.core.music.chords import Chord, parse_chord
from gingham.core.music.meter import Meter
from gingham.core.numbers import exact
from gingham.core.reasons import Reason
from gingham.core.shapes.fingers import parse_fretting, print_fretting
from gingham.core.shapes.fretting import Fingers
from gingham.core.shapes.shape import Shape, parse_shape

MAX_LINE = 100_000
HOLD, SILENCE, REPEAT = "/", "N.C.", "%"
_PLACE = re.compile(
    r"(?P<tilde>~?)(?P<symbol>[^\s{}|~]+)(?:\{(?P<shape>[^{}|:]*)(?::(?P<fingers>[^{}|]*))?\})?"
)
_PICKUP = re.compile(r"\s*\(\s*(?P<length>\S+)(?P<places>[^()|]*)\)")
_WORD = re.compile(r"~?[^\s{}|]*\{[^{}|]*\}|[^\s|]+")


class ChordPlace(msgspec.Struct, frozen=True, gc=False):
    """One place of a bar: a chord symbol (with a pinned shape and fretting fingers, or `~` for a new shape
    under a running pattern), `/` to hold, or N.C."""

    symbol: str
    shape: Shape | None = None
    running: bool = False
    fingers: Fingers | None = None

    def __str__(self) -> str:
        fingers = "" if self.fingers is None else f":{print_fretting(self.fingers)}"
        shape = "" if self.shape is None else f"{{{self.shape}{fingers}}}"
        return f"{'~' if self.running else ''}{self.symbol}{shape}"


Bar = tuple[ChordPlace, ...]  # the single place `%` repeats the bar before


class Pickup(msgspec.Struct, frozen=True, gc=False):
    """Bar 0: its length as a fraction of a whole note, and its places."""

    length: Fraction
    places: Bar


class ChordLine(msgspec.Struct, frozen=True, gc=False):
    """A chord line as it was written."""

    bars: tuple[Bar, ...]
    pickup: Pickup | None = None


class Span(msgspec.Struct, frozen=True, gc=False):
    """A stretch of one chord: `bar` counts from 1 (pick-up 0), `at` and `length` of a whole note.

    `chord` is None for silence. `running`: the pattern and the thumb's count go on from the span before.
    `fingers` are the fretting fingers that the player has pinned with the shape.
    """

    bar: int
    at: Fraction
    length: Fraction
    chord: Chord | None
    shape: Shape | None
    running: bool
    fingers: Fingers | None = None


def parse_chord_line(text: str, meter: Meter) -> ChordLine:
    """Read a chord line in meter `meter`.

    Raises
    ------
    ChordLineError
        With `start`/`end` on the faulty place or bar.
    """
    if len(text) > MAX_LINE:
        raise ChordLineError("line-long", start=MAX_LINE, end=len(text), most=MAX_LINE)
    pickup, begin = _read_pickup(text, meter)
    if not text[begin:].strip():
        raise ChordLineError("line-empty", start=0, end=len(text))
    bars: list[Bar] = []
    for at, piece in _bar_texts(text, begin):
        bars.append(_read_bar(text, at, piece, meter, first=not bars, after_pickup=pickup is not None))
    return ChordLine(tuple(bars), pickup)


def _bar_texts(text: str, begin: int) -> list[tuple[int, str]]:
    """Where each bar's text begins, and it. Without any bar line each word is a bar."""
    if "|" not in text[begin:]:
        return [(begin + word.start(), word[0]) for word in _WORD.finditer(text[begin:])]
    at = begin if text[begin:].lstrip()[:1] != "|" else text.index("|", begin) + 1
    out = []
    for piece in text[at:].split("|"):
        out.append((at, piece))
        at += len(piece) + 1
    if len(out) > 1 and not out[-1][1].strip():
        out.pop()
    return out


def supposed_in_line(text: str, meter: Meter) -> tuple[Reason, ...]:
    """What was supposed where a chord line, which can be read, was not written out."""
    _, begin = _read_pickup(text, meter)
    body = text[begin:].strip()
    if "|" not in body:
        return (Reason.of("supposed-bars"),)
    missing = ("supposed-first-line",) * (body[:1] != "|") + ("supposed-last-line",) * (body[-1:] != "|")
    return tuple(map(Reason.of, missing))


def _read_pickup(text: str, meter: Meter) -> tuple[Pickup | None, int]:
    match = _PICKUP.match(text)
    if not match:
        if text.lstrip().startswith("("):
            raise ChordLineError("pickup", start=0, end=len(text))
        return None, 0
    try:
        length = exact(match["length"], 0, 1_000)
    except NumberError as error:
        raise ChordLineError("pickup", start=match.start("length"), end=match.end("length")) from error
    if not 0 < length < meter.bar or length.denominator > 64:
        raise ChordLineError(
            "pickup-length", start=match.start("length"), end=match.end("length"), meter=str(meter)
        )
    places = _read_places(match.start("places"), match["places"], first=True)
    if not places:
        raise ChordLineError("pickup", start=match.start(), end=match.end())
    return Pickup(length, places), match.end()


def _read_bar(text: str, at: int, piece: str, meter: Meter, *, first: bool, after_pickup: bool) -> Bar:
    if not piece.strip():
        end = min(len(text), at + len(piece) + 1)
        raise ChordLineError("bar-empty", start=max(0, at - 1), end=end)
    try:
        return _bar_of(piece, meter, first, after_pickup)
    except ChordLineError as error:
        raise error.shifted(at, len(piece)) from error


@lru_cache(maxsize=20_000)
def _bar_of(piece: str, meter: Meter, first: bool, after_pickup: bool) -> Bar:
    """The places of a bar's text; read once, however often the bar comes and the line is typed at."""
    places = _read_places(0, piece, first=first and not after_pickup)
    if any(place.symbol == REPEAT for place in places):
        start = piece.index(REPEAT)
        if len(places) > 1:
            raise ChordLineError("repeat-alone", start=start, end=start + 1)
        if first:
            raise ChordLineError("repeat-first", start=start, end=start + 1)
        return places
    beats = len(meter.groups)
    if beats % len(places) and len(places) % beats:
        start = len(piece) - len(piece.lstrip())
        raise ChordLineError(
            "bar-places", start=start, end=start + len(piece.strip()), given=len(places), beats=beats,
            example=_example(places, beats),
        )  # fmt: skip
    return places


def _example(places: Bar, beats: int) -> str:
    """The bar written out with holds, so that its places fit the beats."""
    if len(places) > beats:
        return f"{2 * beats} places: one for each half beat"
    words = [str(place) for place in places]
    return "| " + " ".join(words[:1] + [HOLD] * (beats - len(places)) + words[1:]) + " |"


def _read_places(at: int, piece: str, *, first: bool) -> Bar:
    places: list[ChordPlace] = []
    for match in _WORD.finditer(piece):
        start = at + match.start()
        place = _read_place(match[0], start)
        if place.symbol == HOLD and first and not places:
            raise ChordLineError("hold-first", start=start, end=start + 1)
        places.append(place)
    return tuple(places)


def _read_place(word: str, start: int) -> ChordPlace:
    if word in (HOLD, REPEAT, SILENCE):
        return ChordPlace(word)
    match = _PLACE.fullmatch(word)
    if not match:
        raise ChordLineError("place", start=start, end=start + len(word), text=word)
    symbol, shape, fingers = match["symbol"], None, None
    group = "symbol"
    try:
        parse_chord(symbol)
        if match["shape"] is not None:
            group = "shape"
            shape = parse_shape(match["shape"])
        if shape is not None and match["fingers"] is not None:
            group = "fingers"
            fingers = parse_fretting(match["fingers"], shape)
    except InputError as error:
        moved = error.shifted(start + match.start(group), len(match[group]))
        raise ChordLineError(moved.code, start=moved.start, end=moved.end, **moved.values) from error
    return ChordPlace(symbol, shape, bool(match["tilde"]), fingers)


def first_symbol(line: ChordLine) -> str | None:
    """The symbol that a line begins with; None for an empty line, and for silence."""
    places = line.pickup.places if line.pickup is not None else line.bars[0] if line.bars else ()
    return places[0].symbol if places and places[0].symbol != SILENCE else None


def print_chord_line(line: ChordLine) -> str:
    """The canonical chord line; empty for a line without bars."""
    if not line.bars:
        return ""
    body = "| " + " | ".join(" ".join(map(str, bar)) for bar in line.bars) + " |"
    if line.pickup is None:
        return body
    return f"({line.pickup.length} {' '.join(map(str, line.pickup.places))}) {body}"


def spans(line: ChordLine, meter: Meter) -> tuple[Span, ...]:
    """The spans that tile the line: adjacent places with the same symbol and shape are one."""
    out: list[Span] = []
    if line.pickup is not None:
        _spread(out, 0, line.pickup.length, line.pickup.places)
    previous: Bar = ()
    for number, bar in enumerate(line.bars, 1):
        places = previous if bar[0].symbol == REPEAT else bar
        _spread(out, number, meter.bar, places)
        previous = places
    return tuple(out)


def written_out(line: ChordLine) -> tuple[Bar, ...]:
    """The bars with every repeat, and every hold at a bar's start, as what it stands for.

    Any of them can then stand first.
    """
    before: Bar = line.pickup.places if line.pickup is not None else ()
    out: list[Bar] = []
    for bar in line.bars:
        places = before if bar[0].symbol == REPEAT and before else bar
        if places[0].symbol == HOLD and before:
            held = next((place for place in reversed(before) if place.symbol != HOLD), places[0])
            places = (held, *places[1:])
        out.append(places)
        before = places
    return tuple(out)


def _spread(out: list[Span], number: int, length: Fraction, places: Bar) -> None:
    share = length / len(places)
    for index, place in enumerate(places):
        last = out[-1] if out else None
        if place.symbol == HOLD and last is not None:
            out[-1] = _longer(last, share)
            continue
        chord = None if place.symbol == SILENCE else parse_chord(place.symbol)
        if last is not None and last.chord == chord and last.shape == place.shape:
            out[-1] = _longer(last, share, place.fingers)
            continue
        running = place.running and last is not None
        out.append(Span(number, share * index, share, chord, place.shape, running, place.fingers))


def _longer(span: Span, by: Fraction, fingers: Fingers | None = None) -> Span:
    own = fingers if span.fingers is None else span.fingers
    return Span(span.bar, span.at, span.length + by, span.chord, span.shape, span.running, own)
