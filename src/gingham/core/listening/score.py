"""A hearing laid over its plan: what became of every planned pluck, and where it stands in the bars."""

from __future__ import annotations

from collections.abc import Sequence
from fractions import Fraction
from typing import Literal

import msgspec
import numpy as np

from gingham.core.listening.asked import Question
from gingham.core.listening.heard import Heard, Hearing
from gingham.core.listening.plan import SOFT, TakePlan
from gingham.core.listening.report import Report
from gingham.core.reasons import Reason

State = Literal["right", "wrong", "missed", "unclear", "extra", "beyond"]
GOOD = frozenset({"take-held", "take-even", "take-order", "take-with-click", "take-accents", "take-swings"})
"""Codes of what held."""
_NOT_FOUND: tuple[Heard | None, float | None] = (None, None)
REMARKS = frozenset({"take-begins", "take-stops", "take-clipped", "take-unclear"})
"""Codes of what is good to know, and nothing to work on."""


class Mark(msgspec.Struct, frozen=True, gc=False):
    """A pluck of the picture: `bar` as it is played, `at` straight in it, both 0-based time in whole notes.

    `string` is the planned one (of an extra pluck the one heard), `heard` the string that sounded (None if
    none did) and `heard_fret` the fret there, `late_ms` against the player's own beat, `t_s` when it sounded
    or should have, in the file.
    """

    bar: int
    at: Fraction
    time: float
    string: int
    fret: int
    finger: str | None
    state: State
    heard: int | None
    heard_fret: int | None
    late_ms: float | None
    t_s: float


def marks_of(asked: Question, hearing: Hearing, said: Report) -> tuple[Mark, ...]:
    """Every planned pluck and every extra one, in order of time."""
    plan = asked.plan
    starts = {each.number: each.start for each in asked.bars}
    found: dict[int, tuple[Heard | None, float | None]] = {}
    extras: list[Heard] = []
    for heard, late in zip(hearing.notes, said.late_ms, strict=True):
        if heard.planned is None:
            extras.append(heard)
        else:
            found[heard.planned] = (heard, late)
    inside = {i for k in hearing.reach for i in plan.moments[k]}
    missed, unclear = set(hearing.missed), set(hearing.unclear)
    out = []
    for i, planned in enumerate(plan.plucks):
        note, late = found.get(i, _NOT_FOUND)
        soft = planned.kind in SOFT
        state: State
        if i not in inside:
            state = "beyond"
        elif i in missed:
            state = "missed"
        elif i in unclear or (note is None and not soft):
            state = "unclear"
        else:
            state = "right" if note is None or note.string == planned.string else "wrong"
        out.append(
            Mark(
                planned.bar, planned.at, float(starts[planned.bar] + planned.at), planned.string,
                planned.midi - plan.tuning[planned.string - 1], planned.finger, state,
                None if note is None else note.string, None if note is None else _fret(plan, note), late,
                note.t_s if note is not None else hearing.expected[i],
            )
        )  # fmt: skip
    out += [_extra(asked, hearing, heard) for heard in extras]
    last = max((plan.plucks[i].bar for i in inside), default=0)
    shown = (mark for mark in out if mark.bar <= last)  # rounds that nobody has played are not missing
    return tuple(sorted(shown, key=lambda mark: (mark.time, -mark.string)))


def _extra(asked: Question, hearing: Hearing, note: Heard) -> Mark:
    """A pluck that nobody planned, between the planned ones beside it."""
    time = time_at(asked, hearing, note.t_s)
    bar = max((each for each in asked.bars if float(each.start) <= time + 1e-9), key=lambda each: each.start)
    at = Fraction(time - float(bar.start)).limit_denominator(96)
    fret = _fret(asked.plan, note)
    return Mark(bar.number, at, time, note.string, fret, None, "extra", note.string, fret, None, note.t_s)


def _fret(plan: TakePlan, note: Heard) -> int:
    return max(0, note.midi - plan.tuning[note.string - 1])


def _course(asked: Question, hearing: Hearing) -> tuple[Sequence[float], Sequence[float]]:
    """Seconds of the file and whole notes of the plan, at every moment of the plan."""
    starts = {each.number: float(each.start) for each in asked.bars}
    firsts = [moment[0] for moment in asked.plan.moments]
    plucks = asked.plan.plucks
    return (
        [hearing.expected[i] for i in firsts],
        [starts[plucks[i].bar] + float(plucks[i].at) for i in firsts],
    )


def time_at(asked: Question, hearing: Hearing, t_s: float) -> float:
    """Where a second of the file lies in the plan, in whole notes from the first bar."""
    seconds, notes = _course(asked, hearing)
    return max(0.0, float(np.interp(t_s, seconds, notes)))


def second_of(asked: Question, hearing: Hearing, bar: int) -> float:
    """When a bar begins in the file."""
    seconds, notes = _course(asked, hearing)
    start = next((float(each.start) for each in asked.bars if each.number == bar), 0.0)
    return float(np.interp(start, notes, seconds))


def tempi(asked: Question, hearing: Hearing) -> tuple[tuple[int, float], ...]:
    """Beats a minute in every bar that was reached, by the player's own running beat."""
    if not len(hearing.reach):
        return ()
    plan = asked.plan
    bars = [plan.plucks[plan.moments[k][0]].bar for k in (hearing.reach[0], hearing.reach[-1])]
    out = []
    for number in range(bars[0], bars[1] + 1):
        moments = [k for k in hearing.reach if plan.plucks[plan.moments[k][0]].bar == number]
        after = [k for k in hearing.reach if plan.plucks[plan.moments[k][0]].bar == number + 1][:1]
        ends = [*moments, *after]
        if len(ends) < 2:
            continue
        took = hearing.expected[plan.moments[ends[-1]][0]] - hearing.expected[plan.moments[ends[0]][0]]
        if took > 0:
            out.append((number, round(plan.tempo * (plan.times[ends[-1]] - plan.times[ends[0]]) / took, 1)))
    return tuple(out)


def sentences(asked: Question, hearing: Hearing, said: Report) -> tuple[Reason, ...]:
    """The summary; that a take of a section ends with a round is nothing to be told."""
    if asked.asked.section is None or not len(hearing.reach):
        return said.summary
    number = asked.plan.plucks[asked.plan.moments[hearing.reach[-1]][0]].bar
    last = asked.bars[-1].bar
    whole = any(each.number == number and each.bar is last for each in asked.bars)
    return tuple(reason for reason in said.summary if not (whole and reason.code == "take-stops"))


def bar_of(reason: Reason, marks: Sequence[Mark]) -> int | None:
    """The bar to look at for a sentence: the one it names, or where what it tells of is at its worst."""
    values = dict(reason.values)
    bar = values.get("bar")
    if isinstance(bar, int):
        return bar
    if reason.code == "take-extra":
        return next((mark.bar for mark in marks if mark.state == "extra"), None)
    if reason.code == "take-unclear":
        return next((mark.bar for mark in marks if mark.state == "unclear"), None)
    finger = values.get("finger")
    timed = [m for m in marks if m.late_ms is not None and (finger is None or m.finger == finger)]
    if reason.code == "take-drift" and timed:
        return timed[-1].bar
    return max(timed, key=lambda mark: abs(mark.late_ms or 0.0)).bar if timed else None
