"""How long each chord stays, in bars or in passages of the pattern: `G 2, Am7 1/2, D 3x, G 1 = 2x`."""

from __future__ import annotations

import re
from fractions import Fraction

import msgspec

from gingham.core.errors import ChordLineError, InputError
from gingham.core.music.meter import Meter
from gingham.core.numbers import exact
from gingham.core.pieces.chordline import (
    HOLD,
    Bar,
    ChordLine,
    ChordPlace,
    parse_chord_line,
    written_out,
)

_MOST_BARS = 2_000
_ITEM = re.compile(r"\s*(?P<chord>~?[^\s{}|,]+(?:\{[^{}|]*\})?)\s*(?P<amount>[^,=]*)(?:=(?P<other>[^,]*))?")


class Stay(msgspec.Struct, frozen=True, gc=False):
    """A chord and how long it stays, in whole notes."""

    place: ChordPlace
    length: Fraction


def stays_of(line: ChordLine, meter: Meter) -> tuple[Stay, ...]:
    """The chords of a line in order; equal neighbours are one. A pick-up is left out."""
    out: list[Stay] = []
    for bar in written_out(line):
        share = meter.bar / len(bar)
        for place in bar:
            if out and (place.symbol == HOLD or place == out[-1].place):
                out[-1] = Stay(out[-1].place, out[-1].length + share)
            else:
                out.append(Stay(place, share))
    return tuple(out)


def print_stays(line: ChordLine, meter: Meter) -> str:
    """The stays in bars, as they are typed."""
    return ", ".join(f"{stay.place} {stay.length / meter.bar}" for stay in stays_of(line, meter))


def parse_stays(text: str, meter: Meter, passage: Fraction) -> tuple[Stay, ...]:
    """Read chords with their stays: a plain number is bars, one with `x` passages of the pattern.

    `passage` is the pattern's length in whole notes. With both (`2 = 4x`) they must agree.

    Raises
    ------
    InputError
        With the place of the fault: no chord, no number, the two disagree, a chord not on a counted beat.
    """
    out: list[Stay] = []
    at = 0
    for part in text.split(","):
        if part.strip():
            out.append(_stay(part, at, meter, passage))
        at += len(part) + 1
    if sum((stay.length for stay in out), Fraction(0)) > _MOST_BARS * meter.bar:
        raise ChordLineError("stays-long", start=0, end=len(text), most=_MOST_BARS)
    return tuple(out)


def _stay(part: str, at: int, meter: Meter, passage: Fraction) -> Stay:
    begin = at + len(part) - len(part.lstrip())
    end = at + len(part.rstrip())
    read = _ITEM.fullmatch(part)
    if read is None:
        raise ChordLineError("stay", start=begin, end=end, text=part.strip())
    try:
        (place,) = parse_chord_line(f"| {read['chord']} |", meter).bars[0]
    except InputError as error:
        raise error.marked(begin, begin + len(read["chord"])) from error
    length = _length(read["amount"], begin, end, meter, passage)
    if read["other"] is not None:
        other = _length(read["other"], begin, end, meter, passage)
        if other != length:
            bars, passages = str(length / meter.bar), str(length / passage)
            raise ChordLineError("stay-disagrees", start=begin, end=end, bars=bars, passages=passages)
    return Stay(place, length)


def _length(text: str, begin: int, end: int, meter: Meter, passage: Fraction) -> Fraction:
    amount = text.strip().replace("×", "x")
    try:
        number = exact(amount.removesuffix("x").strip() or "1", Fraction(1, 64), _MOST_BARS)
    except InputError as error:
        raise ChordLineError("stay", start=begin, end=end, text=amount) from error
    return number * (passage if amount.endswith("x") else meter.bar)


def with_stays(line: ChordLine, stays: tuple[Stay, ...], meter: Meter) -> ChordLine:
    """A line whose chords stay so long, its pick-up kept.

    Raises
    ------
    ChordLineError
        If a chord does not enter on a counted beat, or the last one does not end with a bar.
    """
    beat = meter.bar / len(meter.beats)
    if len(set(meter.beats)) > 1:
        beat = Fraction(1, meter.unit)
    starts = {Fraction(0): ChordPlace(HOLD)}
    time = Fraction(0)
    for stay in stays:
        if time % beat:
            raise ChordLineError("stay-beat", text=str(stay.place), bars=str(time / meter.bar))
        starts[time] = stay.place
        time += stay.length
    if time % meter.bar:
        raise ChordLineError("stay-bar", bars=str(time / meter.bar))
    bars: list[Bar] = []
    held = starts[Fraction(0)]
    for number in range(int(time / meter.bar)):
        begin = number * meter.bar
        beats = [starts.get(begin + index * beat) for index in range(int(meter.bar / beat))]
        first = beats[0] if beats[0] is not None else held
        places = [first, *(each if each is not None else ChordPlace(HOLD) for each in beats[1:])]
        held = next((place for place in reversed(places) if place.symbol != HOLD), held)
        bars.append(_shortest(places))
    return ChordLine(tuple(bars), line.pickup)


def _shortest(places: list[ChordPlace]) -> Bar:
    """The same bar in as few places as say it."""
    count = len(places)
    for few in range(1, count):
        step, rest = divmod(count, few)
        if not rest and all(place.symbol == HOLD for i, place in enumerate(places) if i % step):
            return tuple(places[::step])
    return tuple(places)
