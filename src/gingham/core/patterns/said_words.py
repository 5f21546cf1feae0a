"""The words in which players of all schools say a pattern, as tables of phrases and what they mean.

A phrase is one or several words in lower case; its meaning is a token of the shorthand. Longer phrases are
tried first, and no phrase reaches over a comma.
"""

from __future__ import annotations

DIGITS = {
    "one": 1, "two": 2, "three": 3, "four": 4, "five": 5, "six": 6, "seven": 7, "eight": 8, "nine": 9,
    **{str(number): number for number in range(1, 10)},
}  # fmt: skip
COUNTS = {**DIGITS, **{str(number): number for number in range(10, 33)}}
"""Counted numbers: a bar has 32 at most."""
ORDINALS = {
    "first": 1, "second": 2, "third": 3, "fourth": 4, "fifth": 5, "sixth": 6, "1st": 1, "2nd": 2, "3rd": 3,
    "4th": 4, "5th": 5, "6th": 6,
}  # fmt: skip
FINGER_OF_NUMBER = {1: "i", 2: "m", 3: "a", 4: "c"}
THUMBS = frozenset({"thumb", "t", "p"})
BASSES = frozenset({"bass", "root"})
FINGERS = {
    "index": "i", "pointer": "i", "forefinger": "i", "i": "i", "middle": "m", "long": "m", "m": "m",
    "ring": "a", "r": "a", "a": "a", "little": "c", "pinky": "c", "pinkie": "c", "l": "c", "c": "c",
}  # fmt: skip
RESTS = frozenset({".", "_", "—", "rest", "wait", "pause", "silence", "nothing"})
DASHES = frozenset({"-", "–"})
STROKES = {
    ("down",): "d", ("d",): "d", ("downstroke",): "d", ("down", "stroke"): "d", ("down", "strum"): "d",
    ("down", "brush"): "d", ("down", "flick"): "d", ("strum", "down"): "d", ("brush", "down"): "d",
    ("flick", "down"): "d", ("brush",): "d", ("strum",): "d", ("flick",): "d", ("up",): "u", ("u",): "u",
    ("upstroke",): "u", ("up", "stroke"): "u", ("up", "strum"): "u", ("up", "brush"): "u",
    ("up", "flick"): "u", ("strum", "up"): "u", ("brush", "up"): "u", ("flick", "up"): "u",
    ("chuck",): "k", ("k",): "k", ("slap",): "k", ("thumb", "brush"): "p~", ("thumb", "strum"): "p~",
}  # fmt: skip
SUPPOSED = {
    ("pinch",): ("p+m", "spoken-pinch"),
    ("double",): ("i+m", "spoken-double"),
    ("single",): ("i", "spoken-single"),
    ("pick",): ("i", "spoken-pick"),
    ("pluck",): ("i", "spoken-pick"),
    ("up", "pick"): ("i", "spoken-pick"),
}
"""Phrases that leave open which finger: the token, and the reason that says what was supposed."""
PAIRS = {"outside": ("p1", "m"), "outer": ("p1", "m"), "inside": ("p2", "i"), "inner": ("p2", "i")}
ORNAMENTS = {("hammer", "on"): "^", ("hammer",): "^", ("pull", "off"): "_", ("pull",): "_"}
FILLERS = frozenset(
    {"then", "finger", "fingers", "the", "stroke", "strokes", "on", "with", "of", "pair", "string", "strings",
     "play", "together", "an"}
)  # fmt: skip
VERBS = frozenset({"pick", "pluck"})
ARTICLE_BEFORE = frozenset({"pinch", "rest", "chuck", "brush", "strum", "flick", "double", "single", "slap"})
COUNT_MARKS = frozenset({"count", "counted", "counting"})
SYLLABLES: dict[str, tuple[tuple[int, int], ...]] = {
    "and": ((1, 2),), "&": ((1, 2),), "e": ((1, 4),), "a": ((3, 4),), "ah": ((3, 4),), "uh": ((3, 4),),
    "la": ((1, 3),), "li": ((2, 3),), "trip": ((1, 3),), "let": ((2, 3),), "ta": ((1, 6), (1, 2), (5, 6)),
}  # fmt: skip
"""What is said between counted beats: the shares of the beat that may have passed."""
LIKELY_WORDS = sorted(
    {"thumb", "bass", "index", "pointer", "middle", "ring", "little", "pinky", "rest", "pinch", "double",
     "single", "outside", "inside", "down", "up", "brush", "strum", "flick", "chuck", "hammer", "pull",
     "pluck", "pick", "string", "first", "second", "third"}
)  # fmt: skip
"""Words to be offered for one that means nothing."""
