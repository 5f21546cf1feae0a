"""What fitting gives: assignments per chord, events per bar, and what is in the way."""

from __future__ import annotations

from collections.abc import Container, Iterator, Sequence
from fractions import Fraction
from typing import Literal

import msgspec

from gingham.core.fitting.placing import BarPlan
from gingham.core.music.chords import Chord
from gingham.core.music.pitch import Note, Pitch
from gingham.core.patterns.pattern import Pattern, PickWay
from gingham.core.pieces.chordline import Span
from gingham.core.pieces.piece import Override, Piece
from gingham.core.pieces.rules import Accents, Hand, Hold, ThumbPlan, Tones
from gingham.core.reasons import Problem, Reason
from gingham.core.shapes.fretting import Fretting
from gingham.core.shapes.shape import Shape


class StringChoice(msgspec.Struct, frozen=True, gc=False):
    """The string of one bass or finger on one chord, why, and whether the player overruled the rule."""

    string: int
    reasons: tuple[Reason, ...]
    by_rule: int
    overridden: bool = False
    fret: int | None = None
    """A fret that is not the shape's (an opened string, a hop, a longer barre); None is the shape's own."""

    @property
    def way(self) -> str:
        """How a bass outside the shape is got: `open`, `barre`, `hop`, `fuller`; else empty."""
        return next(
            (str(r.value("way")) for r in self.reasons if self.fret is not None and r.value("way")), ""
        )


class Assignment(msgspec.Struct, frozen=True, gc=False):
    """What thumb and fingers mean on one chord.

    `sounding` is the chord's name above the capo, `cycle` the order in which bare thumb strokes take the
    basses (indices from 0), `variant` the pattern's variant that it plays (its `when`), `hand` what plucks,
    `hold` whether all of the shape is held, `accents` how loud, `tones` what the chord must sound.
    """

    chord: Chord
    sounding: Chord
    shape: Shape
    fretting: Fretting | None
    basses: tuple[StringChoice, ...]
    fingers: tuple[tuple[str, StringChoice], ...]
    cycle: tuple[int, ...]
    plan: ThumbPlan
    notes: tuple[Reason, ...] = ()
    variant: str | None = None
    hand: Hand = "pima"
    hold: Hold = "plucked"
    accents: Accents = "thumb"
    tones: Tones = "third"

    def fret(self, string: int) -> int | None:
        """The fret of a string as it is played: a bass may lie where the shape itself is silent."""
        own = self.shape.fret(string)
        if own is not None:
            return own
        return next((c.fret for c in self.basses if c.string == string and c.fret is not None), None)

    def unheard(self, heard: Container[str]) -> tuple[str, ...]:
        """The degrees that are missed where only those of `heard` sound, as the player asks of a chord."""
        degrees = [str(degree) for degree in self.chord.degrees]
        if self.tones == "few":
            return (
                () if sum(degree in heard for degree in degrees) > 1 else _root_and_third(self.chord, heard)
            )
        if self.tones == "named":
            return tuple(degree for degree in degrees if degree not in heard)
        return _root_and_third(self.chord, heard)

    def outside(self) -> dict[int, StringChoice]:
        """The basses on strings that the shape itself leaves silent, by string."""
        return {
            choice.string: choice
            for choice in self.basses
            if choice.fret is not None and self.shape.fret(choice.string) is None
        }

    def finger(self, name: str) -> StringChoice | None:
        """The string of a finger, None if this hand has no string for it."""
        return next((choice for finger, choice in self.fingers if finger == name), None)

    def lane(self, lane: str) -> StringChoice | None:
        """The choice for a lane name (p1, p2, …, i, m, a, c)."""
        if lane.startswith("p"):
            index = int(lane[1:]) - 1
            return self.basses[index] if index < len(self.basses) else None
        return self.finger(lane)


EventKind = Literal["pluck", "brush-down", "brush-up", "chuck", "hammer", "pull", "slide", "walk"]


class Event(msgspec.Struct, frozen=True, gc=False):
    """One string sounding at one place of a bar.

    `at` is the straight position from the bar's start, `lane` the bass number of a thumb stroke, `slot`
    the pattern's slot it comes from. `fret` and `pitch` are None on a string that the shape mutes.
    `instead` is the string of the stroke that a step of a walk takes the place of. `pick` is the direction of
    a flat pick, where one plucks: `finger` then only says which stroke of the pattern it is.
    """

    at: Fraction
    count: str
    finger: str | None
    lane: int | None
    string: int
    fret: int | None
    pitch: Pitch | None
    degree: str | None
    accent: int
    kind: EventKind
    slot: int
    overridden: bool = False
    silent: bool = False
    instead: int | None = None
    pick: PickWay | None = None

    @property
    def plucker(self) -> str | None:
        """What plucks it, for whoever reads: a finger, or a flat pick's `down` or `up`."""
        return self.pick or self.finger

    @property
    def plucked(self) -> bool:
        """Whether one finger of the picking hand plucks it: a pluck, or a step of a walk."""
        return self.kind in ("pluck", "walk")


class FittedBar(msgspec.Struct, frozen=True, gc=False):
    """A bar of the result; equal bars share one value. `spans` are indices into the result's spans."""

    number: int
    length: Fraction
    events: tuple[Event, ...]
    problems: tuple[Problem, ...]
    spans: tuple[int, ...]
    phases: tuple[tuple[Fraction, Fraction, Fraction], ...]
    """(at, length, phase): which part of the pattern lies where in the bar."""
    pattern: Pattern | None = None
    """The bar's own pattern, bare strings read into fingers; None where it plays the section's."""


