"""A plucked string: one period of a pluck that circulates through a delay and a loss filter.

The model is the extended plucked-string loop of Jaffe and Smith (Computer Music Journal 7/2, 1983). The
loop's delay is an integer part, a Lagrange fractional delay and a symmetric loss filter whose own delay
is known exactly, so the pitch is right to a small fraction of a cent. The string is computed one period
at a time in NumPy: each new period depends on the one before only.
"""

from __future__ import annotations

from functools import lru_cache
from math import ceil, exp, floor, log, pi

import msgspec
import numpy as np
from numpy.typing import NDArray

from gingham.core.music.pitch import hz
from gingham.core.sound.rate import RATE_HZ

_LAGRANGE_ORDER = 5
_FADE_IN = 24  # samples: softens the very first step without moving the onset
_FADE_OUT_S = 0.05

Samples = NDArray[np.float32]


Body = tuple[tuple[float, float, float], ...]
"""Resonances of a body: (frequency in Hz, gain, width in Hz)."""
GUITAR_BODY: Body = ((102.0, 0.9, 14.0), (208.0, 0.8, 26.0), (395.0, 0.5, 60.0), (1900.0, 0.35, 900.0))
UKULELE_BODY: Body = ((196.0, 1.0, 26.0), (375.0, 0.8, 48.0), (720.0, 0.5, 110.0), (2600.0, 0.35, 1100.0))
_KNOCK_S = 0.06  # the box answers the pluck itself for so long
_KNOCK = 0.1


class Timbre(msgspec.Struct, frozen=True, gc=False):
    """What string and finger are like.

    `pluck_at` is the plucking point as a share of the string, `cutoff_hz` how bright the pluck is,
    `ring_s` the time in which a tone of 200 Hz falls by 60 dB, `loss` how fast high partials die (0–0.25),
    `body` the resonances of the box.
    """

    pluck_at: float
    cutoff_hz: float
    ring_s: float
    loss: float
    body: Body = ()


STEEL_THUMB = Timbre(0.22, 1500.0, 5.0, 0.045)
STEEL_FINGER = Timbre(0.17, 2600.0, 4.5, 0.040)
NYLON_THUMB = Timbre(0.25, 1300.0, 2.2, 0.09)
NYLON_FINGER = Timbre(0.2, 2100.0, 2.0, 0.08)


def pluck(midi: float, timbre: Timbre, seconds: float, rate_hz: int = RATE_HZ) -> Samples:
    """A plucked string at `midi`, `seconds` long, with a peak of about 1.

    Returns float32 samples, shape (round(seconds * rate_hz),).

    Raises
    ------
    ValueError
        If the pitch is too high for the sample rate (its period must be 12 samples or more).
    """
    period = rate_hz / hz(midi)
    if period < 12:
        raise ValueError(f"period of {period:.1f} samples is too short")
    count = round(seconds * rate_hz)
    loss = min(0.25, timbre.loss * period / 200.0 + 0.004)
    loop, delay = _loop_filter(period, loss, 10.0 ** (-3.0 / (_ring_s(midi, timbre) * hz(midi))))
    taps = len(loop)
    out = np.zeros(max(count, delay + taps) + delay, dtype=np.float64)
    filled = delay + taps
    out[:filled] = _excitation(period, filled, timbre, rate_hz)
    while filled < count:
        out[filled : filled + delay] = np.convolve(out[filled - delay - taps + 1 : filled], loop, "valid")
        filled += delay
    sound = out[:count] / (float(np.max(np.abs(out[:count]))) or 1.0)
    knock = _knock(timbre.body, min(count, round(_KNOCK_S * rate_hz)), rate_hz)
    sound[: len(knock)] += knock
    return _shaped(sound, rate_hz)


def _knock(body: Body, count: int, rate_hz: int) -> NDArray[np.float64]:
    """The short low answer of the box to the pluck, from its two lowest resonances."""
    time = np.arange(count) / rate_hz
    fade = np.exp(-time * 70.0) * np.minimum(1.0, time / 0.002)
    modes = [gain * np.sin(2.0 * pi * frequency * time) for frequency, gain, _ in body[:2]]
    return np.asarray(_KNOCK * fade * sum(modes)) if modes else np.zeros(count)


