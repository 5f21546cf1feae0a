"""Takes of one sitting, one after the other: whether the hand is getting tense.

Loudness spread and unevenness that both grow from take to take are a sign of tension (or of tiredness); it is
told as a sign, never as a diagnosis.
"""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime, timedelta

import msgspec
import numpy as np

_PAUSE = timedelta(minutes=20)
"""After so long a rest another sitting begins."""
_LEAST = 4
_OWN_TAKES, _THUMB_DB = 3, 3.0
_GROWN = 1.3
_RISES = 0.6  # Spearman's correlation of takes in order with what they show
_LEAST_DB, _LEAST_MS = 1.0, 4.0  # less than this more is chance


class Evenness(msgspec.Struct, frozen=True):
    """What a take shows: when it was made (ISO), spread of loudness in dB and of time in ms."""

    made: str
    spread_db: float
    spread_ms: float


class Tension(msgspec.Struct, frozen=True):
    """From which values to which loudness spread (dB) and unevenness (ms) have grown, over how many takes."""

    takes: int
    from_db: float
    to_db: float
    from_ms: float
    to_ms: float


def sitting(takes: Sequence[Evenness]) -> list[Evenness]:
    """The takes that belong to the sitting of the last one, in order of time."""
    known = sorted((pair for pair in ((_when(t.made), t) for t in takes) if pair[0]), key=lambda p: str(p[0]))
    out: list[Evenness] = []
    after: datetime | None = None
    for when, take in reversed(known):
        assert when is not None
        if after is not None and after - when > _PAUSE:
            break
        out.append(take)
        after = when
    return out[::-1]


def _when(made: str) -> datetime | None:
    try:
        return datetime.fromisoformat(made).astimezone()
    except ValueError:
        return None


def tension(takes: Sequence[Evenness]) -> Tension | None:
    """Whether loudness spread and unevenness have both grown within the sitting of the last take."""
    own = sitting(takes)
    if len(own) < _LEAST:
        return None
    half = len(own) // 2
    sides = []
    for values, least in (([t.spread_db for t in own], _LEAST_DB), ([t.spread_ms for t in own], _LEAST_MS)):
        before, after = float(np.median(values[:half])), float(np.median(values[-half:]))
        if after < max(_GROWN * before, before + least) or _rises(values) < _RISES:
            return None
        sides.append((round(before, 1), round(after, 1)))
    (from_db, to_db), (from_ms, to_ms) = sides
    return Tension(len(own), from_db, to_db, from_ms, to_ms)


def thumb_apart(before: Sequence[float], now: float) -> float | None:
    """By how many dB the thumb is other than in this player's takes before; None if it is not."""
    if len(before) < _OWN_TAKES:
        return None
    apart = now - float(np.median(before))
    return round(apart, 1) if abs(apart) >= _THUMB_DB else None


def _rises(values: Sequence[float]) -> float:
    """How well the order of takes is the order of what they show: 1 if each shows more than the last."""
    ranks = np.argsort(np.argsort(values)).astype(float)
    if len(set(values)) < 2:
        return 0.0
    return float(np.corrcoef(np.arange(len(values)), ranks)[0, 1])
