"""Strings in, fingers out on one chord: bare string numbers become basses and fingers that carry to others.

The fingers come from `hands.picking`; here they are written so that they move with the chord: a bass by its
number, a finger at home by its name, a finger beside its home by a shift, anything else with its string.
"""

from __future__ import annotations

from fractions import Fraction

import msgspec

from gingham.core.fitting.placing import Stretch
from gingham.core.fitting.result import Assignment
from gingham.core.fitting.strokes import Carry, Known, play
from gingham.core.hands.motor import Motor, motor_of
from gingham.core.hands.picking import Hand, Placed, fingers_for, hand_on
from gingham.core.instruments.instrument import Instrument
from gingham.core.patterns.pattern import Pattern, Pluck, Slot, StringStroke, Stroke, order
from gingham.core.values import replace

_USUAL_WHOLE_NOTE_S = 3.0  # at 80 quarters a minute: what a pattern is read at when it knows no tempo
_MOST_SHIFT = 2
_GROWING = motor_of("growing")


class Refingered(msgspec.Struct, frozen=True, gc=False):
    """A pattern for another hand: what had to be left out, as (place, string)."""

    pattern: Pattern
    impossible: tuple[tuple[int, int], ...]


def has_strings(pattern: Pattern) -> bool:
    """Whether any stroke is a bare string number."""
    return any(isinstance(stroke, StringStroke) for _, stroke in pattern.strokes())


def read_strings(
    pattern: Pattern, assignment: Assignment, instrument: Instrument, motor: Motor = _GROWING
) -> Pattern:
    """`pattern` with every bare string number given to a bass or a finger of `assignment`."""
    return _read(pattern, assignment, _own_hand(assignment, instrument), motor).pattern


def refinger(
    pattern: Pattern,
    assignment: Assignment,
    instrument: Instrument,
    names: str,
    motor: Motor = _GROWING,
) -> Refingered:
    """`pattern`, as it is played on `assignment`, for a hand with the fingers `names` (`pi`, `pim`, …).

    A thumb stroke that stays the thumb's is kept as it is written.
    """
    fewer = hand_on(instrument, names)
    own = dict(_own_hand(assignment, instrument).homes)
    homes = tuple((finger, own.get(finger, string)) for finger, string in fewer.homes)
    basses = tuple(choice.string for choice in assignment.basses) or fewer.basses
    hand = Hand(homes, basses, instrument.thumb_strings)
    found = _read(_as_strings(pattern, assignment, instrument), assignment, hand, motor)
    return replace(found, pattern=_kept(pattern, found.pattern, assignment, instrument))


def _kept(old: Pattern, new: Pattern, assignment: Assignment, instrument: Instrument) -> Pattern:
    """`new` with every stroke that has its old finger and string written as it was."""
    was, now = strings_played(old, assignment, instrument), strings_played(new, assignment, instrument)
    slots = []
    for index, slot in enumerate(new.slots):
        own = {
            (s.finger, string): s
            for s, string in zip(old.slots[index], was[index], strict=False)
            if isinstance(s, Pluck)
        }
        same = len(now[index]) == len(slot)
        pairs = zip(slot, now[index], strict=True) if same else ()
        kept = tuple(own.get((s.finger, string), s) if isinstance(s, Pluck) else s for s, string in pairs)
        slots.append(kept if same else slot)
    return replace(new, slots=tuple(slots))


def _own_hand(assignment: Assignment, instrument: Instrument) -> Hand:
    homes = tuple((finger, choice.string) for finger, choice in assignment.fingers)
    basses = tuple(choice.string for choice in assignment.basses) or instrument.thumb_strings
    return Hand(homes, basses, instrument.thumb_strings)


def _read(pattern: Pattern, assignment: Assignment, hand: Hand, motor: Motor) -> Refingered:
    if not has_strings(pattern):
        return Refingered(pattern, ())
    line = tuple(
        Placed(
            float(at) * _USUAL_WHOLE_NOTE_S,
            tuple(s.string for s in slot if isinstance(s, StringStroke)),
            tuple(s.finger for s in slot if isinstance(s, Pluck)),
        )
        for at, slot in zip(pattern.starts[:-1], pattern.slots, strict=True)
    )
    found = fingers_for(line, hand, motor)
    gone = tuple((i, s) for i in found.impossible for s in _left(line[i].strings, found.fingers[i]))
    slots = tuple(
        _written(slot, names, assignment, hand)
        for slot, names in zip(pattern.slots, found.fingers, strict=True)
    )
    return Refingered(replace(pattern, slots=slots), gone)


def _left(strings: tuple[int, ...], names: tuple[str | None, ...]) -> list[int]:
    return [string for string, name in zip(strings, names, strict=True) if name is None]


def _written(slot: Slot, names: tuple[str | None, ...], assignment: Assignment, hand: Hand) -> Slot:
    """The strokes of a slot with the fingers found for its bare strings, in their order."""
    rest = iter(names)
    out: list[Stroke] = []
    for stroke in slot:
        if not isinstance(stroke, StringStroke):
            out.append(stroke)
            continue
        finger = next(rest)
        if finger is not None:
            out.append(_pluck(stroke, finger, assignment, hand))
    return order(tuple(out))


def _pluck(stroke: StringStroke, finger: str, assignment: Assignment, hand: Hand) -> Pluck:
    """The finger's pluck, by its bass number or its home where it can be."""
    kept = Pluck(finger, fret=stroke.fret, accent=stroke.accent)
    if finger == "p":
        basses = [choice.string for choice in assignment.basses]
        if stroke.string in basses:
            return replace(kept, lane=basses.index(stroke.string) + 1)
        return replace(kept, strings=(stroke.string,))
    choice = assignment.finger(finger)
    home = choice.string if choice is not None else None
    if home is None or abs(stroke.string - home) > _MOST_SHIFT:
        return replace(kept, strings=(stroke.string,))
    return replace(kept, shift=stroke.string - home)


def strings_played(
    pattern: Pattern, assignment: Assignment, instrument: Instrument
) -> tuple[tuple[int, ...], ...]:
    """The strings of each place of the pattern as it is played on one chord, sweeps included."""
    out: list[list[int]] = [[] for _ in pattern.slots]
    for slot, string, kind in _events(pattern, assignment, instrument):
        if kind in ("pluck", "chuck") or kind.startswith("brush"):
            out[slot].append(string)
    return tuple(tuple(strings) for strings in out)


def _events(pattern: Pattern, assignment: Assignment, instrument: Instrument) -> list[tuple[int, int, str]]:
    whole = Stretch(Fraction(0), pattern.length, Fraction(0), True, True)
    fitted = play(pattern, whole, assignment, instrument, 0, Carry(), Known())
    return [(event.slot, event.string, event.kind) for event in fitted.events]


def _as_strings(pattern: Pattern, assignment: Assignment, instrument: Instrument) -> Pattern:
    """The plucks of a pattern as bare strings; what no bare string can say (ornaments) keeps its finger."""
    strings = strings_played(pattern, assignment, instrument)
    slots = []
    for slot, found in zip(pattern.slots, strings, strict=True):
        plucked = [s for s in slot if isinstance(s, Pluck)]
        if len(plucked) != len(slot) or len(found) != len(slot):
            slots.append(slot)  # a sweep, or a stroke without a string: nothing to finger anew
            continue
        slots.append(
            tuple(StringStroke(string, s.fret, s.accent) for s, string in zip(plucked, found, strict=True))
        )
    return replace(pattern, slots=tuple(slots))