def _root_and_third(chord: Chord, heard: Container[str]) -> tuple[str, ...]:
    third = next((str(degree) for degree in chord.degrees if degree.number == 3), None)
    return tuple(degree for degree in ("1", third) if degree is not None and degree not in heard)


class FittedSpan(msgspec.Struct, frozen=True, gc=False):
    """One span of the chord line with its assignment (None for silence), degrees heard, strings used.

    `faults` is what is wrong with the span as a whole, not with one of its plucks.
    """

    span: Span
    assignment: Assignment | None
    heard: tuple[str, ...]
    strings: frozenset[int]
    hold: Shape | None
    faults: tuple[Problem, ...] = ()


class Result(msgspec.Struct, frozen=True, gc=False):
    """The fitted section: bars and spans in order, and the overrides that found no stroke."""

    piece: Piece
    section: int
    pattern: Pattern
    """The section's pattern with bare strings read into fingers."""
    bars: Sequence[FittedBar]
    spans: Sequence[FittedSpan]
    asleep: tuple[Override, ...]
    plan: tuple[BarPlan, ...] = ()
    """How the section's pattern lies in the bars; the same object in results whose bars lie alike."""
    misfits: tuple[Problem, ...] = ()
    """The pinned shapes that have no places on this instrument, by span in order: faults known at once."""

    def pattern_in(self, bar: FittedBar) -> Pattern:
        """The pattern that a bar plays."""
        return self.pattern if bar.pattern is None else bar.pattern

    def span_at(self, bar: FittedBar, at: Fraction) -> int:
        """Index of the chord's span at a place of a bar."""
        found = bar.spans[0]
        for index in bar.spans[1:]:
            span = self.spans[index].span
            if span.bar == bar.number and span.at <= at:
                found = index
        return found

    def assignment_at(self, bar: FittedBar, at: Fraction) -> Assignment | None:
        """What thumb and fingers mean at a place of a bar; None in silence."""
        return self.spans[self.span_at(bar, at)].assignment

    def patterns(self) -> tuple[Pattern, ...]:
        """The section's pattern, and those that single bars have of their own."""
        return (self.pattern, *{id(pattern): pattern for _, pattern in self.own_patterns()}.values())

    def finest(self) -> Fraction:
        """The shortest slot of all its patterns, as a fraction of a whole note."""
        return min(pattern.finest for pattern in self.patterns())

    def own_patterns(self) -> list[tuple[int, Pattern]]:
        """The bars that have a pattern of their own, by number; only those are looked at."""
        section = self.piece.sections[self.section]
        if not section.bars or not self.bars:
            return []
        found = (self.bar(own.bar) for own in section.bars)
        return [(bar.number, bar.pattern) for bar in found if bar is not None and bar.pattern is not None]

    def index_of(self, number: int) -> int | None:
        """Where the bar of a number is among the bars; None if there is none."""
        if not self.bars:
            return None
        index = number - self.bars[0].number
        return index if 0 <= index < len(self.bars) else None

    def bar(self, number: int) -> FittedBar | None:
        """The bar of a number; None if there is none."""
        index = self.index_of(number)
        return None if index is None else self.bars[index]

    def named(self, number: int, event: Event) -> Note:
        """A sounding event's note by the name that it has in the shape, below the capo."""
        index = self.index_of(number)
        assert event.pitch is not None and index is not None
        on = self.assignment_at(self.bars[index], event.at)
        midi = event.pitch.midi - self.piece.capo
        return on.chord.tone_at(midi)[1] if on is not None else event.pitch.note

    def bars_of(self, span: int) -> Iterator[FittedBar]:
        """The bars in which a span sounds, in order."""
        index = self.index_of(self.spans[span].span.bar)
        while index is not None and index < len(self.bars) and span in self.bars[index].spans:
            yield self.bars[index]
            index += 1

    def events_on(self, span: int) -> Iterator[Event]:
        """What sounds while a span lasts, in order of bars."""
        for bar in self.bars_of(span):
            yield from (e for e in bar.events if not e.silent and self.span_at(bar, e.at) == span)

    def timed_bars(self) -> Iterator[tuple[Fraction, FittedBar]]:
        """Every bar after where it begins, in whole notes from the section's start."""
        begin = Fraction(0)
        for bar in self.bars:
            yield begin, bar
            begin += bar.length

    def length(self) -> Fraction:
        """How long the section is, in whole notes."""
        return sum((bar.length for bar in self.bars), Fraction(0))

    def time_of(self, number: int, at: Fraction) -> Fraction:
        """A place of a bar (number, whole notes from its start) in whole notes from the section’s start."""
        return sum((bar.length for bar in self.bars if bar.number < number), at)

    def problems(self) -> Iterator[tuple[int, Problem]]:
        """All problems with their bar number, in order of place."""
        by_bar: dict[int, list[Problem]] = {}
        for fitted in self.spans:
            if fitted.faults:
                by_bar.setdefault(fitted.span.bar, []).extend(fitted.faults)
        for bar in self.bars:
            for problem in sorted((*bar.problems, *by_bar.get(bar.number, ())), key=lambda p: p.at):
                yield bar.number, problem
