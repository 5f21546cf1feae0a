"""A piece: instrument, meter, rules, patterns, sections, and the exceptions kept apart from them."""

from __future__ import annotations

from fractions import Fraction
from functools import lru_cache

import msgspec

from gingham.core.errors import EditError
from gingham.core.instruments.instrument import CATALOGUE, Instrument
from gingham.core.music.chords import Chord, parse_chord
from gingham.core.music.key import Key, guess_key
from gingham.core.music.meter import Meter, meter
from gingham.core.patterns.pattern import Pattern
from gingham.core.pieces.chordline import HOLD, REPEAT, SILENCE, ChordLine
from gingham.core.pieces.form import PRACTICE, Form, Turn
from gingham.core.pieces.lyrics import Syllable, TuneNote, place_words
from gingham.core.pieces.own_stages import OwnStage
from gingham.core.pieces.rules import OwnRules, Rules
from gingham.core.shapes.shape import Shape


class HereOverride(msgspec.Struct, frozen=True, gc=False):
    """One stroke changed at one place only.

    Addressed by section name, bar (from 1, pick-up 0), position `at` (of a whole note from the bar's
    start) and finger. `string` is where it goes; None keeps the stroke silent.
    """

    section: str
    bar: int
    at: Fraction
    finger: str
    string: int | None
    because: str = ""
    """Why, in the player's own words."""


class ChordOverride(msgspec.Struct, frozen=True, gc=False):
    """One finger or bass on another string for one chord, addressed by symbol and shape.

    `lane` is p1, p2, … for the basses or i, m, a, c for the fingers.
    """

    symbol: str
    shape: Shape
    lane: str
    string: int
    because: str = ""


class RulesOverride(msgspec.Struct, frozen=True, gc=False):
    """Another thumb plan, finger policy, first bass or hand for one chord, addressed by symbol and shape."""

    symbol: str
    shape: Shape
    own: OwnRules
    because: str = ""


Override = HereOverride | ChordOverride | RulesOverride


class Version(msgspec.Struct, frozen=True, gc=False):
    """The piece as it was once: when it was kept (ISO date and time), what had changed, its file's text."""

    when: str
    note: str
    text: str


class NamedPattern(msgspec.Struct, frozen=True, gc=False):
    """A pattern under the name by which sections refer to it."""

    name: str
    pattern: Pattern


class BarPattern(msgspec.Struct, frozen=True, gc=False):
    """Another pattern for one bar of a section (from 1): a fill, a turnaround, a bar that breaks off."""

    bar: int
    pattern: str


class Section(msgspec.Struct, frozen=True, gc=False):
    """A stretch of the piece with its own chord line: `pattern` names one of the piece's patterns.

    `own` are the choices that the section has of its own. `bars` are the bars that have a pattern of
    their own, `tune` the notes that are sung or that the part is to carry.
    """

    name: str
    chords: ChordLine
    pattern: str
    repeats: int = 1
    words: tuple[str, ...] = ()
    own: OwnRules = msgspec.field(default_factory=OwnRules)
    bars: tuple[BarPattern, ...] = ()
    tune: tuple[TuneNote, ...] = ()

    def pattern_in(self, bar: int) -> str:
        """The name of the pattern that a bar plays: its own, else the section's."""
        return next((own.pattern for own in self.bars if own.bar == bar), self.pattern)

    def placed_words(self, meter: Meter) -> tuple[Syllable, ...]:
        """Every syllable at its place in meter `meter`; WordsError if the words do not fit the bars."""
        pickup = self.chords.pickup.length if self.chords.pickup is not None else None
        return place_words(self.words, meter, len(self.chords.bars), self.repeats, pickup)

    def pattern_names(self) -> frozenset[str]:
        """Every pattern that the section plays somewhere."""
        return frozenset((self.pattern, *(own.pattern for own in self.bars)))


def standing_rules(piece: Piece, section: int) -> Rules:
    """The rules of a section: its own ones, else the piece's."""
    return piece.sections[section].own.over(piece.rules)


class Piece(msgspec.Struct, frozen=True, gc=False):
    """Everything a player made. `swing` is the first half's share of each beat (1/2 is straight)."""

    title: str
    sections: tuple[Section, ...]
    patterns: tuple[NamedPattern, ...]
    instrument: Instrument = msgspec.field(default_factory=lambda: CATALOGUE["guitar"])
    capo: int = 0
    meter: Meter = msgspec.field(default_factory=lambda: meter(4, 4))
    tempo: int = 80
    swing: Fraction = Fraction(1, 2)
    key: Key | None = None
    rules: Rules = msgspec.field(default_factory=Rules)
    overrides: tuple[Override, ...] = ()
    done: tuple[str, ...] = ()
    """Stages of practice that the player has marked as done: each as `done_entry` writes it."""
    performance: Form = msgspec.field(default_factory=Form)
    practice: Form = PRACTICE
    notes: str = ""
    """The player's own remarks on the piece."""
    stages: tuple[OwnStage, ...] = ()
    """Stages of practice that a teacher has put into it; they come before the program's."""
    versions: tuple[Version, ...] = ()
    """What the player has kept of it, the oldest first."""
    unknown: tuple[tuple[str, str, str, str], ...] = ()
    """What a file held that this program does not know: (list, item, field, JSON text), written back."""

    def form(self, practice: bool) -> Form:
        """The practice form, or that of a performance."""
        return self.practice if practice else self.performance

    def turns(self, practice: bool) -> tuple[Turn, ...]:
        """The turns of a form written out: those it names, else every section in the order it stands."""
        own = self.form(practice).turns
        return own or tuple(Turn(s.name, 1 if practice else s.repeats) for s in self.sections)

    def section_index(self, name: str) -> int:
        """Where the section called `name` stands; EditError if there is none."""
        for index, section in enumerate(self.sections):
            if section.name == name:
                return index
        raise EditError("no-section", name=name)

    def pattern(self, name: str) -> Pattern:
        """The pattern called `name`; EditError if the piece has none."""
        for named in self.patterns:
            if named.name == name:
                return named.pattern
        raise EditError("no-pattern", name=name)

    def shape_key(self) -> Key:
        """The key of the shapes: as set, else guessed from the chords."""
        return self.key or _guessed_key(_These(self.sections))

    def chords(self) -> tuple[Chord, ...]:
        """Every chord symbol of the piece in order of first appearance in each section."""
        return _chords_of(self.sections)


def _chords_of(sections: tuple[Section, ...]) -> tuple[Chord, ...]:
    marks = (HOLD, REPEAT, SILENCE)
    return tuple(
        parse_chord(place.symbol)
        for section in sections
        for bar in section.chords.bars
        for place in bar
        if place.symbol not in marks
    )


class _These:
    """Sections told apart by being these very ones: to compare hundreds of bars is slower than to guess."""

    def __init__(self, sections: tuple[Section, ...]) -> None:
        self.sections = sections

    def __hash__(self) -> int:
        return id(self.sections)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, _These) and self.sections is other.sections


@lru_cache(maxsize=8)
def _guessed_key(these: _These) -> Key:
    """The key that the chords suggest; words ask for it at every step of the cursor."""
    return guess_key(_chords_of(these.sections))
