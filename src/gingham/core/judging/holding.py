"""Which fretting fingers a chord needs for what is plucked, and which are free."""

from __future__ import annotations

from gingham.core.fitting.result import FittedSpan


def needed_fingers(span: FittedSpan) -> frozenset[int]:
    """Fretting fingers (1–4) that hold down at least one plucked string; a barre is one finger."""
    return _fingers(span, plucked=True)


def free_fingers(span: FittedSpan) -> frozenset[int]:
    """Fretting fingers of the shape that hold nothing that is plucked."""
    return _fingers(span, plucked=False) - needed_fingers(span)


def _fingers(span: FittedSpan, *, plucked: bool) -> frozenset[int]:
    assignment = span.assignment
    if assignment is None or assignment.fretting is None:
        return frozenset()
    fingers = assignment.fretting.fingers
    count = len(fingers)
    return frozenset(
        finger for i, finger in enumerate(fingers) if finger and ((count - i) in span.strings) is plucked
    )
