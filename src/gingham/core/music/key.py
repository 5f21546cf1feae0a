"""Keys and spelling: which name a sounding chord gets under a capo."""

from __future__ import annotations

from collections import Counter

import msgspec

from gingham.core.music.chords import Chord
from gingham.core.music.pitch import NATURAL, Note, parse_note, spell_pitch_class

# Fifths up from C for each plain key note: the sign decides sharps or flats.
_FIFTHS = {0: 0, 7: 1, 2: 2, 9: 3, 4: 4, 11: 5, 6: 6, 1: -5, 8: -4, 3: -3, 10: -2, 5: -1}
SCALES = {False: (0, 2, 4, 5, 7, 9, 11), True: (0, 2, 3, 5, 7, 8, 10)}
"""Semitones of the major and, by True, the natural minor scale above the tonic."""
_HOME = 0.6  # how much a chord on the tonic, with the key's third, speaks for the key


class Key(msgspec.Struct, frozen=True, gc=False):
    """A key: its tonic and whether it is minor."""

    tonic: Note
    minor: bool = False

    @property
    def flats(self) -> bool:
        """Whether the black keys are spelled with flats in this key."""
        if self.tonic.alter:
            return self.tonic.alter < 0
        major = (self.tonic.pitch_class + (3 if self.minor else 0)) % 12
        return _FIFTHS[major] < 0

    def up(self, semitones: int) -> Key:
        """The key that many semitones higher, by its usual name (fewest accidentals)."""
        target = (self.tonic.pitch_class + semitones) % 12
        major = (target + (3 if self.minor else 0)) % 12
        return Key(spell_pitch_class(target, flats=_FIFTHS[major] < 0), self.minor)

    def __str__(self) -> str:
        return f"{self.tonic}{'m' if self.minor else ''}"


def parse_key(text: str) -> Key:
    """Read a key such as G, Am or Bb. PitchError if the tonic is no note."""
    body = text.strip()
    minor = body.endswith("m")
    return Key(parse_note(body[:-1] if minor else body), minor)


def guess_key(chords: tuple[Chord, ...]) -> Key:
    """The key that a line of chords suggests: the best fit, first and last chord counting more."""
    if not chords:
        return Key(Note(0))
    weights = Counter(chords)
    weights[chords[0]] += 1
    weights[chords[-1]] += 1

    def score(tonic: int, minor: bool) -> float:
        scale = {(tonic + step) % 12 for step in NATURAL}
        home = (tonic + 9) % 12 if minor else tonic
        third = (home + (3 if minor else 4)) % 12
        total = 0.0
        for chord, weight in weights.items():
            classes = chord.pitch_classes
            total += weight * len(classes & scale) / len(classes)
            total += _HOME * weight * (chord.root.pitch_class == home and third in classes)
        return total

    tonic, minor = max(((t, m) for t in range(12) for m in (False, True)), key=lambda k: score(*k))
    home = (tonic + 9) % 12 if minor else tonic
    named = next((c.root for c in chords if c.root.pitch_class == home), None)
    return Key(named or spell_pitch_class(home, flats=_FIFTHS[tonic] < 0), minor)


def sounding(chord: Chord, semitones: int, key: Key) -> Chord:
    """The chord as it sounds `semitones` higher (a capo), spelled by the key that then sounds."""
    if semitones % 12 == 0:
        return chord
    new_key = key.up(semitones)
    return chord.transposed(
        _move(chord.root, key, new_key, semitones),
        None if chord.bass is None else _move(chord.bass, key, new_key, semitones),
    )


def _move(note: Note, key: Key, new_key: Key, semitones: int) -> Note:
    """`note` moved with its key: same step from the tonic, unless that needs a double accidental."""
    step = (note.step - key.tonic.step + new_key.tonic.step) % 7
    target = (note.pitch_class + semitones) % 12
    alter = (target - Note(step).pitch_class + 6) % 12 - 6
    if abs(alter) > 1:
        return spell_pitch_class(target, flats=new_key.flats)
    return Note(step, alter)
