"""What was heard of a take, as values."""

from __future__ import annotations

import msgspec


class Heard(msgspec.Struct, frozen=True, gc=False):
    """One pluck that was heard: `planned` is its index in the plan (None for one that nobody planned).

    `t_s` is when it starts in the file, `level_db` how loud it is (on a scale of the take), `sure` 0 to 1.
    """

    t_s: float
    string: int
    midi: int
    level_db: float
    planned: int | None
    sure: float


class Lasting(msgspec.Struct, frozen=True, gc=False):
    """A planned pluck that had time to ring: how many dB a second it lost; how long before its end it was
    stopped, in seconds (0 if it was not).
    """

    planned: int
    loss_db_s: float
    stopped_s: float


class Hearing(msgspec.Struct, frozen=True):
    """All that was heard: plucks in order of time, planned ones that were not, and unclear ones.

    `expected` is when each planned pluck would have come in the player's own running beat (seconds in the
    file), `reach` the moments from the first that was found to the last, `matched` the share of them that an
    onset was found for, `fit` how well pitches suit the plan (0 to 1), `cents` how each string is tuned,
    `lasting` how long plucks rang that had the time.
    """

    notes: tuple[Heard, ...]
    missed: tuple[int, ...]
    unclear: tuple[int, ...]
    expected: tuple[float, ...]
    reach: range
    matched: float
    fit: float
    cents: dict[int, float]
    lasting: tuple[Lasting, ...] = ()
