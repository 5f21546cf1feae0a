"""A chord as it is held: the symbol on a shape, on an instrument."""

from __future__ import annotations

import msgspec

from gingham.core.instruments.instrument import Instrument
from gingham.core.music.chords import Chord
from gingham.core.shapes.shape import Shape


class Held(msgspec.Struct, frozen=True, gc=False):
    """A chord as it is held: symbol, shape, instrument and capo (the symbol names the shape)."""

    chord: Chord
    shape: Shape
    on: Instrument
    capo: int

    def midi(self, string: int) -> int:
        """Pitch of a sounding string without the capo (MIDI number)."""
        return self.on.open_midi(string) + (self.shape.fret(string) or 0)

    def degree(self, string: int) -> str:
        """The degree that a sounding string gives."""
        return str(self.chord.tone_at(self.midi(string))[0])

    def is_bass(self, string: int) -> bool:
        """Whether a sounding string gives the bass that the symbol names: the slash bass, else the root."""
        return self.midi(string) % 12 == self.chord.bass_note.pitch_class

    def sounds(self, string: int) -> bool:
        """Whether the shape lets the string sound."""
        return 1 <= string <= self.on.strings and self.shape.fret(string) is not None
