"""Bare strings of a pattern given to thumb and fingers, so that playing it gives the strings meant."""

from __future__ import annotations

from gingham.core.fitting.assign import Setting, assign
from gingham.core.fitting.strings_in import has_strings, read_strings
from gingham.core.hands.motor import MOTORS
from gingham.core.music.chords import Chord
from gingham.core.patterns.pattern import Pattern
from gingham.core.shapes.context import Grip

_MOST_ROUNDS = 4


def as_fingers(pattern: Pattern, chord: Chord, grip: Grip, setting: Setting) -> Pattern:
    """`pattern` with its bare strings read on one chord.

    Where the fingers stand depends on what the thumb then plays, which depends on how the strings are read:
    so it is read again until both agree.
    """
    if not has_strings(pattern):
        return pattern
    motor, read = MOTORS[setting.rules.level], pattern
    for _round in range(_MOST_ROUNDS):
        assignment, _ = assign(chord, grip, read, setting)
        again = read_strings(pattern, assignment, setting.instrument, motor)
        if again == read:
            break
        read = again
    return read
