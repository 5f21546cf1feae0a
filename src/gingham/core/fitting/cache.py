"""What is kept between fits, so that an edit costs what it changes.

Bars of one kind (the same stretches on the same chords and grips) that the same thumb count comes into are
fitted once and shared; so a long piece costs little more than its different bars. The cache is an argument:
it belongs to one thread at a time and can be thrown away at any moment.
"""

from __future__ import annotations

from fractions import Fraction

import msgspec

from gingham.core.fitting.assign import Setting
from gingham.core.fitting.grip_cache import GripCache
from gingham.core.fitting.placing import BarPlan, Stretch, Where, place, where_spans
from gingham.core.fitting.result import Assignment, Event
from gingham.core.fitting.strokes import Carry, Known, Plucked, StretchFit
from gingham.core.music.key import Key
from gingham.core.patterns.pattern import Pattern
from gingham.core.pieces.chordline import Span
from gingham.core.pieces.piece import Piece, Section
from gingham.core.reasons import Problem
from gingham.core.shapes.context import Grip
from gingham.core.shapes.shape import Shape

_MOST_CONTEXTS = 32
_MOST_PLANS = 6
_MOST_KINDED = 24
_MOST_SETTINGS = 256


class Played(msgspec.Struct):
    """One chord with its assignment, the variant of the pattern it plays, and what is known of it so far."""

    assignment: Assignment
    pattern: Pattern
    known: Known = msgspec.field(default_factory=Known)


class BarFit(msgspec.Struct, frozen=True, eq=False, gc=False):
    """A kind of bar as it is played: its stretches joined, what it hands on, how it begins and ends."""

    parts: tuple[StretchFit | None, ...]
    events: tuple[Event, ...]
    problems: tuple[Problem, ...]
    carry: Carry
    head: Plucked
    tail: Plucked


class Summary(msgspec.Struct, frozen=True, gc=False):
    """What a span's stretches together come to."""

    heard: tuple[str, ...]
    strings: frozenset[int]
    hold: Shape
    missing: tuple[Problem, ...]


Seam = tuple[tuple[Problem, ...], BarFit, BarFit]
"""What is wrong between two bars, and the bars, kept so that their identity stays theirs."""
SpanFit = tuple[Summary, Played, tuple[StretchFit, ...]]
"""What a span comes to, and the chord and stretches that it was worked out from."""


class Context(msgspec.Struct):
    """What has been worked out for one set of rules, instrument, pattern and chord overrides.

    Keys use the identity of values that the context itself keeps alive.
    """

    played: dict[tuple[str, int], Played | None] = msgspec.field(default_factory=dict)
    grips: list[Grip | None] = msgspec.field(default_factory=list)
    stretches: dict[tuple[int, Stretch, Carry], StretchFit] = msgspec.field(default_factory=dict)
    bars: dict[tuple[int, Carry], BarFit] = msgspec.field(default_factory=dict)
    seams: dict[tuple[int, int], Seam] = msgspec.field(default_factory=dict)
    summaries: dict[tuple[int, ...], SpanFit] = msgspec.field(default_factory=dict)


