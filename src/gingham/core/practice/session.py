"""The plan of a session: warm-up, one new element, the weakest changes, what is due, a run for pleasure.

Breaks and the barre budget are inside. All shares are our own starting values; minutes are whole.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import date
from typing import Literal

import msgspec

from gingham.core.fitting.result import Result
from gingham.core.practice.attempt import Attempt
from gingham.core.practice.history import History, history
from gingham.core.practice.ladder import Ladder, ladder, start_tempo
from gingham.core.practice.making import LAYERS
from gingham.core.practice.plan import Planned
from gingham.core.practice.review import Due, current, due, rounds_at_change, weakness
from gingham.core.practice.stages import RUN, WITHOUT_TEMPO, Stage, cut_bars, length_of
from gingham.core.reasons import Reason, Value
from gingham.core.values import replace

SHORTEST, LONGEST = 5, 60
ItemKind = Literal["warm-up", "new", "change", "due", "rest", "run"]
_WARM, _RUN = 0.15, 0.1
_NEW, _CHANGE, _DUE = 0.35, 0.43, 0.22
_LONG_REST, _SHORT_REST = 3, 1
_REST_FROM = 12
"""A session of so many minutes has a rest."""
_A_CHANGE, _A_REVIEW = 5, 3
_MOST_CHANGES, _MOST_REVIEWS = 3, 4
_IN_STEPS, _MUCH_BARRE = 0.5, 0.5
_LONG_FROM, _NEAR = 15, 2
"""A player who breaks more often than that takes short breaks."""
_LATE_MS, _LATELY = 400.0, 400
_LEAST_PRIOR, _PRIOR_OF_HARD = 0.1, 0.4


class Hand(msgspec.Struct, frozen=True):
    """What the hand asks of a plan: minutes between breaks, of barre a session, of barre already today.

    `rests` after something hurt: then there is no plan.
    """

    break_after: int = 22
    barre_budget: int = 10
    barre_today: float = 0.0
    rests: bool = False


class Item(msgspec.Struct, frozen=True):
    """A part of a session: what, how many minutes, why; `barre` is the share held with a barre."""

    kind: ItemKind
    stage: str
    minutes: int
    why: Reason
    tempo: int = 0
    barre: float = 0.0


class Weak(msgspec.Struct, frozen=True):
    """A change, how likely a round at it fails (0 to 1), and from how many rounds that is known."""

    stage: Stage
    share: float
    late_ms: float
    rounds: int


def ladders(
    planned: Planned, attempts: Sequence[Attempt], today: date, *, tense: bool = False
) -> dict[str, Ladder]:
    """Where every stage stands; one that was never tried begins by what the one before it has shown."""
    past = history(attempts)
    out: dict[str, Ladder] = {}
    before: Stage | None = None
    for stage in planned.stages:
        start = _start(stage, before, out)
        out[stage.id] = ladder(stage, past.of(stage.id), today, start=start, tense=tense)
        before = stage
    return out


def starts(planned: Planned, standing: Mapping[str, Ladder]) -> dict[str, int]:
    """Where each stage begins without attempts of its own, by where the others stand."""
    pairs = zip((None, *planned.stages), planned.stages, strict=False)
    return {stage.id: _start(stage, before, standing) for before, stage in pairs}


def _start(stage: Stage, before: Stage | None, standing: Mapping[str, Ladder]) -> int:
    known = standing.get(before.id) if before is not None and before.group == stage.group else None
    return start_tempo(stage, known, before.strokes if before is not None else 0.0)


def cleared(stage: Stage, standing: Ladder, attempts: Sequence[Attempt]) -> bool:
    """Whether a stage is done: its goal is reached, or, without a tempo, it was clean once."""
    if stage.kind in WITHOUT_TEMPO or stage.kind == "count":
        return any(attempt.clean for attempt in current(stage, attempts))
    return standing.reached


def weakest(planned: Planned, attempts: Sequence[Attempt]) -> list[Weak]:
    """The changes, weakest first: by rounds that failed, by lateness in takes, and by difficulty."""
    past = history(attempts)
    late = _lateness(past[-_LATELY:])
    through = {section: _through(planned, section) for section in planned.results}
    out = []
    for stage in planned.stages:
        pair = pair_of(stage)
        if pair is None or stage.kind != "loop" or stage.group not in ("change", "whole"):
            continue
        prior = _LEAST_PRIOR + _PRIOR_OF_HARD * stage.hard
        name = " > ".join(pair)
        rounds = rounds_at_change(stage, name, past, through[stage.section])
        share = weakness(rounds, prior)
        ms = late.get(name, 0.0)
        out.append(Weak(stage, round(max(share, min(0.95, ms / _LATE_MS)), 3), round(ms), len(rounds)))
    return sorted(out, key=lambda weak: -weak.share)


def _through(planned: Planned, section: int) -> frozenset[str]:
    """The stages that go through every change of a section."""
    kinds = ("stage-whole", "stage-hum", "stage-words", "stage-aloud")
    own = (s.id for s in planned.stages if s.section == section and s.reason.code in kinds)
    return frozenset((RUN, *own))


def pair_of(stage: Stage) -> tuple[str, str] | None:
    """The two chords of a stage that is about a change."""
    values = dict(stage.reason.values)
    return (str(values["one"]), str(values["other"])) if "one" in values else None


def change_name(stage: Stage) -> str:
    """How the record names the change of a stage: `C > G/B`; empty for a stage that has none."""
    pair = pair_of(stage)
    return " > ".join(pair) if pair is not None else ""


def _lateness(attempts: Sequence[Attempt]) -> dict[str, float]:
    """By how many milliseconds the last takes have each change late; a clean round since wipes it out."""
    out: dict[str, float] = {}
    for attempt in attempts:
        if attempt.clean:
            out.pop(attempt.change, None)
        if attempt.change and attempt.figures.change_ms:
            out[attempt.change] = attempt.figures.change_ms
        for spot in attempt.spots:
            if spot.change and spot.ms:
                out[spot.change] = spot.ms
    return out


def worth_reviewing(planned: Planned, standing: Mapping[str, Ladder]) -> list[Stage]:
    """The stages that come again when they are due: those in time, of the hand's layers only the last one.

    Whoever plays with the middle finger has played the thumb alone.
    """
    layers = (*LAYERS["finger"], *LAYERS["stroke"], "stage-half", "stage-thumb-all")
    loops = [stage for stage in planned.stages if stage.kind == "loop"]
    hand = [stage for stage in loops if stage.reason.code in layers and standing[stage.id].best]
    return [stage for stage in loops if stage.reason.code not in layers] + hand[-1:]


def barre_share(stage: Stage, results: Mapping[int, Result]) -> float:
    """The share of a round that is held with a barre, 0 to 1."""
    held = 0.0
    for passage in stage.passages:
        result = results[passage.section]
        for _, left, right, bar in cut_bars(result, passage):
            for index in bar.spans:
                fitted = result.spans[index]
                begin = fitted.span.at if fitted.span.bar == bar.number else bar.length * 0
                later = [result.spans[i].span.at for i in bar.spans if i > index]
                end = min(later, default=bar.length)
                fretting = fitted.assignment.fretting if fitted.assignment is not None else None
                if fretting is not None and fretting.barre is not None:
                    held += max(0.0, float(min(end, right) - max(begin, left)))
    long = float(length_of(stage))
    return round(held / long, 3) if long else 0.0


def plan_session(
    minutes: int,
    planned: Planned,
    attempts: Sequence[Attempt],
    today: date,
    hand: Hand | None = None,
    standing: Mapping[str, Ladder] | None = None,
) -> tuple[Item, ...]:
    """What to practise today, in order; nothing for a piece without chords, or while the hand rests.

    `standing` is where every stage stands, if that is known already.

    Raises
    ------
    ValueError
        For minutes outside 5 to 60.
    """
    if not SHORTEST <= minutes <= LONGEST:
        raise ValueError(f"{minutes} minutes: a session has {SHORTEST} to {LONGEST}")
    hand = hand if hand is not None else Hand()
    if hand.rests or not planned.stages:
        return ()
    past = history(attempts)
    known = standing if standing is not None else ladders(planned, past, today)
    return _Planning(minutes, planned, past, today, hand, known).items()


class _Planning:
    """Fills the minutes."""

    def __init__(
        self, minutes: int, planned: Planned, attempts: History, today: date, hand: Hand,
        standing: Mapping[str, Ladder],
    ) -> None:  # fmt: skip
        self.minutes, self.planned, self.attempts = minutes, planned, attempts
        self.today, self.hand = today, hand
        self.standing = standing
        self.left_barre = max(0.0, hand.barre_budget - hand.barre_today)

    def items(self) -> tuple[Item, ...]:
        """Warm-up, new, changes, due, run, with rests between."""
        warm = min(5, max(1, round(_WARM * self.minutes)))
        run = min(8, max(1, round(_RUN * self.minutes)))
        rests = self._rests()
        room = self.minutes - warm - run - sum(rests)
        new = self._new()
        reviews = self._due(new)
        shares = {
            "new": _NEW if new is not None else 0.0, "due": _DUE if reviews else 0.0, "change": _CHANGE,
        }  # fmt: skip
        whole = sum(shares.values())
        for_new = round(room * shares["new"] / whole)
        for_due = round(room * shares["due"] / whole)
        work: list[Item] = []
        if new is not None and for_new:
            work.append(self._item("new", new, for_new, "plan-new"))
        busy = {new.id} if new is not None else set()
        work += self._changes(room - for_new - for_due, busy)
        work += self._reviews(reviews, for_due, busy | {item.stage for item in work})
        missing = room - sum(item.minutes for item in work)
        if missing > 0 and work:
            work[-1] = replace(work[-1], minutes=work[-1].minutes + missing)
        first = self._item("warm-up", self._warm_up(new), warm, "plan-warm-up")
        last = self._item("run", self._run(), run + (missing if not work else 0), "plan-run")
        return (first, *self._with_rests(work, rests), last)

    def _rests(self) -> list[int]:
        """Minutes of each rest: so many that no stretch is longer than the player's own interval."""
        if self.minutes < _REST_FROM:
            return []
        count = max(1, (self.minutes - 1) // max(5, self.hand.break_after))
        long = self.minutes > self.hand.break_after >= _LONG_FROM
        return [_LONG_REST if long else _SHORT_REST] * count

    def _with_rests(self, work: list[Item], rests: list[int]) -> list[Item]:
        """The rests spread evenly; a part that is longer than a stretch is taken up again behind its rest."""
        cuts = _cuts([item.minutes for item in work], len(rests))
        out, passed = list[Item](), 0
        for item in work:
            left = item
            while cuts and cuts[0] <= passed + left.minutes:
                first = cuts.pop(0) - passed
                if first:
                    out.append(replace(left, minutes=first))
                code = "plan-rest-barre" if item.barre > _MUCH_BARRE else "plan-rest"
                out.append(Item("rest", "", rests[0], Reason.of(code)))
                left, passed = replace(left, minutes=left.minutes - first), passed + first
            if left.minutes:
                out.append(left)
                passed += left.minutes
        return out

    def _item(self, kind: ItemKind, stage: Stage, minutes: int, code: str, **values: Value) -> Item:
        """A part with its tempo; what would be too much barre today is played by the thumb alone."""
        tempo = self.standing[stage.id].tempo if stage.id in self.standing else stage.tempo
        barre = barre_share(stage, self.planned.results)
        if barre and kind in ("new", "change", "due"):
            self.left_barre -= barre * minutes
        return Item(kind, stage.id, minutes, Reason.of(code, **values), tempo, barre)

    def _warm_up(self, new: Stage | None) -> Stage:
        """Something of the picking hand that is known already, without a barre; not what is new today."""
        easy = [s for s in self.planned.stages if s.group == "hand" and s.kind == "loop"]
        easy = easy or list(self.planned.stages)
        light = [stage for stage in easy if not barre_share(stage, self.planned.results)] or easy
        known = [stage for stage in light if self.standing[stage.id].best and stage is not new]
        return known[-1] if known else light[0]

    def _new(self) -> Stage | None:
        """The first stage in the order of learning that has not been cleared; it is gone on with."""
        for stage in self.planned.stages:
            if stage.group == "change" or cleared(stage, self.standing[stage.id], self.attempts):
                continue
            if barre_share(stage, self.planned.results) > 0 and self.left_barre <= 0:
                continue
            return stage
        return None

    def _changes(self, minutes: int, busy: set[str]) -> list[Item]:
        """The weakest changes, the weakest longest; first in steps where rounds mostly fail."""
        if minutes <= 0:
            return []
        found = [weak for weak in weakest(self.planned, self.attempts) if weak.stage.id not in busy]
        found = [w for w in found if self.left_barre > 0 or not barre_share(w.stage, self.planned.results)]
        count = min(_MOST_CHANGES, max(1, minutes // _A_CHANGE), len(found))
        out: list[Item] = []
        for index, weak in enumerate(found[:count]):
            part = _part(minutes, count, index)
            values: dict[str, Value] = {"percent": round(100 * weak.share), "ms": round(weak.late_ms)}
            known = "plan-change" if weak.rounds else "plan-change-guess"
            code = "plan-change-late" if weak.late_ms else known
            steps = self._steps(weak.stage)
            if weak.share >= _IN_STEPS and steps is not None and part >= 3:
                out.append(self._item("change", steps, part // 3, "plan-steps", **values))
                part -= part // 3
            out.append(self._item("change", weak.stage, part, code, **values))
        return out

    def _steps(self, stage: Stage) -> Stage | None:
        pair = pair_of(stage)
        found = (s for s in self.planned.stages if s.kind == "steps" and pair_of(s) == pair)
        return next(found, None)

    def _due(self, new: Stage | None) -> list[Due]:
        """What is due, the longest overdue first."""
        worth = [s for s in worth_reviewing(self.planned, self.standing) if new is None or s.id != new.id]
        found = [due(stage, self.attempts) for stage in worth]
        ready = [each for each in found if each is not None and each.on <= self.today]
        return sorted(ready, key=lambda each: each.on)

    def _reviews(self, found: list[Due], minutes: int, busy: set[str]) -> list[Item]:
        ready = [each for each in found if each.stage not in busy][:_MOST_REVIEWS]
        count = min(len(ready), max(1, minutes // _A_REVIEW)) if minutes > 0 else 0
        out = []
        for index, each in enumerate(ready[:count]):
            stage = self.planned.stage(each.stage)
            assert stage is not None
            days = (self.today - each.last).days
            out.append(self._item("due", stage, _part(minutes, count, index), "plan-due", days=days))
        return out

    def _run(self) -> Stage:
        """All through, as far as it is known."""
        whole = [stage for stage in self.planned.stages if stage.reason.code == "stage-whole"]
        return whole[0] if whole else self.planned.stages[-1]


def _cuts(parts: list[int], rests: int) -> list[int]:
    """After how many minutes of work each rest comes: evenly, between two parts where that is near."""
    whole = sum(parts)
    borders = [sum(parts[:count]) for count in range(1, len(parts))]
    near = max(_NEAR, whole // (4 * (rests + 1)))
    out: list[int] = []
    for number in range(1, rests + 1):
        even = round(whole * number / (rests + 1))
        free = [b for b in borders if abs(b - even) <= near and (not out or b > out[-1])]
        out.append(min(free, key=lambda border: abs(border - even)) if free else even)
    return out


def _part(minutes: int, count: int, index: int) -> int:
    """Minutes divided among several, what is over to the first ones."""
    each, over = divmod(minutes, count)
    return each + (1 if index < over else 0)
