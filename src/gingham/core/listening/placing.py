"""Which onset is which planned moment, and when each moment should come.

`aligning` matches both in order; around it, tempos other than the planned one are tried, and what the match
left open is filled in and set right.
"""

from __future__ import annotations

import msgspec
import numpy as np
from numpy.typing import NDArray

from gingham.core.listening.aligning import Matched, expected_times, interpolated, match
from gingham.core.listening.onsets import LATE_S
from gingham.core.listening.plan import TakePlan
from gingham.core.listening.struck import Struck

Numbers = NDArray[np.float64]
SHORT = 8
"""So few moments in a row may fit by chance."""
_SURE = 0.35  # of what is usual: a pluck for sure
_TOGETHER_S = 0.075  # plucks of one moment may lie so far apart
_BESIDE_S = 0.09  # so far an onset may lie from one that suits its moment better
_TAP = 1.3  # what suits a moment so much less is no pluck of it, however loud
_SPEAKS, _DUE_S = 2.0, 0.04  # what the flux says against pitch and loudness; a wait that is worth one of them
_TEMPOS = (0.88, 1.13, 0.78, 1.28, 0.69, 1.45, 0.6, 0.5, 1.7)
"""The player's beat in planned beats, where the planned one does not fit."""
_PLAIN = 0.3  # worth of a match a moment that needs no other tempo to be tried
_BETTER = 0.1  # by which another tempo must be better, a moment
_STEADY = 0.04  # of a tempo: less is drift
_SPAN = 8  # moments over which the tempo is taken


class Placed(msgspec.Struct, frozen=True):
    """The candidate of each moment (−1 for none), and when each should come, in seconds of the file.

    `beat` is by the player's beat, `expected` as the fingers play it.
    """

    of: NDArray[np.int64]
    beat: Numbers
    expected: Numbers


def place(struck: Struck, worth: Numbers, plan: TakePlan, *, free: bool = False) -> Placed:
    """The moments of a plan on the candidates; `worth` is candidates by moments.

    In a `free` take there is no tempo: only the order counts.
    """
    times, score = struck.times, np.asarray(plan.times)
    changes = np.array([plan.changes(k) for k in range(len(score))])
    if free:
        of = match(times, worth, score, changes, free=True).of
        middle = interpolated(times, of).beat - LATE_S
        return Placed(of, middle, middle)
    found, tempo = _in_tempo(times, worth, score, changes)
    scaled = msgspec.structs.replace(plan, times=tuple(score * tempo))
    expected = expected_times(scaled, times, found.of).played
    sure = _plucked(struck, found.of)
    of = match(times, worth, expected, changes, near=found.of, plucked=sure).of
    due = expected_times(scaled, times, of).played
    _fill(of, struck, worth, due)
    _sharpen(of, struck, worth, due)
    last = expected_times(scaled, times, of)
    return Placed(of, last.beat - LATE_S, last.played - LATE_S)


def _plucked(struck: Struck, of: NDArray[np.int64]) -> NDArray[np.bool_]:
    """Which candidates are surely plucks: about as pitched and as sudden as those of a first match."""
    known = of[of >= 0]
    if not len(known):
        return np.zeros(len(struck.times), bool)
    tonal, flux = np.median(struck.tonal[known]), np.median(struck.flux[known])
    return np.asarray((struck.tonal > _SURE * tonal) & (struck.flux > _SURE * flux))


def _in_tempo(
    times: Numbers, worth: Numbers, score: Numbers, changes: NDArray[np.bool_]
) -> tuple[Matched, float]:
    """The best match, and the player's beat in planned beats."""
    found, tempo = match(times, worth, score, changes), 1.0
    if found.inside < _PLAIN or len(found.reach) < SHORT:
        for other in _TEMPOS:
            tried = match(times, worth, score * other, changes)
            if tried.worth > found.worth + _BETTER * len(score):
                found, tempo = tried, other
    slope = _slope(score * tempo, times, found.of)
    if abs(np.log(slope)) > _STEADY:
        tried = match(times, worth, score * tempo * slope, changes)
        if tried.worth > found.worth:
            found, tempo = tried, tempo * slope
    return found, tempo


