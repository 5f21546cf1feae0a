"""Fretting fingers as they are typed behind a shape: `x32010:032010`, T for the thumb over the neck."""

from __future__ import annotations

from itertools import pairwise

from gingham.core.errors import ShapeError
from gingham.core.shapes.fretting import THUMB, Fingers
from gingham.core.shapes.shape import Shape

_SIGNS = {"0": 0, "-": 0, "x": 0, "X": 0, "1": 1, "2": 2, "3": 3, "4": 4, "T": THUMB, "t": THUMB}
FINGER_KEYS = {"1": 1, "2": 2, "3": 3, "4": 4, "T": THUMB}
"""What is typed for a finger on one dot."""
_THUMB_STRINGS = 2  # the thumb comes over the neck to the two strings nearest to it
_THUMB_FRETS = 2  # and so far from the other fingers


def finger_sign(finger: int) -> str:
    """A finger as it is written: 0 for none, 1 to 4, T."""
    return "T" if finger == THUMB else str(finger)


def print_fretting(fingers: Fingers) -> str:
    """The fingers of a shape, one sign a string."""
    return "".join(map(finger_sign, fingers))


def parse_fretting(text: str, shape: Shape) -> Fingers:
    """Read the fingers of `shape`, one sign a string or a comma list.

    Raises
    ------
    ShapeError
        For a sign that is no finger, a number of signs that is not that of the strings, and for fingers that
        do not suit the shape (see `misfingered`); with the place of the sign.
    """
    body = text.strip()
    parts = [part.strip() for part in body.split(",")] if "," in body else list(body)
    for index, part in enumerate(parts):
        if part not in _SIGNS:
            raise ShapeError("fingers", start=index, end=index + 1, text=text, part=part)
    if len(parts) != len(shape.frets):
        raise ShapeError(
            "fingers-length", end=len(text), text=text, given=len(parts), strings=len(shape.frets)
        )
    fingers = tuple(_SIGNS[part] for part in parts)
    error = misfingered(shape, fingers)
    if error is not None:
        raise error
    return fingers


def misfingered(shape: Shape, fingers: Fingers) -> ShapeError | None:
    """Why these fingers cannot hold the shape; None if they can."""
    count = len(shape.frets)
    for index, (finger, fret) in enumerate(zip(fingers, shape.frets, strict=True)):
        if bool(finger) != bool(fret):
            code = "finger-idle" if finger else "finger-missing"
            return _error(code, index, finger, string=count - index, shape=str(shape))
    for finger in sorted({*fingers} - {0}):
        own = [index for index, other in enumerate(fingers) if other == finger]
        frets = {shape.frets[index] for index in own}
        if len(frets) > 1:
            return _error("finger-two-frets", own[-1], finger)
        fret = shape.frets[own[0]] or 0
        for index in range(own[0], own[-1] + 1):
            under = shape.frets[index]
            if under is not None and under < fret:
                return _error("barre-over", index, finger, string=count - index)
        if finger == THUMB:
            error = _thumb_error(shape, fingers, own)
            if error is not None:
                return error
    return _crossed(shape, fingers)


def _thumb_error(shape: Shape, fingers: Fingers, own: list[int]) -> ShapeError | None:
    """The thumb reaches over the neck to the strings nearest to it, beside the other fingers."""
    others = [fret for fret, finger in zip(shape.frets, fingers, strict=True) if fret and finger != THUMB]
    fret = shape.frets[own[0]] or 0
    far = bool(others) and not min(others) - _THUMB_FRETS <= fret <= max(others) + 1
    if own[-1] >= _THUMB_STRINGS or far:
        return _error("thumb-far", own[-1], THUMB, string=len(fingers) - own[-1], fret=fret)
    return None


def _crossed(shape: Shape, fingers: Fingers) -> ShapeError | None:
    """A finger of a higher number never lies on a lower fret."""
    held = sorted((f, shape.frets[i] or 0, i) for i, f in enumerate(fingers) if f and f != THUMB)
    for low, high in pairwise(held):
        if high[1] < low[1]:
            return _error("fingers-crossed", high[2], high[0], other=finger_sign(low[0]))
    return None


def _error(code: str, index: int, finger: int, **values: str | int) -> ShapeError:
    return ShapeError(code, start=index, end=index + 1, finger=finger_sign(finger), **values)
