"""Plain-text tablature in: Gingham's own to the slot, other people's as far as their columns tell.

A block is as many lines of dashes as there are strings. Counts under it give exact times; without them the
columns of a bar are taken as even, and that is said.
"""

from __future__ import annotations

import re
from bisect import bisect_left
from collections.abc import Iterator, Mapping
from fractions import Fraction
from functools import lru_cache
from itertools import pairwise
from math import gcd

import msgspec

from gingham.core.errors import FileError, InputError
from gingham.core.finding.part import SILENCE, Named, Part, PartBar, PartSection, Sounded, Sung
from gingham.core.formats.progress import MAX_BARS, USUAL_TEMPO, Tick, go_on, instrument_for
from gingham.core.formats.tab import HEADING, ORDER, SWEEPS, THUMB_BRUSH, WORDS
from gingham.core.free_names import told_apart
from gingham.core.instruments.instrument import CATALOGUE, Instrument
from gingham.core.music.chords import parse_chord
from gingham.core.music.meter import SLOT_COUNTS, Meter, count_at, meter, parse_meter, slot_lengths
from gingham.core.music.pitch import spell_pitch_class
from gingham.core.pieces.form import Turn, parse_turns
from gingham.core.pieces.lyrics import place_words
from gingham.core.reasons import Reason
from gingham.core.values import replace

MAX_BYTES = 4_000_000
MAX_COLUMNS = 4_000
_DIGITS = "0123456789"
_STRING = re.compile(
    r"^\s*+(?P<label>[A-Ga-g][#b♯♭]?[0-9]?)?\s*+[|:‖]?(?P<body>[-–—0-9xXhpsbr/\\~()|.*=^<> ]*[-–—]{2}.*)$"
)
_MARK = re.compile(r"(?P<how>[hpsHPS/\\^]?)(?P<fret>[0-9]{1,2}|[xX])")
_FACTS = re.compile(r"(?P<tuning>(?:[A-G][#b]*-?[0-9]\s+)+[A-G][#b]*-?[0-9])")
_KINDS = {"h": "hammer", "p": "pull", "s": "slide", "/": "slide", "\\": "slide"}
_SWEPT = {sign: kind for kind, sign in SWEEPS.items()} | {THUMB_BRUSH: "brush-down"}