def _slope(score: Numbers, times: Numbers, of: NDArray[np.int64]) -> float:
    """How long the player's beat is in planned ones: the median over steps of some moments."""
    known = np.flatnonzero(of >= 0)
    if len(known) <= _SPAN:
        return 1.0
    apart = score[known[_SPAN:]] - score[known[:-_SPAN]]
    steps = (times[of[known[_SPAN:]]] - times[of[known[:-_SPAN]]]) / apart
    return float(np.clip(np.median(steps), 0.4, 2.5))


def _fill(of: NDArray[np.int64], struck: Struck, worth: Numbers, expected: Numbers) -> None:
    """A moment without an onset takes a free one near by that suits it, or any pitched one very near."""
    times = struck.times
    used = {int(j) for j in of if j >= 0}
    known = sorted(used)
    if not known:
        return
    tonal, flux = np.median(struck.tonal[known]), np.median(struck.flux[known])
    for k in np.flatnonzero(of < 0):
        low = times[of[k - 1]] + 0.03 if k and of[k - 1] >= 0 else expected[k] - 0.2
        last = k + 1 == len(of)
        high = times[of[k + 1]] - 0.03 if not last and of[k + 1] >= 0 else expected[k] + 0.25
        away = np.abs(times - expected[k])
        suits = (worth[:, k] > 0.9) & (away < (0.3 if last or not k else 0.12))
        near = (struck.tonal > 0.35 * tonal) & (struck.flux > 0.2 * flux) & (away < 0.06)
        inside = (suits | near) & (times > low) & (times < high)
        able = [int(j) for j in np.flatnonzero(inside) if j not in used]
        if able:
            best = max(able, key=lambda j: float(worth[j, k] - away[j] / 0.1))
            of[k] = best
            used.add(best)


def _sharpen(of: NDArray[np.int64], struck: Struck, worth: Numbers, expected: Numbers) -> None:
    """A moment belongs to the onset that is struck, not to a swelling after it or a noise beside it.

    The clearest changes come first, and again while there are any: what one moment leaves may be another's.
    """
    used = {int(j) for j in of if j >= 0}
    changed = {-1}
    while changed:
        changed = set()
        for _, k, j in sorted(_better(of, struck, worth, expected), reverse=True):
            if j not in used and k not in changed and _in_order(of, k, j):
                used.discard(int(of[k]))
                used.add(j)
                of[k] = j
                changed.add(k)


def _in_order(of: NDArray[np.int64], k: int, j: int) -> bool:
    """Whether a moment's onset lies between those of the moments beside it."""
    return bool((k == 0 or of[k - 1] < j) and (k + 1 == len(of) or of[k + 1] < 0 or j < of[k + 1]))


def _better(
    of: NDArray[np.int64], struck: Struck, worth: Numbers, expected: Numbers
) -> list[tuple[float, int, int]]:
    """Onsets that suit a moment better than its own: by how much, the moment, the onset.

    That is told by pitch and loudness, by the flux, and by when the moment is due.
    """
    times, said = struck.times, _SPEAKS * np.log(np.maximum(struck.flux, 1e-3))
    found = []
    for k in map(int, np.flatnonzero(of >= 0)):
        own = int(of[k])
        first, end = np.searchsorted(times, (times[own] - _BESIDE_S, times[own] + _BESIDE_S)).tolist()
        near = slice(first, end)
        value = worth[near, k] + said[near] - np.abs(times[near] - expected[k]) / _DUE_S
        gains = np.where(worth[near, k] > worth[own, k] - _TAP, value - value[own - first], 0.0)
        found += [(float(gains[i]), k, first + int(i)) for i in np.flatnonzero(gains > 0)]
    return found


def groups_of(of: NDArray[np.int64], times: Numbers, plan: TakePlan) -> list[list[int]]:
    """The onsets of each moment: none, one, or several where plucks of a pinch come apart."""
    used = {int(j) for j in of if j >= 0}
    out: list[list[int]] = []
    for k, j in enumerate(map(int, of)):
        group = [j] if j >= 0 else []
        if j >= 0 and len(plan.moments[k]) > 1:
            near = np.flatnonzero(np.abs(times - times[j]) < _TOGETHER_S)
            group += [int(i) for i in near if int(i) not in used]
        out.append(sorted(group))
    return out
