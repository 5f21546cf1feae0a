"""Where something may have been struck: peaks of the spectral flux, far more than there are plucks."""

from __future__ import annotations

import msgspec
import numpy as np
from numpy.typing import NDArray

from gingham.core.listening.spectra import Floats, spectra

_HOP_S, _WINDOW_S = 0.005, 0.0232
_LOWEST_HZ, _HIGHEST_HZ = 70.0, 8000.0
_BACK = 3  # frames between which the flux is taken
_AROUND = 31  # frames of the running mean
_APART_S = 0.025
_FLOOR = 0.06  # of the strongest peaks
LATE_S = 0.005
"""How far a candidate of the flux usually lies after the start."""
_AT_A_TIME = 1024  # frames


class Onsets(msgspec.Struct, frozen=True):
    """Candidates: when (seconds; a few milliseconds after the start) and how strong the flux is."""

    times: NDArray[np.float64]
    strengths: NDArray[np.float64]


def find_onsets(samples: Floats, rate: int) -> Onsets:
    """Every peak of the logarithmic spectral flux that stands out from its surroundings.

    A frame is compared with the loudest of the neighbouring bins some frames before, so that vibrato and
    beats of ringing strings do not count (after Böck and Widmer, DAFx 2013).
    """
    hop = max(1, round(_HOP_S * rate))
    flux = _flux(_levels(samples, rate, hop))
    if len(flux) < _AROUND:  # a seventh of a second holds nothing that could be matched
        return Onsets(np.zeros(0), np.zeros(0))
    smooth = np.convolve(flux - np.median(flux), np.hanning(5) / 2.0, "same")
    mean = np.convolve(smooth, np.ones(_AROUND) / _AROUND, "same")
    least = 0.5 * mean + _FLOOR * np.percentile(smooth, 97)
    peak = np.zeros(len(smooth), bool)
    peak[1:-1] = (smooth[1:-1] >= smooth[:-2]) & (smooth[1:-1] > smooth[2:])
    found = np.flatnonzero(peak & (smooth > least))
    kept = _apart(found, smooth, _APART_S / _HOP_S)
    return Onsets(kept * hop / rate, smooth[kept])


def _flux(levels: Floats) -> NDArray[np.float64]:
    """What rises from some frames before to each frame, over all bins; a stretch at a time saves memory."""
    out = np.zeros(len(levels))
    if len(levels) <= _BACK + 2:
        return out
    for first in range(_BACK, len(levels), _AT_A_TIME):
        now = levels[first : first + _AT_A_TIME]
        before = levels[first - _BACK : first - _BACK + len(now)]
        before = np.maximum(before, np.maximum(np.roll(before, 1, 1), np.roll(before, -1, 1)))
        out[first : first + len(now)] = np.maximum(0.0, now - before).sum(1)
    return out


def _levels(samples: Floats, rate: int, hop: int) -> Floats:
    """Log-compressed magnitudes, frames by bins."""
    n = 1 << int(np.ceil(np.log2(_WINDOW_S * rate)))
    padded = np.concatenate([np.zeros(n // 2, np.float32), samples, np.zeros(n, np.float32)])
    begins = hop * np.arange(1 + len(samples) // hop)
    bins = np.fft.rfftfreq(n, 1.0 / rate)
    kept = np.flatnonzero((bins >= _LOWEST_HZ) & (bins < min(_HIGHEST_HZ, 0.47 * rate)))
    window = np.hanning(n).astype(np.float32)
    out = spectra(padded, begins, window, n, slice(int(kept[0]), int(kept[-1]) + 1))
    np.divide(out, np.float32(np.median(out.max(1)) * 0.01 + 1e-9), out=out)
    return np.log1p(out, out=out)


def _apart(found: NDArray[np.int64], strength: NDArray[np.float64], least: float) -> NDArray[np.int64]:
    """The strongest of peaks that lie closer than `least` frames."""
    taken = np.zeros(len(strength) + 1, bool)
    reach = int(least)
    kept = []
    for index in found[np.argsort(-strength[found], kind="stable")]:
        if not taken[max(0, index - reach) : index + reach + 1].any():
            taken[index] = True
            kept.append(index)
    return np.asarray(sorted(kept), dtype=np.int64)
