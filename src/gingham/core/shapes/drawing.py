"""A shape drawn by hand on the neck: one string at a time, and what it then is."""

from __future__ import annotations

import msgspec

from gingham.core.instruments.instrument import Instrument
from gingham.core.music.chords import Chord
from gingham.core.music.key import Key
from gingham.core.shapes.fingers import misfingered
from gingham.core.shapes.fretting import Fingers, Fretting, fretting, held_with
from gingham.core.shapes.naming import names_of
from gingham.core.shapes.search import effort, missing_degrees
from gingham.core.shapes.shape import Shape, misfit


class Drawn(msgspec.Struct, frozen=True):
    """A shape as it was drawn: how it is held (None: no hand can), its effort in fingers, what it lacks.

    `missing` are degrees of the chord that no string sounds, `foreign` strings whose tone the chord has not,
    `names` what else it may be called.
    """

    shape: Shape
    held: Fretting | None
    effort: float | None
    missing: tuple[str, ...]
    foreign: tuple[int, ...]
    names: tuple[str, ...]


def put(shape: Shape, string: int, fret: int) -> Shape:
    """A finger put on a string at a fret; taken off again where it stands already (the string is open then).

    Fret 0, above the nut, opens a string or, if it is open, silences it. The last sounding string stays.
    """
    index = len(shape.frets) - string
    now = shape.frets[index]
    after: int | None = fret if now != fret else 0
    if fret == 0:
        after = None if now == 0 else 0
    out = Shape((*shape.frets[:index], after, *shape.frets[index + 1 :]))
    return out if out.sounding else shape


def drawn(
    shape: Shape,
    chord: Chord,
    instrument: Instrument,
    capo: int = 0,
    key: Key | None = None,
    fingers: Fingers | None = None,
) -> Drawn:
    """What a drawn shape is on this instrument, held with `fingers` where they can hold it."""
    held = None
    if misfit(shape, instrument, capo) is None:
        own = fingers is not None and misfingered(shape, fingers) is None
        held = held_with(shape, fingers) if own and fingers is not None else fretting(shape)
    tones = chord.pitch_classes
    foreign = tuple(s for s in shape.sounding if _class(shape, s, instrument) not in tones)
    return Drawn(
        shape,
        held,
        effort(chord, shape, held, instrument) if held is not None and len(shape.sounding) > 1 else None,
        tuple(str(degree) for degree in missing_degrees(chord, shape, instrument)),
        foreign,
        tuple(name.text for name in names_of(shape, instrument, capo, key, 3)),
    )


def _class(shape: Shape, string: int, instrument: Instrument) -> int:
    return (instrument.open_midi(string) + (shape.fret(string) or 0)) % 12


def slid(shape: Shape, by: int) -> Shape | None:
    """The whole shape so many frets up the neck; None with an open string in it, or at the nut.

    The fingers keep their places to each other, so it is the same grip under another name.
    """
    held = [fret for fret in shape.frets if fret is not None]
    if not held or min(held) < 1 or min(held) + by < 1:
        return None
    return Shape(tuple(None if fret is None else fret + by for fret in shape.frets))
