"""Pattern × assignment = result, for one section of a piece.

Equal stretches (same chord, shape, part of the pattern, place in the bar, thumb count) are fitted once
and shared, so that a long piece costs little more than its different bars. The cache is an argument.
"""

from __future__ import annotations

from collections.abc import Iterator
from fractions import Fraction
from itertools import groupby, pairwise

import msgspec

from gingham.core.errors import ShapeError
from gingham.core.fitting.assign import Setting, assign, grips_of, misfit_of
from gingham.core.fitting.placing import Segment, Stretch, place
from gingham.core.fitting.result import Assignment, Event, FittedBar, FittedSpan, Result
from gingham.core.fitting.strings_in import has_strings, read_strings
from gingham.core.fitting.strokes import Carry, Pitches, Plucked, StretchFit, cut_notes, pitch_on, play
from gingham.core.fitting.walk import Own, Walker
from gingham.core.music.chords import Chord
from gingham.core.music.key import Key
from gingham.core.music.meter import seconds
from gingham.core.patterns.pattern import Pattern
from gingham.core.pieces.chordline import ChordLine, Span, spans
from gingham.core.pieces.piece import HereOverride, Override, Piece, Section, ThumbOverride
from gingham.core.pieces.rules import HOPPING_PLANS
from gingham.core.reasons import Problem
from gingham.core.shapes.context import Grip
from gingham.core.shapes.shape import Shape
from gingham.core.values import replace

_MOST_CONTEXTS = 32
_MOST_PLANS = 6

_NOTHING_CARRIED = Carry()


class _Played(msgspec.Struct):
    """One chord with its assignment, the variant of the pattern it plays, and its pitches so far."""

    assignment: Assignment
    pattern: Pattern
    pitches: Pitches = msgspec.field(default_factory=dict)


class _Summary(msgspec.Struct, frozen=True):
    """What a span's stretches together come to."""

    heard: tuple[str, ...]
    strings: frozenset[int]
    hold: Shape
    missing: tuple[Problem, ...]


_Joined = tuple[tuple[Event, ...], tuple[Problem, ...]]


class _Context(msgspec.Struct):
    """What has been worked out for one set of rules, instrument, pattern and chord overrides.

    Keys use the identity of values that the context itself keeps alive.
    """

    played: dict[tuple[str, int], _Played | None] = msgspec.field(default_factory=dict)
    grips: list[Grip | None] = msgspec.field(default_factory=list)
    stretches: dict[tuple[int, Stretch, Carry], StretchFit] = msgspec.field(default_factory=dict)
    summaries: dict[tuple[int, ...], _Summary] = msgspec.field(default_factory=dict)
    joined: dict[tuple[int, ...], tuple[tuple[Event, ...], tuple[Problem, ...]]] = msgspec.field(
        default_factory=dict
    )


class _BarPlan(msgspec.Struct, frozen=True):
    """What lies in one bar, whatever the chords' strings are: the segments, their spans and phases."""

    number: int
    segments: tuple[Segment, ...]
    spans: tuple[int, ...]
    phases: tuple[tuple[Fraction, Fraction, Fraction], ...]


