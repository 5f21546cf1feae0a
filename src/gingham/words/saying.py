"""What to say while learning a pattern: finger words and letters, counts, string numbers, outside and inside.

Every script has one word a place, rests included: a rest is a dash, and in the count its syllable in brackets.
What is said is read back as the same pattern (`patterns.said`); where the words alone would sit otherwise on
the beats, the meter and the grid stand before them.
"""

from __future__ import annotations

from functools import lru_cache

from gingham.core.errors import GinghamError
from gingham.core.fitting.picked import lies_between
from gingham.core.fitting.result import Assignment
from gingham.core.fitting.strings_in import strings_played
from gingham.core.instruments.instrument import Instrument
from gingham.core.patterns.figures import counts_of
from gingham.core.patterns.pattern import Pattern, Pluck, Slot, StringStroke, Stroke, Sweep
from gingham.core.patterns.shorthand import print_slot, print_stroke
from gingham.core.values import replace
from gingham.language import tr
from gingham.words.naming import USUAL, Naming

SCRIPTS = {
    "fingers": tr("Finger words"),
    "short": tr("Finger letters"),
    "count": tr("Count"),
    "strings": tr("String numbers"),
    "pairs": tr("Outside and inside"),
}
# What follows is read back as a pattern, like what is typed: the same in every language.
_FINGERS = {"p": "thumb", "i": "index", "m": "middle", "a": "ring", "c": "little"}
_SWEEPS = {"brush-down": "down", "brush-up": "up", "thumb-brush": "thumb-brush", "chuck": "chuck"}
_ORNAMENTS = {"hammer": "-hammer", "pull": "-pull"}
_ORDINALS = ("first", "second", "third", "fourth")
_PAIRS = {"m": "outside", "i": "inside"}
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
    if hand == "pick":
        strings = strings_played(pattern, assignment, instrument) if assignment is not None else None
        return pick_words(pattern, strings)
    if kind == "pairs":
        return pair_words(pattern, instrument)
    return finger_words(pattern, instrument, None if kind == "fingers" else naming)


def without_grid(said: str) -> str:
    """What is said where meter and grid are to be seen beside it."""
    return said.split(": ", 1)[-1]


def variant_text(when: str) -> str:
    """Which chords a version of the pattern is for."""
    if when.isdigit():
        return tr("version for a bass on string {string}", string=when)
    return tr("version for {chord}", chord=when)


def finger_words(pattern: Pattern, instrument: Instrument, naming: Naming | None = None) -> str:
    """`pinch — thumb index`, or the letters or numbers of `naming`: one word a place."""
    return _exactly(_said_slots(pattern, naming), pattern, instrument)


def _said_slots(pattern: Pattern, naming: Naming | None = None) -> str:
    return " ".join(_slot_word(slot, naming) for slot in pattern.slots)


def _exactly(words: str, pattern: Pattern, instrument: Instrument) -> str:
    """The words, with meter and grid before them where they alone would be read as another pattern."""
    if reads_back(words, pattern, instrument):
        return words
    head = f"{pattern.meter} x{','.join(map(str, pattern.per_beat))}:"
    longer = f"{head} {words}"
    if reads_back(longer, pattern, instrument):
        return longer
    return f"{head} {' '.join(map(print_slot, pattern.slots))}"


@lru_cache(maxsize=256)
def reads_back(words: str, pattern: Pattern, instrument: Instrument) -> bool:
    """Whether what is said is read as this pattern (break points and versions are not said)."""
    from gingham.core.patterns.said import read_said  # the first picture needs no words

    try:
        read = read_said(words, instrument, pattern.meter).ways[0].pattern
    except GinghamError:
        return False
    return replace(read, breaks=()) == replace(pattern, breaks=(), variants=())


