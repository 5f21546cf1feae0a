"""How long one pattern goes on without anything new, over the form as it is played."""

from __future__ import annotations

import msgspec

from gingham.core.fitting.performance import Performance

MANY_BARS = 16
"""So many equal bars on end are worth a word: a starting value of our own."""


class Sameness(msgspec.Struct, frozen=True, gc=False):
    """The longest stretch of one pattern: its name, how many bars, the section it begins in."""

    pattern: str
    bars: int
    section: str


def longest_sameness(performance: Performance) -> Sameness | None:
    """The longest stretch; None where nothing is played."""
    best: Sameness | None = None
    name, bars, begun = "", 0, ""
    for result, times in zip(performance.results, performance.times, strict=True):
        section = result.piece.sections[result.section]
        for _ in range(times):
            for bar in result.bars:
                here = section.pattern_in(bar.number)
                if here != name:
                    name, bars, begun = here, 0, section.name
                bars += bar.number > 0
                if best is None or bars > best.bars:
                    best = Sameness(name, bars, begun)
    return best
