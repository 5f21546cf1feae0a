"""Planned moments matched, in order, with what was struck: dynamic programming over candidates.

A moment is worth what speaks for it at a candidate; a step from one to the next costs what its length differs
from what was expected. Hesitations at changes cost little however long they are, moments that are left out
cost a fixed sum, and a take may begin late or break off.
"""

from __future__ import annotations

from collections.abc import Iterable

import msgspec
import numpy as np
from numpy.lib.stride_tricks import sliding_window_view
from numpy.typing import NDArray

from gingham.core.listening.plan import TakePlan
from gingham.core.listening.spectra import Floats

Numbers = NDArray[np.float64]
_BACK = 4  # moments that may be skipped in a row, and one more
_BAND = 28  # candidates looked back
_LEAD, _TAIL = 0.25, 0.24  # each moment that a take begins late, or ends early
_GOES_ON = 0.5  # and more while strings are plucked there
_SKIP = 1.8  # each moment left out
_DEVIATION_S = 0.07
_AT_CHANGE, _WITHIN = 1.0, 2.2  # a wait before another chord, and any other
_NEVER = 1e9
_NEAR_S = 4.0  # how far a second match may go from the first
_LENGTHS = 64  # lengths of steps that are kept
_STEP_S, _ONE_SIDED = 0.02, 0.25  # a line lies so far off, and one of one side alone lies so much nearer
_HALF = 6  # moments at each side that say how the time runs at one


def reach_of(of: NDArray[np.int64]) -> range:
    """The moments from the first that has a candidate to the last."""
    known = np.flatnonzero(of >= 0)
    return range(int(known[0]), int(known[-1]) + 1) if len(known) else range(0)


class Matched(msgspec.Struct, frozen=True):
    """The candidate of each moment (−1 for none) and what the whole is worth."""

    of: NDArray[np.int64]
    worth: float

    @property
    def reach(self) -> range:
        """The moments from the first that was found to the last: the part of the plan that was played."""
        return reach_of(self.of)

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
    plucked: NDArray[np.bool_] | None = None,
) -> Matched:
    """Match moments (`expected`, seconds) with candidates (`times`); `worth` is candidates by moments.

    `changes` says of each moment whether another chord enters there. In a `free` take only the order counts.
    With `near`, an earlier match, only candidates some seconds from its own are tried. `plucked` says which
    candidates are surely plucks: where there are some, the take has hardly begun late or ended early.
    """
    count, moments = worth.shape
    if not count or not moments:
        return Matched(np.full(moments, -1), 0.0)
    sure = np.zeros(count, bool) if plucked is None else plucked
    steps = _Steps(times, worth, expected, changes, sure, free=free)
    for k, rows in enumerate([slice(0, count)] * moments if near is None else _around(times, near)):
        steps.reach(k, rows)
    return steps.best()


def _around(times: Numbers, of: NDArray[np.int64]) -> list[slice]:
    """For each moment the candidates from some seconds before its own to some after it; whole where none is.

    A moment without a candidate has those between its neighbours', and as much on both sides; before the
    first that was found, and after the last, all.
    """
    known = np.flatnonzero(of >= 0)
    if not len(known):
        return [slice(0, len(times))] * len(of)
    found, moments = times[of[known]], np.arange(len(of))
    before = found[np.maximum(np.searchsorted(known, moments, "right") - 1, 0)]
    after = found[np.minimum(np.searchsorted(known, moments, "left"), len(known) - 1)]
    first = np.searchsorted(times, np.minimum(before, after) - _NEAR_S)
    last = np.searchsorted(times, np.maximum(before, after) + _NEAR_S, "right")
    first[moments < known[0]], last[moments > known[-1]] = 0, len(times)
    return [slice(int(begin), int(end)) for begin, end in zip(first, last, strict=True)]