class FitCache(msgspec.Struct):
    """Results kept between fits."""

    contexts: dict[object, Context] = msgspec.field(default_factory=dict)
    grips: GripCache = msgspec.field(default_factory=GripCache)
    placed: dict[object, tuple[tuple[Span, ...], tuple[BarPlan, ...]]] = msgspec.field(default_factory=dict)
    keyed: tuple[Key | None, tuple[Section, ...], Key] | None = None
    kinds: dict[object, int] = msgspec.field(default_factory=dict)
    kinded: dict[tuple[int, int], tuple[tuple[int, ...], object]] = msgspec.field(default_factory=dict)
    settings: dict[Setting, int] = msgspec.field(default_factory=dict)
    assigned: dict[tuple[int, str, int], tuple[Assignment, Grip, Known]] = msgspec.field(default_factory=dict)
    """Assignments that hold for any pattern, by number of the setting, symbol and grip."""
    placed_spans: tuple[tuple[BarPlan, ...], tuple[Where, ...]] | None = None
    pins: tuple[tuple[Span, ...], tuple[int, ...]] | None = None
    chorded: tuple[tuple[Grip | None, ...], tuple[int, ...], tuple[int, ...]] | None = None

    def context(self, key: object) -> Context:
        """The context under `key`, a new one if there is none; the oldest goes when there are many."""
        if key not in self.contexts:
            if len(self.contexts) >= _MOST_CONTEXTS:
                del self.contexts[next(iter(self.contexts))]
            self.contexts[key] = Context()
        return self.contexts[key]

    def shape_key(self, piece: Piece) -> Key:
        """The key of the shapes, guessed once as long as the sections' chords stay."""
        if (
            self.keyed is None
            or self.keyed[0] != piece.key
            or not _same_chords(self.keyed[1], piece.sections)
        ):
            self.keyed = (piece.key, piece.sections, piece.shape_key())
        assert self.keyed is not None
        return self.keyed[2]

    def is_warm(self, piece: Piece) -> bool:
        """Whether chords and grips are known, so that only plucks have to be fitted."""
        return self.grips.is_warm(piece)

    def plan(
        self, piece: Piece, spans: tuple[Span, ...], pattern: Pattern, align: str, pickup: Fraction
    ) -> tuple[BarPlan, ...]:
        """The bars' plans, worked out once as long as spans, pattern grid and alignment stay."""
        key = (id(spans), pattern.meter, pattern.per_beat, len(pattern.slots), pattern.breaks, align)
        if key not in self.placed:
            if len(self.placed) >= _MOST_PLANS:
                gone = self.placed.pop(next(iter(self.placed)))[1]
                self.kinded = {pair: kept for pair, kept in self.kinded.items() if pair[0] != id(gone)}
            plans = place(spans, piece.meter, pattern, align, pickup)
            self.placed[key] = (spans, plans)  # kept, so that the identity stays
        return self.placed[key][1]

    def where(self, plan: tuple[BarPlan, ...], spans: tuple[Span, ...]) -> tuple[Where, ...]:
        """For each span where its stretches are, worked out once as long as the plan stays."""
        if self.placed_spans is None or self.placed_spans[0] is not plan:
            self.placed_spans = (plan, where_spans(plan, len(spans)))
        return self.placed_spans[1]

    def pinned(self, spans: tuple[Span, ...]) -> tuple[int, ...]:
        """The spans with a shape of the player's, by index, looked for once as long as the spans stay."""
        if self.pins is None or self.pins[0] is not spans:
            self.pins = (spans, tuple(i for i, span in enumerate(spans) if span.shape is not None))
        return self.pins[1]

    def chords_of(
        self, spans: tuple[Span, ...], grips: tuple[Grip | None, ...]
    ) -> tuple[tuple[int, ...], tuple[int, ...]]:
        """For each span the number of its chord with its grip; for each such number a span that has it."""
        if self.chorded is None or self.chorded[0] is not grips:
            numbers: dict[object, int] = {}
            firsts: list[int] = []
            out: list[int] = []
            for index, (span, grip) in enumerate(zip(spans, grips, strict=True)):
                key = None if span.chord is None else (span.chord.text, id(grip))
                if key not in numbers:
                    numbers[key] = len(firsts)
                    firsts.append(index)
                out.append(numbers[key])
            self.chorded = (grips, tuple(out), tuple(firsts))
        return self.chorded[1], self.chorded[2]

    def number_of(self, setting: Setting) -> int:
        """A small number for a setting, which is long to compare."""
        if len(self.settings) > _MOST_SETTINGS:
            self.settings.clear()
            self.assigned.clear()
            self.contexts.clear()  # their keys have numbers that now mean something else
        return self.settings.setdefault(setting, len(self.settings))

    def kinds_of(
        self, plan: tuple[BarPlan, ...], spans: tuple[Span, ...], grips: tuple[Grip | None, ...]
    ) -> tuple[int, ...]:
        """A number for each bar; those of one number have the same stretches on the same chords and grips."""
        pair = (id(plan), id(grips))
        if pair not in self.kinded:
            if len(self.kinded) >= _MOST_KINDED:
                self.kinded.clear()
            chords = [
                None if span.chord is None else (span.chord.text, id(grip))
                for span, grip in zip(spans, grips, strict=True)
            ]
            kinds = self.kinds
            found = (tuple((s.stretch, chords[s.span]) for s in bar.segments) for bar in plan)
            self.kinded[pair] = (tuple(kinds.setdefault(key, len(kinds)) for key in found), (plan, grips))
        return self.kinded[pair][0]


def _same_chords(one: tuple[Section, ...], other: tuple[Section, ...]) -> bool:
    return one is other or (
        len(one) == len(other) and all(a.chords is b.chords for a, b in zip(one, other, strict=True))
    )