class FitCache(msgspec.Struct):
    """Results kept between fits. Belongs to one thread; throw it away at any time."""

    contexts: dict[object, _Context] = msgspec.field(default_factory=dict)
    line: tuple[ChordLine, object, tuple[Span, ...]] | None = None
    placed: dict[object, tuple[tuple[Span, ...], tuple[_BarPlan, ...]]] = msgspec.field(default_factory=dict)
    keyed: tuple[Key | None, tuple[Section, ...], Key] | None = None
    gripped: tuple[object, tuple[Grip | None, ...]] | None = None

    def context(self, key: object) -> _Context:
        """The context under `key`, a new one if there is none; the oldest goes when there are many."""
        if key not in self.contexts:
            if len(self.contexts) >= _MOST_CONTEXTS:
                del self.contexts[next(iter(self.contexts))]
            self.contexts[key] = _Context()
        return self.contexts[key]

    def shape_key(self, piece: Piece) -> Key:
        """The key of the shapes, guessed once as long as the sections are the same object."""
        if self.keyed is None or self.keyed[0] != piece.key or self.keyed[1] is not piece.sections:
            self.keyed = (piece.key, piece.sections, piece.shape_key())
        return self.keyed[2]

    def spans(self, piece: Piece, line: ChordLine) -> tuple[Span, ...]:
        """The spans of a chord line, worked out once as long as the line is the same object."""
        if self.line is None or self.line[0] is not line or self.line[1] != piece.meter:
            self.line = (line, piece.meter, spans(line, piece.meter))
        return self.line[2]

    def grips(self, piece: Piece, of: tuple[Span, ...]) -> tuple[Grip | None, ...]:
        """The grip of every span, chosen once as long as spans, instrument, capo and the choice stay."""
        key = (id(of), piece.instrument, piece.capo, piece.rules.shapes)
        if self.gripped is None or self.gripped[0] != key or self.line is None or self.line[2] is not of:
            self.gripped = (key, grips_of(piece, of))
        return self.gripped[1]

    def plan(
        self, piece: Piece, of: tuple[Span, ...], pattern: Pattern, align: str, pickup: Fraction
    ) -> tuple[_BarPlan, ...]:
        """The bars' plans, worked out once as long as spans, pattern grid and alignment stay."""
        key = (id(of), pattern.meter, pattern.per_beat, len(pattern.slots), pattern.breaks, align)
        if key not in self.placed:
            if len(self.placed) >= _MOST_PLANS:
                del self.placed[next(iter(self.placed))]
            segments = place(of, piece.meter, pattern, align, pickup)
            self.placed[key] = (of, tuple(_plans(segments)))  # kept, so that the identity stays
        return self.placed[key][1]


def _plans(segments: tuple[Segment, ...]) -> Iterator[_BarPlan]:
    """Segments gathered by bar; bars that look alike share their phases."""
    shared: dict[object, tuple[tuple[Fraction, Fraction, Fraction], ...]] = {}
    for number, found in groupby(segments, key=lambda segment: segment.bar):
        inside = tuple(found)
        key = tuple(segment.stretch for segment in inside)
        phases = shared.setdefault(key, tuple((s.at, s.length, s.phase) for s in key))
        yield _BarPlan(number, inside, tuple(dict.fromkeys(s.span for s in inside)), phases)


def fit(piece: Piece, section: int = 0, cache: FitCache | None = None) -> Result:
    """Fit one section of `piece`.

    Raises
    ------
    EditError
        If the section names a pattern that the piece does not have.
    """
    return _Fitter(piece, section, cache if cache is not None else FitCache()).run()


class _Plain(msgspec.Struct, frozen=True):
    """A section as one pattern plays it, before walks and overrides.

    `played` per span; `parts` per bar, beside the plan's segments.
    """

    pattern: Pattern
    plan: tuple[_BarPlan, ...]
    played: list[_Played | None]
    parts: list[list[StretchFit | None]]


