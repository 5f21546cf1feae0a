"""Signs of tension in today's attempts: the hand that gets uneven from round to round goes no faster."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date
from itertools import takewhile

from gingham.core.practice.attempt import Attempt

_LEAST, _GROWN = 4, 1.3
_LEAST_MS, _LEAST_DB = 4.0, 1.0  # less than this more is chance


def tense_today(attempts: Sequence[Attempt], today: date) -> bool:
    """Whether unevenness or loudness spread has grown over today's heard rounds.

    The later half is held against the earlier one, by medians; less than four rounds show nothing.
    """
    latest = takewhile(lambda attempt: attempt.day == today, reversed(attempts))
    heard = [attempt.figures for attempt in latest if attempt.source == "heard"][::-1]
    times = [figures.spread_ms for figures in heard if figures.spread_ms]
    loud = [figures.spread_db for figures in heard if figures.spread_db]
    return _grown(times, _LEAST_MS) or _grown(loud, _LEAST_DB)


def _grown(values: Sequence[float], least: float) -> bool:
    if len(values) < _LEAST:
        return False
    half = len(values) // 2
    before, after = _median(values[:half]), _median(values[-half:])
    return after >= max(_GROWN * before, before + least)


def _median(values: Sequence[float]) -> float:
    ordered = sorted(values)
    middle = len(ordered) // 2
    return ordered[middle] if len(ordered) % 2 else (ordered[middle - 1] + ordered[middle]) / 2
