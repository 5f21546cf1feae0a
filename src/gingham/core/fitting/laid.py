"""Bars and spans of a result, each made when it is looked at from what fitting has found for its kind."""

from __future__ import annotations

from collections.abc import Iterator
from fractions import Fraction

import msgspec

from gingham.core.courtesy import give_way
from gingham.core.errors import ShapeError
from gingham.core.fitting.assign import misfit_of
from gingham.core.fitting.cache import BarFit, Context, FitCache, Played, Summary
from gingham.core.fitting.placing import BarPlan
from gingham.core.fitting.result import Assignment, FittedBar, FittedSpan
from gingham.core.fitting.strokes import StretchFit, cut_notes
from gingham.core.later import Later
from gingham.core.music.chords import Chord
from gingham.core.patterns.pattern import Pattern
from gingham.core.pieces.chordline import Span
from gingham.core.pieces.piece import Piece
from gingham.core.reasons import Problem
from gingham.core.shapes.shape import Shape
from gingham.core.values import replace


class Plain(msgspec.Struct, frozen=True, eq=False):
    """A section as one pattern plays it, before walks and overrides: `played` per span, the rest per bar.

    `chords` has each of the different values in `played` once.
    """

    pattern: Pattern
    plan: tuple[BarPlan, ...]
    played: list[Played | None]
    bars: list[BarFit]
    chords: list[Played | None]


class Laid:
    """`chosen[i]` is the pattern's fit that bar i plays: `base` but for bars of their own.

    It holds a context of the cache, not the cache: what it makes later is not lost when the cache forgets.
    """

    def __init__(
        self, piece: Piece, section: int, spans: tuple[Span, ...], cache: FitCache, context: Context,
        base: Plain, chosen: list[Plain], played: list[Played | None],
    ) -> None:  # fmt: skip
        self._piece, self._spans, self._context = piece, spans, context
        self._base, self._chosen, self._played = base, chosen, played
        pickup = piece.sections[section].chords.pickup
        self._bar_length = piece.meter.bar
        self._pickup = pickup.length if pickup is not None else Fraction(0)
        own = bool(piece.sections[section].bars)
        plan = tuple(plain.plan[i] for i, plain in enumerate(chosen)) if own else base.plan
        self._where = cache.where(plan, spans)
        self._misfits = dict(self._misfit_pins(cache.pinned(spans)))

    def bars(self) -> Later[FittedBar]:
        """The bars with their numbers; a note that is cut over a bar line is flagged."""
        return Later(len(self._chosen), self._bar)

    def spans(self) -> Later[FittedSpan]:
        """The spans with what is heard and held in each."""
        return Later(len(self._spans), self._span)

    def misfits(self) -> tuple[Problem, ...]:
        """The pinned shapes that have no places on this instrument."""
        return tuple(self._misfits.values())

    def _bar(self, index: int) -> FittedBar:
        give_way()
        plain = self._chosen[index]
        plan, bar = plain.plan[index], plain.bars[index]
        problems = bar.problems
        before = self._chosen[index - 1].bars[index - 1] if index else None
        if before is not None and before.tail and bar.head:
            seams, pair = self._context.seams, (id(before), id(bar))
            if pair not in seams:  # kept with the bars, so that their identity stays theirs
                seams[pair] = (tuple(cut_over(before, bar, plan.segments[0].stretch.at)), before, bar)
            problems = (problems + seams[pair][0]) if seams[pair][0] else problems
        length = self._bar_length if plan.number else self._pickup
        own = None if plain is self._base else plain.pattern
        return FittedBar(plan.number, length, bar.events, problems, plan.spans, plan.phases, own)

    def _span(self, index: int) -> FittedSpan:
        give_way()
        span, chord = self._spans[index], self._played[index]
        faults = (self._misfits[index],) if index in self._misfits else ()
        if chord is None:
            if span.chord is not None:
                faults = (*faults, Problem.of("no-shape", span.at, chord=span.chord.text))
            return FittedSpan(span, None, (), frozenset(), None, faults)
        found = self._summary(chord, index)
        if found.missing:
            faults = (*faults, *(replace(problem, at=span.at) for problem in found.missing))
        hold = found.hold
        if chord.assignment.hold == "guides":
            hold = _with_guides(hold, chord.assignment, self._played[(index + 1) % len(self._played)])
        return FittedSpan(span, chord.assignment, found.heard, found.strings, hold, faults)

    def _summary(self, chord: Played, index: int) -> Summary:
        """What the span's stretches come to; spans of one chord with the same stretches share it."""
        fits = [self._chosen[bar].bars[bar].parts[part] for bar, part in self._where[index]]
        own = tuple([fitted for fitted in fits if fitted is not None])
        key = (id(chord), *map(id, own))
        known = self._context.summaries
        if key not in known:  # kept with chord and stretches, so that their identity stays theirs
            known[key] = (_summary(chord.assignment, own, chord.assignment.hold == "whole"), chord, own)
        return known[key][0]

    def _misfit_pins(self, pinned: tuple[int, ...]) -> Iterator[tuple[int, Problem]]:
        """Pins that cannot be on this instrument, by span."""
        errors: dict[int, ShapeError | None] = {}  # by identity: thousands of spans share a few shapes
        for index in pinned:
            span = self._spans[index]
            if id(span.shape) not in errors:
                errors[id(span.shape)] = misfit_of(self._piece, span)
            error = errors[id(span.shape)]
            if error is not None and span.chord is not None:
                yield index, _misfit(error, span.at, span.chord)


