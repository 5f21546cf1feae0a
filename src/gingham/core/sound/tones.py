"""Reference tones for tuning: each string plucked by itself, in the actual tuning and capo."""

from __future__ import annotations

from gingham.core.pieces.piece import Piece
from gingham.core.sound.timeline import BarPlace, SoundedNote, Timeline

_TONE = 1.0  # a whole note each
TONE_BPM = 60


def tones(piece: Piece, strings: tuple[int, ...], capo: bool) -> Timeline:
    """Each of these strings one after the other, open or at the capo; to be played at TONE_BPM quarters."""
    up = piece.capo if capo else 0
    notes = tuple(
        SoundedNote(index * _TONE, string, piece.instrument.open_midi(string) + up, 0.62, "p")
        for index, string in enumerate(strings)
    )
    places = tuple(BarPlace(index * _TONE, -1, index) for index in range(len(strings)))
    return Timeline(notes, (), places, len(strings) * _TONE, 0.25, 1.0)
