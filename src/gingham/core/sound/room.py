"""A little room: early reflections, different on the left and on the right, around a mono sound.

Eight delays a side, none of them a multiple of another, so that no pitch is coloured; they are summed by
whole blocks from what has sounded before.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from gingham.core.sound.rate import RATE_HZ
from gingham.core.sound.string import Samples

_LEFT_MS = (7.1, 13.7, 21.9, 31.3, 42.7, 55.1, 69.7, 83.3)
_RIGHT_MS = (8.9, 15.1, 24.3, 34.7, 45.9, 58.7, 73.1, 89.9)
_LEFT_GAINS = (0.16, -0.12, 0.11, 0.08, -0.07, 0.05, 0.04, 0.03)
_RIGHT_GAINS = (0.15, 0.12, -0.1, 0.08, 0.06, -0.05, 0.04, 0.03)
_DIRECT = 0.86
_KNEE = 0.75

Stereo = NDArray[np.float32]
"""Samples of two channels, shape (n, 2), within ±1."""


class Room:
    """Keeps what has sounded long enough for its last reflection. Not thread-safe."""

    def __init__(self, rate_hz: int = RATE_HZ) -> None:
        sides = ((_LEFT_MS, _LEFT_GAINS), (_RIGHT_MS, _RIGHT_GAINS))
        self._taps = [
            [(round(ms * rate_hz / 1000), gain) for ms, gain in zip(*side, strict=True)] for side in sides
        ]
        self._longest = max(delay for side in self._taps for delay, _ in side)
        self._past = np.zeros(self._longest, dtype=np.float32)

    def stereo(self, mono: Samples) -> Stereo:
        """A block with its reflections, softly limited; the direct sound keeps its sample."""
        line = np.concatenate([self._past, mono])
        out = np.empty((len(mono), 2), dtype=np.float32)
        for side, taps in enumerate(self._taps):
            channel = _DIRECT * mono
            for delay, gain in taps:
                start = self._longest - delay
                channel = channel + gain * line[start : start + len(mono)]
            out[:, side] = channel
        self._past = line[-self._longest :]
        return limited(out)


def limited(samples: NDArray[np.float32]) -> NDArray[np.float32]:
    """Soft limiting above the knee; below it the signal is untouched."""
    size = np.abs(samples)
    if float(size.max(initial=0.0)) <= _KNEE:
        return samples
    room = 1.0 - _KNEE
    soft = _KNEE + room * np.tanh((size - _KNEE) / room)
    return np.where(size > _KNEE, np.sign(samples) * soft, samples).astype(np.float32)