def cut_over(before: StretchFit | BarFit, after: StretchFit | BarFit, at: Fraction) -> list[Problem]:
    """A flag for each string that the last slot of one and the first slot of the next share."""
    return [Problem.of("cuts-note", at, string=string) for string in cut_notes(before.tail, after.head)]


def _misfit(error: ShapeError, at: Fraction, chord: Chord) -> Problem:
    """A pin that the instrument has no places for."""
    values = {name: value for name, value in error.values.items() if isinstance(value, str | int)}
    return Problem.of(error.code, at, chord=chord.text, **values)


def _summary(assignment: Assignment, fits: tuple[StretchFit, ...], whole: bool) -> Summary:
    heard = {degree for fitted in fits for degree in fitted.degrees}
    strings = frozenset(string for fitted in fits for string in fitted.strings)
    hold = assignment.shape if whole else _held(assignment, strings)
    ordered = tuple(sorted(heard, key=lambda d: (int(d.lstrip("#b")), d)))
    return Summary(ordered, strings, hold, tuple(_unheard(assignment, heard)))


def _with_guides(hold: Shape, one: Assignment, after: Played | None) -> Shape:
    """What is held with the fingers that stand on the same string and fret on the next chord."""
    if after is None or one.fretting is None or after.assignment.fretting is None:
        return hold
    other = after.assignment
    pairs = zip(one.fretting.fingers, after.assignment.fretting.fingers, strict=True)
    kept = [
        bool(a) and a == b and one.shape.frets[i] == other.shape.frets[i] for i, (a, b) in enumerate(pairs)
    ]
    return Shape(
        tuple(
            one.shape.frets[i] if stays else fret
            for i, (stays, fret) in enumerate(zip(kept, hold.frets, strict=True))
        )
    )


def _held(assignment: Assignment, strings: frozenset[int]) -> Shape:
    """What is held at once: a string that a finger hops to is held only while it is plucked."""
    count = len(assignment.shape.frets)
    hopped = {string for string, choice in assignment.outside().items() if choice.way == "hop"}
    return Shape(
        tuple(
            assignment.fret(string) if string in strings - hopped else None for string in range(count, 0, -1)
        )
    )


def _unheard(assignment: Assignment, heard: set[str]) -> list[Problem]:
    """Foreign tones of the shape, and what the player misses that is never plucked while the chord lasts."""
    chord = assignment.chord
    out = [Problem(note.code, Fraction(0), note.values) for note in assignment.notes]
    for degree in assignment.unheard(heard) if heard else ():
        if degree == "1":
            out.append(Problem.of("no-root", Fraction(0), chord=chord.text))
        else:
            code = "no-third" if degree.lstrip("b#") == "3" else "no-tone"
            out.append(Problem.of(code, Fraction(0), chord=chord.text, degree=degree))
    return out