def part_from_tab(text: str, name: str = "", tick: Tick | None = None) -> Part:
    """The part that a text tablature holds.

    Raises
    ------
    FileError
        No tablature in it, a block whose lines are not as many as there are strings, or bars that differ
        from line to line; says the line.
    """
    if len(text) > MAX_BYTES:
        raise FileError("file-large", path=name, most=MAX_BYTES // 1_000_000)
    lines = text.expandtabs(4).splitlines()
    wide = next((number for number, line in enumerate(lines, 1) if len(line) > MAX_COLUMNS), None)
    if wide is not None:
        raise FileError("tab-wide", path=name, line=wide, most=MAX_COLUMNS)
    return _TabReader(lines, name).part(tick)


class _Block(msgspec.Struct):
    """Lines of strings with what stands above and below; `line` is where it begins (from 1)."""

    line: int
    labels: list[str]
    strings: list[str]
    above: str = ""
    below: list[str] = msgspec.field(default_factory=list)


class _Section(msgspec.Struct):
    name: str
    blocks: list[_Block] = msgspec.field(default_factory=list)
    words: list[str] = msgspec.field(default_factory=list)


class _TabReader:
    def __init__(self, lines: list[str], name: str) -> None:
        self.lines, self.name = lines, name
        self.guesses: list[Reason] = []
        self.title = ""
        self.tuning: list[str] = []
        self.capo, self.tempo = 0, USUAL_TEMPO
        self.meter: Meter | None = None
        self.turns: tuple[Turn, ...] = ()
        self.sections: list[_Section] = []

    def part(self, tick: Tick | None) -> Part:
        """The whole part."""
        self._gather()
        blocks = [block for section in self.sections for block in section.blocks]
        if not blocks:
            raise FileError("tab-none", path=self.name)
        instrument = self._instrument(blocks)
        meter = self.meter or self._guessed_meter(blocks)
        made: dict[str, PartSection] = {}
        for number, section in enumerate(self.sections):
            go_on(tick, number / len(self.sections))
            cut = [bar for block in section.blocks for bar in self._bars(block, meter, instrument)]
            bars = [bar.made(may_be_short=index == 0) for index, bar in enumerate(cut)]
            if bars:
                whole = self._with_words(bars, section.words, meter)
                name = _free_name(section.name, tuple(whole), made)
                made[name] = PartSection(name, tuple(whole))
        if sum(len(s.bars) for s in made.values()) > MAX_BARS:
            raise FileError("part-long", path=self.name, most=MAX_BARS)
        turns = [t for t in self.turns if t.section in made] or [Turn(name) for name in made]
        ordered = tuple(PartSection(t.section, made[t.section].bars, max(1, t.times)) for t in turns[:500])
        return Part(self.title, instrument, self.capo, meter, self.tempo, ordered, tuple(self.guesses))

    # Lines.

    def _gather(self) -> None:
        """Sort the lines into headings, blocks, words."""
        index, count = 0, len(self.lines)
        self.sections = [_Section("")]
        while index < count:
            if _is_string(self.lines[index]):
                index = self._block(index)
                continue
            line = self.lines[index].strip()
            if line.startswith(ORDER):
                self.turns = parse_turns(line[len(ORDER) :])
            elif line == WORDS:
                while index + 1 < count and self.lines[index + 1].strip():
                    index += 1
                    self.sections[-1].words.append(self.lines[index].strip()[:2000])
            elif line.startswith(HEADING):
                self.sections.append(_Section(line[len(HEADING) :].strip()[:80]))
            elif line and not any(s.blocks for s in self.sections):
                self._fact(line)
            index += 1
        self.sections = [s for s in self.sections if s.blocks or s.words]

    def _fact(self, line: str) -> None:
        """A line before the first block: the title first, then tuning, capo, meter, tempo."""
        found = False
        if match := _FACTS.search(line):
            self.tuning, found = match["tuning"].split(), True
        if match := re.search(r"\bcapo\D{0,9}([0-9]{1,2})", line, re.I):
            self.capo, found = int(match[1]), True
        if match := re.search(r"\b([0-9]{1,2}/[248])\b", line):
            try:
                self.meter, found = parse_meter(match[1]), True
            except InputError as error:
                raise FileError("part-meter", path=self.name, meter=match[1]) from error
        if match := re.search(r"\b([0-9]{2,3})\s*(?:beats|bpm)", line, re.I):
            self.tempo, found = min(320, max(20, int(match[1]))), True
        if not found and not self.title:
            self.title = line[:200]

    def _block(self, index: int) -> int:
        """A block of string lines from `index` on; where the text goes on."""
        begin = index
        while index < len(self.lines) and _is_string(self.lines[index]):
            index += 1
        found = [_STRING.match(line) for line in self.lines[begin:index]]
        matches = [m for m in found if m is not None]
        block = _Block(begin + 1, [m["label"] or "" for m in matches], [])
        start = min(m.start("body") for m in matches)
        for line in self.lines[begin:index]:
            block.strings.append(line[start:].rstrip())
        above = self.lines[begin - 1] if begin and _is_chords(self.lines[begin - 1]) else ""
        block.above = above[start:]
        while index < len(self.lines) and len(block.below) < 3 and self.lines[index].strip():
            if _is_string(self.lines[index]):
                break
            block.below.append(self.lines[index][start:])
            index += 1
        self.sections[-1].blocks.append(block)
        return index

    def _instrument(self, blocks: list[_Block]) -> Instrument:
        sizes = [len(block.strings) for block in blocks]
        wanted = len(self.tuning) or (4 if sizes[0] == 4 else 6)
        for block in blocks:
            if len(block.strings) != wanted:
                raise FileError(
                    "tab-lines", path=self.name, line=block.line, given=len(block.strings), wanted=wanted
                )
        if self.tuning:
            instrument, _ = instrument_for(self.tuning, 0, self.name)
        else:
            instrument, _ = instrument_for(_tuning_of(blocks[0].labels), wanted, self.name)
            self.guesses.append(Reason.of("read-tuning", tuning=instrument.tuning_text()))
        if not 0 <= self.capo <= instrument.frets - 5:
            raise FileError("tab-capo", path=self.name, capo=self.capo)
        return instrument

    def _guessed_meter(self, blocks: list[_Block]) -> Meter:
        """From the counts of the first bar, else 4/4."""
        counts = _count_line(blocks[0])
        if counts is not None:
            first = counts[: (blocks[0].strings[0].find("|", 1) or len(counts))]
            numbers = [int(n) for n in re.findall(r"[0-9]{1,4}", first)]
            if numbers and 2 <= max(numbers) <= 12:
                top = max(numbers)
                return meter(top, 8) if "&" not in first and top in (6, 9, 12) else meter(top, 4)
        self.guesses.append(Reason.of("read-meter", meter="4/4"))
        return meter(4, 4)

    # Bars.

    def _bars(self, block: _Block, meter: Meter, instrument: Instrument) -> Iterator[_TabBar]:
        edges = [i for i, sign in enumerate(block.strings[0]) if sign in "|‖"]
        for offset, line in enumerate(block.strings[1:], 1):
            if [i for i, sign in enumerate(line) if sign in "|‖"] != edges:
                raise FileError("tab-ragged", path=self.name, line=block.line + offset)
        limits = [-1, *edges, len(block.strings[0])]
        spans = [(a + 1, b) for a, b in pairwise(limits) if b - a > 2]
        even = _common_step(block, spans)
        if not _count_line(block):
            self._say_even()
        for begin, end in spans:
            yield _TabBar(block, begin, end, meter, instrument, self.capo, even)

    def _say_even(self) -> None:
        reason = Reason.of("read-even")
        if reason not in self.guesses:
            self.guesses.append(reason)

    def _with_words(self, bars: list[PartBar], words: list[str], meter: Meter) -> list[PartBar]:
        try:
            placed = place_words(tuple(words), meter, len(bars))
        except InputError:
            return bars
        out = list(bars)
        for s in placed:
            if 1 <= s.bar <= len(bars):
                bar = out[s.bar - 1]
                sung = Sung(s.at, s.text, s.joins, s.verse)
                out[s.bar - 1] = PartBar(bar.length, bar.notes, bar.chords, (*bar.words, sung))
        return out


class _TabBar:
    """One bar of a block: the columns from `begin` to `end`."""

    def __init__(
        self,
        block: _Block,
        begin: int,
        end: int,
        meter: Meter,
        instrument: Instrument,
        capo: int,
        even: tuple[int, int],
    ) -> None:
        self.block, self.begin, self.end, self.of, self.on, self.capo = (
            block,
            begin,
            end,
            meter,
            instrument,
            capo,
        )
        self.even = even
        """Columns before the first place of a bar, and columns from one place to the next."""
        self.marks = [
            (match.start(), string, match)
            for string, line in enumerate(block.strings, 1)
            for match in _MARK.finditer(line, begin, end)
        ]
        self.begins = Fraction(0)
        """The time of the first count."""
        self.times = self._times()

    def made(self, *, may_be_short: bool) -> PartBar:
        """The bar's notes and chords; a first one whose count does not begin at 1 is a pick-up."""
        bar = self._whole()
        missing = self.begins if may_be_short else Fraction(0)
        if not missing or any(note.at < missing for note in bar.notes):
            return bar
        return PartBar(
            self.of.bar - missing,
            tuple(replace(note, at=note.at - missing) for note in bar.notes),
            tuple(replace(chord, at=max(Fraction(0), chord.at - missing)) for chord in bar.chords),
        )

    def _whole(self) -> PartBar:
        notes = [note for note in map(self._note, self.marks) if note is not None]
        notes = self._with_fingers(notes)
        ordered = tuple(sorted(notes, key=lambda n: (n.at, -(n.string or 0))))
        return PartBar(self.of.bar, ordered, tuple(self._chords()))

    def _times(self) -> dict[int, Fraction]:
        """The time of every column at which something is struck."""
        counts = _count_line(self.block)
        columns = sorted({column for column, _, _ in self.marks})
        if counts is None:
            return self._even(columns)
        anchors: list[tuple[int, Fraction]] = []
        beat = ""
        for match in re.finditer(r"\S+", counts[self.begin : self.end]):
            token = match[0]
            at = _positions(self.of).get(token, _positions(self.of).get(beat + token))
            if token[0] in _DIGITS:
                beat = token[: len(token) - len(token.lstrip(_DIGITS))]
            if at is not None:
                anchors.append((self.begin + match.start(), at))
        if not anchors:
            return self._even(columns)
        self.begins = anchors[0][1]
        return {column: self._between(anchors, column) for column in columns}

    def _between(self, anchors: list[tuple[int, Fraction]], column: int) -> Fraction:
        """The time of a column with a count of its own, else between its neighbours."""
        index = bisect_left(anchors, column, key=lambda anchor: anchor[0])
        if index < len(anchors) and anchors[index][0] == column:
            return anchors[index][1]
        low = anchors[index - 1] if index else (self.begin, Fraction(0))
        high = anchors[index] if index < len(anchors) else (self.end, self.of.bar)
        share = Fraction(column - low[0], max(1, high[0] - low[0]))
        between = low[1] + (high[1] - low[1]) * share
        half = low[1] + (high[1] - low[1]) / 2
        return half if low[1] < half < high[1] and column != low[0] else between

    def _even(self, columns: list[int]) -> dict[int, Fraction]:
        """Columns of equal time: so many to a place as all notes of the block have in common."""
        lead, step = self.even
        beats = len(self.of.groups)
        width = self.end - self.begin - lead
        allowed = [beats * per_beat for per_beat in SLOT_COUNTS]
        count = min(allowed, key=lambda n: (abs(n - width / step), n))
        out = {}
        for column in columns:
            place = min(round((column - self.begin - lead) / step), count - 1)
            out[column] = self.of.bar * Fraction(max(0, place), count)
        return out

    def _note(self, mark: tuple[int, int, re.Match[str]]) -> Sounded | None:
        column, string, match = mark
        at = self.times.get(column)
        if at is None:
            return None
        if match["fret"] in "xX":
            return Sounded(at, None, string, None, "", "chuck")
        fret = int(match["fret"])
        if fret > self.on.frets - self.capo:
            return None
        kind = _KINDS.get(match["how"].lower(), "pluck")
        return Sounded(at, self.on.open_midi(string) + self.capo + fret, string, fret, "", kind)

    def _with_fingers(self, notes: list[Sounded]) -> list[Sounded]:
        """The letters under a column, the lowest one for the highest string number."""
        line = next((b for b in self.block.below if _is_fingers(b)), None)
        if line is None:
            return notes
        out: list[Sounded] = []
        letters = {self.begin + m.start(): m[0] for m in re.finditer(r"\S+", line[self.begin : self.end])}
        together: dict[Fraction, list[Sounded]] = {}
        for note in notes:
            together.setdefault(note.at, []).append(note)
        for column, at in self.times.items():
            here = sorted(together.get(at, ()), key=lambda n: -(n.string or 0))
            names = letters.get(column, "")
            sweep = next((sign for sign in names if sign in _SWEPT), "")
            fingers = [sign for sign in names if sign in "pimac"]
            plucked = [n for n in here if n.kind == "pluck"]
            for note in here:
                if note.kind != "pluck" or not (fingers or sweep):
                    out.append(note)
                    continue
                index = plucked.index(note)
                if index < len(fingers):
                    out.append(replace(note, finger=fingers[index]))
                elif sweep:
                    who = "p" if sweep == THUMB_BRUSH else "i"
                    out.append(replace(note, finger=who, kind=_SWEPT[sweep]))
                else:
                    out.append(note)
        return out

    def _chords(self) -> Iterator[Named]:
        """The names above, each at the last beat that begins at its column or before."""
        beats, at = [], Fraction(0)
        for length in self.of.beats:
            beats += [at, at + length / 2]
            at += length
        columns = sorted(self.times)
        done: set[Fraction] = set()
        for match in re.finditer(r"\S+", self.block.above[self.begin : self.end]):
            if not _is_symbol(match[0]):
                continue
            column = self.begin + match.start()
            before = [self.times[c] for c in columns if c <= column]
            found = max((b for b in beats if b <= before[-1]), default=Fraction(0)) if before else Fraction(0)
            if found not in done:
                done.add(found)
                yield Named(found, match[0])


def _free_name(name: str, bars: tuple[PartBar, ...], made: dict[str, PartSection]) -> str:
    """`name`, or with a number where other bars have it already."""
    return told_apart(name, [other for other, part in made.items() if part.bars != bars]).strip()


def _common_step(block: _Block, spans: list[tuple[int, int]]) -> tuple[int, int]:
    """(columns before a bar's first note, the columns that all distances between notes are made of)."""
    inside = [
        {match.start() - begin for line in block.strings for match in _MARK.finditer(line, begin, end)}
        for begin, end in spans
    ]
    lead = min((min(columns) for columns in inside if columns), default=0)
    step = gcd(*(column - lead for columns in inside for column in columns))
    return lead, max(1, step)


@lru_cache(maxsize=64)
def _positions(meter: Meter) -> Mapping[str, Fraction]:
    """The position of every count that a bar can have."""
    out: dict[str, Fraction] = {}
    for per_beat in SLOT_COUNTS:
        at = Fraction(0)
        for length in slot_lengths(meter, (per_beat,)):
            out.setdefault(count_at(meter, at), at)
            at += length
    return out


def _is_string(line: str) -> bool:
    match = _STRING.match(line)
    if match is None:
        return False
    dashes = sum(line.count(sign) for sign in "-–—")
    return dashes * 3 >= len(line.strip())


def _is_symbol(word: str) -> bool:
    if word == SILENCE:
        return True
    try:
        return bool(parse_chord(word))
    except InputError:
        return False


def _is_chords(line: str) -> bool:
    words = line.split()
    return bool(words) and sum(map(_is_symbol, words)) * 2 > len(words)


def _is_fingers(line: str) -> bool:
    words = line.split()
    return bool(words) and all(set(word) <= set(f"pimac{''.join(_SWEPT)}") for word in words)


def _count_line(block: _Block) -> str | None:
    for line in block.below:
        words = line.split()
        if words and sum(w[0] in _DIGITS or w in "&+ea" for w in words) * 2 > len(words):
            return line
    return None


def _tuning_of(labels: list[str]) -> list[str]:
    """Pitches for the letters at the lines: each the one nearest to the usual string."""
    base = CATALOGUE["ukulele" if len(labels) == 4 else "guitar"]
    if len(labels) != base.strings or not all(labels):
        return []
    out = []
    for string, label in enumerate(labels, 1):
        letter = label[0].upper() + label[1:].rstrip(_DIGITS).replace("♯", "#").replace("♭", "b")
        usual = base.tuning[base.strings - string]
        pitch_class = next((n for n in range(12) if letter in _names(n)), None)
        if pitch_class is None:
            return []
        midi = usual.midi + (pitch_class - usual.midi + 6) % 12 - 6
        out.append(f"{letter}{(midi - _alter(letter)) // 12 - 1}")
    return list(reversed(out))


def _names(pitch_class: int) -> tuple[str, str]:
    return str(spell_pitch_class(pitch_class)), str(spell_pitch_class(pitch_class, flats=True))


def _alter(letter: str) -> int:
    return letter.count("#") - letter[1:].count("b")
