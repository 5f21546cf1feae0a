"""Words of all schools into tokens of the shorthand, under one choice of what ambiguous ones mean."""

from __future__ import annotations

from itertools import pairwise, product
from typing import Literal

import msgspec

from gingham.core.errors import PatternError
from gingham.core.instruments.instrument import Instrument
from gingham.core.patterns.pattern import PickWay, StringStroke
from gingham.core.patterns.said_count import Word
from gingham.core.patterns.said_words import (
    ARTICLE_BEFORE,
    BASSES,
    DASHES,
    DIGITS,
    FILLERS,
    FINGER_OF_NUMBER,
    FINGERS,
    ORDINALS,
    ORNAMENTS,
    PAIRS,
    RESTS,
    STROKES,
    SUPPOSED,
    THUMBS,
    VERBS,
)
from gingham.core.patterns.shorthand import read_slot
from gingham.core.reasons import Reason

Numbers = Literal["fingers", "strings"]
Dashes = Literal["rests", "between"]
LastAnd = Literal["list", "pinch"]
_MOST_FINGER = 4
_LONGEST = 2  # words in the longest phrase of the tables
_PLAIN = frozenset("pimac")
_STRING = ("string", "strings")
_AT_ONCE, _JOINS = ("pinch", "double"), ("and", "&", "plus", "with")
_LONE = frozenset("pimactrldbku")  # single letters that are something else than a string's name


class Choice(msgspec.Struct, frozen=True, gc=False):
    """What ambiguous words mean: numbers after the thumb, dashes standing alone, an `and` before the last."""

    numbers: Numbers = "strings"
    dashes: Dashes = "rests"
    last_and: LastAnd = "pinch"


class Order(msgspec.Struct, frozen=True, gc=False):
    """Strokes in order as tokens (rests as `.`), what was supposed, and the ways of a flat pick if said."""

    tokens: tuple[str, ...]
    supposed: tuple[Reason, ...]
    picks: tuple[PickWay, ...] = ()


def choices(words: tuple[Word, ...], instrument: Instrument) -> list[Choice]:
    """The choices that these words leave open, the likeliest first."""
    return [
        Choice(*each)
        for each in product(_number_choices(words, instrument), _dash_choices(words), _and_choices(words))
    ]


def _number_choices(words: tuple[Word, ...], instrument: Instrument) -> list[Numbers]:
    """Numbers name fingers where the thumb is said too, strings after the word bass or beyond four.

    After `on`, as in `index on 3`, they can only be strings.
    """
    plain = [word.low.rstrip("!") for word in words if word.low not in ("the", "string")]
    lows = [low for low, before in zip(plain, ["", *plain], strict=False) if before != "on"]
    numbers = [n for low in lows for part in _digit_parts(low) if (n := DIGITS.get(part)) is not None]
    thumbed = any(part in THUMBS for low in lows for part in low.split("+"))
    if not numbers:
        return ["fingers"]
    if max(numbers) > _MOST_FINGER or any(low in BASSES for low in lows):
        return ["strings"]
    fits = max(numbers) <= instrument.strings
    if thumbed:
        return ["fingers", "strings"] if fits else ["fingers"]
    return ["strings", "fingers"] if fits else ["fingers"]


def _digit_parts(low: str) -> list[str]:
    """`6+2` and `62` name the same numbers."""
    return list(low) if set(low) <= set("123456789") else low.split("+")


def _dash_choices(words: tuple[Word, ...]) -> list[Dashes]:
    """Dashes between all words, and none at the end, part them; any others are rests."""
    dashed = [word.low in DASHES for word in words]
    between = (
        len(words) > 2
        and not dashed[0]
        and not dashed[-1]
        and all(one != other for one, other in pairwise(dashed))
    )
    if not any(dashed):
        return ["rests"]
    return ["between", "rests"] if between else ["rests"]


def _and_choices(words: tuple[Word, ...]) -> list[LastAnd]:
    """`thumb, index, middle and ring` is a list; any other `and` between two fingers joins them."""
    ands = [index for index, word in enumerate(words) if word.low == "and"]
    if not ands:
        return ["pinch"]
    last = len(ands) == 1 and ands[0] == len(words) - 2
    listed = last and len(words) > 3 and all(word.parted for word in words[1 : ands[0]])
    return ["list", "pinch"] if listed else ["pinch"]


def read_order(words: tuple[Word, ...], instrument: Instrument, choice: Choice) -> Order:
    """The strokes that the words say; PatternError on the word that means nothing."""
    return _Reader(words, instrument, choice).read()


