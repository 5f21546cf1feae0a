"""A flat pick instead of fingers: a direction for every pluck, and brushes for neighbouring strings at once.

Down on the numbered places of the grid and up between, as strumming hands count; or economically, the way in
which the next string lies (toward string 1 is down); or as the player has it in the pattern.
"""

from __future__ import annotations

from collections.abc import Callable
from fractions import Fraction
from itertools import groupby, pairwise

from gingham.core.fitting.result import Event, EventKind, FittedBar
from gingham.core.music.meter import Meter, count_at
from gingham.core.patterns.pattern import Pattern, PickWay
from gingham.core.pieces.rules import PickStrokes
from gingham.core.reasons import Problem
from gingham.core.values import replace

_SWEPT: dict[str, PickWay] = {"brush-down": "down", "brush-up": "up", "chuck": "down"}
_OF_FINGERS = ("crossed", "finger-twice", "cuts-note")
_OTHER: dict[PickWay, PickWay] = {"down": "up", "up": "down"}


def picked(
    bar: FittedBar, pattern: Pattern, rule: PickStrokes, chord_at: Callable[[Fraction], str | None]
) -> FittedBar:
    """The bar with the directions of a pick; `chord_at` names the chord picked there, None for fingers."""
    own = _own_ways(pattern)
    out: list[Event] = []
    problems = [problem for problem in bar.problems if problem.code not in _OF_FINGERS]
    string = 0
    way: PickWay = "up"
    for at, group in groupby(bar.events, key=lambda event: event.at):
        events = list(group)
        chord = chord_at(at)
        sounding = [e for e in events if e.plucked and not e.silent]
        if chord is None or not events or (not sounding and all(e.kind not in _SWEPT for e in events)):
            out += events
            continue
        swept = next((_SWEPT[e.kind] for e in events if e.kind in _SWEPT), None)
        if swept is not None:
            way = swept
        elif events[0].slot in own:
            way = own[events[0].slot]
        elif rule == "economy":
            way = _economical(string, sounding[0].string, way)
        else:
            way = "up" if lies_between(pattern.meter, at) else "down"
        string = (sounding or events)[-1].string
        out += _struck(events, sounding, way)
        if len(sounding) > 1 and not _neighbours(sounding):
            problems.append(_apart(sounding, at, chord))
    return replace(bar, events=tuple(out), problems=tuple(problems))


def lies_between(meter: Meter, at: Fraction) -> bool:
    """Whether a moment lies between the numbered parts: on an `&` of eighths, on `e` or `a` of sixteenths."""
    count = count_at(meter, at % meter.bar)
    return count.endswith(("e", "a", "·") if meter.unit == 8 else ("e", "a", "·", "&"))


def _own_ways(pattern: Pattern) -> dict[int, PickWay]:
    """The player's own direction of each plucked place."""
    if not pattern.picks:
        return {}
    plucked = [index for index, slot in enumerate(pattern.slots) if slot]
    return {index: pattern.picks[n % len(pattern.picks)] for n, index in enumerate(plucked)}


def _economical(before: int, string: int, way: PickWay) -> PickWay:
    """Toward string 1 is down, back is up; the same string again the other way."""
    if not before:
        return "down"
    if string == before:
        return _OTHER[way]
    return "down" if string < before else "up"


def _neighbours(events: list[Event]) -> bool:
    strings = sorted(event.string for event in events)
    return all(other == one + 1 for one, other in pairwise(strings))


def _struck(events: list[Event], sounding: list[Event], way: PickWay) -> list[Event]:
    """The events with their direction; neighbouring strings at once are a brush."""
    brush = len(sounding) > 1 and _neighbours(sounding)
    kind: EventKind = "brush-up" if way == "up" else "brush-down"
    struck = [
        replace(event, pick=way, kind=kind if brush and event in sounding else event.kind)
        if event in sounding or event.kind in _SWEPT
        else event
        for event in events
    ]
    if not brush:
        return struck
    return sorted(struck, key=lambda event: event.string if way == "up" else -event.string)


def _apart(sounding: list[Event], at: Fraction, chord: str) -> Problem:
    strings = sorted((event.string for event in sounding), reverse=True)
    return Problem.of("pick-apart", at, chord=chord, string=strings[0], other=strings[-1])
