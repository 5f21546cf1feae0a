"""A plain-text chord chart read into sections: bars between lines, or chord names above words.

What a chart leaves unsaid is guessed, and every guess is listed, so that the player can put it right.
"""

from __future__ import annotations

import re
from itertools import pairwise

import msgspec

from gingham.core.errors import FileError, InputError
from gingham.core.free_names import told_apart
from gingham.core.music.chords import parse_chord
from gingham.core.music.meter import Meter
from gingham.core.pieces.chordline import HOLD, REPEAT, SILENCE, parse_chord_line
from gingham.core.reasons import Reason
from gingham.core.values import replace

MAX_CHARS = 100_000
MOST_SECTIONS = 200
_HEADING = re.compile(
    r"^\s*+(?:\[(?P<boxed>[^\]|]{1,60})\]|(?P<plain>[^\W0-9][\w '’-]{0,40})\s*:)\s*(?P<rest>.*)$"
)
_TIMES = re.compile(r"[(\[]?\s*+(?:[x×]\s*+([0-9]{1,2})|([0-9]{1,2})\s*+[x×])\s*+[)\]]?$", re.IGNORECASE)
_TIMES_WIDTH = 24  # how far before the end of a line the number of times can begin
_CAPO = re.compile(r"\bcapo\D{0,9}([0-9]{1,2})\b", re.IGNORECASE)
_NOTHING = ("NC", "N.C", "N.C.", "n.c.", "(N.C.)")
_SIGNS = {"-": HOLD, "/": HOLD, ".": HOLD, "%": REPEAT}


class ChartSection(msgspec.Struct, frozen=True, gc=False):
    """A stretch of a chart: its chord line as it can be typed, its words, how often it is played."""

    name: str
    chords: str
    words: tuple[str, ...] = ()
    times: int = 1


class Chart(msgspec.Struct, frozen=True, gc=False):
    """What was read. `guesses` say what the chart itself did not."""

    title: str
    capo: int
    sections: tuple[ChartSection, ...]
    guesses: tuple[Reason, ...]


def read_chart(text: str, meter: Meter, name: str = "") -> Chart:
    """Read a chart in meter `meter`.

    Raises
    ------
    FileError
        `chart-none` if there is no chord in it, `chart-long` if it is too long.
    """
    if len(text) > MAX_CHARS:
        raise FileError("chart-long", path=name, most=MAX_CHARS)
    reader = _ChartReader(meter)
    for line in text.expandtabs(4).splitlines():
        reader.line(line)
    sections = reader.finished()
    if not sections:
        raise FileError("chart-none", path=name)
    return Chart(reader.title, reader.capo, sections, tuple(dict.fromkeys(reader.guesses)))


class _Open(msgspec.Struct):
    """A section that is being gathered: bars of places, the words of each line."""

    name: str
    times: int
    bars: list[list[str]]
    words: list[str]


