"""What was not to be expected: a sound less what rang before it and goes on.

A string that rings is a sum of dying sines, and such a sum is foretold by a linear predictor of high order,
sample by sample, phase included. What rang just before a moment is carried on beyond it and taken off: a weak
new pluck stands out even where it raises no partial. The predictor is the least-squares one for both
directions of time (modified covariance: Marple, Digital Spectral Analysis, 1987, ch. 8).
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from gingham.core.listening.spectra import Floats, Grid, hann

Numbers = NDArray[np.float64]
_PAST_S = 0.0254  # so much of it foretells a sample: at 11 kHz 280, some forty partials and the room
_LEARN_S, _LEAST_S, _HEARD_S = 0.12, 0.027, 0.018
_BACK_S, _SKIP_S = 0.007, 0.005  # learnt until so long before it; heard from so long after that
_CLEAR_S = 0.006  # of other plucks
_SOUND_S = 0.055
_STEADY = 1e-5  # of the mean power, against predictors that run away
_AT_A_TIME = 32  # samples that are foretold in one product
_MOST = 1.3  # nothing that rings gets so many times louder


def unexpected(
    samples: Floats | Numbers, rate: float, grid: Grid, t_s: float, since_s: float, until_s: float
) -> Floats | None:
    """The spectrum, on `grid`, of what begins at `t_s` beyond what rang on since `since_s` (seconds).

    `samples` are at `rate`, a whole fraction of the grid's. None where there is too little to learn from or
    to hear before `until_s`.
    """
    middle = max(0, int((t_s - _BACK_S) * rate))
    begin = max(0, int(max(since_s + _CLEAR_S, t_s - _LEARN_S) * rate))
    count = int(min(_SOUND_S, until_s - _CLEAR_S - t_s) * rate)
    learn = samples[begin:middle].astype(np.float64)
    sound = samples[middle : middle + count]
    if len(learn) < _LEAST_S * rate or count < _HEARD_S * rate or len(sound) < count:
        return None
    order = min(len(learn) // 3, round(_PAST_S * rate))
    away = sound - carried_on(learn, predictor(learn, order), count)
    part = away[int(_SKIP_S * rate) :]
    window = hann(len(part) + 2)[1:-1]
    factor = round(grid.rate / rate)
    found = np.abs(np.fft.rfft(part * window / window.sum(), grid.transform // factor))[: grid.bins]
    out = np.zeros(grid.bins, np.float32)  # at some rates the grid reaches higher than the samples do
    out[: len(found)] = found
    return out


def predictor(learn: Numbers, order: int) -> Numbers:
    """The taps by which a sample follows from the `order` samples before it, the nearest first."""
    forward = _products(learn, order)
    both = forward + forward[::-1, ::-1]
    matrix = both[1:, 1:].copy()
    matrix[np.diag_indices(order)] += _STEADY * np.trace(matrix) / order + 1e-18
    return np.asarray(np.linalg.solve(matrix, both[1:, 0]))


def _products(x: Numbers, order: int) -> Numbers:
    """Σ x[n − i] x[n − j] over n = order … end, for i, j = 0 … order; each diagonal from its first."""
    size, last = order + 1, len(x) - 1
    first = np.correlate(x, x[order:], "valid")[::-1]
    heads, tails = x[order - 1 :: -1], x[last : last - order : -1]
    skew = np.zeros((size, 2 * size))  # a diagonal of the matrix is a column here
    step = skew.itemsize
    matrix = np.lib.stride_tricks.as_strided(
        skew.ravel()[order:], (size, size), ((2 * size - 1) * step, step), writeable=True
    )
    matrix[0], matrix[:, 0] = first, first
    matrix[1:, 1:] = np.outer(heads, heads) - np.outer(tails, tails)
    np.cumsum(skew, axis=0, out=skew)
    return matrix.copy()


def carried_on(learn: Numbers, taps: Numbers, count: int) -> Numbers:
    """The next `count` samples as the predictor has them, no louder than what rang."""
    order = len(taps)
    out = np.concatenate([learn[-order:], np.zeros(count)])
    with np.errstate(over="ignore", invalid="ignore"):  # one that runs away is held below
        ahead = _ahead(taps, min(_AT_A_TIME, order, count))
        for k in range(0, count, len(ahead)):
            rows = ahead[: count - k]
            out[order + k : order + k + len(rows)] = rows @ out[k : order + k]
    most = _MOST * float(np.abs(learn).max())
    return np.asarray(np.clip(np.nan_to_num(out[order:], nan=0.0), -most, most))


def _ahead(taps: Numbers, count: int) -> Numbers:
    """How each of the next `count` samples follows from those that are known, the nearest last.

    What lies between is foretold too: each row is made of the rows before it.
    """
    order, backward = len(taps), taps[::-1]
    out = np.zeros((count, order))
    for k in range(count):
        out[k, k:] = backward[: order - k]
        out[k] += backward[order - k :] @ out[:k]
    return out
