"""Where a section departs from its pattern, and where it is back: own bars and strokes changed by hand."""

from __future__ import annotations

from fractions import Fraction

import msgspec

from gingham.core.fitting.result import FittedBar, Result


class Departure(msgspec.Struct, frozen=True, gc=False):
    """A stretch that does not play the section's pattern.

    From bar `first` at `at` (of a whole note from the bar's start) to the place where the pattern goes on:
    bar `back` at `back_at`; `back` is None if the section ends before. `pattern` is the name of the bars' own
    pattern, empty where single strokes were changed.
    """

    first: int
    at: Fraction
    back: int | None
    back_at: Fraction
    pattern: str


def departures(result: Result) -> tuple[Departure, ...]:
    """Every departure in order; bars in a row with the same pattern are one."""
    section = result.piece.sections[result.section]
    own = {bar.bar: bar.pattern for bar in section.bars}
    last = result.bars[-1].number if result.bars else 0
    out: list[Departure] = []
    for bar in result.bars:
        name = own.get(bar.number) if bar.pattern is not None else None
        if name is not None:
            begun = bool(out) and out[-1].pattern == name and out[-1].back == bar.number
            start = out.pop() if begun else Departure(bar.number, Fraction(0), None, Fraction(0), name)
            back = bar.number + 1 if bar.number < last else None
            out.append(Departure(start.first, start.at, back, Fraction(0), name))
        else:
            out += _strokes(bar, last)
    return tuple(out)


def _strokes(bar: FittedBar, last: int) -> list[Departure]:
    """From a changed stroke to the next one that is not."""
    out: list[Departure] = []
    begin: Fraction | None = None
    for event in sorted(bar.events, key=lambda e: (e.at, not e.overridden)):
        if event.overridden:
            begin = event.at if begin is None else begin
        elif begin is not None and event.at > begin:
            out.append(Departure(bar.number, begin, bar.number, event.at, ""))
            begin = None
    if begin is not None:
        back = bar.number + 1 if bar.number < last else None
        out.append(Departure(bar.number, begin, back, Fraction(0), ""))
    return out
