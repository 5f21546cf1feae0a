"""A pattern said in any school's words, and how it most likely sits on the beats.

What is said becomes an order of strokes. The likeliest reading puts the thumb on the counted beats and
fingers between, down-strokes and chucks on the beats, up-strokes between; then comes half a bar that comes
twice, then an even spread, then one with rests (see `figures`).
"""

from __future__ import annotations

import re

import msgspec

from gingham.core.errors import PatternError
from gingham.core.music.meter import SLOT_COUNTS, Meter, meter
from gingham.core.patterns.figures import Way, ways
from gingham.core.patterns.pattern import Pattern, Pluck, Slot, StringStroke, Sweep
from gingham.core.patterns.shorthand import read_slot
from gingham.core.reasons import Reason
from gingham.core.values import replace

MOST_WORDS = 200
_FOUR = meter(4, 4)
_THUMB = frozenset({"thumb", "t", "p", "bass", "b"})
_FINGERS = {
    "index": "i", "pointer": "i", "i": "i", "middle": "m", "m": "m", "ring": "a", "r": "a", "a": "a",
    "little": "c", "pinky": "c", "l": "c", "c": "c",
}  # fmt: skip
_NUMBERS = {"1": "i", "one": "i", "2": "m", "two": "m", "3": "a", "three": "a", "4": "c", "four": "c"}
_HIGH = ("5", "6", "7", "8", "9")  # no finger is called so
_DIGITS = {"one": "1", "two": "2", "three": "3", "four": "4", "five": "5", "six": "6"}
_STROKES = {
    "down": "d", "d": "d", "brush": "d", "strum": "d", "flick": "d", "up": "u", "u": "u", "chuck": "k",
    "k": "k", "slap": "k", "pinch": "p+m", "double": "i+m", "rest": ".", "wait": ".", ".": ".",
}  # fmt: skip
_PAIRS = {"outside": ("p", "m"), "outer": ("p", "m"), "inside": ("p", "i"), "inner": ("p", "i")}
_FOUR_PAIRS = {"outside": ("p1", "m"), "outer": ("p1", "m"), "inside": ("p2", "i"), "inner": ("p2", "i")}
_LETTERS = {
    6: {"e": "6", "a": "5", "d": "4", "g": "3", "b": "2"},
    4: {"g": "4", "c": "3", "e": "2", "a": "1"},
}
_FILLER = frozenset({"then", "and", "finger", "string", "strings", "the", "stroke", "on", "with"})


class Said(msgspec.Struct, frozen=True, gc=False):
    """What was understood as tokens, what had to be supposed, and the ways to sit it, likeliest first."""

    tokens: tuple[str, ...]
    supposed: tuple[Reason, ...]
    ways: tuple[Way, ...]


def read_said(text: str, strings: int = 6, given: Meter | None = None) -> Said:
    """Read what a player says for an instrument of so many strings; `given` None leaves the meter open.

    Raises
    ------
    PatternError
        With `start` and `end` on the word that means nothing.
    """
    words = _words(text)
    if not words:
        raise PatternError("spoken-empty", start=0, end=len(text))
    if len(words) > MOST_WORDS:
        raise PatternError("spoken-long", start=words[MOST_WORDS][1], end=len(text), most=MOST_WORDS)
    tokens, supposed = _Reader(words, strings).tokens()
    slots = tuple(() if token == "." else read_slot(token) for token in tokens)
    if not any(slots):
        raise PatternError("spoken-empty", start=0, end=len(text))
    return Said(tokens, supposed, said_ways(slots, given, strings))


def _words(text: str) -> list[tuple[str, int]]:
    """The words with their places. Full stops, commas and dashes part them; one standing alone is a rest."""
    out = []
    for match in re.finditer(r"[^\s,;:–—]+", text):
        word = match[0] if match[0] in (".", "-") else match[0].strip(".-")
        if word:
            out.append(("." if word in (".", "-") else word, match.start()))
    return out


