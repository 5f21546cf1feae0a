"""Names of degrees, fingers, lanes and notes as players say them."""

from __future__ import annotations

from fractions import Fraction

from gingham.core.hands.motor import takes_of
from gingham.core.music.meter import Meter
from gingham.language import tr, tr_c

_NUMBERS = {
    1: tr_c("numbers", "root"),
    2: tr_c("numbers", "second"),
    3: tr_c("numbers", "third"),
    4: tr_c("numbers", "fourth"),
    5: tr_c("numbers", "fifth"),
    6: tr_c("numbers", "sixth"),
    7: tr_c("numbers", "seventh"),
    9: tr_c("numbers", "ninth"),
    11: tr_c("numbers", "eleventh"),
    13: tr_c("numbers", "thirteenth"),
}
_ALTERED = {
    "b3": tr("minor third"),
    "b7": tr_c("altered", "seventh"),
    "7": tr("major seventh"),
    "b5": tr("flat fifth"),
    "#5": tr("sharp fifth"),
    "bb7": tr("diminished seventh"),
}
ORDINALS = (
    tr_c("ordinals", "first"),
    tr_c("ordinals", "second"),
    tr_c("ordinals", "third"),
    tr_c("ordinals", "fourth"),
    tr_c("ordinals", "fifth"),
    tr_c("ordinals", "sixth"),
    tr_c("ordinals", "seventh"),
    tr_c("ordinals", "eighth"),
    tr_c("ordinals", "ninth"),
)
FINGER_NAMES = {
    "p": tr_c("finger names", "thumb"),
    "i": tr_c("finger names", "index"),
    "m": tr_c("finger names", "middle"),
    "a": tr_c("finger names", "ring"),
    "c": tr("little finger"),
}
PICK_NAMES = {"down": tr_c("pick names", "down-stroke"), "up": tr_c("pick names", "up-stroke")}
PLUCKERS = {**FINGER_NAMES, **PICK_NAMES, "pick": tr("flat pick")}
"""Fingers, and the strokes of a flat pick."""
PICK_ROWS = {
    "p": tr_c("pick rows", "bass"),
    "i": tr("inner string"),
    "m": tr("next string"),
    "a": tr("outer string"),
    "c": tr_c("pick rows", "beyond"),
}
"""What the rows of a pattern are to a flat pick, which has no fingers."""
PICK_RULES = {"alternate": tr("down on the beat, up between"), "economy": tr("the way the next string lies")}

INSTRUMENT_NAMES = {
    "guitar": tr_c("instrument names", "Guitar"),
    "ukulele": tr_c("instrument names", "Ukulele"),
    "ukulele-low": tr("Ukulele, low 4th"),
    "ukulele-baritone": tr("Baritone ukulele"),
}
POLICY_NAMES = {
    "home": tr("stay at home"),
    "shift": tr("move over when the thumb needs string 3"),
    "follow:0": tr("follow the bass closely"),
    "follow:1": tr("follow one string off"),
    "named": tr("strings of my own"),
}
ACCENT_NAMES = {
    "thumb": tr("thumb strong, downbeat stronger"),
    "even": tr_c("accent names", "even"),
    "march": tr("marching: beats strong"),
    "lilt": tr("lilting: off-beats light"),
    "follow-i": tr("index follows through"),
    "follow-m": tr("middle follows through"),
    "follow-a": tr("ring follows through"),
}
COUNT_IN_NAMES = {
    "bar": tr("1 bar"),
    "subdivided": tr("1 bar, divided"),
    "two": tr("2 beats"),
    "ready": tr("a tone"),
}
TOUCH_NAMES = {
    "flesh": tr_c("touch names", "flesh"),
    "nail": tr_c("touch names", "nails"),
    "thumb-pick": tr("thumb pick"),
    "flat-pick": tr("flat pick"),
}
VOICE_NAMES = {
    "own": tr("the instrument’s strings"),
    "nylon": tr("nylon strings"),
    "steel": tr("steel strings"),
}
HAND_NAMES = {
    "pi": tr("thumb and index"),
    "pim": tr("thumb and two fingers"),
    "pima": tr("thumb and three fingers"),
    "pimac": tr("thumb and four fingers"),
    "pick": tr("flat pick"),
}
FIRST_NAMES = {
    "root": tr("root or slash"),
    "lowest": tr("lowest string"),
    "root-first": tr("root first (4 strings)"),
}
FOUR_STRING_NAMES = {
    "shift": tr("fingers move over"),
    "thumb-only": tr("only the thumb moves"),
    "literal": tr("only the first bass moves"),
    "block": tr("all strings at once"),
}
SUPPORT_NAMES = {
    "floating": tr("floats free"),
    "little-finger": tr("little finger on the top"),
    "resting": tr("fingers rest on their strings"),
}
TONE_NAMES = {
    "third": tr("root and third, else say so"),
    "named": tr("every tone of its name"),
    "few": tr("any two tones are enough"),
}
STRICT_NAMES = {
    "exact": tr("the very string"),
    "near": tr("any string of the held chord"),
}
STAND_IN_NAMES = {
    "all": tr("wherever they are easier"),
    "suiting": tr("only if they suit the neighbours"),
}
ALIGN_NAMES = {
    "bar": tr("from bar lines"),
    "chord": tr("from each chord"),
    "run": tr("runs on"),
}
SHAPE_NAMES = {"together": tr("to suit neighbours"), "alone": tr("each alone")}
HOLD_NAMES = {
    "plucked": tr("what is plucked"),
    "guides": tr("plucked, and guide fingers"),
    "whole": tr("the whole shape"),
}
MUDDY_NAMES = {
    "warn": tr("warn if they blur"),
    "avoid": tr("warn, take a clearer one"),
    "off": tr("do not warn"),
}
BLUR_NAMES = {110: tr("at the slightest"), 125: tr("as usual"), 140: tr("only when it is bad")}
"""From which roughness (in hundredths) two low notes are said to blur."""
LEVEL_NAMES = {
    "starting": tr("a beginner’s hand"),
    "growing": tr("a growing hand"),
    "fluent": tr("a fluent hand"),
}


