"""Limits of tempo and swing."""

from __future__ import annotations

from fractions import Fraction

from gingham.core.errors import NumberError, RuleError
from gingham.core.numbers import exact

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
        return exact(text, STRAIGHT, MOST_SWING).limit_denominator(1000)
    except NumberError as error:
        raise RuleError("swing", end=len(text), text=text[:40]) from error
