"""Whether the tune lies in a singer's voice, and which moves of the piece bring it there."""

from __future__ import annotations

import re

import msgspec

from gingham.core.errors import PitchError
from gingham.core.judging.tune import tune_pitch
from gingham.core.music.pitch import Pitch, parse_pitch
from gingham.core.pieces.piece import Piece

_MOST = 11  # semitones: a whole octave is the same key


class Voice(msgspec.Struct, frozen=True, gc=False):
    """The lowest and the highest note that a singer sings with ease."""

    lowest: Pitch
    highest: Pitch

    def __str__(self) -> str:
        return f"{self.lowest} {self.highest}"


class VoiceFit(msgspec.Struct, frozen=True, gc=False):
    """The tune's lowest and highest sounding note, and every move in semitones that brings it into the voice.

    The smallest move is first, of two alike the one down; 0 is the piece as it is.
    """

    lowest: Pitch
    highest: Pitch
    moves: tuple[int, ...]


def parse_voice(text: str) -> Voice:
    """Read `A3 D5`, with `to`, a dash or a comma between. PitchError if it is no range of two notes."""
    words = [word for word in re.split(r"[\s,–-]+", text.strip()) if word != "to"]
    if len(words) != 2:
        raise PitchError("singer-range", text=text)
    low, high = map(parse_pitch, words)
    if low.midi >= high.midi:
        raise PitchError("singer-range", text=text)
    return Voice(low, high)


def voice_fit(piece: Piece, voice: Voice) -> VoiceFit | None:
    """How the tunes of all sections lie in a voice; None where no tune is written."""
    pitches = [tune_pitch(note, piece) for section in piece.sections for note in section.tune]
    if not pitches:
        return None
    low, high = (pick(pitches, key=lambda pitch: pitch.midi) for pick in (min, max))
    fitting = range(voice.lowest.midi - low.midi, voice.highest.midi - high.midi + 1)
    moves = sorted((move for move in fitting if abs(move) <= _MOST), key=lambda move: (abs(move), move))
    return VoiceFit(low, high, tuple(moves))
