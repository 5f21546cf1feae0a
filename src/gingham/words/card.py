"""The short texts on a chord's card."""

from __future__ import annotations

from fractions import Fraction

from gingham.core.fitting.result import Assignment
from gingham.core.music.meter import Meter

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
        return f"thumb on {strings[0]}"
    hops = {choice.string for choice in assignment.outside().values() if choice.way == "hop"}
    return "thumb " + " then ".join(
        f"{string} (hop)" if string in hops else f"{string}" for string in strings
    )


def beats_text(length: Fraction, meter: Meter) -> str:
    """How long a chord lasts in counted beats: `4 beats`, `1½ beats`; whole bars where beats are unequal."""
    if len(set(meter.groups)) > 1:
        bars = length / meter.bar
        return _counted(bars, "bar") if bars.denominator == 1 else _counted(length * meter.unit, "eighth")
    return _counted(length / meter.tempo_beat, "beat")


def _counted(number: Fraction, noun: str) -> str:
    whole, part = divmod(number, 1)
    if part and part not in PARTS:
        return f"{number} {noun}s"
    words = f"{whole or ''}{PARTS.get(part, '')}"
    return f"{words} {noun}" if number <= 1 else f"{words} {noun}s"
