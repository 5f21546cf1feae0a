"""How long sound takes from the program through loudspeaker and microphone back into it.

A bar of clicks is played and recorded; where they are found says by how much all that is recorded is late.
"""

from __future__ import annotations

from collections.abc import Sequence

import msgspec
import numpy as np

from gingham.core.listening.spectra import Floats
from gingham.core.sound.string import click

_MOST_S, _EARLIEST_S, _LEAST_S = 0.6, -0.05, 1.0
_SURE = 1.6  # times as high as the next best place
_ASIDE_S = 0.02
_QUIET = 1e-9


class Delay(msgspec.Struct, frozen=True):
    """Seconds that pass, and how far the clicks stand out from everything else (more than 1)."""

    seconds: float
    sure: float


def delay_of(samples: Floats, rate: int, played: Sequence[tuple[float, int]]) -> Delay | None:
    """By how much the clicks in a recording come later than they were played; None if they are not heard.

    `played` are seconds of the recording and strengths (as `string.click` makes them).
    """
    if len(samples) < _LEAST_S * rate:
        return None
    sought = np.zeros(len(samples) + int(0.1 * rate))
    for at, strength in played:
        sound, begin = click(rate, strength), round(at * rate)
        if 0 <= begin < len(samples):
            sought[begin : begin + len(sound)] += sound[: len(sought) - begin]
    heard = samples.astype(np.float64) - float(np.mean(samples))
    size = 1 << (len(sought) + len(heard)).bit_length()
    across = np.fft.irfft(np.fft.rfft(heard, size) * np.conj(np.fft.rfft(sought, size)), size)
    first, last = round(_EARLIEST_S * rate), round(_MOST_S * rate)
    lags = np.arange(first, last)
    worth = np.abs(across[lags])  # a microphone may turn the wave over
    best = int(worth.argmax())
    aside = np.abs(lags - lags[best]) > _ASIDE_S * rate
    sure = float(worth[best] / max(float(worth[aside].max()), _QUIET))
    if float(worth[best]) < _QUIET or sure < _SURE:
        return None
    return Delay(round(float(lags[best]) / rate, 5), round(sure, 2))