class _Steps:
    """What the best way to each candidate of each moment is worth, and which way that is.

    Only the worths are kept, in single precision. Where each came from is asked on the best way alone, and is
    worked out again.
    """

    def __init__(
        self,
        times: Numbers,
        worth: Numbers,
        expected: Numbers,
        changes: NDArray[np.bool_],
        plucked: NDArray[np.bool_],
        *,
        free: bool,
    ) -> None:
        self._worth, self._expected, self._changes, self._is_free = worth, expected, changes, free
        self._count, self._moments = worth.shape
        self._plucked_since: NDArray[np.int64] = plucked.sum() - np.cumsum(plucked)
        self._plucked_before: NDArray[np.int64] = np.cumsum(plucked) - plucked
        self._band = min(_BAND, self._count)
        # Each row begins with a band of places where nothing is: a look back needs no end.
        self._best = np.full((self._moments, self._band + self._count), -_NEVER, np.float32)
        self._ways = np.empty((self._band, self._count), np.float32)
        # Seen from each candidate: the band of places before it.
        self._behind = sliding_window_view(self._best[:, :-1], self._count, axis=1)
        earlier = np.concatenate([np.full(self._band, times[0]), times[:-1]])
        self._gaps: Floats = (times - sliding_window_view(earlier, self._count)).astype(np.float32)
        self._costs: dict[tuple[float, float], Floats] = {}

    def reach(self, k: int, rows: slice) -> None:
        """Work out a moment at some of the candidates; those before it are known."""
        worth = self._worth[rows, k]
        here = worth - self._late(k, rows)
        ways = self._ways[:, rows]
        for back, cost in enumerate(self._costs_to(k, rows), 1):
            np.subtract(self._behind[k - back, :, rows], cost, out=ways)
            np.maximum(here, ways.max(0) + worth - _SKIP * (back - 1), out=here)
        self._best[k, self._band + rows.start : self._band + rows.stop] = here

    def best(self) -> Matched:
        """The best way of all."""
        worth, k, j = max(map(self._end, range(self._moments)))
        of = np.full(self._moments, -1)
        while k >= 0:
            of[k] = j
            k, j = self._before(k, j)
        return Matched(of, worth)

    def _end(self, k: int) -> tuple[float, int, int]:
        """What the best way is worth that ends with a moment, the moment, and its candidate."""
        left = self._moments - 1 - k
        ends = self._best[k, self._band :] - (_TAIL * left + _GOES_ON * np.minimum(left, self._plucked_since))
        j = int(ends.argmax())
        return float(ends[j]), k, j

    def _before(self, k: int, j: int) -> tuple[int, int]:
        """The moment and candidate that the best way comes from; −1 where it begins."""
        here = float(self._worth[j, k])
        most, before = here - float(self._late(k, j)), (-1, -1)
        costs = self._cost(*self._steps_to(k), slice(j, j + 1))[:, :, 0]
        if len(costs):
            skipped = np.arange(len(costs))
            ways = self._behind[k - 1 - skipped, :, j] - costs - _SKIP * skipped[:, None]
            back, column = divmod(int(ways.argmax()), self._band)
            if float(ways[back, column]) + here > most:
                before = k - 1 - back, j - self._band + column
        return before

    def _late(self, k: int, rows: slice | int) -> Numbers:
        """What it costs that a take begins with a moment at some candidates."""
        return np.asarray(_LEAD * k + _GOES_ON * np.minimum(k, self._plucked_before[rows]))

    def _steps_to(self, k: int) -> tuple[Numbers, Numbers]:
        """From each moment that may come before one, the nearest first: seconds, and what a wait costs."""
        backs = np.arange(1, min(_BACK, k) + 1)
        changed = np.logical_or.accumulate(self._changes[k + 1 - backs])
        return self._expected[k] - self._expected[k - backs], np.where(changed, _AT_CHANGE, _WITHIN)

    def _costs_to(self, k: int, rows: slice) -> Iterable[Floats]:
        """What those steps cost; for all candidates worked out once for each length that is due."""
        steps_s, waits = self._steps_to(k)
        if rows != slice(0, self._count):
            return self._cost(steps_s, waits, rows)
        return [self._cost_of_all(*step) for step in zip(steps_s.tolist(), waits.tolist(), strict=True)]

    def _cost_of_all(self, step_s: float, wait: float) -> Floats:
        key = round(step_s, 4), wait
        if key not in self._costs:
            if len(self._costs) >= _LENGTHS:
                self._costs.clear()
            self._costs[key] = self._cost(np.array([step_s]), np.array([wait]), slice(0, self._count))[0]
        return self._costs[key]

    def _cost(self, steps_s: Numbers, waits: Numbers, rows: slice) -> Floats:
        """What it costs to come so many seconds late (or early): steps by band by candidates."""
        gaps = self._gaps[:, rows]
        if self._is_free:
            return np.zeros((len(steps_s), *gaps.shape), np.float32)
        late = gaps - steps_s.astype(np.float32)[:, None, None]
        wait = waits.astype(np.float32)[:, None, None]
        most = np.where(late >= 0, late / 0.5 + wait, 3.5 - late / 0.2)
        return np.asarray(np.minimum(np.abs(late) / _DEVIATION_S, most))


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
    Where the beat was held up, the line is that of the neighbours on one side, whichever are on one.
    """
    moments = np.arange(len(score))
    order = np.searchsorted(known, moments)
    late, off = _line_at(score, known, played, moments, order - _HALF, 2 * _HALF + 1)
    some = np.flatnonzero(off > _STEP_S)
    if len(some):
        there = known[np.minimum(order, len(known) - 1)] == moments
        before = _line_at(score, known, played, some, (order - _HALF - ~there)[some], _HALF + 1)
        after = _line_at(score, known, played, some, order[some], _HALF + 1)
        nearer, off_less = np.where(before[1] <= after[1], before, after)
        held_up = off_less < _ONE_SIDED * off[some]
        late[some[held_up]] = nearer[held_up]
    return score + late


def _line_at(
    score: Numbers,
    known: NDArray[np.int64],
    played: Numbers,
    moments: NDArray[np.int64],
    first: NDArray[np.int64],
    width: int,
) -> tuple[Numbers, Numbers]:
    """How late moments are by lines through known ones from `first` on, and how far off those lie."""
    width = min(len(known), width)
    near = np.clip(first, 0, len(known) - width)[:, None] + np.arange(width)[None, :]
    x = score[known[near]] - score[moments][:, None]
    y = played[near] - score[known[near]]
    close = 1.0 / (1.0 + np.abs(known[near] - moments[:, None]) / 3.0)
    weight = close
    for _ in range(5):
        sw, sx, sxx = weight.sum(1), (weight * x).sum(1), (weight * x * x).sum(1) + 0.3
        sy, sxy = (weight * y).sum(1), (weight * x * y).sum(1)
        slope = (sw * sxy - sx * sy) / np.maximum(sw * sxx - sx * sx, 1e-9)
        level = (sy - slope * sx) / sw
        off = np.abs(y - level[:, None] - slope[:, None] * x)
        weight = close / np.maximum(off, 0.01)
    return level, (close * off).sum(1) / close.sum(1)
