"""The stages of one section: the picking hand first on one chord, then chords, changes, and everything."""

from __future__ import annotations

from collections.abc import Sequence
from fractions import Fraction
from itertools import pairwise
from math import ceil

from gingham.core.fitting.result import FittedBar, Result
from gingham.core.judging.changes import Change, change_between, different_changes, hardest
from gingham.core.judging.speed import full_limit, limit_of
from gingham.core.patterns.pattern import EVERYONE, FINGERS
from gingham.core.pieces.form import stage_id
from gingham.core.pieces.tempo import SLOWEST_BPM
from gingham.core.practice.orders import Learning
from gingham.core.practice.stages import (
    BEARABLE,
    Passage,
    Stage,
    StageGroup,
    StageKind,
    cut_bars,
    heard,
    mark_of,
)
from gingham.core.reasons import Reason, Value
from gingham.core.values import replace

_SWEEPS = ("chuck", "brush-down", "brush-up")
LAYERS = {"finger": ("stage-alone", "stage-with"), "stroke": ("stage-stroke-alone", "stage-stroke")}
"""The stage in which something comes first of all, and the one in which it joins what goes by itself."""
_SLOWEST = 40  # slower than this, singing and feel get harder, not easier
_DRILLS, _MOST_DRILLS, _PAIRS, _OWN_BARS = 3, 12, 3, 4
_SHARE = 0.75
_NOBODY: frozenset[str] = frozenset()
_PLUCK_A_SECOND = 60.0


def sections_stages(result: Result, learning: Learning) -> Maker | None:
    """What makes the stages of a fitted section; None if it has no chord that sounds."""
    first = next((span for span in result.spans if span.assignment is not None), None)
    if first is None or not any(bar.events for bar in result.bars):
        return None
    return Maker(result, learning)


def seam_stage(result: Result, after: Result) -> Stage | None:
    """The change from the end of a section into the one that follows; None where nothing changes."""
    change = change_between(result, after)
    if change is None or not any(bar.events for bar in result.bars):
        return None
    half = min(result.pattern.length, result.piece.meter.bar) / 2
    end = result.length()
    passages = (
        Passage(result.section, max(Fraction(0), end - half), end),
        Passage(after.section, Fraction(0), min(half, after.length())),
    )
    name = after.piece.sections[after.section].name
    reason = Reason.of("stage-seam", one=change.before, other=change.after, section=name)
    maker = Maker(result)
    stage = maker.stage(reason, "whole", passages[:1])
    return replace(
        stage,
        hard=maker.hardness(change),
        passages=passages,
        mark=mark_of(passages, {result.section: result, after.section: after}, stage.muted),
    )


