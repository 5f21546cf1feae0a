"""How a take swings: where the middle of the beat falls, against where the piece has it."""

from __future__ import annotations

from collections.abc import Mapping
from fractions import Fraction

import msgspec
import numpy as np

from gingham.core.listening.plan import TakePlan

_LEAST = 6


class Swing(msgspec.Struct, frozen=True):
    """The first half's share of the beat: `share` as it was played (0.5 is straight), `meant` as planned."""

    share: float
    meant: float


def swing_of(plan: TakePlan, onsets: Mapping[int, float]) -> Swing | None:
    """The median over all beats whose beginning, middle and end were heard; None for fewer than six.

    `onsets` are seconds of each moment of the plan that was heard.
    """
    beat = plan.meter.tempo_beat
    of = {(plan.plucks[moment[0]].bar, plan.plucks[moment[0]].at): k for k, moment in enumerate(plan.moments)}
    played, meant = list[float](), list[float]()
    for (bar, at), begin in of.items():
        if at % beat:
            continue
        middle = of.get((bar, at + beat / 2))
        over = of.get((bar, at + beat) if at + beat < plan.meter.bar else (bar + 1, Fraction(0)))
        if middle is None or over is None or not {begin, middle, over} <= onsets.keys():
            continue
        whole = onsets[over] - onsets[begin]
        score = plan.times[over] - plan.times[begin]
        if whole > 0 and score > 0:
            played.append((onsets[middle] - onsets[begin]) / whole)
            meant.append((plan.times[middle] - plan.times[begin]) / score)
    if len(played) < _LEAST:
        return None
    return Swing(round(float(np.median(played)), 3), round(float(np.median(meant)), 3))
