"""Planned moments matched, in order, with what was struck: dynamic programming over candidates.

A moment is worth what speaks for it at a candidate; a step from one to the next costs what its length differs
from what was expected. Hesitations at changes cost little however long they are, moments that are left out
cost a fixed sum, and a take may begin late or break off.
"""

from __future__ import annotations

import msgspec
import numpy as np
from numpy.typing import NDArray

from gingham.core.listening.plan import TakePlan

Numbers = NDArray[np.float64]
_BACK = 4  # moments that may be skipped in a row, and one more
_BAND = 28  # candidates looked back
_LEAD, _TAIL = 0.25, 0.24  # each moment that a take begins late, or ends early
_SKIP = 1.8  # each moment left out
_DEVIATION_S = 0.07
_NEVER = 1e9
_NEAR_S = 4.0  # how far a second match may go from the first
_LENGTHS = 64  # lengths of steps that are kept
_HALF = 6  # moments at each side that say how the time runs at one
_LATE_S = 0.005  # how far a candidate of the flux usually lies after the start


class Matched(msgspec.Struct, frozen=True):
    """The candidate of each moment (−1 for none) and what the whole is worth."""

    of: NDArray[np.int64]
    worth: float

    @property
    def reach(self) -> range:
        """The moments from the first that was found to the last: the part of the plan that was played."""
        known = np.flatnonzero(self.of >= 0)
        return range(int(known[0]), int(known[-1]) + 1) if len(known) else range(0)

    @property
    def inside(self) -> float:
        """What each moment of that part is worth; a late start and an early end do not count."""
        left_out = len(self.of) - len(self.reach)
        return (self.worth + _LEAD * left_out) / max(1, len(self.reach))


def match(
    times: Numbers,
    worth: Numbers,
    expected: Numbers,
    changes: NDArray[np.bool_],
    *,
    free: bool = False,
    near: NDArray[np.int64] | None = None,
) -> Matched:
    """Match moments (`expected`, seconds) with candidates (`times`); `worth` is candidates by moments.

    `changes` says of each moment whether another chord enters there. In a `free` take only the order counts.
    With `near`, an earlier match, only candidates some seconds from its own are tried.
    """
    count, moments = worth.shape
    if not count or not moments:
        return Matched(np.full(moments, -1), 0.0)
    best = np.full((moments, count), -_NEVER)
    came_moment, came = np.full((moments, count), -1), np.full((moments, count), -1)
    before = np.arange(count)[:, None] - np.arange(1, min(_BAND, count) + 1)[None, :]
    there, before = before >= 0, np.maximum(before, 0)
    costs = _Costs(times[:, None] - times[before], there)
    every = [slice(0, count)] * moments if near is None else _around(times, near)
    for k, rows in enumerate(every):
        here = worth[rows, k] - _LEAD * k
        each = np.arange(len(here))
        for back in range(1, min(_BACK, k) + 1):
            change = bool(changes[k - back + 1 : k + 1].any())
            cost = costs.of(None if free else expected[k] - expected[k - back], change, rows)
            total = best[k - back][before[rows]] - cost
            column = total.argmax(1)
            value = total[each, column] + worth[rows, k] - _SKIP * (back - 1)
            better = value > here
            here[better] = value[better]
            came_moment[k, rows][better] = k - back
            came[k, rows][better] = before[rows][each, column][better]
        best[k, rows] = here
    ends = best - _TAIL * (moments - 1 - np.arange(moments))[:, None]
    k, j = (int(i) for i in np.unravel_index(int(ends.argmax()), ends.shape))
    out, total_worth = np.full(moments, -1), float(ends[k, j])
    while k >= 0:
        out[k] = j
        k, j = int(came_moment[k, j]), int(came[k, j])
    return Matched(out, total_worth)


def _around(times: Numbers, of: NDArray[np.int64]) -> list[slice]:
    """For each moment the candidates from some seconds before its own to some after it; whole where none is.

    A moment without a candidate has those between its neighbours', and as much on both sides.
    """
    known = np.flatnonzero(of >= 0)
    if not len(known):
        return [slice(0, len(times))] * len(of)
    found, moments = times[of[known]], np.arange(len(of))
    before = found[np.maximum(np.searchsorted(known, moments, "right") - 1, 0)]
    after = found[np.minimum(np.searchsorted(known, moments, "left"), len(known) - 1)]
    first = np.searchsorted(times, np.minimum(before, after) - _NEAR_S)
    last = np.searchsorted(times, np.maximum(before, after) + _NEAR_S, "right")
    return [slice(int(begin), int(end)) for begin, end in zip(first, last, strict=True)]


