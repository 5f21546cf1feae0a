"""Which fretting fingers a chord needs for what is plucked, and which are free."""

from __future__ import annotations

from gingham.core.fitting.result import FittedSpan, Result
from gingham.core.reasons import Problem


def needed_fingers(span: FittedSpan) -> frozenset[int]:
    """Fretting fingers (1–4) that hold down at least one string to hold; a barre is one finger."""
    return _fingers(span, needed=True)


def free_fingers(span: FittedSpan) -> frozenset[int]:
    """Fretting fingers of the shape that hold nothing that is needed."""
    return _fingers(span, needed=False) - needed_fingers(span)


def _fingers(span: FittedSpan, *, needed: bool) -> frozenset[int]:
    assignment, hold = span.assignment, span.hold
    if assignment is None or assignment.fretting is None or hold is None:
        return frozenset()
    fingers = assignment.fretting.fingers
    return frozenset(
        finger for i, finger in enumerate(fingers) if finger and (hold.frets[i] is not None) is needed
    )


def slips(result: Result, index: int) -> tuple[int, ...]:
    """Strings beside the plucked ones that would sound a foreign tone if only what is needed were held.

    A slip onto such a string is what holding the whole chord protects from.
    """
    fitted = result.spans[index]
    assignment, hold = fitted.assignment, fitted.hold
    if assignment is None or hold is None:
        return ()
    beside = {s + way for s in fitted.strings for way in (-1, 1)} - fitted.strings
    strings = range(1, result.piece.instrument.strings + 1)
    return tuple(
        string
        for string in sorted(beside.intersection(strings))
        if assignment.shape.fret(string)
        and not assignment.chord.tone_at(result.piece.instrument.open_midi(string))[2]
    )


def unheard_voice(result: Result, index: int) -> Problem | None:
    """A note that moves under a running pattern (`~`) on a string that is not plucked while it lasts."""
    fitted = result.spans[index]
    before = result.spans[index - 1].assignment if index else None
    assignment = fitted.assignment
    if assignment is None or before is None or not fitted.span.running:
        return None
    moved = [s for s in assignment.shape.sounding if assignment.shape.fret(s) != before.shape.fret(s)]
    silent = [string for string in moved if string not in fitted.strings]
    if not moved or len(silent) < len(moved):
        return None
    return Problem.of("voice-unheard", fitted.span.at, chord=assignment.chord.text, string=silent[0])
