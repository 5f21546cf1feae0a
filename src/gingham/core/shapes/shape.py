"""A chord shape: one fret, 0 or x for each string, from the highest string number to string 1."""

from __future__ import annotations

import re

import msgspec

from gingham.core.errors import ShapeError
from gingham.core.instruments.instrument import Instrument


class Shape(msgspec.Struct, frozen=True, gc=False):
    """`frets` counts from the capo, highest string number first; None is a string that is not played."""

    frets: tuple[int | None, ...]

    def fret(self, string: int) -> int | None:
        """The fret of a string number (string 1 is the last)."""
        return self.frets[len(self.frets) - string]

    @property
    def sounding(self) -> tuple[int, ...]:
        """The string numbers that sound, highest first."""
        count = len(self.frets)
        return tuple(count - i for i, fret in enumerate(self.frets) if fret is not None)

    def midi(self, string: int, instrument: Instrument, capo: int = 0) -> int | None:
        """The sounding MIDI number of a string, None if it is not played."""
        fret = self.fret(string)
        return None if fret is None else instrument.open_midi(string) + capo + fret

    def __str__(self) -> str:
        if all(fret is None or fret < 10 for fret in self.frets):
            return "".join("x" if fret is None else str(fret) for fret in self.frets)
        return ",".join("x" if fret is None else str(fret) for fret in self.frets)


def parse_shape(text: str) -> Shape:
    """Read x32010 or x,10,12,12,11,x.

    Raises
    ------
    ShapeError
        On anything but digits and x, or a comma list of numbers and x; or if no string sounds.
    """
    body = text.strip()
    if "," in body:
        parts = [part.strip() for part in body.split(",")]
    else:
        parts = list(body)
    for part in parts:
        if not re.fullmatch(r"[0-9]{1,2}|[xX]", part):
            raise ShapeError("shape", start=0, end=len(text), text=text, part=part)
    shape = Shape(tuple(None if part in "xX" else int(part) for part in parts))
    if not shape.sounding:
        raise ShapeError("shape-silent", start=0, end=len(text), text=text)
    return shape


def check_shape(shape: Shape, instrument: Instrument, capo: int = 0) -> Shape:
    """`shape` if it has one place per string and stays on the neck; ShapeError otherwise."""
    error = misfit(shape, instrument, capo)
    if error is not None:
        raise error
    return shape


def misfit(shape: Shape, instrument: Instrument, capo: int = 0) -> ShapeError | None:
    """Why `shape` cannot be played on this instrument at all; None if it can."""
    if len(shape.frets) != instrument.strings:
        return ShapeError("shape-length", text=str(shape), given=len(shape.frets), strings=instrument.strings)
    highest = max((fret for fret in shape.frets if fret is not None), default=0)
    if highest + capo > instrument.frets:
        return ShapeError("shape-neck", text=str(shape), fret=highest, most=instrument.frets - capo)
    return None
