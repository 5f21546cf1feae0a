"""A pattern as players say it: finger words in any naming, string numbers, a bass word and strings, pairs.

What is said becomes tokens of the shorthand. Everything that had to be guessed is told, so that the player
can correct it. An order without meter stays an order: the grid is chosen later (see `figures`).
"""

from __future__ import annotations

import re

import msgspec

from gingham.core.errors import PatternError
from gingham.core.patterns.pattern import Pattern, Slot, StringStroke
from gingham.core.patterns.shorthand import parse_pattern, read_slot
from gingham.core.reasons import Reason

NAMINGS = ("pima", "letters", "numbers", "words", "strings", "bass-strings", "pairs")
MOST_WORDS = 400

_RESTS = frozenset({".", "-", "–", "—", "_", "rest", "wait"})
_LETTERS = {"t": "p", "i": "i", "m": "m", "r": "a", "l": "c"}
_NUMBERS = {"t": "p", "1": "i", "2": "m", "3": "a", "4": "c"}
_WORDS = {
    "thumb": "p", "bass": "p", "index": "i", "middle": "m", "ring": "a", "little": "c",
    "pinch": "p+m",
}  # fmt: skip
_BASS = frozenset({"t", "b", "p", "thumb", "bass", "root"})
_SWEEPS = {"k": "k", "chuck": "k", "slap": "k", "d": "d", "brush": "d", "strum": "d", "u": "u", "up": "u"}
_PAIRS = {"outside": ("p", "m"), "inside": ("p", "i")}
_HEAD = re.compile(r"\s*\S+\s+x[0-9,]+\s*:")


class Spoken(msgspec.Struct, frozen=True, gc=False):
    """What was understood: places in order, the grid if one was said, break points, and the guesses."""

    naming: str
    slots: tuple[Slot, ...]
    grid: Pattern | None
    guesses: tuple[Reason, ...]

    @property
    def strokes(self) -> int:
        """How many places are plucked."""
        return sum(1 for slot in self.slots if slot)

    @property
    def strings_only(self) -> bool:
        """Whether bare strings are among it, which need a chord to be read against."""
        return any(isinstance(stroke, StringStroke) for slot in self.slots for stroke in slot)


def read_spoken(text: str, naming: str | None = None) -> Spoken:
    """Read what a player says; `naming` None means that it is guessed from the words.

    Raises
    ------
    PatternError
        With `start` and `end` on the word that means nothing in this naming.
    """
    head = _HEAD.match(text)
    begin = head.end() if head else 0
    words = [(m[0], begin + m.start()) for m in re.finditer(r"[^\s,]+", text[begin:])]
    if not words:
        raise PatternError("spoken-empty", start=0, end=len(text))
    if len(words) > MOST_WORDS:
        raise PatternError("spoken-long", start=words[MOST_WORDS][1], end=len(text), most=MOST_WORDS)
    guesses: list[Reason] = []
    if naming is None:
        naming = guess_naming([word for word, _ in words])
        guesses.append(Reason.of("spoken-naming", naming=naming))
    tokens = [token for word, at in words for token in _tokens(word, at, naming, guesses)]
    if head:
        grid = parse_pattern(f"{head[0]} {' '.join(token for token, _ in tokens)}")
        return Spoken(naming, grid.slots, grid, tuple(guesses))
    slots = tuple(_slot(token, at) for token, at in tokens if token not in ";|")
    if not any(slots):
        raise PatternError("spoken-empty", start=0, end=len(text))
    return Spoken(naming, slots, None, tuple(dict.fromkeys(guesses)))


def _slot(token: str, at: int) -> Slot:
    return () if token == "." else read_slot(token, at)


def guess_naming(words: list[str]) -> str:
    """The naming that reads the most words; among equals the first of NAMINGS."""

    def read(naming: str) -> int:
        return sum(_token(word.rstrip("!").lower(), naming, []) is not None for word in words)

    if all(
        set(word.rstrip("!")) <= set("123456789+")
        for word in words
        if word.lower() not in (*_RESTS, *_SWEEPS)
    ):
        return "strings"
    # Letters that the shorthand shares with other namings (p i m) are read by several: the first one wins.
    return max(NAMINGS, key=lambda naming: (read(naming), -NAMINGS.index(naming)))


def _tokens(word: str, at: int, naming: str, guesses: list[Reason]) -> list[tuple[str, int]]:
    bare = word.rstrip("!")
    accent = "!" * min(2, len(word) - len(bare))
    token = _token(bare.lower(), naming, guesses)
    if token is None:
        raise PatternError("spoken-word", start=at, end=at + len(word), text=word, naming=naming)
    return [("+".join(f"{part}{accent}" for part in each.split("+")), at) for each in token.split()]


def _token(word: str, naming: str, guesses: list[Reason]) -> str | None:
    """The shorthand of one word without accent (several tokens for a pair of plucks); None if unknown."""
    if word in _RESTS:
        return "."
    if word in (";", "|"):
        return word
    if naming == "pima":
        return word if _reads(word) else None
    if word in _SWEEPS:
        return _SWEEPS[word]
    if naming == "pairs":
        return _pair(word)
    parts = [_part(part, naming) for part in word.split("+")]
    if None not in parts:
        token = "+".join(part for part in parts if part is not None)
        if word == "pinch":
            guesses.append(Reason.of("spoken-pinch"))
        return token
    together = [_part(char, naming) for char in word]
    if len(word) > 1 and None not in together and naming not in ("words", "bass-strings"):
        guesses.append(Reason.of("spoken-together", word=word))
        return "+".join(char for char in together if char is not None)
    return None


def _part(part: str, naming: str) -> str | None:
    """One finger or string of a place."""
    if naming == "letters":
        return _LETTERS.get(part)
    if naming == "numbers":
        return _NUMBERS.get(part)
    if naming == "words":
        return _WORDS.get(part)
    if naming == "bass-strings" and part in _BASS:
        return "p"
    return part if _is_string(part) else None


def _pair(word: str) -> str | None:
    """`outside` and `inside` are two plucks each, thumb then finger; `4-1` is one string after another."""
    if word in _PAIRS:
        return " ".join(_PAIRS[word])
    strings = word.split("-")
    if len(strings) == 2 and all(map(_is_string, strings)):
        return " ".join(strings)
    return None


def _is_string(word: str) -> bool:
    return len(word) == 1 and word in "123456789"


def _reads(word: str) -> bool:
    try:
        read_slot(word, 0)
    except PatternError:
        return False
    return True
