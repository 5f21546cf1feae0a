"""What was struck when: candidates with their spectra, and how well each suits each planned moment."""

from __future__ import annotations

import msgspec
import numpy as np
from numpy.typing import NDArray

from gingham.core.listening.onsets import find_onsets
from gingham.core.listening.plan import TakePlan
from gingham.core.listening.spectra import Floats, Grid, magnitudes
from gingham.core.listening.strings import Strings, weighted_nmf

_GAP_S = 0.012  # between the window before a candidate and the candidate
_EARLY_S = 0.002
RINGS_ON = 0.9  # what is left of a ringing string from one window to the next
_MOST_PER_MOMENT, _MOST_MORE = 3, 50
_STEPS = 40
_FINGER = 0  # the string number under which pitches alone are looked for


class Struck(msgspec.Struct, frozen=True):
    """Candidates in order of time: seconds, flux, spectra before and after, and what has risen.

    `share` are the pitches' shares of each rise (candidates by `pitches`), `tonal` how much of it is pitched.
    """

    times: NDArray[np.float64]
    flux: NDArray[np.float64]
    before: Floats
    after: Floats
    rises: Floats
    pitches: tuple[int, ...]
    share: Floats
    tonal: NDArray[np.float64]


def find_struck(samples: Floats, grid: Grid, plan: TakePlan) -> Struck:
    """The strongest candidates of a take, a few for every planned moment."""
    onsets = find_onsets(samples, grid.rate)
    most = _MOST_PER_MOMENT * len(plan.moments) + _MOST_MORE
    kept = np.sort(np.argsort(-onsets.strengths)[:most])
    times = onsets.times[kept]
    before, after = around(samples, grid, times, times)
    rises = rise(before, after)
    pitches = tuple(sorted({midi for each in plan.held for _, midi in each.pitches} | _planned(plan)))
    share, tonal = by_pitch(rises, grid, pitches)
    return Struck(times, onsets.strengths[kept], before, after, rises, pitches, share, tonal)


def _planned(plan: TakePlan) -> set[int]:
    return {pluck.midi for pluck in plan.plucks}


def around(
    samples: Floats, grid: Grid, first_s: NDArray[np.float64], last_s: NDArray[np.float64]
) -> tuple[Floats, Floats]:
    """The spectra just before the first candidate of some moments, and from the last one on."""
    before = magnitudes(samples, grid, first_s - _GAP_S - grid.window / grid.rate)
    return before, magnitudes(samples, grid, last_s - _EARLY_S)


def of_groups(
    struck: Struck, samples: Floats, grid: Grid, groups: list[list[int]], due_s: NDArray[np.float64]
) -> tuple[Floats, Floats]:
    """The spectra before and from each group of candidates on; where a group is empty, of when it was due."""
    before = np.empty((len(groups), grid.bins), np.float32)
    after = np.empty_like(before)
    full = [k for k, group in enumerate(groups) if group]
    before[full] = struck.before[[groups[k][0] for k in full]]
    after[full] = struck.after[[groups[k][-1] for k in full]]
    empty = [k for k, group in enumerate(groups) if not group]
    before[empty], after[empty] = around(samples, grid, due_s[empty], due_s[empty])
    return before, after


def rise(before: Floats, after: Floats) -> Floats:
    """What is louder than what rang on."""
    return np.maximum(0.0, after - RINGS_ON * before)


def by_pitch(rises: Floats, grid: Grid, pitches: tuple[int, ...]) -> tuple[Floats, NDArray[np.float64]]:
    """Each pitch's share of each rise, whatever its string, and the pitched part of each."""
    strings = Strings(grid, [(_FINGER, midi) for midi in pitches])
    ones = np.ones((len(rises), len(strings.atoms)), np.float32)
    found = weighted_nmf(rises, strings.atoms, ones, np.ones_like(rises), _STEPS) * strings.atoms.sum(1)
    share = found / (found.sum(1, keepdims=True) + 1e-12)
    return share[:, :-1], found[:, :-1].sum(1).astype(float)


def worth_of(struck: Struck, plan: TakePlan) -> NDArray[np.float64]:
    """What speaks for each candidate being each moment: the planned pitches' share, and loudness."""
    place = {midi: i for i, midi in enumerate(struck.pitches)}
    out = np.zeros((len(struck.times), len(plan.moments)))
    for k, moment in enumerate(plan.moments):
        wanted = sorted({place[plan.plucks[i].midi] for i in moment})
        out[:, k] = struck.share[:, wanted].sum(1)
    usual = float(np.median(np.sort(struck.tonal)[-len(plan.moments) :])) if len(struck.tonal) else 1.0
    level = np.clip(0.8 * np.log10(struck.tonal / (usual + 1e-12) + 1e-6), -2.0, 0.3)
    out *= 3.2  # in place: of a long take this is the largest of all tables
    out += level[:, None] - 1.0
    return out
