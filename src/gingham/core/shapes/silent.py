"""The strings that a shape leaves silent: how to keep them so, and whether the shape may be brushed."""

from __future__ import annotations

from typing import Literal

import msgspec

from gingham.core.instruments.instrument import Instrument
from gingham.core.music.chords import Chord
from gingham.core.music.pitch import Note
from gingham.core.shapes.fretting import THUMB, Fretting
from gingham.core.shapes.shape import Shape

Way = Literal["tip", "thumb", "lean", "avoid"]


class Silent(msgspec.Struct, frozen=True, gc=False):
    """A string that is not to sound: `way` says how it is kept silent.

    `tip`: the tip of `finger`, which holds the next thinner string, touches it; `thumb`: the fretting hand's
    thumb can touch it over the neck; `lean`: `finger`, which holds the next thicker string, can lie flatter
    and touch it; `avoid`: nothing is near, so it is left out. `note` is what the open
    string would sound (of the shape, below the capo's naming), `foreign` whether the chord does not name it;
    `inside` whether it lies between strings that sound, where a brush cannot leave it out.
    """

    string: int
    way: Way
    finger: int
    note: Note
    foreign: bool
    inside: bool


def silent_strings(
    shape: Shape, fretting: Fretting | None, chord: Chord, instrument: Instrument
) -> tuple[Silent, ...]:
    """The silent strings of a shape, the highest number first."""
    count = len(shape.frets)
    sounding = [string for string in range(count, 0, -1) if shape.fret(string) is not None]
    fingers = fretting.fingers if fretting is not None else (0,) * count
    out: list[Silent] = []
    for string in range(count, 0, -1):
        if shape.fret(string) is not None:
            continue
        beside = fingers[count - string + 1] if string > 1 else 0
        over = fingers[count - string - 1] if string < count else 0
        lowest = string == count and THUMB not in fingers
        way: Way = "tip" if beside not in (0, THUMB) else "thumb" if lowest else "lean" if over else "avoid"
        finger = {"tip": beside, "lean": over}.get(way, 0)
        _, note, named = chord.tone_at(instrument.open_midi(string))
        inside = bool(sounding) and min(sounding) < string < max(sounding)
        out.append(Silent(string, way, finger, note, not named, inside))
    return tuple(out)


def not_to_brush(silent: tuple[Silent, ...]) -> tuple[Silent, ...]:
    """The silent strings that a brush over the shape would sound: those inside that no fingertip leans on."""
    return tuple(each for each in silent if each.inside and each.way != "tip")
