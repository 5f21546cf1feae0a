"""The stage plan: from the thumb alone on one chord to the whole piece, by the player's order of learning.

Each stage has a tempo of its own. A stage that doubles the strokes feels twice as fast at the same tempo, so
what is kept bearable is strokes a second: `BEARABLE` by level, and three quarters of the hand limit at most;
none is faster than the comfortable top speed of the section, both hands together.
"""

from __future__ import annotations

from fractions import Fraction

import msgspec

from gingham.core.fitting.result import Event, FittedBar, Result
from gingham.core.judging.changes import Change, change_between, different_changes, hardest
from gingham.core.judging.speed import full_limit, limit_of
from gingham.core.patterns.pattern import EVERYONE, FINGERS
from gingham.core.pieces.form import stage_id
from gingham.core.pieces.tempo import SLOWEST_BPM
from gingham.core.reasons import Reason, Value
from gingham.core.values import replace

ORDERS = ("picking", "chords", "mixed")
BEARABLE = {"starting": 1.8, "growing": 3.0, "fluent": 5.0}
"""Strokes a second that a hand of this level learns at: our own starting values."""
_SLOWEST = 40  # slower than this, singing and feel get harder, not easier
_DRILLS = 3
_SHARE = 0.75


class Stage(msgspec.Struct, frozen=True, gc=False):
    """One stage: its name for the record, why, who is heard, what is looped, how fast.

    `begin` and `end` are whole notes from the section's start; a change drill has `around` on each side of
    `begin` instead. `end` None is the section's end. `into` is the section that follows, where its first
    chord is drilled with this one's last.
    """

    id: str
    reason: Reason
    muted: frozenset[str]
    begin: Fraction
    end: Fraction | None
    around: Fraction | None
    tempo: int
    section: int = 0
    into: int | None = None


def seam_stage(result: Result, after: Result) -> Stage | None:
    """The change from the end of a section into the one that follows; None where nothing changes."""
    change = change_between(result, after)
    if change is None or not any(bar.events for bar in result.bars):
        return None
    maker = _Maker(result)
    half = min(result.pattern.length, result.piece.meter.bar) / 2
    name = after.piece.sections[after.section].name
    stage = maker.stage(
        "seam", EVERYONE, maker.length, None, half, one=change.before, other=change.after, section=name
    )
    return replace(stage, into=after.section)


def plan(result: Result, order: str = "picking") -> tuple[Stage, ...]:
    """The stages for a fitted section; none if it has no chord that sounds.

    `picking`: the picking hand first, on one chord, then chords. `chords`: the changes first, under the thumb
    alone. `mixed`: one chord, its changes, then the next layer.
    """
    first = next((span for span in result.spans if span.assignment is not None), None)
    if first is None or not any(bar.events for bar in result.bars):
        return ()
    maker = _Maker(result)
    hand, chords, drills = maker.layers(), maker.chords(), maker.drills()
    whole = [maker.stage("whole", EVERYONE, Fraction(0), None)]
    if order == "chords":
        thumb = maker.stage("thumb-all", frozenset({"p"}), Fraction(0), None)
        return (*drills, thumb, *hand[1:], *maker.halves(), *whole)
    if order == "mixed":
        return (*hand[:1], *drills[:1], *hand[1:], *maker.halves(), *chords, *drills[1:], *whole)
    return (*hand, *maker.halves(), *chords, *drills, *whole)


