"""Is it this piece at all? A take in another tuning is told by how much, not judged pluck by pluck."""

from __future__ import annotations

import msgspec
import numpy as np

from gingham.core.errors import TakeError
from gingham.core.listening.aligning import match
from gingham.core.listening.plan import TakePlan
from gingham.core.listening.spectra import Grid
from gingham.core.listening.struck import Struck, by_pitch, worth_of

_SHIFTS = (-1, 1, -2, 2, -3, 3, -4, 4, -5, 5)
_FITS = 0.6


def why_other(struck: Struck, grid: Grid, plan: TakePlan) -> TakeError:
    """Why a take is not this plan: the same some semitones off, or other music."""
    changes = np.array([plan.changes(k) for k in range(len(plan.moments))])
    found = []
    for shift in _SHIFTS:
        share, tonal = by_pitch(struck.rises, grid, tuple(midi + shift for midi in struck.pitches))
        there = msgspec.structs.replace(struck, share=share, tonal=tonal)
        best = match(struck.times, worth_of(there, plan), np.asarray(plan.times), changes)
        found.append((best.inside if len(best.reach) >= 8 else -1.0, shift))
    inside, shift = max(found)
    if inside < _FITS:
        return TakeError("take-other")
    tones = "semitone" if abs(shift) == 1 else "semitones"
    return TakeError("take-shifted", count=abs(shift), tones=tones, way="higher" if shift > 0 else "lower")