def _body_gain(body: Body, frequencies: NDArray[np.float64]) -> NDArray[np.float64]:
    """How much the box strengthens each frequency: one, and a bell at every resonance."""
    out = np.ones_like(frequencies)
    for centre, gain, width in body:
        out += gain / (1.0 + ((frequencies - centre) / width) ** 2)
    return out


def _ring_s(midi: float, timbre: Timbre) -> float:
    """Low strings ring longer than high ones."""
    return timbre.ring_s * exp(0.35 * log(200.0 / hz(midi)))


def _loop_filter(period: float, loss: float, gain: float) -> tuple[NDArray[np.float64], int]:
    """The taps of the loop filter, and the integer delay that makes the whole loop one period long."""
    middle = _LAGRANGE_ORDER / 2
    delay = floor(period - 1.0 - middle + 0.5)
    fraction = period - 1.0 - delay
    points = np.arange(_LAGRANGE_ORDER + 1)
    lagrange = np.array([np.prod([(fraction - m) / (k - m) for m in points if m != k]) for k in points])
    # Tap 0 of the convolution reads `delay` samples back, so the taps are used in reverse order there.
    return gain * np.convolve(lagrange, [loss, 1.0 - 2.0 * loss, loss]), delay


def _excitation(period: float, count: int, timbre: Timbre, rate_hz: int) -> NDArray[np.float64]:
    """`count` samples of the periodic pluck: partials by plucking point, softened above the cutoff."""
    most = max(1, min(120, floor(period / 2.2)))
    partials = np.arange(1, most + 1)
    cutoff = timbre.cutoff_hz * period / rate_hz
    strength = np.sin(pi * partials * timbre.pluck_at) / partials * np.exp(-partials / max(cutoff, 1.0))
    strength = strength * _body_gain(timbre.body, partials * rate_hz / period)
    # Half-way phases between a pulse and a chirp: a soft attack without a spike.
    phases = 0.35 * partials * partials / most
    angles = 2.0 * pi * np.outer(np.arange(count) / period, partials) + phases
    return np.asarray(np.sin(angles) @ strength)


def _shaped(samples: NDArray[np.float64], rate_hz: int) -> Samples:
    peak = float(np.max(np.abs(samples))) or 1.0
    out = (samples / peak).astype(np.float32)
    ramp = min(_FADE_IN, len(out))
    out[:ramp] *= np.linspace(0.0, 1.0, ramp + 1, dtype=np.float32)[1:]
    tail = min(ceil(_FADE_OUT_S * rate_hz), len(out))
    out[len(out) - tail :] *= np.linspace(1.0, 0.0, tail, dtype=np.float32)
    return out


@lru_cache(maxsize=8)
def click(rate_hz: int, strength: int) -> Samples:
    """A short click, higher on a bar line (2) than on beats (1) and between (0); −1 is a soft low tone."""
    soft = strength < 0
    count = round((0.25 if soft else 0.03) * rate_hz)
    time = np.arange(count) / rate_hz
    tone_hz = {2: 1760.0, 1: 1175.0, 0: 880.0}.get(strength, 587.3)
    tone = np.sin(2.0 * pi * tone_hz * time) * np.exp(-time * (14.0 if soft else 160.0))
    if soft:
        tone *= 0.5 * np.minimum(1.0, time / 0.01)
    out = (0.5 * tone).astype(np.float32)
    out[:8] *= np.linspace(0.0, 1.0, 9, dtype=np.float32)[1:]
    return out


def chuck(rate_hz: int, seed: int = 7) -> Samples:
    """The short dull knock of a muted brush."""
    count = round(0.05 * rate_hz)
    noise = np.random.default_rng(seed).standard_normal(count)
    smooth = np.convolve(noise, np.hanning(15) / 7.0, "same")
    decay = np.exp(-np.arange(count) / (exp(1.0) * 0.004 * rate_hz))
    return (0.35 * smooth * decay).astype(np.float32)
