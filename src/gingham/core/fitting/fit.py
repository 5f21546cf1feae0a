"""Pattern × assignment = result, for one section of a piece.

Bars of one kind are fitted once and shared (see `cache`); what is left for each bar of a long piece is a look
into a table.
"""

from __future__ import annotations

from collections.abc import Sequence
from fractions import Fraction
from itertools import pairwise

from gingham.core.courtesy import give_way
from gingham.core.fitting.as_fingers import meant_span
from gingham.core.fitting.assign import assign, setting_of
from gingham.core.fitting.cache import BarFit, FitCache, Played
from gingham.core.fitting.exceptions import span_at, with_exceptions
from gingham.core.fitting.laid import Laid, Plain, cut_over
from gingham.core.fitting.picked import picked
from gingham.core.fitting.placing import BarPlan, Stretch
from gingham.core.fitting.result import FittedBar, Result
from gingham.core.fitting.strings_in import has_strings
from gingham.core.fitting.strokes import Carry, StretchFit, play
from gingham.core.fitting.walk import Own, Walker
from gingham.core.music.chords import Chord
from gingham.core.pieces.chordline import Span
from gingham.core.pieces.piece import Override, Piece
from gingham.core.pieces.plans import PLANS
from gingham.core.reasons import Problem
from gingham.core.shapes.context import Grip
from gingham.core.values import replace

_NOTHING_CARRIED = Carry()


def fit(piece: Piece, section: int = 0, cache: FitCache | None = None) -> Result:
    """Fit one section of `piece`.

    Raises
    ------
    EditError
        If the section names a pattern that the piece does not have.
    """
    return _Fitter(piece, section, cache if cache is not None else FitCache()).run()


