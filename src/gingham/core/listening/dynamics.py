"""How loud plucks are against each other: written accents, the downbeat, thumb and fingers.

Strings are not equally loud by themselves: plucks are compared with others of the same note only.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Sequence

import msgspec
import numpy as np

from gingham.core.listening.heard import Hearing
from gingham.core.listening.plan import Planned, TakePlan

_FEW = 4


class Dynamics(msgspec.Struct, frozen=True):
    """In dB: written accents over plain plucks of the same notes, the bass on 1 over the other basses of the
    same notes, the thumb over the fingers. None where there is too little to compare.
    """

    accent_db: float | None = None
    downbeat_db: float | None = None
    thumb_db: float | None = None


def dynamics_of(hearing: Hearing, plan: TakePlan) -> Dynamics:
    """What the loudness of a take shows; plucks on another string than planned do not count."""
    heard = [
        (plan.plucks[note.planned], note.level_db)
        for note in hearing.notes
        if note.planned is not None and note.string == plan.plucks[note.planned].string
    ]
    if not any(level for _, level in heard):
        return Dynamics()  # keys that were tapped
    thumb = [pair for pair in heard if pair[0].finger == "p" and not pair[0].accent]
    fingers = [level for pluck, level in heard if pluck.finger in ("i", "m", "a", "c") and not pluck.accent]
    balance = None
    if len(thumb) >= _FEW and len(fingers) >= _FEW:
        balance = round(float(np.median([level for _, level in thumb]) - np.median(fingers)), 1)
    return Dynamics(
        _louder(heard, lambda pluck: pluck.accent > 0),
        _louder(thumb, lambda pluck: pluck.at == 0),
        balance,
    )


def _louder(heard: Sequence[tuple[Planned, float]], is_one: Callable[[Planned], bool]) -> float | None:
    """By how much some plucks are louder than the others of their note: the mean over notes with both."""
    ones: dict[tuple[int, int], list[float]] = defaultdict(list)
    others: dict[tuple[int, int], list[float]] = defaultdict(list)
    for pluck, level in heard:
        (ones if is_one(pluck) else others)[pluck.string, pluck.midi].append(level)
    both = [note for note in ones if note in others]
    count = sum(len(ones[note]) for note in both)
    if count < _FEW or sum(len(others[note]) for note in both) < _FEW:
        return None
    apart = [len(ones[note]) * (np.median(ones[note]) - np.median(others[note])) for note in both]
    return round(float(sum(apart)) / count, 1)
