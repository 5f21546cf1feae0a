"""What to say while learning a pattern: counts, finger words, string numbers, outside and inside pairs.

Every script has one word a place, rests included: a rest is a dash, and in the count its syllable in brackets.
"""

from __future__ import annotations

from itertools import pairwise

from gingham.core.fitting.result import Assignment
from gingham.core.fitting.strings_in import strings_played
from gingham.core.instruments.instrument import Instrument
from gingham.core.patterns.figures import counts_of
from gingham.core.patterns.pattern import Pattern, Pluck, Slot, StringStroke, Sweep
from gingham.words.names import FINGER_NAMES
from gingham.words.naming import USUAL, Naming

SCRIPTS = {
    "fingers": "Finger words",
    "count": "Count",
    "strings": "String numbers",
    "pairs": "Outside and inside",
}
_SWEEPS = {"brush-down": "brush", "brush-up": "up", "thumb-brush": "thumb brush", "chuck": "chuck"}
_REST = "—"


def script(
    kind: str,
    pattern: Pattern,
    assignment: Assignment | None,
    instrument: Instrument,
    naming: Naming = USUAL,
    hand: str = "pima",
) -> str:
    """The pattern as it is said in one of SCRIPTS on the chord of `assignment` (the strings need one)."""
    if kind == "count":
        return count_words(pattern, naming)
    if kind == "strings" and assignment is not None:
        return string_words(pattern, assignment, instrument)
    if kind == "pairs" and assignment is not None:
        return pair_words(pattern, assignment, instrument)
    return pick_words(pattern) if hand == "pick" else finger_words(pattern)


def variant_text(when: str) -> str:
    """Which chords a version of the pattern is for."""
    return f"version for a bass on string {when}" if when.isdigit() else f"version for {when}"


def finger_words(pattern: Pattern) -> str:
    """`pinch — thumb index`: one word a place."""
    return " ".join(_slot_word(slot) for slot in pattern.slots)


def pick_words(pattern: Pattern) -> str:
    """`down — down up`: a flat pick goes down on the first part of each pair of places and up on the second."""
    inside = _place_in_beat(pattern)
    return " ".join(
        (_slot_word(slot) if any(isinstance(s, Sweep) for s in slot) else "up" if place % 2 else "down")
        if slot
        else _REST
        for slot, place in zip(pattern.slots, inside, strict=True)
    )


def _place_in_beat(pattern: Pattern) -> list[int]:
    """For each place the number of places since its counted beat began."""
    out, place = [], 0
    for syllable, _ in counts_of(pattern):
        place = 0 if syllable.isdigit() and pattern.meter.unit != 8 else place
        out.append(place)
        place += 1
    return out


def _slot_word(slot: Slot) -> str:
    if not slot:
        return _REST
    if len(slot) > 1:
        return "pinch"
    stroke = slot[0]
    if isinstance(stroke, Sweep):
        return _SWEEPS[stroke.kind]
    if isinstance(stroke, StringStroke):
        return str(stroke.string)
    assert isinstance(stroke, Pluck)
    return FINGER_NAMES[stroke.finger].removesuffix(" finger")


def count_words(pattern: Pattern, naming: Naming = USUAL) -> str:
    """`1 (&) 2 & 3 & 4 &`: every syllable, those of rests in brackets."""
    out, place = [], 0
    for syllable, played in counts_of(pattern):
        place = 0 if syllable == "1" else place
        said = naming.syllable(syllable, place)
        out.append(said if played else f"({said})")
        place += 1
    return " ".join(out)


def string_words(pattern: Pattern, assignment: Assignment, instrument: Instrument) -> str:
    """`6+2 — 4 3 6 2 4 3` on one chord."""
    found = strings_played(pattern, assignment, instrument)
    return " ".join("+".join(map(str, strings)) if strings else _REST for strings in found)


def pair_words(pattern: Pattern, assignment: Assignment, instrument: Instrument) -> str:
    """`outside inside`: a thumb and the finger that follows it as a pair, by the finger's string on this chord.

    The pair with the outermost finger string is outside, that with the innermost inside; what is in no pair
    is said as a finger word.
    """
    strings = strings_played(pattern.as_variant(assignment.variant), assignment, instrument)
    plucked = [(i, slot) for i, slot in enumerate(pattern.slots) if slot]
    fingers = {strings[i][0] for i, slot in plucked if _alone(slot) not in (None, "p") and strings[i]}
    out: list[str] = []
    taken = -1
    for (one, slot), (other, after) in pairwise([*plucked, (-1, ())]):
        if one == taken:
            continue
        follower = _alone(after) if after else None
        if _alone(slot) == "p" and follower not in (None, "p") and strings[other]:
            out.append(_pair_word(strings[other][0], fingers))
            taken = other
        else:
            out.append(_slot_word(slot))
    return " ".join(out)


def _alone(slot: Slot) -> str | None:
    """The finger of a place where one finger plucks alone."""
    return slot[0].finger if len(slot) == 1 and isinstance(slot[0], Pluck) else None


def _pair_word(string: int, strings: set[int]) -> str:
    if string == min(strings):
        return "outside"
    return "inside" if string == max(strings) else "between"