class _Fitter:
    """One run of `fit` with one pattern.

    `bar` is the first of the bars that have the pattern of their own: bare strings are read against the chord
    there, and the pattern begins at every bar line.
    """

    def __init__(
        self, piece: Piece, section: int, cache: FitCache, name: str | None = None, bar: int | None = None
    ) -> None:
        self.piece, self.bar = piece, bar
        self.section, self.cache = section, cache
        self.of = piece.sections[section]
        self.spans = cache.grips.line(piece, self.of.chords).spans
        self.key = cache.shape_key(piece)
        self.setting = setting_of(piece, section, self.key)
        self.number = cache.number_of(self.setting)
        pattern = piece.pattern(self.of.pattern if name is None else name)
        meant = meant_span(pattern, self.spans, bar) if has_strings(pattern) else None
        first = None if meant is None else self.spans[meant]
        self.context = cache.context((pattern, piece.meter, self.number, first))
        self.pattern = cache.grips.read(piece, section, pattern, bar, self.key)
        pickup = self.of.chords.pickup
        self.pickup = pickup.length if pickup is not None else Fraction(0)
        align = piece.rules.align if bar is None else "bar"
        self.plan = cache.plan(piece, self.spans, self.pattern, align, self.pickup)

    def run(self) -> Result:
        """Fit the section: every bar with the pattern that it plays."""
        base = self.plain()
        own = self._own_bars()
        chosen = [own.get(plan.number, base) for plan in base.plan] if own else [base] * len(base.plan)
        played = self._played_where(base, chosen) if own else list(base.played)
        laid = Laid(self.piece, self.section, self.spans, self.cache, self.context, base, chosen, played)
        bars: Sequence[FittedBar] = laid.bars()
        asleep: tuple[Override, ...] = ()
        if self._is_changed(base, own):
            made = list(bars)
            self._walk(made, played)
            asleep = with_exceptions(self.piece, self.section, self.spans, made, played)
            bars = tuple(self._picked(made, played))
        return Result(
            self.piece, self.section, self.pattern, bars, laid.spans(), asleep, base.plan, laid.misfits()
        )

    def _is_changed(self, base: Plain, own: dict[int, Plain]) -> bool:
        """Whether bars come out otherwise than the pattern has them: walks, a pick, plucks moved by hand."""
        if self.piece.overrides:
            return True
        chords = (chord.assignment for plain in (base, *own.values()) for chord in plain.chords if chord)
        return any(each.plan.walk or each.hand == "pick" for each in chords)

    def _picked(self, bars: list[FittedBar], played: list[Played | None]) -> list[FittedBar]:
        """The bars as a flat pick plays them, where a chord is picked; equal bars stay one value."""
        names = [
            chord.assignment.chord.text if chord is not None and chord.assignment.hand == "pick" else None
            for chord in played
        ]
        if not any(names):
            return bars
        rule, done = self.setting.rules.pick, dict[tuple[int, tuple[int, ...]], FittedBar]()

        def once(bar: FittedBar) -> FittedBar:
            key = (id(bar.events), bar.spans if len(bar.spans) > 1 else ())
            if key not in done:
                pattern = bar.pattern or self.pattern
                done[key] = picked(bar, pattern, rule, lambda at: names[span_at(bar, at, self.spans)])
            return replace(done[key], number=bar.number, spans=bar.spans)

        return [once(bar) if any(names[i] for i in bar.spans) else bar for bar in bars]

    def _own_bars(self) -> dict[int, Plain]:
        """The bars that have a pattern of their own, by number."""
        out: dict[int, Plain] = {}
        done: dict[tuple[str, int], Plain] = {}
        for own in self.of.bars:
            if not 1 <= own.bar <= len(self.of.chords.bars):
                continue  # the section has become shorter: it waits for its bar
            bare = has_strings(self.piece.pattern(own.pattern))
            key = (own.pattern, own.bar if bare else 0)
            if key not in done:
                done[key] = _Fitter(self.piece, self.section, self.cache, own.pattern, own.bar).plain()
            out[own.bar] = done[key]
        return out

    def _played_where(self, base: Plain, chosen: list[Plain]) -> list[Played | None]:
        """Each chord as the section's pattern plays it, or a bar's own where it sounds in such bars alone."""
        played = list(base.played)
        whole = list(zip(base.plan, chosen, strict=True))
        in_base = {index for plan, plain in whole if plain is base for index in plan.spans}
        for plan, plain in whole:
            for index in plan.spans:
                if index not in in_base:
                    played[index] = plain.played[index]
        return played

    # One pattern over all bars.

    def plain(self) -> Plain:
        """Fit every bar in order of time; a kind of bar that the same count comes into only once."""
        grips = self.cache.grips.row(self.piece, self.section, self.key)
        numbers, firsts = self.cache.chords_of(self.spans, grips)
        different = [self._played(self.spans[index], grips[index]) for index in firsts]
        played = [different[number] for number in numbers]
        carry = _NOTHING_CARRIED
        bars: list[BarFit] = []
        same: dict[tuple[int, int], BarFit] = {}  # by identity of what is carried in, for this run alone
        for plan, kind in zip(self.plan, self.cache.kinds_of(self.plan, self.spans, grips), strict=True):
            fitted = same.get((kind, id(carry)))
            if fitted is None:
                fitted = same[kind, id(carry)] = self._kind(kind, plan, played, carry)
            bars.append(fitted)
            carry = fitted.carry
        return Plain(self.pattern, self.plan, played, bars, different)

    def _kind(self, kind: int, plan: BarPlan, played: list[Played | None], carry: Carry) -> BarFit:
        known = self.context.bars
        fitted = known.get((kind, carry))
        if fitted is None:
            give_way()
            fitted = known[kind, carry] = self._bar(plan, played, carry)
        return fitted

    def _bar(self, plan: BarPlan, played: list[Played | None], carry: Carry) -> BarFit:
        parts: list[StretchFit | None] = []
        flags: list[Problem] = []
        for segment in plan.segments:
            chord = played[segment.span]
            fitted = None if chord is None else self._stretch(chord, segment.stretch, carry)
            carry = fitted.carry if fitted is not None else _NOTHING_CARRIED
            before = parts[-1] if parts else None
            if fitted is not None and before is not None:
                flags += cut_over(before, fitted, segment.stretch.at)
            parts.append(fitted)
        events = tuple(event for fitted in parts if fitted is not None for event in fitted.events)
        problems = tuple(problem for fitted in parts if fitted is not None for problem in fitted.problems)
        head = parts[0].head if parts and parts[0] is not None else ()
        tail = parts[-1].tail if parts and parts[-1] is not None else ()
        carry = replace(carry, bass=0) if carry.bass else carry  # a brush follows a bass of its own bar
        return BarFit(tuple(parts), events, (*problems, *flags), carry, head, tail)

    def _played(self, span: Span, grip: Grip | None) -> Played | None:
        if span.chord is None:
            return None
        key = (span.chord.text, id(grip))
        if key not in self.context.played:
            give_way()
            self.context.grips.append(grip)  # kept alive, so that its identity stays its own
            self.context.played[key] = self._assign(span.chord, grip)
        return self.context.played[key]

    def _assign(self, chord: Chord, grip: Grip | None) -> Played | None:
        """The chord's strings; those that hold for any pattern are kept for the next one."""
        if grip is None:
            return None
        key = (self.number, chord.text, id(grip))
        known = self.cache.assigned.get(key) if not self.pattern.variants else None
        if known is not None:
            return Played(known[0], self.pattern, known[2])
        asked: set[str] = set()
        assignment, played = assign(chord, grip, self.pattern, self.setting, asked)
        out = Played(assignment, played)
        if not asked and not self.pattern.variants:
            self.cache.assigned[key] = (assignment, grip, out.known)
        return out

    def _stretch(self, on: Played, stretch: Stretch, carry: Carry) -> StretchFit:
        plan = on.assignment.plan
        if stretch.enters or (stretch.bar_starts and PLANS[plan.kind].restarts and not plan.each_bar):
            carry = replace(carry, count=0) if carry.count else carry
        key = (id(on), stretch, carry)
        if key not in self.context.stretches:
            piece = self.piece
            self.context.stretches[key] = play(
                on.pattern, stretch, on.assignment, piece.instrument, piece.capo, carry, on.known
            )
        return self.context.stretches[key]

    # Walks.

    def _walk(self, bars: list[FittedBar], played: list[Played | None]) -> None:
        """Replace the thumb's last strokes before each change by steps into the next bass, in place."""
        walker = Walker(self.piece.instrument, self.piece.capo, self.key)
        where: list[list[int]] = [[] for _ in self.spans]
        for number, bar in enumerate(bars):
            for index in bar.spans:
                where[index].append(number)
        for index, (one, other) in enumerate(pairwise([*played, *played[:1]])):
            if one is None or other is None or one is other or not one.assignment.plan.walk:
                continue
            steps = walker.walk(self._own(bars, where[index], index), one.assignment, other.assignment)
            for own, event in steps:
                events = list(bars[own.bar].events)
                events[own.index] = event
                bars[own.bar] = replace(bars[own.bar], events=tuple(events))

    def _own(self, bars: list[FittedBar], numbers: list[int], index: int) -> list[Own]:
        """The events of one span, in order of time."""
        return [
            Own(number, i, event)
            for number in numbers
            if (bar := bars[number]).pattern is None  # a bar of its own ends as it is written
            for i, event in enumerate(bar.events)
            if len(bar.spans) == 1 or span_at(bar, event.at, self.spans) == index
        ]
