"""Bare string numbers read against one chord into basses and fingers, so that they carry to the others."""

from __future__ import annotations

from dataclasses import replace

from gingham.core.fitting.result import Assignment
from gingham.core.instruments.instrument import Instrument
from gingham.core.patterns.pattern import FINGERS, Pattern, Pluck, Slot, StringStroke, order


def has_strings(pattern: Pattern) -> bool:
    """Whether any stroke is a bare string number."""
    return any(isinstance(stroke, StringStroke) for _, stroke in pattern.strokes())


def read_strings(pattern: Pattern, assignment: Assignment, on: Instrument) -> Pattern:
    """`pattern` with every bare string number given to a bass or a finger of `assignment`.

    A string that is one of the chord's basses becomes that bass, one that a finger has at home becomes
    that finger; any other goes to the nearest free finger, or on a thumb string to the thumb, by number.
    """
    if not has_strings(pattern):
        return pattern
    return replace(pattern, slots=tuple(_read_slot(slot, assignment, on) for slot in pattern.slots))


def _read_slot(slot: Slot, assignment: Assignment, on: Instrument) -> Slot:
    taken = {stroke.finger for stroke in slot if isinstance(stroke, Pluck)}
    out: list[Pluck] = []
    for stroke in slot:
        if isinstance(stroke, StringStroke):
            read = _read_one(stroke, assignment, on, taken)
            taken.add(read.finger)
            out.append(read)
    return order((*(s for s in slot if not isinstance(s, StringStroke)), *out))


def _read_one(stroke: StringStroke, assignment: Assignment, on: Instrument, taken: set[str]) -> Pluck:
    basses = [choice.string for choice in assignment.basses]
    if "p" not in taken and stroke.string in basses:
        return Pluck("p", basses.index(stroke.string) + 1, fret=stroke.fret, accent=stroke.accent)
    homes = [(finger, choice.string) for finger, choice in assignment.fingers if finger not in taken]
    for finger, string in homes:
        if string == stroke.string:
            return Pluck(finger, fret=stroke.fret, accent=stroke.accent)
    if "p" not in taken and (stroke.string in on.thumb_strings or not homes):
        finger = "p"
    elif homes:
        finger = min(homes, key=lambda home: (abs(home[1] - stroke.string), FINGERS.index(home[0])))[0]
    else:
        finger = next(name for name in (*FINGERS, "p") if name not in taken or name == "p")
    return Pluck(finger, strings=(stroke.string,), fret=stroke.fret, accent=stroke.accent)