class _Fitter:
    """One run of `fit` with one pattern: walks the segments in time and collects bars and spans.

    `bar` is the first of the bars that have the pattern of their own: bare strings are read against the chord
    there, and the pattern begins at every bar line.
    """

    def __init__(
        self, piece: Piece, section: int, cache: FitCache, name: str | None = None, bar: int | None = None
    ) -> None:
        self.piece = piece
        self.bar = bar
        self.section = section
        self.cache = cache
        self.bar_length = piece.meter.bar
        self.of = piece.sections[section]
        self.spans = cache.spans(piece, self.of.chords)
        rules = piece.rules if self.of.thumb is None else replace(piece.rules, thumb=self.of.thumb)
        on_chords = tuple(o for o in piece.overrides if not isinstance(o, HereOverride))
        self.key = cache.shape_key(piece)
        timed = rules.thumb.kind in HOPPING_PLANS or any(
            isinstance(o, ThumbOverride) and o.plan.kind in HOPPING_PLANS for o in on_chords
        )
        whole_note_s = seconds(Fraction(1), piece.meter, piece.tempo) if timed else 0.0
        self.setting = Setting(piece.instrument, piece.capo, self.key, rules, on_chords, whole_note_s)
        pattern = piece.pattern(self.of.pattern if name is None else name)
        first = self._first_chord() if has_strings(pattern) else None
        self.context = cache.context((pattern, piece.meter, self.setting, first))
        self.pattern = self._read(pattern)
        pickup = self.of.chords.pickup
        self.pickup = pickup.length if pickup is not None else Fraction(0)
        align = piece.rules.align if bar is None else "bar"
        self.plan = cache.plan(piece, self.spans, self.pattern, align, self.pickup)

    def _first_chord(self) -> Span | None:
        """The chord against which bare strings are read: the first one, or the one of the pattern's bar."""
        chords = [span for span in self.spans if span.chord is not None]
        begun = [span for span in chords if self.bar is not None and span.bar <= self.bar]
        return begun[-1] if begun else next(iter(chords), None)

    def _read(self, pattern: Pattern) -> Pattern:
        """The pattern with bare strings read against the first chord."""
        first = self._first_chord()
        if not has_strings(pattern) or first is None or first.chord is None:
            return pattern
        grip = next(
            (
                g
                for s, g in zip(self.spans, self.cache.grips(self.piece, self.spans), strict=True)
                if s is first
            ),
            None,
        )
        if grip is None:
            return pattern
        assignment, _ = assign(first.chord, grip, pattern, self.setting)
        return read_strings(pattern, assignment, self.piece.instrument)

    def run(self) -> Result:
        """Fit the section: every bar with the pattern that it plays."""
        base = self.plain()
        own = self._own_bars()
        chosen = [own.get(plan.number, base) for plan in base.plan]
        played, by_span = list(base.played), [list[StretchFit]() for _ in self.spans]
        out: list[FittedBar] = []
        ends: list[tuple[_BarPlan, list[StretchFit | None]]] = []
        for index, plain in enumerate(chosen):
            plan, parts = plain.plan[index], plain.parts[index]
            bar = self._bar(plan, parts)
            out.append(bar if plain is base else replace(bar, pattern=plain.pattern))
            ends.append((plan, parts))
            for segment, fitted in zip(plan.segments, parts, strict=True):
                if fitted is not None:
                    by_span[segment.span].append(fitted)
        if own:
            whole = zip(base.plan, chosen, strict=True)
            in_base = {index for plan, plain in whole if plain is base for index in plan.spans}
            for plan, plain in zip(base.plan, chosen, strict=True):
                for index in plan.spans:
                    if index not in in_base:  # the chord sounds in bars of their own alone
                        played[index] = plain.played[index]
        bars = self._seams(out, ends)
        if any(on is not None and on.assignment.plan.walk for on in played):
            self._walk(bars, played)
        bars, asleep = self._override(bars, played)
        problems: list[tuple[int, Problem]] = []
        spans_out = tuple(
            self._span(span, on, by_span[i], problems)
            for i, (span, on) in enumerate(zip(self.spans, played, strict=True))
        )
        return Result(self.piece, self.section, self.pattern, tuple(bars), spans_out, tuple(problems), asleep)

    def _own_bars(self) -> dict[int, _Plain]:
        """The bars that have a pattern of their own, by number."""
        out: dict[int, _Plain] = {}
        done: dict[tuple[str, int], _Plain] = {}
        for own in self.of.bars:
            if not 1 <= own.bar <= len(self.of.chords.bars):
                continue  # the section has become shorter: it waits for its bar
            bare = has_strings(self.piece.pattern(own.pattern))
            key = (own.pattern, own.bar if bare else 0)
            if key not in done:
                done[key] = _Fitter(self.piece, self.section, self.cache, own.pattern, own.bar).plain()
            out[own.bar] = done[key]
        return out

    def plain(self) -> _Plain:
        """Fit every segment in order of time."""
        grips = self.cache.grips(self.piece, self.spans)
        played = [self._played(span, grip) for span, grip in zip(self.spans, grips, strict=True)]
        bars: list[list[StretchFit | None]] = []
        carry = _NOTHING_CARRIED
        for plan in self.plan:
            parts: list[StretchFit | None] = []
            for segment in plan.segments:
                on = played[segment.span]
                fitted = None
                if on is not None:
                    fitted = self._stretch(on, segment.stretch, carry)
                carry = fitted.carry if fitted is not None else _NOTHING_CARRIED
                parts.append(fitted)
            bars.append(parts)
        return _Plain(self.pattern, self.plan, played, bars)

    def _walk(self, bars: list[FittedBar], played: list[_Played | None]) -> None:
        """Replace the thumb's last strokes before each change by steps into the next bass, in place."""
        walker = Walker(self.piece.instrument, self.piece.capo, self.key)
        for index, (one, other) in enumerate(pairwise([*played, *played[:1]])):
            if one is None or other is None or one is other or not one.assignment.plan.walk:
                continue
            steps = walker.walk(self._own(bars, index), one.assignment, other.assignment)
            for own, event in steps:
                events = list(bars[own.bar].events)
                events[own.index] = event
                bars[own.bar] = replace(bars[own.bar], events=tuple(events))

    def _own(self, bars: list[FittedBar], index: int) -> list[Own]:
        """The events of one span, in order of time."""
        return [
            Own(number, i, event)
            for number, bar in enumerate(bars)
            if index in bar.spans and bar.pattern is None  # a bar of its own ends as it is written
            for i, event in enumerate(bar.events)
            if len(bar.spans) == 1 or self._span_at(bar, event.at) == index
        ]

    def _played(self, span: Span, grip: Grip | None) -> _Played | None:
        if span.chord is None:
            return None
        key = (span.chord.text, id(grip))
        if key not in self.context.played:
            self.context.grips.append(grip)  # kept alive, so that its identity stays its own
            self.context.played[key] = self._assign(span.chord, grip)
        return self.context.played[key]

    def _assign(self, chord: Chord, grip: Grip | None) -> _Played | None:
        return None if grip is None else _Played(*assign(chord, grip, self.pattern, self.setting))

    def _stretch(self, on: _Played, stretch: Stretch, carry: Carry) -> StretchFit:
        if stretch.enters or (stretch.bar_starts and on.assignment.plan.kind != "tour"):
            carry = Carry(0, carry.turns) if carry.count else carry
        key = (id(on), stretch, carry)
        if key not in self.context.stretches:
            piece = self.piece
            self.context.stretches[key] = play(
                on.pattern, stretch, on.assignment, piece.instrument, piece.capo, carry, on.pitches
            )
        return self.context.stretches[key]

    def _span(
        self, span: Span, on: _Played | None, fits: list[StretchFit], problems: list[tuple[int, Problem]]
    ) -> FittedSpan:
        error = misfit_of(self.piece, span)
        if error is not None and span.chord is not None:
            problems.append((span.bar, _misfit(error, span.at, span.chord)))
        if on is None:
            if span.chord is not None:
                problems.append((span.bar, Problem.of("no-shape", span.at, chord=span.chord.text)))
            return FittedSpan(span, None, (), frozenset(), None)
        key = (id(on), *map(id, fits))
        if key not in self.context.summaries:
            self.context.summaries[key] = _summary(on.assignment, fits, self.piece.rules.hold == "whole")
        summary = self.context.summaries[key]
        for problem in summary.missing:
            problems.append((span.bar, replace(problem, at=span.at)))
        return FittedSpan(span, on.assignment, summary.heard, summary.strings, summary.hold)

    def _seams(
        self, out: list[FittedBar], ends: list[tuple[_BarPlan, list[StretchFit | None]]]
    ) -> list[FittedBar]:
        """Bars with a flag where one stretch's last slot and the next one's first share a string."""
        tail: Plucked = ()
        for index, (plan, parts) in enumerate(ends):
            for segment, fitted in zip(plan.segments, parts, strict=True):
                if fitted is None:
                    tail = ()
                    continue
                for string in cut_notes(tail, fitted.head) if tail else ():
                    flag = Problem.of("cuts-note", segment.stretch.at, string=string)
                    out[index] = replace(out[index], problems=(*out[index].problems, flag))
                tail = fitted.tail
        return out

    def _bar(self, plan: _BarPlan, parts: list[StretchFit | None]) -> FittedBar:
        events, problems = self._joined(parts)
        length = self.pickup if plan.number == 0 else self.bar_length
        return FittedBar(plan.number, length, events, problems, plan.spans, plan.phases)

    def _joined(self, fits: list[StretchFit | None]) -> tuple[tuple[Event, ...], tuple[Problem, ...]]:
        """Events and problems of the stretches of one bar; bars that are alike share the same tuples."""
        key = tuple(map(id, fits))
        if key not in self.context.joined:
            self.context.joined[key] = (
                tuple(event for fitted in fits if fitted is not None for event in fitted.events),
                tuple(problem for fitted in fits if fitted is not None for problem in fitted.problems),
            )
        return self.context.joined[key]

    def _override(
        self, bars: list[FittedBar], played: list[_Played | None]
    ) -> tuple[list[FittedBar], tuple[Override, ...]]:
        """Bars with the "only here" overrides applied, and every override that found nothing to change."""
        asleep: list[Override] = []
        at = {bar.number: index for index, bar in enumerate(bars)}
        pairs = {(on.assignment.chord.text, on.assignment.shape) for on in played if on is not None}
        for override in self.piece.overrides:
            if not isinstance(override, HereOverride):
                if (override.symbol, override.shape) not in pairs:
                    asleep.append(override)
            elif override.section == self.of.name:
                index = at.get(override.bar)
                changed = None if index is None else self._override_bar(bars[index], override, played)
                if index is None or changed is None:
                    asleep.append(override)
                else:
                    bars[index] = changed
        return bars, tuple(asleep)

    def _override_bar(
        self, bar: FittedBar, override: HereOverride, played: list[_Played | None]
    ) -> FittedBar | None:
        for index, event in enumerate(bar.events):
            if event.at == override.at and event.finger == override.finger and event.kind == "pluck":
                on = played[self._span_at(bar, override.at)]
                if on is None:
                    return None
                changed = self._moved(event, override.string, on.assignment)
                problems = tuple(
                    p for p in bar.problems if not (p.at == event.at and p.code in _OF_ONE_STROKE)
                )
                if changed.fret is None:
                    problems += (Problem.of("muted-string", event.at, chord=on.assignment.chord.text,
                                            string=changed.string, finger=override.finger),)  # fmt: skip
                events = (*bar.events[:index], changed, *bar.events[index + 1 :])
                return replace(bar, events=events, problems=problems)
        return None

    def _span_at(self, bar: FittedBar, at: Fraction) -> int:
        """Index of the span that sounds at a place of a bar."""
        time = (bar.number, at)
        return max(i for i in bar.spans if (self.spans[i].bar, self.spans[i].at) <= time)

    def _moved(self, event: Event, string: int | None, assignment: Assignment) -> Event:
        if string is None or string > self.piece.instrument.strings:
            return replace(event, overridden=True, silent=True)
        fret = assignment.fret(string)
        pitch, degree = pitch_on(assignment, self.piece.instrument, self.piece.capo, string, fret)
        return replace(event, string=string, fret=fret, pitch=pitch, degree=degree, overridden=True)