class _Reader:
    """Reads words one after the other; schools may be mixed."""

    def __init__(self, words: list[tuple[str, int]], strings: int) -> None:
        self.words, self.strings = words, strings
        low = [word.lower() for word, _ in words]
        self.thumbed = any(part in _THUMB - {"bass"} for word in low for part in word.split("+"))
        numbers = [_DIGITS.get(word, word) for word in low]
        high = any(number in _HIGH for number in numbers)
        self.of_strings = high or not self.thumbed or "string" in low or "strings" in low
        letters = _LETTERS.get(strings, {})
        self.lettered = all(word in letters or word in ("low", "high") for word in low) and bool(
            {"e", "g", "b"} & set(low)
        )
        self.pinched = False

    def tokens(self) -> tuple[tuple[str, ...], tuple[Reason, ...]]:
        """The shorthand of every word, and what was supposed."""
        out: list[str] = []
        index = 0
        while index < len(self.words):
            word, at = self.words[index]
            low = word.lower()
            after = self.words[index + 1][0].lower() if index + 1 < len(self.words) else ""
            if low in ("low", "high") and after == "e":
                out.append(str(self.strings) if low == "low" else "1")
                index += 2
                continue
            joined = self._joined(index)
            if joined is not None:
                out.append(joined)
                index += 3
                continue
            if low not in _FILLER:
                out += self._of(word, at)
            index += 1
        return tuple(out), (Reason.of("spoken-pinch"),) if self.pinched else ()

    def _joined(self, index: int) -> str | None:
        """`middle and ring`: two fingers at once; None if that is not what stands here."""
        if index + 2 >= len(self.words) or self.words[index + 1][0].lower() != "and":
            return None
        one, other = (self._finger(self.words[i][0].lower()) for i in (index, index + 2))
        return f"{one}+{other}" if one is not None and other is not None else None

    def _of(self, word: str, at: int) -> list[str]:
        low = word.lower().rstrip("!")
        accent = "!" * (len(word) - len(word.rstrip("!")))
        pairs = _PAIRS if self.strings != 4 else _FOUR_PAIRS
        if low in pairs:
            return [f"{token}{accent}" for token in pairs[low]]
        if self.lettered:
            return [_LETTERS[self.strings][low] + accent]
        if low in _STROKES:
            self.pinched = self.pinched or low == "pinch"
            return ["+".join(f"{part}{accent}" if part != "." else part for part in _STROKES[low].split("+"))]
        parts = [self._finger(part) for part in low.split("+")]
        if None in parts:
            raise PatternError("spoken-word", start=at, end=at + len(word), text=word, naming="words")
        return ["+".join(f"{part}{accent}" for part in parts)]

    def _finger(self, word: str) -> str | None:
        """A finger, the thumb, or a string."""
        if word in _THUMB:
            return "p"
        if word in _FINGERS:
            return _FINGERS[word]
        digit = _DIGITS.get(word, word)
        if self.of_strings:
            return digit if digit in "123456789"[: self.strings] and len(digit) == 1 else None
        return _NUMBERS.get(word)


# How it sits.


def said_ways(slots: tuple[Slot, ...], given: Meter | None, strings: int = 6) -> tuple[Way, ...]:
    """The ways to sit an order of strokes, the likeliest first."""
    found: list[Way] = []
    thumbs = sum(_on_beat(slot, strings) for slot in slots)
    if given is None and len(slots) == 6 and thumbs == 1:
        found.append(_whole(meter(6, 8), (3,), slots, "said-even"))
    for each in (given,) if given is not None else (_FOUR, meter(3, 4), meter(2, 4)):
        found += _by_beats(slots, each, strings)
        found += _evenly(slots, each, strings)
    found += [way for each in ((given,) if given is not None else (_FOUR,)) for way in ways(slots, each)]
    known: dict[object, Way] = {}
    for way in found:
        known.setdefault((replace(way.pattern, breaks=()), way.align), way)
    return tuple(known.values())


def _on_beat(slot: Slot, strings: int) -> bool:
    """Whether a stroke belongs on a counted beat: the thumb, a down-stroke, a chuck, a bass string."""
    for stroke in slot:
        if isinstance(stroke, Pluck) and stroke.finger == "p":
            return True
        if isinstance(stroke, Sweep) and stroke.kind != "brush-up":
            return True
        if isinstance(stroke, StringStroke) and stroke.string > strings // 2:
            return True
    return False


def _by_beats(slots: tuple[Slot, ...], given: Meter, strings: int) -> list[Way]:
    """Thumb and down-strokes on the beats, one stroke between where there is one."""
    beats: list[list[Slot]] = []
    for slot in slots:
        if _on_beat(slot, strings):
            beats.append([slot])
        elif not beats or len(beats[-1]) > 1:
            return []
        else:
            beats[-1].append(slot)
    laid = tuple(slot for beat in beats for slot in (*beat, *(((),) * (2 - len(beat)))))
    count = len(given.groups)
    if len({*given.groups}) > 1 or given.groups[0] != 1:
        return []
    if len(beats) % count == 0:
        return [_whole(given, (2,), laid, "said-beats")]
    if 2 * len(beats) == count:
        return [_whole(given, (2,), (*laid, *laid), "said-twice", breaks=(len(laid),))]
    return []


def _evenly(slots: tuple[Slot, ...], given: Meter, strings: int) -> list[Way]:
    """Half a bar that comes twice, then one bar of even strokes, if the thumb then lies on counted beats."""
    count, out = len(given.groups), list[Way]()
    if len({*given.groups}) > 1:
        return []
    for per_beat in SLOT_COUNTS:
        if 2 * len(slots) == count * per_beat:
            out.append(_whole(given, (per_beat,), (*slots, *slots), "said-twice", breaks=(len(slots),)))
    for per_beat in SLOT_COUNTS:
        if len(slots) == count * per_beat:
            out.append(_whole(given, (per_beat,), slots, "said-even"))
    return sorted(out, key=lambda way: (_off_beat(way.pattern, strings), way.pattern.per_beat[0] > 2))


def _off_beat(pattern: Pattern, strings: int) -> int:
    """How many strokes that belong on a beat lie between beats."""
    beats = set(pattern.meter.beat_starts)
    return sum(
        _on_beat(slot, strings) and pattern.starts[index] % pattern.meter.bar not in beats
        for index, slot in enumerate(pattern.slots)
    )


def _whole(
    given: Meter, per_beat: tuple[int, ...], slots: tuple[Slot, ...], code: str, breaks: tuple[int, ...] = ()
) -> Way:
    return Way(Reason.of(code), Pattern(given, per_beat, slots, breaks))
