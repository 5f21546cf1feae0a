"""Fitted sections bar by bar as they are played: one walk for what sounds and for what is asked of a take."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from fractions import Fraction

import msgspec

from gingham.core.fitting.result import FittedBar, Result


class PlayedBar(msgspec.Struct, frozen=True, gc=False):
    """A bar as it comes: its number counted as it is played (a first pick-up 0), and when (whole notes).

    `turn` is the place of its section among those that are played, `round` how often that has been played.
    """

    number: int
    start: Fraction
    result: Result
    bar: FittedBar
    turn: int = 0
    round: int = 0


def played_bars(
    results: Iterable[tuple[Result, int]], only: tuple[int, int] | None = None
) -> Iterator[PlayedBar]:
    """Every bar of fitted sections, each section as often as it is played; `only` the bars (first, last)."""
    start, number = Fraction(0), 0
    for turn, (result, times) in enumerate(results):
        for done in range(times):
            for bar in result.bars:
                if only is None or only[0] <= bar.number <= only[1]:
                    number += bar.number > 0 or number > 0
                    yield PlayedBar(number, start, result, bar, turn, done)
                    start += bar.length