_OF_ONE_STROKE = ("muted-string", "same-string", "cuts-note")


def _misfit(error: ShapeError, at: Fraction, chord: Chord) -> Problem:
    """A pin that the instrument has no places for."""
    values = {name: value for name, value in error.values.items() if isinstance(value, str | int)}
    return Problem.of(error.code, at, chord=chord.text, **values)


def _summary(assignment: Assignment, fits: list[StretchFit], whole: bool) -> _Summary:
    heard = {degree for fitted in fits for degree in fitted.degrees}
    strings = frozenset(string for fitted in fits for string in fitted.strings)
    hold = (
        assignment.shape
        if whole
        else Shape(
            tuple(
                assignment.fret(string) if string in strings else None
                for string in range(len(assignment.shape.frets), 0, -1)
            )
        )
    )
    ordered = tuple(sorted(heard, key=lambda d: (int(d.lstrip("#b")), d)))
    return _Summary(ordered, strings, hold, tuple(_unheard(assignment, heard)))


def _unheard(assignment: Assignment, heard: set[str]) -> list[Problem]:
    """Foreign tones of the shape, and the third or the root if it is never plucked while the chord lasts."""
    chord = assignment.chord
    out = [Problem(note.code, Fraction(0), note.values) for note in assignment.notes]
    third = next((str(d) for d in chord.degrees if d.number == 3), None)
    if heard and third is not None and third not in heard:
        out.append(Problem.of("no-third", Fraction(0), chord=chord.text, degree=third))
    if heard and "1" not in heard:
        out.append(Problem.of("no-root", Fraction(0), chord=chord.text))
    return out
