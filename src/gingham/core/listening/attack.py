"""The start of a pluck to a millisecond: where what rang before no longer predicts the sound.

A linear predictor is fitted to what rings just before (by its autocorrelation); its error jumps with the
first sample of a new pluck, whatever pitch or loudness it has. The moment is the likeliest change of the
error's variance.
"""

from __future__ import annotations

import msgspec
import numpy as np
from numpy.typing import NDArray

from gingham.core.listening.fewer import decimated
from gingham.core.listening.onsets import LATE_S
from gingham.core.listening.spectra import Floats, hann

_RATE = 11_025  # enough for a tenth of a millisecond, and free of what a cheap microphone hisses above
_ORDER = 32
_FIT_S, _BACK_S, _AHEAD_S, _SEARCH_S = 0.08, 0.03, 0.022, 0.016
_AWAY = np.abs(np.subtract.outer(np.arange(_ORDER), np.arange(_ORDER)))
_AT_A_TIME = 64  # moments
_USUAL_S = 0.003  # by how much that varies: weak attacks lean on it
_LEAST = 2.5  # the error must rise so many times
_JUMP, _JUMPS_APART_S = 2.0, 0.008  # so many times the error of just before
_JUMPS_S = (0.02, 0.03)  # how far before and after one attack another may be the one
_JUST_BEFORE_S, _JUST_AFTER_S = 0.008, 0.004


class Attack(msgspec.Struct, frozen=True, gc=False):
    """When a pluck starts (seconds), and by how many dB the prediction error rises."""

    t_s: float
    rise_db: float