class _Costs:
    """What each step from candidate to candidate costs: for all of them once for each length that is due."""

    def __init__(self, gap: Numbers, there: NDArray[np.bool_]) -> None:
        self._gap, self._there = gap, there
        self._known: dict[tuple[float | None, bool], Numbers] = {}

    def of(self, step_s: float | None, change: bool, rows: slice) -> Numbers:
        """The costs where a step of so many seconds is due (None: however long), into a change or not."""
        if rows != slice(0, len(self._gap)):
            return self._of(step_s, change, rows)
        key = None if step_s is None else round(step_s, 4), change
        if key not in self._known:
            if len(self._known) >= _LENGTHS:
                self._known.clear()
            self._known[key] = self._of(step_s, change, rows)
        return self._known[key]

    def _of(self, step_s: float | None, change: bool, rows: slice) -> Numbers:
        gap = self._gap[rows]
        late = np.zeros_like(gap) if step_s is None else gap - step_s
        return np.where(self._there[rows], _cost(late, change=change), _NEVER)


def _cost(late: Numbers, *, change: bool) -> Numbers:
    """What it costs to come so many seconds late (or early) after the moment before."""
    away = np.abs(late) / _DEVIATION_S
    behind = np.minimum(away, (1.0 if change else 2.2) + late / 0.5)
    return np.where(late >= 0, behind, np.minimum(away, 3.5 - late / 0.2))


class Expected(msgspec.Struct, frozen=True):
    """When each moment should come (seconds in the file): by the running beat, and as the fingers play it."""

    beat: Numbers
    played: Numbers


def expected_times(plan: TakePlan, times: Numbers, matched: NDArray[np.int64]) -> Expected:
    """When each moment should come, as the player plays: a running line through the matched ones.

    Robust lines over the moments around each one follow tempo and drift; what one finger is always late (or
    early) by is added for that finger.
    """
    score = np.asarray(plan.times)
    known = np.flatnonzero(matched >= 0)
    if len(known) < 3:
        shift = times[matched[known[0]]] - score[known[0]] if len(known) else 0.0
        return Expected(score + shift, score + shift)
    played = times[matched[known]]
    names = np.array([_finger(plan, k) for k in range(len(score))])
    own = np.zeros(len(score))
    for _ in range(3):
        base = running_beat(score, known, played - own[known])
        for name in set(names[known]):
            here = names[known] == name
            if here.sum() >= 4:
                own[names == name] = np.median((played - base[known])[here])
        own -= np.median(own)
    return Expected(base, base + own)


def interpolated(times: Numbers, matched: NDArray[np.int64]) -> Expected:
    """Where moments lie between their neighbours, in a take without a tempo."""
    known = np.flatnonzero(matched >= 0)
    if not len(known):
        return Expected(np.zeros(len(matched)), np.zeros(len(matched)))
    out = np.interp(np.arange(len(matched)), known, times[matched[known]])
    return Expected(out, out)


def _finger(plan: TakePlan, moment: int) -> str:
    struck = plan.moments[moment]
    return plan.plucks[struck[0]].finger or "" if len(struck) == 1 else "p"


def running_beat(score: Numbers, known: NDArray[np.int64], played: Numbers) -> Numbers:
    """When each moment should come: a robust line through how late its neighbours are, read there.

    `known` are the moments that were heard, `played` when (seconds); all moments are worked out at once.
    """
    order = np.searchsorted(known, np.arange(len(score)))
    width = min(len(known), 2 * _HALF + 1)
    first = np.clip(order - _HALF, 0, len(known) - width)
    near = first[:, None] + np.arange(width)[None, :]
    x = score[known[near]] - score[:, None]
    y = played[near] - score[known[near]]
    close = 1.0 / (1.0 + np.abs(known[near] - np.arange(len(score))[:, None]) / 3.0)
    weight = close
    for _ in range(5):
        sw, sx, sxx = weight.sum(1), (weight * x).sum(1), (weight * x * x).sum(1) + 0.3
        sy, sxy = (weight * y).sum(1), (weight * x * y).sum(1)
        slope = (sw * sxy - sx * sy) / np.maximum(sw * sxx - sx * sx, 1e-9)
        level = (sy - slope * sx) / sw
        weight = close / np.maximum(np.abs(y - level[:, None] - slope[:, None] * x), 0.01)
    return np.asarray(score + level)
