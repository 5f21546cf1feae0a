"""Samples that are there already, played block by block as a player would play a piece."""

from __future__ import annotations

import numpy as np

from gingham.core.sound.rate import RATE_HZ
from gingham.core.sound.string import Samples


class Tape:
    """Plays samples once from a second on. `position` is in seconds from their beginning."""

    rounds = 0

    def __init__(self, samples: Samples, begin_s: float = 0.0) -> None:
        self._samples = samples
        self._at = max(0, min(len(samples), int(begin_s * RATE_HZ)))

    @property
    def position(self) -> float:
        """Seconds of what the next block begins with."""
        return self._at / RATE_HZ

    def step(self) -> float:
        """Seconds a sample."""
        return 1.0 / RATE_HZ

    @property
    def finished(self) -> bool:
        """Whether nothing is left."""
        return self._at >= len(self._samples)

    def block(self, count: int) -> Samples:
        """The next `count` samples, silence behind the end."""
        part = self._samples[self._at : self._at + count]
        self._at += count
        out = np.zeros(count, np.float32)
        out[: len(part)] = part
        return out
