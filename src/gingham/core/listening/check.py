"""Is it this piece at all? A take in another tuning is told by how much, not judged pluck by pluck."""

from __future__ import annotations

import numpy as np

from gingham.core.errors import TakeError
from gingham.core.listening.plan import TakePlan
from gingham.core.listening.spectra import Floats, Grid
from gingham.core.listening.struck import Struck, by_pitch

_SHIFTS = (-3, -2, -1, 1, 2, 3)
_LOOKED_AT = 40
_CLEARER = 0.1


def check_pitch(struck: Struck, grid: Grid, plan: TakePlan) -> None:
    """TakeError `take-shifted` if the loudest onsets suit the plan much better some semitones off."""
    loudest = np.argsort(-struck.flux)[: min(_LOOKED_AT, len(plan.moments) + 8)]
    rises = struck.rises[np.sort(loudest)]
    if len(rises) < 4:
        return
    here = _pitched(rises, grid, struck.pitches)
    best = max(_SHIFTS, key=lambda shift: _pitched(rises, grid, tuple(p + shift for p in struck.pitches)))
    there = _pitched(rises, grid, tuple(p + best for p in struck.pitches))
    if there > here + _CLEARER:
        raise TakeError(
            "take-shifted", count=abs(best), tones="semitone" if abs(best) == 1 else "semitones",
            way="higher" if best > 0 else "lower",
        )  # fmt: skip


def _pitched(rises: Floats, grid: Grid, pitches: tuple[int, ...]) -> float:
    share, _ = by_pitch(rises, grid, pitches)
    return float(np.median(share.sum(1)))