class _ChartReader:
    """Takes a chart line by line."""

    def __init__(self, meter: Meter) -> None:
        self.of = meter
        self.title, self.capo = "", 0
        self.guesses: list[Reason] = []
        self.done: list[_Open] = []
        self.now = _Open("", 1, [], [])
        self.waiting: list[int] = []
        """The columns of the chords of the line above, until its words come."""

    def line(self, text: str) -> None:
        """Take one line."""
        if not text.strip():
            self.waiting = []
            return
        heading = _HEADING.match(text)
        if heading and not is_chord_line(text):
            self._open(heading["boxed"] or heading["plain"] or "")
            text = heading["rest"]
        times = _times(text)
        if times and _has_chords(text[: times.start()]):
            self.now.times = _number(times)
            text = text[: times.start()]
        if not text.strip():
            return
        if "|" in text and _has_chords(text):
            self._bars(text)
        elif is_chord_line(text):
            self._over_words(text)
        else:
            self._words(text)

    def _open(self, name: str) -> None:
        times = _times(name)
        clean = name[: times.start()].strip() if times else name.strip()
        if self.now.bars or self.now.words:
            self.done.append(self.now)
        self.now = _Open(clean or "Part", _number(times) if times else 1, [], [])
        self.waiting = []

    def _bars(self, text: str) -> None:
        """A line with bar lines; what stands before the first one is left out if it is no chord."""
        begin = text.index("|")
        at = 0 if is_chord_line(text[:begin]) else begin
        self.waiting = []
        for match in re.finditer(r"[^|]+", text[at:]):
            words = re.findall(r"[^\s,:]+", match[0])
            if words:
                self.waiting.append(at + match.start())
                self.now.bars.append(self._places(words))

    def _places(self, words: list[str]) -> list[str]:
        """The chords of a bar, held so that they share it."""
        places = []
        for word in words:
            sign = _SIGNS.get(word, SILENCE if word in _NOTHING else word)
            if sign in (HOLD, REPEAT, SILENCE) or is_chord(sign):
                places.append(sign)
            else:
                self.guesses.append(Reason.of("chart-left-out", text=word[:40]))
        if REPEAT in places and (len(places) > 1 or not self.now.bars):
            places = [p for p in places if p != REPEAT]
        if not places or (places[0] == HOLD and not self.now.bars):
            places = [SILENCE, *places[1:]]
        beats = len(self.of.groups)
        if beats % len(places) and len(places) % beats:
            self.guesses.append(Reason.of("chart-places", bar=len(self.now.bars) + 1, given=len(places)))
            full = -(-len(places) // beats) * beats
            places = [places[0], *[HOLD] * (full - len(places)), *places[1:]]
        return places

    def _over_words(self, text: str) -> None:
        """Chord names without bars: each is taken for a bar."""
        self.waiting = []
        self.guesses.append(Reason.of("chart-bar-each"))
        for match in re.finditer(r"\S+", text):
            sign = SILENCE if match[0] in _NOTHING else _SIGNS.get(match[0], match[0])
            if sign != HOLD and (sign != REPEAT or self.now.bars):
                self.waiting.append(match.start())
                self.now.bars.append([sign])

    def _words(self, text: str) -> None:
        """Words: under the chords of the line above, or a heading fact before the first chord."""
        if not self.waiting:
            if not self.now.bars and not self.done:
                self._fact(text)
            else:
                self.now.words.append(_clean(text.strip()))
            return
        begins = _word_starts(text)
        cuts = [0, *(_word_start(text, begins, column) for column in self.waiting[1:]), len(text)]
        parts = [_clean(text[a:b].strip()) for a, b in pairwise(cuts)]
        self.now.words.append("| " + " | ".join(parts) + " |")
        self.waiting = []

    def _fact(self, text: str) -> None:
        if match := _CAPO.search(text):
            self.capo = min(int(match[1]), 12)
        elif not self.title:
            self.title = text.strip()[:200]

    def finished(self) -> tuple[ChartSection, ...]:
        """The sections; unnamed ones named, ones of a name that is taken told apart."""
        if self.now.bars or self.now.words:
            self.done.append(self.now)
        out: list[ChartSection] = []
        taken: set[str] = set()
        for each in (o for o in self.done[:MOST_SECTIONS] if o.bars):
            if not each.name:
                self.guesses.append(Reason.of("chart-name"))
            name = told_apart(each.name or "Part", taken)
            taken.add(name)
            line = "| " + " | ".join(" ".join(bar) for bar in each.bars) + " |"
            out.append(self._checked(ChartSection(name, line, tuple(each.words), min(each.times, 99))))
        return tuple(out)

    def _checked(self, section: ChartSection) -> ChartSection:
        """A line that can be read; if not, its bars one by one, the others silent."""
        try:
            parse_chord_line(section.chords, self.of)
        except InputError as error:
            part = section.chords[error.start : error.end][:40]
            self.guesses.append(Reason.of("chart-left-out", text=part))
        else:
            return section
        bars = []
        for bar in section.chords.strip("| ").split("|"):
            try:
                parse_chord_line(f"| {bar.strip()} |", self.of)
                bars.append(bar.strip())
            except InputError:
                bars.append(SILENCE)
        return replace(section, chords="| " + " | ".join(bars) + " |")


def _times(text: str) -> re.Match[str] | None:
    """The number of times at the end of a line; only the end is looked at, however long the line is."""
    end = len(text.rstrip())
    return _TIMES.search(text, max(0, end - _TIMES_WIDTH), end)


def _number(times: re.Match[str]) -> int:
    return max(1, int(times[1] or times[2]))


def _clean(text: str) -> str:
    return text.replace("|", "/")[:1000]


def _word_starts(text: str) -> list[int]:
    """For each column where its word begins: behind a blank or a hyphen."""
    out, begin = [], 0
    for at in range(len(text)):
        if at and (text[at - 1].isspace() or text[at - 1] == "-"):
            begin = at
        out.append(begin)
    return out


def _word_start(text: str, begins: list[int], column: int) -> int:
    """Where the word begins that stands at a column, so that none is cut."""
    at = min(column, len(text))
    return at if at == len(text) or text[at].isspace() else begins[at]


def is_chord(word: str) -> bool:
    """Whether a word can be read as a chord symbol."""
    try:
        return bool(parse_chord(word))
    except InputError:
        return False


def is_chord_line(text: str) -> bool:
    """Whether a line holds chord names and nothing else."""
    times = _times(text)
    words = [w for w in re.findall(r"[^\s|]+", text[: times.start()] if times else text) if w not in _SIGNS]
    return bool(words) and all(is_chord(w) or w in _NOTHING for w in words)


def _has_chords(text: str) -> bool:
    words = re.findall(r"[^\s|:]+", text)
    chords = sum(is_chord(w) or w in _SIGNS or w in _NOTHING for w in words)
    return chords * 2 >= len(words) > 0
