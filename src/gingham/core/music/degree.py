"""Chord degrees: a number and an alteration, counted from the root (1, b3, #9, bb7)."""

from __future__ import annotations

import msgspec

from gingham.core.music.pitch import NATURAL, Note

_MAJOR_STEPS = NATURAL  # the major scale on C has the natural steps


class Degree(msgspec.Struct, frozen=True, gc=False):
    """`number` counts scale steps from 1; `alter` is semitones against the major scale."""

    number: int
    alter: int = 0

    @property
    def semitones(self) -> int:
        """Distance above the root in semitones (9 is 14)."""
        octave, step = divmod(self.number - 1, 7)
        return 12 * octave + _MAJOR_STEPS[step] + self.alter

    def __str__(self) -> str:
        return ("#" * self.alter if self.alter >= 0 else "b" * -self.alter) + str(self.number)

    def above(self, root: Note) -> Note:
        """The spelled note that lies this degree above `root` (a 9 above E is F##  if sharpened)."""
        step = (root.step + self.number - 1) % 7
        alter = (root.pitch_class + self.semitones - NATURAL[step]) % 12
        return Note(step, alter - 12 if alter > 6 else alter)


def parse_degree(text: str) -> Degree:
    """Read b3, #11, bb7, 13. For tables inside Gingham: bad text is a ValueError of `int`."""
    digits = text.lstrip("#b")
    signs = text[: len(text) - len(digits)]
    return Degree(int(digits), signs.count("#") - signs.count("b"))


# Names for a tone that the chord does not contain, by semitones above the root.
FOREIGN = tuple(parse_degree(t) for t in ("1", "b2", "2", "b3", "3", "4", "b5", "5", "b6", "6", "b7", "7"))


def between(root: Note, note: Note) -> Degree:
    """The degree of a spelled note above a spelled root, within one octave (G over A is b7)."""
    number = (note.step - root.step) % 7 + 1
    alter = (note.pitch_class - root.pitch_class - _MAJOR_STEPS[number - 1]) % 12
    return Degree(number, alter - 12 if alter > 6 else alter)
