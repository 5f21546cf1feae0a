"""Sound at fewer samples a second: what listens needs far fewer than what plays."""

from __future__ import annotations

import numpy as np

from gingham.core.listening.spectra import Floats

_ENOUGH = 22_050  # samples a second: the listener looks no higher than 8 kHz
_SIDE = 16  # results that a low-pass reaches over


def as_listened(samples: Floats, rate: int) -> tuple[Floats, int]:
    """A take as the listener takes it, with its rate: half of what there is, and again, while that is enough.

    A rate that cannot be halved stays: times are counted in samples.
    """
    factor = 1
    while rate % (2 * factor) == 0 and rate // (2 * factor) >= _ENOUGH:
        factor *= 2
    return decimated(samples, factor), rate // factor


def decimated(samples: Floats, factor: int) -> Floats:
    """Every `factor`-th sample after a low-pass (a windowed sinc)."""
    if factor <= 1:
        return samples
    n = _SIDE * factor + 1
    taps = np.sinc((np.arange(n) - n // 2) / factor * 0.9) * np.hanning(n)
    taps = (taps / taps.sum()).astype(np.float32)
    wide, count = _SIDE * factor, -(-len(samples) // factor)
    rows = -(-count // _SIDE) + 1
    padded = np.zeros(rows * wide, np.float32)
    padded[n // 2 : n // 2 + len(samples)] = samples
    # Two products of matrices: row by row, what _SIDE results in turn take from their own row and the next.
    away = np.arange(2 * wide)[:, None] - factor * np.arange(_SIDE)[None, :]
    spread = np.where((away >= 0) & (away < n), taps[np.clip(away, 0, n - 1)], np.float32(0.0))
    lines = padded.reshape(rows, wide)
    return (lines[:-1] @ spread[:wide] + lines[1:] @ spread[wide:]).ravel()[:count]
