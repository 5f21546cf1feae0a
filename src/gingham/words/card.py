"""The short texts on a chord's card."""

from __future__ import annotations

from fractions import Fraction

from gingham.core.fitting.result import Assignment
from gingham.core.music.meter import Meter
from gingham.language import tr, tr_n

PARTS = {
    Fraction(1, 2): "½",
    Fraction(1, 3): "⅓",
    Fraction(2, 3): "⅔",
    Fraction(1, 4): "¼",
    Fraction(3, 4): "¾",
}


def thumb_text(assignment: Assignment) -> str:
    """`thumb 6 then 4`, or where it stays on one string `thumb on 4`."""
    strings = [choice.string for choice in assignment.basses]
    if len(set(strings)) == 1:
        return tr("thumb on {strings}", strings=strings[0])
    hops = {choice.string for choice in assignment.outside().values() if choice.way == "hop"}
    return tr("thumb ") + tr(" then ").join(
        tr("{string} (hop)", string=string) if string in hops else f"{string}" for string in strings
    )


def beats_text(length: Fraction, meter: Meter) -> str:
    """How long a chord lasts in counted beats: `4 beats`, `1½ beats`; whole bars where beats are unequal."""
    if len(set(meter.groups)) > 1:
        bars = length / meter.bar
        if bars.denominator == 1:
            return tr_n("{figure} bar", "{figure} bars", _form(bars), figure=_figure(bars))
        eighths = length * meter.unit
        return tr_n("{figure} eighth", "{figure} eighths", _form(eighths), figure=_figure(eighths))
    beats = length / meter.tempo_beat
    return tr_n("{figure} beat", "{figure} beats", _form(beats), figure=_figure(beats))


def _form(number: Fraction) -> int:
    """The whole number whose noun goes with this one: up to one the singular, if a glyph shows it."""
    return 1 if number <= 1 and (number == 1 or number % 1 in PARTS) else max(2, int(number))


def _figure(number: Fraction) -> str:
    whole, part = divmod(number, 1)
    if part and part not in PARTS:
        return str(number)
    return f"{whole or ''}{PARTS.get(part, '')}"