def pick_words(pattern: Pattern, strings: tuple[tuple[int, ...], ...] | None = None) -> str:
    """`down — down up`, the ways of a flat pick; with the strings of each place `down-6 — down-4 up-3`.

    The player's own ways go before down on the numbered places and up between.
    """
    plucked = [index for index, slot in enumerate(pattern.slots) if slot]
    own = {i: pattern.picks[n % len(pattern.picks)] for n, i in enumerate(plucked) if pattern.picks}
    out = []
    for index, slot in enumerate(pattern.slots):
        if not slot or any(isinstance(stroke, Sweep) for stroke in slot):
            out.append(_slot_word(slot, None))
            continue
        way = own.get(index, "up" if lies_between(pattern.meter, pattern.starts[index]) else "down")
        out.append(f"{way}-{'+'.join(map(str, strings[index]))}" if strings and strings[index] else way)
    return " ".join(out)


def _slot_word(slot: Slot, naming: Naming | None) -> str:
    """One word for a place; what no word says exactly is said as it is written."""
    if not slot:
        return _REST
    plain = [s for s in slot if isinstance(s, Pluck) and s == Pluck(s.finger)]
    if naming is None and [s.finger for s in plain] == ["p", "m"] and len(slot) == len(plain):
        return "pinch"
    words = [_stroke_word(stroke, naming) for stroke in slot]
    return "+".join(words) if len(words) == 1 or len(plain) == len(words) else print_slot(slot)


def _stroke_word(stroke: Stroke, naming: Naming | None) -> str:
    accent = "!" * stroke.accent
    if isinstance(stroke, Sweep):
        return print_stroke(stroke) if stroke.span else _SWEEPS[stroke.kind] + accent
    if isinstance(stroke, StringStroke):
        return f"string-{stroke.string}{accent}" if stroke.fret is None else print_stroke(stroke)
    name = naming.finger(stroke.finger) if naming else _FINGERS[stroke.finger]
    usual = Pluck(stroke.finger, accent=stroke.accent)
    if stroke == usual:
        return name + accent
    if (
        stroke == replace(usual, lane=stroke.lane)
        and stroke.lane is not None
        and stroke.lane <= len(_ORDINALS)
    ):
        return f"{_ORDINALS[stroke.lane - 1]}-thumb{accent}"
    ornament = stroke.ornament
    if ornament is not None and ornament.fret is None and stroke == replace(usual, ornament=ornament):
        return f"{name}{_ORNAMENTS[ornament.kind]}{accent}"
    return print_stroke(stroke)


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
    """`6+2 — 4 3 6 2 4 3` on one chord; a brush or chuck is said as such."""
    found = strings_played(pattern, assignment, instrument)
    return " ".join(map(_strings_word, pattern.slots, found))


def _strings_word(slot: Slot, strings: tuple[int, ...]) -> str:
    if any(isinstance(stroke, Sweep) for stroke in slot):
        return _slot_word(slot, None)
    accent = "!" * max((stroke.accent for stroke in slot), default=0)
    return "+".join(map(str, strings)) + accent if strings else _REST


def pair_words(pattern: Pattern, instrument: Instrument) -> str:
    """`outside inside`: thumb and middle are the outer pair of the four strings in use, thumb and index the inner.

    What is in no pair is said as a finger word.
    """
    out: list[str] = []
    slots = [*pattern.slots, ()]
    index = 0
    while index < len(pattern.slots):
        pair = _pair(slots[index], slots[index + 1])
        out.append(pair or _slot_word(slots[index], None))
        index += 2 if pair else 1
    words = " ".join(out)
    return words if reads_back(words, pattern, instrument) else finger_words(pattern, instrument)


def _pair(one: Slot, other: Slot) -> str:
    """The pair that a thumb and the finger right after it make; empty if they make none."""
    thumb, finger = (slot[0] if len(slot) == 1 else None for slot in (one, other))
    if not isinstance(thumb, Pluck) or not isinstance(finger, Pluck) or finger.finger not in _PAIRS:
        return ""
    if thumb != Pluck("p", lane=thumb.lane) or finger != Pluck(finger.finger):
        return ""
    word = _PAIRS[finger.finger]
    return word if thumb.lane in (None, 1 if word == "outside" else 2) else ""
