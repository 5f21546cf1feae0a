"""Reasons and problems as data: a code and its values, worded in `gingham.words`."""

from __future__ import annotations

from fractions import Fraction

import msgspec

Value = str | int | tuple[str, ...] | tuple[int, ...]


class Reason(msgspec.Struct, frozen=True, gc=False):
    """Why a choice was made: a code and named values (hashable, so that results can be shared)."""

    code: str
    values: tuple[tuple[str, Value], ...] = ()

    @classmethod
    def of(cls, code: str, **values: Value) -> Reason:
        """A reason from keyword values."""
        return cls(code, tuple(values.items()))

    def value(self, name: str) -> Value:
        """The value called `name`; KeyError if the reason has none."""
        return dict(self.values)[name]


class Problem(msgspec.Struct, frozen=True, gc=False):
    """A musical problem at a place: `at` is a fraction of a whole note from the bar's start."""

    code: str
    at: Fraction
    values: tuple[tuple[str, Value], ...] = ()

    @classmethod
    def of(cls, code: str, at: Fraction, **values: Value) -> Problem:
        """A problem from keyword values."""
        return cls(code, at, tuple(values.items()))


ADVICE = frozenset(
    {
        "no-third",
        "no-root",
        "no-tone",
        "muddy",
        "foreign-tone",
        "cuts-note",
        "support-finger",
        "support-chuck",
        "voice-unheard",
    }
)
"""Codes of problems that need no solving: what is played can be played, and may sound as it is meant."""
