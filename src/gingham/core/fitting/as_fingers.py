"""Bare strings of a pattern given to thumb and fingers, so that playing it gives the strings meant."""

from __future__ import annotations

from collections.abc import Sequence

from gingham.core.fitting.assign import Setting, assign
from gingham.core.fitting.strings_in import has_strings, read_strings
from gingham.core.hands.motor import motor_of
from gingham.core.music.chords import Chord
from gingham.core.patterns.pattern import Pattern
from gingham.core.pieces.chordline import Span
from gingham.core.shapes.context import Grip

_MOST_ROUNDS = 4


def meant_span(pattern: Pattern, spans: Sequence[Span], bar: int | None = None) -> int | None:
    """The chord that bare strings are read against, by its place in `spans`; None if there is none.

    It is the one on which they were meant, else the one under the pattern's own `bar`, else the first.
    """
    chords = [index for index, span in enumerate(spans) if span.chord is not None]
    meant = [i for i in chords if (chord := spans[i].chord) is not None and chord.text == pattern.read_on]
    begun = [index for index in chords if bar is not None and spans[index].bar <= bar]
    return next(iter([*meant, *begun[-1:], *chords]), None)


def as_fingers(pattern: Pattern, chord: Chord, grip: Grip, setting: Setting) -> Pattern:
    """`pattern` with its bare strings read on one chord.

    Where the fingers stand depends on what the thumb then plays, which depends on how the strings are read:
    so it is read again until both agree.
    """
    if not has_strings(pattern):
        return pattern
    motor, read = motor_of(setting.rules.level), pattern
    for _round in range(_MOST_ROUNDS):
        assignment, _ = assign(chord, grip, read, setting)
        again = read_strings(pattern, assignment, setting.instrument, motor)
        if again == read:
            break
        read = again
    return read