def level_text(level: str) -> str:
    """A hand in words: one of the known ones, or the player's own with the number of takes behind it."""
    return LEVEL_NAMES.get(level) or tr("my hand, from {takes_of} takes", takes_of=takes_of(level))


def degree_name(degree: str) -> str:
    """`5` → fifth, `b3` → minor third, `#9` → sharp ninth."""
    if degree in _ALTERED:
        return _ALTERED[degree]
    number = int(degree.lstrip("#b"))
    word = _NUMBERS.get(number, str(number))
    sign = degree[: len(degree) - len(str(number))]
    return {"": "", "b": tr("flat "), "#": tr("sharp "), "bb": tr("double flat "), "##": tr("double sharp ")}[
        sign
    ] + word


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
        return tr("{ordinals} bass", ordinals=ORDINALS[int(lane[1:]) - 1])
    return FINGER_NAMES[lane]


def lane_heading(lane: str) -> str:
    """`p1` → first, `p2` → second, a finger → its letter: what stands over its column."""
    return ORDINALS[int(lane[1:]) - 1] if len(lane) > 1 else lane


_SHORT = {1: tr_c("short", "root"), 2: tr_c("short", "2nd"), 3: tr_c("short", "3rd")}


def short_degree(degree: str) -> str:
    """`1` → root, `b3` → ♭3rd, `5` → 5th: for narrow places."""
    number = int(degree.lstrip("#b"))
    sign = degree[: len(degree) - len(str(number))].replace("b", "♭").replace("#", "♯")
    return sign + _SHORT.get(number, tr("{number}th", number=number))


def listed(words: list[str]) -> str:
    """`a`, `a and b`, `a, b and c`."""
    return (
        words[0]
        if len(words) == 1
        else tr("{all_but_last} and {last}", all_but_last=", ".join(words[:-1]), last=words[-1])
        if words
        else ""
    )


_VALUES = {
    Fraction(1, 2): tr_c("values", "halves"), Fraction(1, 4): tr_c("values", "quarters"), Fraction(1, 8): tr_c("values", "eighths"), Fraction(1, 16): tr_c("values", "sixteenths"),
    Fraction(1, 32): tr_c("values", "thirty-seconds"), Fraction(1, 12): tr_c("values", "triplets"), Fraction(3, 8): tr("dotted quarters"),
}  # fmt: skip
_SPOKEN = {2: "1 &", 3: tr("1 trip let"), 4: tr("1 e & a")}


def places_name(count: int, meter: Meter) -> str:
    """What so many places to a beat are called: `eighths (1 &)`; `eighths` in 6/8, where a beat has three."""
    name = _VALUES.get(meter.tempo_beat / count)
    if name is None:
        return tr("{count} to a beat", count=count)
    spoken = _SPOKEN.get(count) if meter.tempo_beat == Fraction(1, 4) else None
    return f"{name} ({spoken})" if spoken else name