class Attacks:
    """Finds attacks in one take."""

    def __init__(self, samples: Floats, rate: int) -> None:
        factor = max(1, round(rate / _RATE))
        self.samples = decimated(samples, factor)
        self.rate = rate / factor
        self._known: dict[float, Attack] = {}
        self._taps: dict[float, NDArray[np.float64]] = {}

    def foresee(self, near_s: NDArray[np.float64]) -> None:
        """Make ready for moments that will be asked about: many at once take half the time."""
        count = int(_FIT_S * self.rate)
        if len(self.samples) < count:
            return
        frames = np.lib.stride_tricks.sliding_window_view(self.samples, count)
        begins = ((near_s - _BACK_S) * self.rate).astype(int) - count
        inside = np.flatnonzero((begins >= 0) & (begins < len(frames)))
        for first in range(0, len(inside), _AT_A_TIME):
            some = inside[first : first + _AT_A_TIME]
            taps = _predictors(frames[begins[some]] * hann(count))
            self._taps.update(zip(near_s[some].tolist(), taps, strict=True))

    def at(self, near_s: float) -> Attack:
        """The attack near a candidate of the flux."""
        if near_s not in self._known:
            self._known[near_s] = self._find(near_s)
        return self._known[near_s]

    def jumps(self, near_s: float, attack_s: float) -> list[float]:
        """When else beside an attack (seconds) the error jumps within milliseconds, the highest first."""
        error, begin = self._error(near_s, _JUMPS_S[1] + _JUST_AFTER_S + 0.01)
        before, after = int(_JUST_BEFORE_S * self.rate), int(_JUST_AFTER_S * self.rate)
        first = max(before, int((attack_s - _JUMPS_S[0]) * self.rate) - begin)
        end = min(len(error) - after, int((attack_s + _JUMPS_S[1]) * self.rate) - begin)
        if end - first < 3:
            return []
        total = np.zeros(len(error) + 1)
        np.cumsum(error + 1e-14, out=total[1:])
        louder = (total[first + after : end + after] - total[first:end]) / after
        quiet = (total[first - 3 : end - 3] - total[first - before : end - before]) / (before - 3)
        rise = louder / quiet
        peak = (rise[1:-1] > _JUMP) & (rise[1:-1] >= rise[:-2]) & (rise[1:-1] > rise[2:])
        found: list[float] = []
        for i in sorted((np.flatnonzero(peak) + 1).tolist(), key=lambda i: -float(rise[i])):
            away_s = (begin + first + i) / self.rate - attack_s
            if -_JUMPS_APART_S <= away_s <= _JUMPS_APART_S - _JUST_AFTER_S:
                continue  # wherever it begins within the milliseconds that are looked at, it is the attack
            changed = _change(error[first + i : first + i + after], float(quiet[i]), float(louder[i]))
            t_s = (begin + first + i + int(changed.argmax())) / self.rate
            if all(abs(t_s - other_s) > _JUMPS_APART_S for other_s in (attack_s, *found)):
                found.append(t_s)
        return found

    def _find(self, near_s: float) -> Attack:
        error, begin = self._error(near_s)
        search = max(0, int((near_s - _SEARCH_S) * self.rate) - begin)
        end = min(len(error), int((near_s + 0.012) * self.rate) - begin)
        quiet = float(error[: max(search, 8)].mean()) + 1e-14 if len(error) else 1e-14
        if end - search < 20:
            return Attack(max(0.0, near_s - LATE_S), 0.0)
        width = max(1, int(0.0015 * self.rate))
        smooth = np.convolve(error, np.ones(width) / width, "same")
        top = search + int(smooth[search:end].argmax())
        peak = float(smooth[top])
        rise_db = 10.0 * float(np.log10(max(peak / quiet, 1e-3)))
        if peak < _LEAST * quiet:
            return Attack(max(0.0, near_s - LATE_S), rise_db)
        loud = max(0.1 * peak, 3.0 * quiet)
        total = _change(error[search : top + 1], quiet, loud)
        away = (begin + search + np.arange(len(total))) / self.rate - (near_s - LATE_S)
        step = int((total - 0.5 * (away / _USUAL_S) ** 2).argmax())
        return Attack(float((begin + search + step) / self.rate), rise_db)

    def _error(self, near_s: float, ahead_s: float = _AHEAD_S) -> tuple[NDArray[np.float64], int]:
        """The squared prediction error around a moment, and the sample at which it begins."""
        middle = max(0, int((near_s - _BACK_S) * self.rate))
        taps = self._taps[near_s] if near_s in self._taps else self._taps_before(middle)
        begin = max(0, middle - _ORDER)
        part = self.samples[begin : int((near_s + ahead_s) * self.rate)]
        error = np.convolve(part, taps)[: len(part)][_ORDER:]
        return error * error, begin + _ORDER

    def _taps_before(self, middle: int) -> NDArray[np.float64]:
        """The predictor of what rings before one sample; there may be less of it than is wanted."""
        before = self.samples[max(0, middle - int(_FIT_S * self.rate)) : middle]
        if len(before) < 4 * _ORDER:
            before = np.concatenate([np.zeros(4 * _ORDER - len(before)), before])
        return np.asarray(_predictors(before[None] * hann(len(before)))[0])


def _change(error: NDArray[np.float64], quiet: float, loud: float) -> NDArray[np.float64]:
    """The logarithm of how likely the error's variance goes from one to the other at each sample."""
    likelihood = 0.5 * np.log(loud / quiet) - 0.5 * error * (1 / quiet - 1 / loud)
    return np.concatenate([[0.0], np.cumsum(likelihood)])


def _predictors(parts: NDArray[np.float64]) -> NDArray[np.float64]:
    """The prediction-error filters of some stretches, rows of samples: 1 and `_ORDER` taps each."""
    size = 1 << int(np.ceil(np.log2(parts.shape[1] + _ORDER)))  # what comes round lies beyond the last tap
    r = np.fft.irfft(np.abs(np.fft.rfft(parts, size)) ** 2, size)[:, : _ORDER + 1]
    r[r[:, 0] <= 1e-12] = np.eye(1, _ORDER + 1)  # of silence nothing is foretold
    r[:, 0] *= 1 + 1e-4
    taps = np.ones_like(r)
    taps[:, 1:] = np.linalg.solve(r[:, _AWAY], -r[:, 1:, None])[:, :, 0]
    return taps
