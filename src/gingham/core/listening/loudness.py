"""How loud plucks are against each other: partials that were seen, set to what a lone pluck really brings.

What is seen of a string's partials is louder or softer than the string itself, each string in its own way.
Plucks that stand alone say by how much: the power that comes with them is theirs.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Sequence

import numpy as np

from gingham.core.listening.heard import Heard
from gingham.core.listening.spectra import Floats
from gingham.core.values import replace

_ALONE_BEFORE_S, _ALONE_AFTER_S = 0.06, 0.09
_LOUD_S, _GUARD_S = 0.15, 0.005
_STANDS_OUT = 2.0  # times the power that was there before
_RINGS_ON = 0.8  # of what rang before, over the next tenth of a second
_ENOUGH = 2
_NOTHING = 1e-14


def set_levels(
    notes: Sequence[Heard], samples: Floats, rate: int, rings_on: Callable[[Heard], float]
) -> tuple[Heard, ...]:
    """The notes, in order of time, with levels in dB that can be compared between strings.

    `rings_on` is the share of the power before a pluck that goes on after it: a pluck ends its own string.
    """
    by_note: dict[tuple[int, int], list[float]] = defaultdict(list)
    by_string: dict[int, list[float]] = defaultdict(list)
    for index, note in enumerate(notes):
        brings = _brings(notes, index, samples, rate, rings_on(note))
        if brings is not None:
            by_note[note.string, note.midi].append(brings - note.level_db)
            by_string[note.string].append(brings - note.level_db)
    every = [offset for offsets in by_string.values() for offset in offsets]
    if not every:
        return tuple(notes)
    out = []
    for note in notes:
        own = by_note.get((note.string, note.midi), [])
        offsets = own if len(own) >= _ENOUGH else by_string.get(note.string) or every
        out.append(replace(note, level_db=note.level_db + float(np.median(offsets))))
    return tuple(out)


def _brings(notes: Sequence[Heard], index: int, samples: Floats, rate: int, goes_on: float) -> float | None:
    """The power that comes with a pluck in dB; None where it does not stand alone or out."""
    at = notes[index].t_s
    before = at - notes[index - 1].t_s if index else np.inf
    after = notes[index + 1].t_s - at if index + 1 < len(notes) else np.inf
    if before < _ALONE_BEFORE_S or after < _ALONE_AFTER_S:
        return None
    loud = _power(samples, rate, at, at + min(_LOUD_S, after - _GUARD_S))
    rang = _RINGS_ON * goes_on * _power(samples, rate, at - _ALONE_BEFORE_S, at - _GUARD_S)
    return 10.0 * float(np.log10(loud - rang)) if loud > _STANDS_OUT * rang + _NOTHING else None


def _power(samples: Floats, rate: int, begin_s: float, end_s: float) -> float:
    part = samples[max(0, int(begin_s * rate)) : max(0, int(end_s * rate))]
    return float(np.mean(np.square(part, dtype=np.float64))) if len(part) else 0.0