class _Maker:
    """Makes stages of one section."""

    def __init__(self, result: Result) -> None:
        self.result = result
        self.of = result.piece.meter
        self.starts = {bar.number: begin for begin, bar in result.timed_bars()}
        self.length = result.length()
        used = {event.finger for bar in result.bars for event in bar.events if event.finger}
        self.used = [finger for finger in FINGERS if finger in used]
        self.first = self._first()
        self.most = full_limit(result, result.piece.rules.level).tempo

    def _first(self) -> int:
        """The chord that the hand is learnt on: the first one that holds a whole pattern, or the longest.

        A pick-up has too little of the pattern to learn it from.
        """
        wanted = min(self.result.pattern.length, self.of.bar)
        known = [(i, s) for i, s in enumerate(self.result.spans) if s.assignment is not None]
        whole = [i for i, s in known if s.span.bar > 0 and s.span.length >= wanted]
        return whole[0] if whole else max(known, key=lambda each: (each[1].span.length, -each[0]))[0]

    def time(self, index: int) -> Fraction:
        """Where a chord enters; at the very end for the one after the last."""
        if index >= len(self.result.spans):
            return self.length
        span = self.result.spans[index].span
        return self.starts.get(span.bar, Fraction(0)) + span.at

    def stage(
        self,
        code: str,
        heard: frozenset[str],
        begin: Fraction,
        end: Fraction | None,
        around: Fraction | None = None,
        **values: Value,
    ) -> Stage:
        """A stage with its tempo."""
        key = "-".join([code, *map(str, values.values())])
        section = self.result.piece.sections[self.result.section].name
        return Stage(
            stage_id(section, key),
            Reason.of(f"stage-{code}", **values),
            EVERYONE - heard,
            begin,
            end,
            around,
            self.tempo(heard),
            self.result.section,
        )

    def tempo(self, heard: frozenset[str]) -> int:
        """The tempo at which these fingers are bearable: by strokes a second, and by the hand limit."""
        bars = tuple(_only(bar, heard) for bar in self.result.bars)
        level = self.result.piece.rules.level
        most = max((len({e.at for e in bar.events if e.plucked}) for bar in bars), default=0)
        a_beat = most / float(self.of.bar / self.of.tempo_beat)
        by_strokes = 60.0 * BEARABLE[level] / a_beat if a_beat else float(self.result.piece.tempo)
        by_hand = _SHARE * limit_of(bars, self.of, level).tempo
        goal = float(self.result.piece.tempo)
        wanted = max(min(goal, by_strokes, by_hand), min(_SLOWEST, goal))
        return max(SLOWEST_BPM, int(min(wanted, self.most)))

    def layers(self) -> list[Stage]:
        """The thumb alone on the first chord, then one finger more each time."""
        begin = self.time(self.first)
        end = min(self.time(self.first + 1), begin + max(self.result.pattern.length, self.of.bar))
        chord = self.result.spans[self.first].span.chord
        name = chord.text if chord is not None else ""
        out: list[Stage] = []
        for count in range(1, len(self.used) + 1):
            heard = frozenset(self.used[:count]) | ({""} if count == len(self.used) else set())
            finger = self.used[count - 1]
            kind = "alone" if count == 1 else "with"
            out.append(self.stage(kind, heard, begin, end, finger=finger, chord=name))
        return out

    def halves(self) -> list[Stage]:
        """The first half of the pattern, then the second, where it has two and the first chord holds both."""
        length, begin = self.result.pattern.length, self.time(self.first)
        if length / 2 not in self.result.pattern.starts or self.time(self.first + 1) - begin < length:
            return []
        middle = begin + length / 2
        return [
            self.stage("half", EVERYONE, begin, middle, which=1),
            self.stage("half", EVERYONE, middle, begin + length, which=2),
        ]

    def chords(self) -> list[Stage]:
        """The easiest pair of neighbours with everything, before all chords."""
        found = [change for change in different_changes(self.result) if not change.seam]
        if not found:
            return []
        easy = min(found, key=lambda change: change.difficulty)
        index = self._index(easy)
        pair = (self.time(index - 1), self.time(index + 1))
        return [self.stage("pair", EVERYONE, *pair, one=easy.before, other=easy.after)]

    def drills(self) -> list[Stage]:
        """The hardest changes, each with half a pattern on each side."""
        half = min(self.result.pattern.length, self.of.bar) / 2
        return [
            self.stage(
                "change", EVERYONE, self.time(self._index(change)), None, half,
                one=change.before, other=change.after,
            )
            for change in hardest(different_changes(self.result))[:_DRILLS]
        ]  # fmt: skip

    def _index(self, change: Change) -> int:
        spans = self.result.spans
        place = (change.bar, change.at)
        return next(i for i, span in enumerate(spans) if (span.span.bar, span.span.at) == place)


def _only(bar: FittedBar, heard: frozenset[str]) -> FittedBar:
    """The bar with the events of some fingers alone."""
    events: tuple[Event, ...] = tuple(e for e in bar.events if (e.finger or "") in heard)
    return FittedBar(bar.number, bar.length, events, (), bar.spans, bar.phases)
