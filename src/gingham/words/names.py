"""Names of degrees, fingers, lanes and notes as players say them."""

from __future__ import annotations

from fractions import Fraction

from gingham.core.hands.motor import takes_of
from gingham.core.music.meter import Meter

_NUMBERS = {
    1: "root",
    2: "second",
    3: "third",
    4: "fourth",
    5: "fifth",
    6: "sixth",
    7: "seventh",
    9: "ninth",
    11: "eleventh",
    13: "thirteenth",
}
_ALTERED = {
    "b3": "minor third",
    "b7": "seventh",
    "7": "major seventh",
    "b5": "flat fifth",
    "#5": "sharp fifth",
    "bb7": "diminished seventh",
}
ORDINALS = ("first", "second", "third", "fourth", "fifth", "sixth", "seventh", "eighth", "ninth")
FINGER_NAMES = {"p": "thumb", "i": "index", "m": "middle", "a": "ring", "c": "little finger"}
PICK_NAMES = {"down": "down-stroke", "up": "up-stroke"}
PLUCKERS = {**FINGER_NAMES, **PICK_NAMES, "pick": "flat pick"}
"""Fingers, and the strokes of a flat pick."""
PICK_ROWS = {"p": "bass", "i": "inner string", "m": "next string", "a": "outer string", "c": "beyond"}
"""What the rows of a pattern are to a flat pick, which has no fingers."""
PICK_RULES = {"alternate": "down on the beat, up between", "economy": "the way the next string lies"}

INSTRUMENT_NAMES = {
    "guitar": "Guitar",
    "ukulele": "Ukulele",
    "ukulele-low": "Ukulele, low 4th",
    "ukulele-baritone": "Baritone ukulele",
}
POLICY_NAMES = {
    "home": "stay at home",
    "shift": "move over when the thumb needs string 3",
    "follow:0": "follow the bass closely",
    "follow:1": "follow one string off",
    "named": "strings of my own",
}
ACCENT_NAMES = {
    "thumb": "thumb strong, downbeat stronger",
    "even": "even",
    "march": "marching: beats strong",
    "lilt": "lilting: off-beats light",
    "follow-i": "index follows through",
    "follow-m": "middle follows through",
    "follow-a": "ring follows through",
}
COUNT_IN_NAMES = {"bar": "1 bar", "subdivided": "1 bar, divided", "two": "2 beats", "ready": "a tone"}
TOUCH_NAMES = {"flesh": "flesh", "nail": "nails", "thumb-pick": "thumb pick", "flat-pick": "flat pick"}
VOICE_NAMES = {"own": "the instrument’s strings", "nylon": "nylon strings", "steel": "steel strings"}
HAND_NAMES = {
    "pi": "thumb and index",
    "pim": "thumb and two fingers",
    "pima": "thumb and three fingers",
    "pimac": "thumb and four fingers",
    "pick": "flat pick",
}
FIRST_NAMES = {
    "root": "root or slash",
    "lowest": "lowest string",
    "root-first": "root first (4 strings)",
}
FOUR_STRING_NAMES = {
    "shift": "fingers move over",
    "thumb-only": "only the thumb moves",
    "literal": "only the first bass moves",
    "block": "all strings at once",
}
SUPPORT_NAMES = {
    "floating": "floats free",
    "little-finger": "little finger on the top",
    "resting": "fingers rest on their strings",
}
TONE_NAMES = {
    "third": "root and third, else say so",
    "named": "every tone of its name",
    "few": "any two tones are enough",
}
STRICT_NAMES = {
    "exact": "the very string",
    "near": "any string of the held chord",
}
STAND_IN_NAMES = {
    "all": "wherever they are easier",
    "suiting": "only if they suit the neighbours",
}
ALIGN_NAMES = {
    "bar": "from bar lines",
    "chord": "from each chord",
    "run": "runs on",
}
SHAPE_NAMES = {"together": "to suit neighbours", "alone": "each alone"}
HOLD_NAMES = {
    "plucked": "what is plucked",
    "guides": "plucked, and guide fingers",
    "whole": "the whole shape",
}
MUDDY_NAMES = {"warn": "warn if they blur", "avoid": "warn, take a clearer one", "off": "do not warn"}
BLUR_NAMES = {110: "at the slightest", 125: "as usual", 140: "only when it is bad"}
"""From which roughness (in hundredths) two low notes are said to blur."""
LEVEL_NAMES = {"starting": "a beginner’s hand", "growing": "a growing hand", "fluent": "a fluent hand"}


def level_text(level: str) -> str:
    """A hand in words: one of the known ones, or the player's own with the number of takes behind it."""
    return LEVEL_NAMES.get(level) or f"my hand, from {takes_of(level)} takes"


def degree_name(degree: str) -> str:
    """`5` → fifth, `b3` → minor third, `#9` → sharp ninth."""
    if degree in _ALTERED:
        return _ALTERED[degree]
    number = int(degree.lstrip("#b"))
    word = _NUMBERS.get(number, str(number))
    sign = degree[: len(degree) - len(str(number))]
    return {"": "", "b": "flat ", "#": "sharp ", "bb": "double flat ", "##": "double sharp "}[sign] + word


def signs(text: str) -> str:
    """Note and chord names with real ♯ and ♭ signs (Bb → B♭, F#m7b5 → F♯m7♭5)."""
    out: list[str] = []
    for index, char in enumerate(text):
        before = text[index - 1] if index else ""
        after = text[index + 1] if index + 1 < len(text) else ""
        flat = char == "b" and (before in "ABCDEFG♭" or after.isdigit()) and before != ""
        out.append("♯" if char == "#" else "♭" if flat or (char == "b" and after.isdigit()) else char)
    return "".join(out)


def lane_name(lane: str) -> str:
    """`p1` → first bass, `m` → middle."""
    if lane.startswith("p") and len(lane) > 1:
        return f"{ORDINALS[int(lane[1:]) - 1]} bass"
    return FINGER_NAMES[lane]


def lane_heading(lane: str) -> str:
    """`p1` → first, `p2` → second, a finger → its letter: what stands over its column."""
    return ORDINALS[int(lane[1:]) - 1] if len(lane) > 1 else lane


_SHORT = {1: "root", 2: "2nd", 3: "3rd"}


def short_degree(degree: str) -> str:
    """`1` → root, `b3` → ♭3rd, `5` → 5th: for narrow places."""
    number = int(degree.lstrip("#b"))
    sign = degree[: len(degree) - len(str(number))].replace("b", "♭").replace("#", "♯")
    return sign + _SHORT.get(number, f"{number}th")


def listed(words: list[str]) -> str:
    """`a`, `a and b`, `a, b and c`."""
    return words[0] if len(words) == 1 else f"{', '.join(words[:-1])} and {words[-1]}" if words else ""


_VALUES = {
    Fraction(1, 2): "halves", Fraction(1, 4): "quarters", Fraction(1, 8): "eighths", Fraction(1, 16): "sixteenths",
    Fraction(1, 32): "thirty-seconds", Fraction(1, 12): "triplets", Fraction(3, 8): "dotted quarters",
}  # fmt: skip
_SPOKEN = {2: "1 &", 3: "1 trip let", 4: "1 e & a"}


def places_name(count: int, meter: Meter) -> str:
    """What so many places to a beat are called: `eighths (1 &)`; `eighths` in 6/8, where a beat has three."""
    name = _VALUES.get(meter.tempo_beat / count)
    if name is None:
        return f"{count} to a beat"
    spoken = _SPOKEN.get(count) if meter.tempo_beat == Fraction(1, 4) else None
    return f"{name} ({spoken})" if spoken else name
