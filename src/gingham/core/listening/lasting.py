"""How long plucks ring that are meant to ring: strings that die early, notes stopped before they need to be.

Only partials count that nothing beside them has near by, and only notes with half a second until
their string is planned again or the hand moves.
"""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Callable, Sequence

import numpy as np
from numpy.typing import NDArray

from gingham.core.listening.heard import Heard, Lasting
from gingham.core.listening.plan import TakePlan
from gingham.core.listening.spectra import Floats, Grid, hann

PartialsHz = Callable[[tuple[int, int], int], NDArray[np.float64]]
"""Where the first so many partials of a note (string, MIDI) lie."""
_LEAST_S, _MOST_S = 0.55, 4.0
_EARLY_S, _LATE_S, _STEP_S = 0.28, 0.75, 0.08
_AFTER_S, _BEFORE_END_S, _FRAME_S = 0.06, 0.05, 0.075
_PARTIALS, _CLEAR_HZ, _REACH_HZ = 6, 34.0, 16.0
_MOST_HZ = 3_000.0
_RINGS_S = 2.5  # so long a string may ring on
_FALLS_DB = 14.0  # from one look to the next: a finger has come down
_HEARD_DB, _SWELLS_DB = 26.0, 3.0
_FLOOR_DB = -48.0


def lasting(
    notes: Sequence[Heard], plan: TakePlan, samples: Floats, grid: Grid, partials_hz: PartialsHz
) -> tuple[Lasting, ...]:
    """Every planned pluck on its string, in order of time, of which it can be told how long it rang."""
    of = {i: k for k, moment in enumerate(plan.moments) for i in moment}
    planned = [n for n in notes if n.planned is not None and n.string == plan.plucks[n.planned].string]
    ends = _ends(notes, plan, of)
    times, out = [note.t_s for note in notes], []
    for note in planned:
        assert note.planned is not None
        lasts = min(_MOST_S, ends[note.planned] - note.t_s)
        if lasts >= _LEAST_S:
            hz = _own_partials(note, _beside(notes, times, note, lasts), partials_hz)
            found = _rings(note, lasts, hz, samples, grid) if hz else None
            if found is not None:
                out.append(Lasting(note.planned, *found))
    return tuple(out)


def _ends(notes: Sequence[Heard], plan: TakePlan, of: dict[int, int]) -> dict[int, float]:
    """When each pluck has to end: its string is struck again, whoever planned it, or another chord comes."""
    began: dict[int, float] = {}
    for note in reversed(notes):
        if note.planned is not None:
            began[of[note.planned]] = note.t_s
    changes = [np.inf] * len(plan.moments)
    for k in range(len(plan.moments) - 1, 0, -1):
        changes[k - 1] = began.get(k, changes[k]) if plan.changes(k) else changes[k]
    out, struck = {}, dict[int, float]()
    for note in reversed(notes):
        if note.planned is not None:
            out[note.planned] = min(struck.get(note.string, np.inf), changes[of[note.planned]])
        struck[note.string] = note.t_s
    return out


def _beside(
    notes: Sequence[Heard], times: Sequence[float], note: Heard, lasts_s: float
) -> set[tuple[int, int]]:
    """What may sound on other strings while a note rings."""
    near = notes[bisect_right(times, note.t_s - _RINGS_S) : bisect_left(times, note.t_s + lasts_s)]
    return {(o.string, o.midi) for o in near if o.string != note.string}


def _own_partials(note: Heard, beside: set[tuple[int, int]], partials_hz: PartialsHz) -> list[float]:
    """The partials of a note that nothing beside it has near by."""
    own = partials_hz((note.string, note.midi), _PARTIALS)
    others = np.concatenate([[-1e6], *(partials_hz(other, 12) for other in beside)])
    clear = np.abs(own[:, None] - others).min(1) > _CLEAR_HZ
    return [float(hz) for hz in own[clear & (own < _MOST_HZ)]]


def _rings(
    note: Heard, lasts_s: float, hz: list[float], samples: Floats, grid: Grid
) -> tuple[float, float] | None:
    """What a note loses in dB a second, how long before its end it was stopped; None if it is too soft."""
    first = note.t_s + _AFTER_S
    early = _levels(samples, grid, np.array([first, first + 0.5 * _EARLY_S, first + _EARLY_S]), hz)
    if early[0] < _FLOOR_DB or early[2] > early[0] + _SWELLS_DB:
        return None
    loss = float(early[0] - early[2]) / _EARLY_S
    last = note.t_s + lasts_s - _BEFORE_END_S - _FRAME_S
    begins = np.arange(last, max(first + _EARLY_S, last - _LATE_S) - 1e-6, -_STEP_S)[::-1]
    if len(begins) < 2:
        return round(loss, 1), 0.0
    late = _levels(samples, grid, begins, hz)
    falls = late[:-1] - late[1:]
    worst = int(falls.argmax())
    if (
        falls[worst] < _FALLS_DB
        or late[worst] < early[0] - _HEARD_DB
        or late[worst + 1 :].max() > late[worst] - 9.0
    ):
        return round(loss, 1), 0.0
    stopped = note.t_s + lasts_s - float(begins[worst]) - 0.5 * (_STEP_S + _FRAME_S)
    return round(loss, 1), round(max(0.0, stopped), 3)


def _levels(
    samples: Floats, grid: Grid, begins_s: NDArray[np.float64], hz: list[float]
) -> NDArray[np.float64]:
    """The power of some partials in short stretches, in dB; −120 beyond the end."""
    count, reach = int(_FRAME_S * grid.rate), max(1, int(_REACH_HZ / grid.bin_hz))
    begins = (begins_s * grid.rate).astype(int)
    inside = begins + count <= len(samples)
    out = np.full(len(begins), -120.0)
    if not inside.any():
        return out
    frames = np.array([samples[begin : begin + count] for begin in begins[inside]])
    power = np.abs(np.fft.rfft(frames * hann(count).astype(np.float32), grid.transform)) ** 2
    middles = [round(each / grid.bin_hz) for each in hz]
    total = sum(power[:, max(0, m - reach) : m + reach + 1].max(1, initial=0.0) for m in middles)
    out[inside] = 10.0 * np.log10(total / (0.5 * count) ** 2 + 1e-12)
    return out
