"""What is heard, and the smallest change that would bring a missing third or root in."""

from __future__ import annotations

import msgspec

from gingham.core.fitting.held import Held
from gingham.core.fitting.result import Assignment, Result
from gingham.core.patterns.pattern import Pluck


class BringIn(msgspec.Struct, frozen=True, gc=False):
    """Moving a lane (`p2`, `m`, …) to a string on this chord brings a degree in; `steps` is how far."""

    degree: str
    lane: str
    string: int
    steps: int


def missing(result: Result, index: int) -> tuple[str, ...]:
    """The degrees of a chord that the player misses, as far as they are never plucked while it lasts."""
    fitted = result.spans[index]
    if fitted.assignment is None or not fitted.heard:
        return ()
    return fitted.assignment.unheard(fitted.heard)


def bring_in(result: Result, index: int, degree: str) -> BringIn | None:
    """The smallest move of one bass or finger on this chord that makes a degree heard; None if none does.

    A string that another bass or finger of the pattern has already is left alone, and so are the degrees
    that would be lost if they are the root or the third.
    """
    fitted, assignment = result.spans[index], result.spans[index].assignment
    if assignment is None:
        return None
    held = Held(assignment.chord, assignment.shape, result.piece.instrument, result.piece.capo)
    lanes = _used_lanes(result, assignment)
    taken = {choice.string for _, choice in lanes}
    found = [
        BringIn(degree, lane, string, abs(string - choice.string))
        for lane, choice in lanes
        if lane != "p1" and not _needed(held, choice.string, fitted.heard, [c.string for _, c in lanes])
        for string in assignment.shape.sounding
        if held.degree(string) == degree
        and (string not in taken)
        and (lane[0] == "p") == (string in _thumb_range(result))
    ]
    return min(found, key=lambda each: (each.steps, each.lane), default=None)


def _used_lanes(result: Result, assignment: Assignment) -> list[tuple[str, _Choice]]:
    strokes = [s for _, s in result.pattern.as_variant(assignment.variant).strokes() if isinstance(s, Pluck)]
    fingers = {stroke.finger for stroke in strokes}
    basses = (
        [(f"p{n}", _Choice(c.string)) for n, c in enumerate(assignment.basses, 1)] if "p" in fingers else []
    )
    return [*basses, *((f, _Choice(c.string)) for f, c in assignment.fingers if f in fingers)]


class _Choice(msgspec.Struct, frozen=True, gc=False):
    string: int


def _needed(held: Held, string: int, heard: tuple[str, ...], used: list[int]) -> bool:
    """Whether a string is the only one plucked that gives the root or the third."""
    if not held.sounds(string):
        return False
    degree = held.degree(string)
    if degree.lstrip("b#") not in ("1", "3") or degree not in heard:
        return False
    return sum(held.sounds(s) and held.degree(s) == degree for s in used) == 1


def _thumb_range(result: Result) -> tuple[int, ...]:
    return result.piece.instrument.thumb_strings
