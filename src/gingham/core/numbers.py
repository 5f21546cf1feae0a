"""The one reader of numbers that somebody typed or that a file holds: plain digits, few of them, in bounds.

Python's own `int`, `float` and `Fraction` take other scripts' digits, underscores, exponents and thousands of
digits, and may need seconds for them. Every number from outside comes through here.
"""

from __future__ import annotations

import re
from fractions import Fraction

from gingham.core.errors import NumberError

_MOST_DIGITS = 9
_WHOLE = re.compile(rf"[+-]?[0-9]{{1,{_MOST_DIGITS}}}")
_EXACT = re.compile(rf"([+-]?[0-9]{{1,{_MOST_DIGITS}}})(?:/([0-9]{{1,{_MOST_DIGITS}}})|\.([0-9]{{1,20}}))?")
_NAMED_LENGTH = 20  # so much of a wrong number is quoted


def is_whole(text: str) -> bool:
    """Whether a text is nothing but plain digits, at most nine of them."""
    return len(text) <= _MOST_DIGITS and text.isascii() and text.isdigit()


def whole(text: str, least: int, most: int) -> int:
    """Read a whole number from `least` to `most`.

    Raises
    ------
    NumberError
        `number` for what is none, `number-range` for one outside; the message quotes its beginning.
    """
    if not _WHOLE.fullmatch(text):
        raise NumberError("number", end=len(text), text=_quoted(text))
    value = int(text)
    if not least <= value <= most:
        raise NumberError("number-range", end=len(text), text=_quoted(text), least=least, most=most)
    return value


def exact(text: str, least: Fraction | int, most: Fraction | int) -> Fraction:
    """Read a fraction (`3/8`), a decimal (`0.375`) or a whole number exactly, from `least` to `most`.

    Raises
    ------
    NumberError
        As for `whole`; also for a division by zero.
    """
    match = _EXACT.fullmatch(text)
    if match is None or (match[2] is not None and int(match[2]) == 0):
        raise NumberError("number-share", end=len(text), text=_quoted(text))
    value = Fraction(text)
    if not least <= value <= most:
        raise NumberError("number-range", end=len(text), text=_quoted(text), least=least, most=most)
    return value


def _quoted(text: str) -> str:
    return text if len(text) <= _NAMED_LENGTH else f"{text[:_NAMED_LENGTH]}…"