class _Reader:
    """A cursor over the words."""

    def __init__(self, words: tuple[Word, ...], instrument: Instrument, choice: Choice) -> None:
        self.words, self.instrument, self.choice = words, instrument, choice
        self.at = 0
        self.out: list[str] = []
        self.pairs: list[int] = []
        self.picks: list[PickWay] = []
        self.supposed: list[Reason] = []
        self.letters = _letters(instrument)
        self.lettered = _lettered(words, self.letters)
        self.alone = len(words) == 1
        self.verbs = words[0].low in VERBS  # `pluck thumb, pluck index`; elsewhere a pluck is a finger's
        ambiguous = len(_number_choices(words, instrument)) > 1
        if ambiguous:
            self.supposed.append(Reason.of(f"spoken-numbers-{choice.numbers}"))
        if choice.dashes == "between":
            self.supposed.append(Reason.of("spoken-dashes"))
        if choice.last_and == "list":
            self.supposed.append(Reason.of("spoken-list"))

    def read(self) -> Order:
        """All words."""
        while self.at < len(self.words):
            self._step()
        strokes = sum(token not in (".", ";", "|") for token in self.out)
        picks = tuple(self.picks) if len(self.picks) == strokes else ()
        return Order(self._numbered_pairs(), tuple(dict.fromkeys(self.supposed)), picks)

    def _step(self) -> None:
        word = self.words[self.at]
        if word.low in RESTS or word.low in DASHES:
            if word.low not in DASHES or self.choice.dashes == "rests":
                self.out.append(".")
            self.at += 1
        elif word.low in (";", "|"):
            self.out.append(word.low)
            self.at += 1
        elif not (self._pinched() or self._joined() or self._phrase() or self._string_name()):
            self._single(word)

    # Several words.

    def _low(self, ahead: int, whole: bool = True) -> str:
        """The word so many places ahead; nothing where a comma stands before it (unless `whole` is false)."""
        index = self.at + ahead
        if index >= len(self.words) or (whole and ahead and self.words[index].parted):
            return ""
        return self.words[index].low

    def _phrase(self) -> bool:
        """A phrase of the tables, the longest first."""
        for length in range(_LONGEST, 0, -1):
            said = tuple(self._low(i).rstrip("!") if i == length - 1 else self._low(i) for i in range(length))
            if "" in said or (length == 1 and self.lettered and said[0] in self.letters):
                continue
            if self._of_tables(said, length):
                return True
        return False

    def _of_tables(self, said: tuple[str, ...], length: int) -> bool:
        if said in ORNAMENTS:
            return self._ornament(ORNAMENTS[said], length)
        if said in STROKES:
            return self._picked(said, length) or self._put(STROKES[said], length)
        if length == 1 and said[0] in PAIRS:
            accent = self._accent(1)
            self.pairs.append(len(self.out))
            self.out += [f"{token}{accent}" for token in PAIRS[said[0]]]
            self.at += 1
            return True
        if said in SUPPOSED and not (self.verbs and said[0] in VERBS):
            token, reason = SUPPOSED[said]
            self.supposed.append(Reason.of(reason))
            return self._put(token, length)
        if length == 2 and said[0] in ORDINALS:
            return self._ordinal(ORDINALS[said[0]], said[1])
        return False

    def _picked(self, said: tuple[str, ...], length: int) -> bool:
        """`down 6 up 3`: the ways of a flat pick, each with its string."""
        strings = self._low(1).rstrip("!").split("+")
        if length > 1 or said[0] not in ("down", "up") or self.choice.numbers != "strings":
            return False
        if not all(DIGITS.get(string, 99) <= self.instrument.strings for string in strings):
            return False
        self.picks.append("up" if said[0] == "up" else "down")
        return self._put("+".join(str(DIGITS[string]) for string in strings), 2)

    def _ordinal(self, number: int, noun: str) -> bool:
        """`first finger`, `second bass`."""
        if noun == "finger":
            if number not in FINGER_OF_NUMBER:
                raise self._fault("spoken-finger", self.words[self.at], self.words[self.at + 1])
            return self._put(FINGER_OF_NUMBER[number], 2)
        if noun in BASSES or noun == "thumb":
            return self._put(f"p{number}", 2)
        return False

    def _ornament(self, sign: str, length: int) -> bool:
        """A hammer-on or pull-off is made of the pluck before it."""
        if not self.out or self.out[-1][:1] not in _PLAIN:
            raise self._fault("spoken-ornament", self.words[self.at])
        accent = self._accent(length) or "!" * self.out[-1].count("!")
        self.out[-1] = self.out[-1].rstrip("!") + sign + accent
        self.at += length
        return True

    def _pinched(self) -> bool:
        """`pinch thumb and ring`, `pinch of index and middle`, `double middle and ring`."""
        if self._low(0) not in _AT_ONCE:
            return False
        begin = 2 if self._low(1) in ("of", "with") else 1
        if self._low(begin) == "the":
            begin += 1
        if begin > 1 and self._low(0) == "pinch" and self._low(begin + 1) not in _JOINS:
            finger = self._finger(self._low(begin))
            return finger is not None and finger != "p" and self._put(f"p+{finger}", begin + 1)
        if len(self._at_once(begin)[0]) < 2:
            return False
        self.at += begin
        return self._joined(sure=True)

    def _joined(self, sure: bool = False) -> bool:
        """`middle and ring`, `thumb on 6 and middle on 2`: at once; or one finger on its string."""
        tokens, length = self._at_once(0)
        if len(tokens) > 1 and not sure and self.choice.last_and == "list":
            tokens, length = self._at_once(0, most=1)
        if len(tokens) < 2 and not any("/" in token for token in tokens):
            return False
        fingers = {token[0] for token in tokens}
        if len(fingers) < len(tokens):  # one finger twice: they come one after the other
            self.out += tokens[:-1]
            return self._put(tokens[-1], length)
        return self._put("+".join(sorted(tokens, key=_rank)), length)

    def _at_once(self, ahead: int, most: int = 9) -> tuple[list[str], int]:
        """The fingers joined from a word on, with their strings where said, and how many words that is."""
        found, length = self._on_string(ahead)
        tokens = [found] if found is not None else []
        while tokens and len(tokens) < most and self._low(ahead + length) in _JOINS:
            found, more = self._on_string(ahead + length + 1)
            if found is None:
                break
            tokens.append(found)
            length += 1 + more
        return tokens, length

    def _on_string(self, ahead: int) -> tuple[str | None, int]:
        """A finger, `index on 3`, `thumb on the low E`: its token and how many words that is."""
        said = self._low(ahead).rstrip("!")
        finger = self._finger(said)
        if finger is None or said in DIGITS or self._low(ahead + 1) != "on":
            return finger, 1
        begin = ahead + (3 if self._low(ahead + 2) == "the" else 2)
        strings, words = self._strings_at(begin)
        low = self._low(begin).rstrip("!")
        if not strings and low in DIGITS:
            strings, words = (self._on_instrument(DIGITS[low], self.words[self.at + begin]),), 1
        elif not strings and low in self.letters:
            strings, words = self.letters[low], 1
        if not strings:
            return finger, 1
        return f"{finger}/{max(strings) if finger == 'p' else min(strings)}", begin - ahead + words

    def _strings_at(self, ahead: int) -> tuple[tuple[int, ...], int]:
        """`low E`, `string 3`, `third string`, `D string`: the strings of that name, and how many words."""
        low, after = self._low(ahead).rstrip("!"), self._low(ahead + 1).rstrip("!")
        if low in ("low", "high") and after in self.letters:
            named = self.letters[after]
            words = 3 if self._low(ahead + 2) in _STRING else 2
            return (max(named) if low == "low" else min(named),), words
        if low in _STRING and after in DIGITS:
            return (self._on_instrument(DIGITS[after], self.words[self.at + ahead + 1]),), 2
        number = DIGITS.get(low, ORDINALS.get(low)) if after in _STRING else None
        if number is not None:
            return (self._on_instrument(number, self.words[self.at + ahead]),), 2
        return (self.letters[low], 2) if after in _STRING and low in self.letters else ((), 0)

    def _string_name(self) -> bool:
        """`low E`, `D string`, `string 3`, `bass string 6`, a bare letter among letters."""
        strings, length = self._strings_at(0)
        low = self._low(0).rstrip("!")
        if not strings and self.lettered and low in self.letters:
            strings, length = self.letters[low], 1
        if not strings:
            return False
        string = strings[0]
        if len(strings) > 1:
            string = max(strings) if not any(token != "." for token in self.out) else min(strings)
            self.supposed.append(Reason.of("spoken-letter", word=self.words[self.at].text, string=string))
        return self._put(str(string), length)

    # One word.

    def _single(self, word: Word) -> None:
        low = word.low.rstrip("!")
        if (
            low in FILLERS
            or low in VERBS
            or (low in ("and", "&", "plus") and self.out)
            or (low == "a" and self._low(1) in ARTICLE_BEFORE)
        ):
            self.at += 1
        else:
            self.out += self._tokens(word, low)
            self.at += 1

    def _tokens(self, word: Word, low: str) -> list[str]:
        accent = self._accent(1)
        parts = low.split("+")
        fingers = [self._finger(part) for part in parts]
        if None not in fingers:
            names = [name for name in fingers if name is not None]
            if len(set(names)) < len(names):
                rest = "+".join(dict.fromkeys(names))
                raise self._fault("spoken-same", word, offered=rest)
            return ["+".join(f"{name}{accent}" for name in names)]
        glued = self._glued(word, low)
        if glued:
            return [token + accent for token in glued]
        if low in FINGER_WORDS_TOO_MANY:
            raise self._fault("spoken-finger", word)
        if self._is_shorthand(low):
            return ["+".join(f"{part}{accent}" for part in parts)]
        raise self._fault("spoken-word", word)

    def _glued(self, word: Word, low: str) -> list[str]:
        """`pimami`, `632`: letters or digits together; as the only word they follow, else sound at once."""
        names = [self._finger(char) for char in low]
        if len(low) < 2 or None in names or not (low.isalpha() or all(char in DIGITS for char in low)):
            return []
        found = [name for name in names if name is not None]
        if self.alone or len(set(found)) < len(found):
            self.supposed.append(Reason.of("spoken-apart", word=word.text))
            return found
        self.supposed.append(Reason.of("spoken-together", word=word.text))
        return ["+".join(found)]

    def _finger(self, word: str) -> str | None:
        """A finger, the thumb, or a string by its number."""
        if word in THUMBS or word in BASSES:
            return "p"
        if word in FINGERS and not (self.lettered and word in self.letters):
            return FINGERS[word]
        number = DIGITS.get(word)
        if number is not None:
            if self.choice.numbers == "fingers":
                return FINGER_OF_NUMBER.get(number)
            return str(number) if number <= self.instrument.strings else None
        ordinal = ORDINALS.get(word)
        return None if ordinal is None else FINGER_OF_NUMBER.get(ordinal)

    def _is_shorthand(self, token: str) -> bool:
        """Whether the shorthand knows a token whose strings are on the instrument."""
        try:
            strokes = read_slot(token, 0)
        except PatternError:
            return False
        named = [s.string for s in strokes if isinstance(s, StringStroke)]
        return all(string <= self.instrument.strings for string in named)

    def _on_instrument(self, string: int, word: Word) -> int:
        if string > self.instrument.strings:
            raise self._fault("spoken-word", word)
        return string

    # Results.

    def _accent(self, length: int) -> str:
        text = self.words[self.at + length - 1].text
        return "!" * min(2, len(text) - len(text.rstrip("!")))

    def _put(self, token: str, length: int) -> bool:
        accent = self._accent(length)
        self.out.append("+".join(f"{part}{accent}" for part in token.split("+")))
        self.at += length
        return True

    def _fault(self, code: str, word: Word, last: Word | None = None, **values: str) -> PatternError:
        end = (last or word).end
        text = word.text if last is None else f"{word.text} {last.text}"
        return PatternError(code, start=word.start, end=max(end, word.start + 1), text=text, **values)

    def _numbered_pairs(self) -> tuple[str, ...]:
        """The basses of the pairs by number only where the thumb's own count would not take them."""
        count, fits = 0, True
        for index, token in enumerate(self.out):
            if token[:1] != "p" or token.startswith("p~"):
                continue
            if index in self.pairs and token[1] != str(count % 2 + 1):
                fits = False
            count += 1
        if not fits:
            return tuple(self.out)
        out = list(self.out)
        for index in self.pairs:
            out[index] = out[index].replace("1", "", 1).replace("2", "", 1)
        return tuple(out)


FINGER_WORDS_TOO_MANY = frozenset(word for word, number in ORDINALS.items() if number > _MOST_FINGER)


def _rank(token: str) -> int:
    return "pimac".find(token[0])


def _letters(instrument: Instrument) -> dict[str, tuple[int, ...]]:
    """The strings of each letter of the tuning, in lower case."""
    out: dict[str, tuple[int, ...]] = {}
    for index, pitch in enumerate(instrument.tuning):
        letter = str(pitch).rstrip("-0123456789").lower()
        out[letter] = (*out.get(letter, ()), instrument.strings - index)
    return out


def _lettered(words: tuple[Word, ...], letters: dict[str, tuple[int, ...]]) -> bool:
    """Whether single letters name strings: none means anything else, and one can mean nothing else."""
    lone = {word.low.rstrip("!") for word in words if len(word.low.rstrip("!")) == 1 and word.low.isalpha()}
    own = {letter for letter in letters if letter not in _LONE}
    qualified = any(word.low in ("low", "high") and after.low in letters for word, after in pairwise(words))
    return lone <= {*letters, "t", "p"} and bool(
        lone & own or qualified or (len(lone) > 1 and lone <= {*letters})
    )