class Maker:
    """Makes stages of one section, in groups."""

    def __init__(self, result: Result, learning: Learning | None = None) -> None:
        self.result, self.of = result, result.piece.meter
        self.learning = learning if learning is not None else Learning()
        self.starts = {bar.number: begin for begin, bar in result.timed_bars()}
        self.length = result.length()
        events = [event for bar in result.bars for event in bar.events]
        plucking = {event.finger for event in events if event.finger and event.kind not in _SWEEPS}
        self.used = [finger for finger in self.learning.joins if finger in plucking and finger in FINGERS]
        kinds = {event.kind for event in events}
        self.sweeps = [kind for kind in _SWEEPS if kind in kinds]
        self.first = self._first()
        self.most = full_limit(result, result.piece.rules.level).tempo
        found = different_changes(result)
        self.every = hardest(found)[:_MOST_DRILLS]
        self.drilled = self.every[:_DRILLS]
        self.inner = [change for change in found if not change.seam]

    def _first(self) -> int:
        """The chord that the hand is learnt on: the first one that holds a whole pattern, or the longest.

        A pick-up has too little of the pattern to learn it from.
        """
        wanted = min(self.result.pattern.length, self.of.bar)
        known = [(i, s) for i, s in enumerate(self.result.spans) if s.assignment is not None]
        whole = [i for i, s in known if s.span.bar > 0 and s.span.length >= wanted]
        return whole[0] if whole else max(known, key=lambda each: (each[1].span.length, -each[0]))[0]

    # Groups.

    def hand(self) -> list[Stage]:
        """The picking hand: the order without a tempo, layer by layer, the halves, the thumb on its roots."""
        reason = Reason.of("stage-free", chord=self._first_name())
        opening = [self.stage(reason, "hand", [self._first_passage()], kind="free")]
        if self.learning.opening == "count":
            opening = []
        return [*opening, *self._layers(), *self._halves(), *self._roots()]

    def chords(self) -> list[Stage]:
        """The fretting hand: the shapes by themselves, then pairs of neighbours from easy to hard."""
        if not self.inner:
            return []
        strum = self.stage(Reason.of("stage-strum"), "chords", [self._whole()], kind="strum", muted=EVERYONE)
        drilled = {(change.before, change.after) for change in self.drilled}
        easy = list(reversed(hardest(tuple(self.inner))))
        pairs = [c for c in easy if (c.before, c.after) not in drilled][:_PAIRS] or easy[:1]
        return [strum, *(self._pair(change) for change in pairs)]

    def drills(self) -> list[Stage]:
        """Every change in time with half a pattern on each side; the hardest also in steps, and counted."""
        out: list[Stage] = []
        for index, change in enumerate(self.every):
            around, one, other = self._around(change), change.before, change.after
            if index < _DRILLS:
                steps = Reason.of("stage-steps", one=one, other=other)
                count = Reason.of("stage-count", one=one, other=other)
                out.append(self.stage(steps, "change", around, kind="steps"))
                out.append(self.stage(count, "change", around, kind="count"))
            timed = self.stage(Reason.of("stage-change", one=one, other=other), "change", around)
            out.append(replace(timed, hard=self.hardness(change)))
        return out

    def hardness(self, change: Change) -> float:
        """How hard a change is beside the hardest one here, 0 to 1."""
        most = max((each.difficulty for each in self.every), default=0.0)
        return round(min(1.0, change.difficulty / most), 4) if most else 0.0

    def own_bars(self) -> list[Stage]:
        """Bars that have a pattern of their own, with half a bar on each side."""
        out, half = list[Stage](), self.of.bar / 2
        for number, _ in self.result.own_patterns()[:_OWN_BARS]:
            begin = self.starts[number]
            bar = self.result.bar(number)
            assert bar is not None
            end = min(self.length, begin + bar.length + half)
            passage = Passage(self.result.section, max(Fraction(0), begin - half), end)
            out.append(self.stage(Reason.of("stage-bar", bar=number), "whole", [passage]))
        return out

    def written(self) -> list[Stage]:
        """What a teacher, or the player, has put into the piece; bars beyond the end are left out."""
        piece, out = self.result.piece, list[Stage]()
        for own in piece.stages:
            if own.section != piece.sections[self.result.section].name:
                continue
            begin = self.starts.get(own.first, Fraction(0)) if own.first else Fraction(0)
            end = self.starts.get(own.last + 1, self.length) if own.last else self.length
            if begin >= end or (own.first and own.first not in self.starts):
                continue
            muted = EVERYONE - frozenset(own.fingers) if own.fingers else _NOBODY
            passage = Passage(self.result.section, begin, end)
            made = self.stage(Reason.of("stage-own", name=own.text), "own", [passage], muted=muted)
            tempo = min(piece.tempo, own.tempo) if own.tempo else made.tempo
            out.append(replace(made, tempo=tempo, floor=min(made.floor, tempo)))
        return out

    def whole(self) -> Stage:
        """Everything, all through."""
        return self.stage(Reason.of("stage-whole"), "whole", [self._whole()])

    def thumb_all(self) -> Stage:
        """The thumb on all chords."""
        muted = EVERYONE - {"p"} | frozenset(self.sweeps)
        return self.stage(Reason.of("stage-thumb-all"), "hand", [self._whole()], muted=muted)

    def voice(self) -> list[Stage]:
        """Humming first, then the words; then answering aloud: the hands go by themselves."""
        whole = [self._whole()]
        aloud = self.stage(Reason.of("stage-aloud"), "voice", whole, kind="aloud")
        if not self.result.piece.sections[self.result.section].words:
            return [aloud]
        hum = self.stage(Reason.of("stage-hum"), "voice", whole, kind="hum")
        return [hum, self.stage(Reason.of("stage-words"), "voice", whole, kind="words"), aloud]

    # One stage.

    def stage(
        self,
        reason: Reason,
        group: StageGroup,
        passages: Sequence[Passage],
        *,
        kind: StageKind = "loop",
        muted: frozenset[str] = _NOBODY,
    ) -> Stage:
        """A stage with its tempi."""
        key = "-".join([reason.code.removeprefix("stage-"), *(str(value) for _, value in reason.values)])
        section = self.result.piece.sections[self.result.section].name
        parts = tuple(passages)
        strokes, average = self._strokes(parts, muted)
        goal = self.result.piece.tempo
        slowest = _PLUCK_A_SECOND / average if average else 0.0
        floor = min(goal, max(SLOWEST_BPM, min(ceil(slowest), int(self.most))))
        return Stage(
            stage_id(section, key),
            kind,
            group,
            reason,
            muted,
            parts,
            max(floor, self._tempo(muted)),
            floor,
            goal,
            strokes,
            mark_of(parts, {self.result.section: self.result}, muted),
            self.result.section,
        )

    def _tempo(self, muted: frozenset[str]) -> int:
        """The tempo at which these strokes are bearable: by strokes a second, and by the hand limit."""
        bars = tuple(_only(bar, muted) for bar in self.result.bars)
        level = self.result.piece.rules.level
        most = max((len({e.at for e in bar.events if e.plucked}) for bar in bars), default=0)
        a_beat = most / float(self.of.bar / self.of.tempo_beat)
        bearable = BEARABLE.get(level, BEARABLE["growing"])
        by_strokes = 60.0 * bearable / a_beat if a_beat else float(self.result.piece.tempo)
        by_hand = _SHARE * limit_of(bars, self.of, level).tempo
        goal = float(self.result.piece.tempo)
        wanted = max(min(goal, by_strokes, by_hand), min(_SLOWEST, goal))
        return max(SLOWEST_BPM, int(min(wanted, self.most)))

    def _strokes(self, passages: tuple[Passage, ...], muted: frozenset[str]) -> tuple[float, float]:
        """Places a beat at which something is plucked: in the densest bar, and on the average."""
        beat, most, total, long = self.of.tempo_beat, 0.0, 0, Fraction(0)
        for passage in passages:
            for _, left, right, bar in cut_bars(self.result, passage):
                inside = [e for e in bar.events if left <= e.at < right and not e.silent and heard(e, muted)]
                count = len({event.at for event in inside})
                total, long = total + count, long + right - left
                most = max(most, count / float((right - left) / beat))
        return round(most, 3), total / float(long / beat) if long else 0.0

    # Passages.

    def _whole(self) -> Passage:
        return Passage(self.result.section, Fraction(0), self.length)

    def _time(self, index: int) -> Fraction:
        """Where a chord enters; at the very end for the one after the last."""
        if index >= len(self.result.spans):
            return self.length
        span = self.result.spans[index].span
        return self.starts.get(span.bar, Fraction(0)) + span.at

    def _first_passage(self) -> Passage:
        begin = self._time(self.first)
        end = min(self._time(self.first + 1), begin + max(self.result.pattern.length, self.of.bar))
        return Passage(self.result.section, begin, end)

    def _first_name(self) -> str:
        chord = self.result.spans[self.first].span.chord
        return chord.text if chord is not None else ""

    def _index(self, change: Change) -> int:
        place = (change.bar, change.at)
        return next(i for i, s in enumerate(self.result.spans) if (s.span.bar, s.span.at) == place)

    def _around(self, change: Change) -> list[Passage]:
        """Half a pattern on each side of a change; at the very start the end of the section comes first."""
        half = min(self.result.pattern.length, self.of.bar) / 2
        at, section = self._time(self._index(change)), self.result.section
        after = Passage(section, at, min(self.length, at + half))
        if at >= half:
            return [Passage(section, at - half, after.end)]
        before = Passage(section, max(Fraction(0), self.length + at - half), self.length)
        return [before, Passage(section, Fraction(0), after.end)]

    # Parts of the groups.

    def _layers(self) -> list[Stage]:
        """The thumb alone on the first chord, one finger more each time, then one kind of sweep more."""
        passage, name, out = self._first_passage(), self._first_name(), list[Stage]()
        steps: list[tuple[str, str]] = [("finger", finger) for finger in self.used]
        steps += [("stroke", sweep) for sweep in self.sweeps]
        for count, (what, added) in enumerate(steps, 1):
            fingers = set(self.used[:count]) | ({""} if count == len(steps) else set())
            silent = set(EVERYONE) - fingers
            if what == "stroke":  # a sweep is made by a finger that may pluck nothing
                silent = set() if count == len(steps) else {""}
            swept = {each for kind, each in steps[:count] if kind == "stroke"}
            muted = frozenset(silent | (set(self.sweeps) - swept))
            code = LAYERS[what][0 if count == 1 else 1]
            values: dict[str, Value] = {what: added, "chord": name}
            out.append(self.stage(Reason.of(code, **values), "hand", [passage], muted=muted))
        return out

    def _halves(self) -> list[Stage]:
        """The first half of the pattern, then the second, where it has two and the first chord holds both."""
        length, begin, section = self.result.pattern.length, self._time(self.first), self.result.section
        if length / 2 not in self.result.pattern.starts or self._time(self.first + 1) - begin < length:
            return []
        middle, end = begin + length / 2, begin + length
        return [
            self.stage(Reason.of("stage-half", which=1), "hand", [Passage(section, begin, middle)]),
            self.stage(Reason.of("stage-half", which=2), "hand", [Passage(section, middle, end)]),
        ]

    def _roots(self) -> list[Stage]:
        """The thumb over chords whose first bass lies on different strings, one of each."""
        found: dict[int, Passage] = {}
        wanted = min(self.result.pattern.length, self.of.bar)
        for index, fitted in enumerate(self.result.spans):
            assignment = fitted.assignment
            if assignment is None or not assignment.basses or fitted.span.length < wanted:
                continue
            begin = self._time(index)
            found.setdefault(assignment.basses[0].string, Passage(self.result.section, begin, begin + wanted))
        if len(found) < 2 or "p" not in self.used:
            return []
        strings = sorted(found, reverse=True)
        muted = EVERYONE - {"p"} | frozenset(self.sweeps)
        reason = Reason.of("stage-roots", strings=" ".join(map(str, strings)))
        return [self.stage(reason, "hand", [found[s] for s in strings], muted=muted)]

    def _pair(self, change: Change) -> Stage:
        index = self._index(change)
        passage = Passage(self.result.section, self._time(index - 1), self._time(index + 1))
        reason = Reason.of("stage-pair", one=change.before, other=change.after)
        return self.stage(reason, "chords", [passage])


def _only(bar: FittedBar, muted: frozenset[str]) -> FittedBar:
    """The bar with what is heard of it alone."""
    events = tuple(event for event in bar.events if heard(event, muted))
    return FittedBar(bar.number, bar.length, events, (), bar.spans, bar.phases)


def by_turns(hand: Sequence[Stage], drills: Sequence[Stage]) -> list[Stage]:
    """One layer of the hand, then a change, then the next layer: both hands by turns."""
    out: list[Stage] = []
    for index in range(max(len(hand), len(drills))):
        out += [*hand[index : index + 1], *drills[index : index + 1]]
    return out


def neighbours(order: Sequence[int]) -> dict[int, int]:
    """The section that first follows each section, where it is another one."""
    out: dict[int, int] = {}
    for one, other in pairwise(order):
        if one != other:
            out.setdefault(one, other)
    return out
