"""Spelled notes and pitches: a letter, an alteration, an octave."""

from __future__ import annotations

import math
import re

import msgspec

from gingham.core.errors import PitchError

LETTERS = "CDEFGAB"
NATURAL = (0, 2, 4, 5, 7, 9, 11)  # semitones of C D E F G A B above C
CONCERT_A_HZ = 440.0
CONCERT_A_MIDI = 69

_NOTE = re.compile(r"([A-Ga-g])(##|#|bb|b|)")


def plain_accidentals(text: str) -> str:
    """The text with ♯ ♭ 𝄪 𝄫 written as # b ## bb; one character becomes one where it can."""
    return text.replace("♯", "#").replace("♭", "b").replace("𝄪", "##").replace("𝄫", "bb")


class Note(msgspec.Struct, frozen=True, gc=False):
    """A spelled note without octave: `step` 0–6 for C–B, `alter` in semitones (+ sharp, − flat)."""

    step: int
    alter: int = 0

    @property
    def pitch_class(self) -> int:
        """Semitones above C, 0–11."""
        return (NATURAL[self.step] + self.alter) % 12

    def __str__(self) -> str:
        return LETTERS[self.step] + ("#" * self.alter if self.alter >= 0 else "b" * -self.alter)


class Pitch(msgspec.Struct, frozen=True, gc=False):
    """A spelled note in an octave (scientific: C4 is middle C)."""

    note: Note
    octave: int

    @property
    def midi(self) -> int:
        """MIDI note number; 60 is C4. B#3 and C4 are both 60."""
        return 12 * (self.octave + 1) + NATURAL[self.note.step] + self.note.alter

    def __str__(self) -> str:
        return f"{self.note}{self.octave}"


def parse_note(text: str) -> Note:
    """Read a note name such as F#, Bb or E♭.

    Raises
    ------
    PitchError
        If the text is not one note name.
    """
    match = _NOTE.fullmatch(plain_accidentals(text.strip()))
    if not match:
        raise PitchError("note", text=text)
    return note_from_match(match)


def note_from_match(match: re.Match[str]) -> Note:
    """The note of a regular expression match whose groups are letter and accidentals."""
    sign = match[2]
    return Note(LETTERS.index(match[1].upper()), len(sign) * (1 if sign.startswith("#") else -1))


def parse_pitch(text: str) -> Pitch:
    """Read a pitch such as E2 or F#3.

    Raises
    ------
    PitchError
        If the text is not a note name followed by an octave number.
    """
    match = re.fullmatch(r"(.*?)(-?[0-9])", text.strip())
    if not match:
        raise PitchError("pitch", text=text)
    try:
        return Pitch(parse_note(match[1]), int(match[2]))
    except PitchError as error:
        raise PitchError("pitch", text=text) from error


_SHARPS = tuple(Note(s, a) for s, a in ((0, 0), (0, 1), (1, 0), (1, 1), (2, 0), (3, 0)))
_SHARPS += tuple(Note(s, a) for s, a in ((3, 1), (4, 0), (4, 1), (5, 0), (5, 1), (6, 0)))
_FLATS = tuple(Note(s, a) for s, a in ((0, 0), (1, -1), (1, 0), (2, -1), (2, 0), (3, 0)))
_FLATS += tuple(Note(s, a) for s, a in ((4, -1), (4, 0), (5, -1), (5, 0), (6, -1), (6, 0)))


def spell_pitch_class(pitch_class: int, *, flats: bool = False) -> Note:
    """The plain spelling of a pitch class, with sharps or with flats for the black keys."""
    return (_FLATS if flats else _SHARPS)[pitch_class % 12]


def pitch_from_midi(midi: int, note: Note | None = None) -> Pitch:
    """The pitch with this MIDI number, spelled as `note` (same pitch class) or plainly with sharps."""
    spelled = note if note is not None else spell_pitch_class(midi)
    return Pitch(spelled, (midi - NATURAL[spelled.step] - spelled.alter) // 12 - 1)


def hz(midi: float) -> float:
    """Frequency in Hz of a MIDI number in equal temperament, A4 = 440 Hz."""
    return CONCERT_A_HZ * math.exp2((midi - CONCERT_A_MIDI) / 12.0)
