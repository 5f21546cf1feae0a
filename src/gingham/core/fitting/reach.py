"""How the thumb gets a note that the shape does not give: open, by a barre, a hop, a fuller shape."""

from __future__ import annotations

from typing import Literal

import msgspec

from gingham.core.fitting.held import Held
from gingham.core.hands.motor import Motor
from gingham.core.shapes.fretting import Fretting, fretting
from gingham.core.shapes.shape import Shape

_WIDEST = 3  # frets that a fuller shape may span
_HOP_STRINGS, _HOP_FRETS = 2, 1  # how far a finger hops between two plucks of the thumb


ReachKind = Literal["shape", "open", "barre", "hop", "fuller"]


class Reach(msgspec.Struct, frozen=True, gc=False):
    """One way to sound a note: `kind` is `shape`, `open`, `barre`, `hop` or `fuller`.

    `finger` is the fretting finger that hops (0 for none), `time_s` the time that it has.
    """

    string: int
    fret: int
    kind: ReachKind
    finger: int = 0
    time_s: float = 0.0


def way_to(
    held: Held, string: int, pitch_class: int, first: int, time_s: float, motor: Motor
) -> Reach | None:
    """The best way to sound a pitch class on one string, None if there is none.

    `first` is the string of bass 1, whose finger is the one that may hop; `time_s` is how long the thumb
    takes between two plucks.
    """
    own = held.shape.fret(string)
    if own is not None:
        return Reach(string, own, "shape") if held.midi(string) % 12 == pitch_class else None
    for fret in range(held.on.frets - held.capo + 1):
        if (held.on.open_midi(string) + fret) % 12 == pitch_class:
            found = _way_at(held, string, fret, first, time_s, motor)
            if found is not None:
                return found
    return None


def _way_at(held: Held, string: int, fret: int, first: int, time_s: float, motor: Motor) -> Reach | None:
    if fret == 0:
        return Reach(string, 0, "open")
    grip = fretting(held.shape)
    if grip is None:
        return None
    if _barre_reaches(grip, held.shape, string, fret):
        return Reach(string, fret, "barre", 1)
    finger = _hopping_finger(grip, held.shape, string, fret, first)
    if finger and time_s >= motor.hop_s:
        return Reach(string, fret, "hop", finger, time_s)
    return Reach(string, fret, "fuller") if fuller_shape(held.shape, string, fret) is not None else None


def _barre_reaches(grip: Fretting, shape: Shape, string: int, fret: int) -> bool:
    """Whether the barre need only be laid one or two strings further."""
    barre = grip.barre
    if barre is None or barre.finger != 1 or barre.fret != fret or string <= barre.from_string:
        return False
    between = range(barre.from_string + 1, string)
    return all(shape.fret(other) is None for other in between)


def _hopping_finger(grip: Fretting, shape: Shape, string: int, fret: int, first: int) -> int:
    """The finger that holds bass 1, if it can hop to the string; 0 if not."""
    held = shape.fret(first)
    if not held or abs(string - first) > _HOP_STRINGS or abs(fret - held) > _HOP_FRETS:
        return 0
    finger = grip.fingers[len(shape.frets) - first]
    barred = any(barre.finger == finger for barre in grip.barres)
    return 0 if barred else finger


def fuller_shape(shape: Shape, string: int, fret: int) -> Shape | None:
    """The shape with one more string held, None if no hand can hold it."""
    frets = list(shape.frets)
    frets[len(frets) - string] = fret
    fuller = Shape(tuple(frets))
    held = [f for f in frets if f]
    if max(held) - min(held) > _WIDEST or fretting(fuller) is None:
        return None
    return fuller
