"""Ways of reading: the player's names of fingers, strings and counts, chosen once and used everywhere.

Whole words (thumb, index, …) are the same in every naming; what changes is the short form in marks, on rows and
in the count.
"""

from __future__ import annotations

import msgspec

from gingham.language import tr, tr_c
from gingham.words.names import FINGER_NAMES, PICK_ROWS

FINGER_NAMINGS = {
    "pima": "p i m a c",
    "letters": "T I M R L",
    "numbers": "T ‹1› ‹2› ‹3› ‹4›",
    "words": tr("thumb, index, middle, ring, little"),
}
STRING_NAMINGS = {
    "numbers": tr("string 3"),
    "letters": tr("G string"),
    "both": tr("string 3, G"),
    "places": tr("3rd string from the floor"),
}
COUNT_NAMINGS = {
    "la-li": tr("1 & · 1 e & a · 1 la li"),
    "trip-let": tr("1 & · 1 e & a · 1 trip let"),
    "and-a": tr("1 & · 1 e & a · 1 & a"),
    "places": tr("1 2 3 4 5 …, every place"),
}
FRET_NAMINGS = {
    "capo": tr("from the capo"),
    "nut": tr("from the nut"),
    "both": tr("from the capo (from the nut)"),
}
NAMINGS = {
    "fingers": FINGER_NAMINGS,
    "strings": STRING_NAMINGS,
    "counts": COUNT_NAMINGS,
    "frets": FRET_NAMINGS,
}
_FINGERS = {
    "pima": dict(zip("pimac", "pimac", strict=True)),
    "letters": dict(zip("pimac", "TIMRL", strict=True)),
    "numbers": dict(zip("pimac", ("T", "‹1›", "‹2›", "‹3›", "‹4›"), strict=True)),
    "words": dict(zip("pimac", ("th", "in", "mi", "ri", "lt"), strict=True)),
}
_FROM_FLOOR = {1: tr_c("from floor", "1st"), 2: tr_c("from floor", "2nd"), 3: tr_c("from floor", "3rd")}
_PICK = {"down": "↓", "up": "↑"}
_TRIPLETS = {
    "trip-let": {"la": tr_c("triplets", "trip"), "li": tr_c("triplets", "let")},
    "and-a": {"la": "&", "li": "a"},
}


class Naming(msgspec.Struct, frozen=True):
    """The chosen names: a key of FINGER_NAMINGS, STRING_NAMINGS, COUNT_NAMINGS and FRET_NAMINGS each."""

    fingers: str = "pima"
    strings: str = "numbers"
    counts: str = "la-li"
    frets: str = "capo"

    def fret(self, number: int, capo: int) -> str:
        """A fret as it is counted: `2` from the capo, `5` from the nut under a capo at 3, or both: `2 (5)`."""
        if not capo or self.frets == "capo":
            return str(number)
        return str(number + capo) if self.frets == "nut" else f"{number} ({number + capo})"

    def finger(self, name: str) -> str:
        """The short name of a finger: `m`, `M`, `2`."""
        return _PICK.get(name) or _FINGERS[self.fingers].get(name, name)

    def long_finger(self, name: str, hand: str = "pima") -> str:
        """The finger's word and its short name: `middle m`; a flat pick has rows of strings instead."""
        if hand == "pick":
            return PICK_ROWS[name]
        if self.fingers == "words":
            return FINGER_NAMES[name].removesuffix(" finger")
        return f"{FINGER_NAMES[name].removesuffix(' finger')}  {self.finger(name)}"

    def token(self, token: str) -> str:
        """A token of the shorthand with its finger renamed; what stands around it stays."""
        return self.finger(token[0]) + token[1:] if token[:1] in _FINGERS["pima"] else token

    def string(self, number: int, note: str) -> str:
        """The name of a string; `note` is its open note."""
        if self.strings == "letters" and note:
            return tr("{note} string", note=note)
        if self.strings == "both" and note:
            return tr("string {number}, {note}", number=number, note=note)
        if self.strings == "places":
            return tr(
                "{which} from the floor", which=_FROM_FLOOR.get(number, tr("{number}th", number=number))
            )
        return tr("string {number}", number=number)

    def syllable(self, syllable: str, place: int) -> str:
        """What is said at a place: the beat's number or a syllable; `place` counts places from the bar line."""
        if self.counts == "places":
            return str(place + 1)
        if syllable.isdigit():
            return syllable
        short = syllable.lstrip("0123456789")
        return _TRIPLETS.get(self.counts, {}).get(short, short)


USUAL = Naming()
