"""What else a take holds: the simulated player's foot on the beats, and fingers that squeak along strings."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from gingham.core.listening.plan import TakePlan
from gingham.core.listening.spectra import Floats
from gingham.core.sound.rate import RATE_HZ

_FOOT_S = 0.015  # a foot is so far from the beat (standard deviation)
_THUMP_HZ, _THUMP_S, _CLICK_S, _CLICK = (60.0, 110.0), 0.02, 0.004, 0.3
_SQUEAK_S, _SQUEAK_HZ, _SQUEAKS = (0.06, 0.12), (1_500.0, 4_500.0), 0.6
_BEFORE_S = (0.02, 0.1)  # a hand leaves so long before the change
_LONGEST_S = 0.12


def noises(
    plan: TakePlan, at_s: list[float], faults: dict[str, float], generator: np.random.Generator, count: int
) -> Floats:
    """Taps and squeaks for so many samples; `at_s` is when each moment was played.

    `faults` gives both in dB below the loudest sample, which is 1 here; without them there is nothing.
    """
    out = np.zeros(count + int((_LONGEST_S + 0.1) * RATE_HZ))
    if "tap" in faults:
        for t_s in _beats(plan, at_s):
            _add(out, t_s + generator.normal(0.0, _FOOT_S), _tap(generator), faults["tap"])
    if "squeak" in faults:
        changes = [k for k in range(len(plan.moments)) if plan.changes(k) and generator.random() < _SQUEAKS]
        for k in changes:
            _add(out, at_s[k] - generator.uniform(*_BEFORE_S), _squeak(generator), faults["squeak"])
    return out[:count].astype(np.float32)


def _beats(plan: TakePlan, at_s: list[float]) -> list[float]:
    """When the player's own beats are."""
    score = np.arange(0.0, plan.times[-1] + 1e-6, 60.0 / plan.tempo)
    played = np.interp(score, plan.times, np.maximum.accumulate(at_s))
    return [float(t_s) for t_s in played]


def _add(out: NDArray[np.float64], at_s: float, noise: NDArray[np.float64], level_db: float) -> None:
    begin = max(0, round(at_s * RATE_HZ))
    part = out[begin : begin + len(noise)]
    part += 10.0 ** (level_db / 20.0) / np.abs(noise).max() * noise[: len(part)]


def _tap(generator: np.random.Generator) -> NDArray[np.float64]:
    """A shoe on a floor: a thump with a click."""
    time = np.arange(int(_LONGEST_S * RATE_HZ)) / RATE_HZ
    thump = np.exp(-time / _THUMP_S) * np.sin(2.0 * np.pi * generator.uniform(*_THUMP_HZ) * time)
    return np.asarray(thump + _CLICK * np.exp(-time / _CLICK_S) * generator.standard_normal(len(time)))


def _squeak(generator: np.random.Generator) -> NDArray[np.float64]:
    """A band of noise that swells and goes."""
    count = int(generator.uniform(*_SQUEAK_S) * RATE_HZ)
    spectrum = np.fft.rfft(generator.standard_normal(count))
    hz = np.fft.rfftfreq(count, 1.0 / RATE_HZ)
    spectrum[(hz < _SQUEAK_HZ[0]) | (hz > _SQUEAK_HZ[1])] = 0.0
    return np.asarray(np.fft.irfft(spectrum, count) * np.hanning(count))
