"""Limits of tempo and swing."""

from __future__ import annotations

from fractions import Fraction

from gingham.core.errors import RuleError

SLOWEST_BPM, FASTEST_BPM = 20, 320
STRAIGHT, MOST_SWING = Fraction(1, 2), Fraction(3, 4)


def check_tempo(bpm: int) -> int:
    """`bpm` if it is within limits (counted beats a minute); RuleError otherwise."""
    if not SLOWEST_BPM <= bpm <= FASTEST_BPM:
        raise RuleError("tempo", given=bpm, least=SLOWEST_BPM, most=FASTEST_BPM)
    return bpm


def parse_swing(text: str) -> Fraction:
    """Read the first half's share of each beat, 1/2 (straight) to 3/4; RuleError otherwise."""
    try:
        swing = Fraction(text).limit_denominator(1000)
    except (ValueError, ZeroDivisionError) as error:
        raise RuleError("swing", end=len(text), text=text) from error
    if not STRAIGHT <= swing <= MOST_SWING:
        raise RuleError("swing", end=len(text), text=text)
    return swing
