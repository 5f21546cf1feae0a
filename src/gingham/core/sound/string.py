"""A plucked string as the sum of its own vibrations: every partial with its pitch, strength and two decays.

Partial n of a stiff string lies at n f₁ √((1 + B n²) / (1 + B)) (Fletcher, JASA 36, 1964); the first is the
note's own pitch, exactly. A partial dies in two steps, fast while the string drives the box, slowly once it
has turned out of the plane that does (Weinreich, JASA 62, 1977), and no two partials alike: strengths and
rates are spread as on real strings, the same for a pitch every time. The sum is one matrix product in NumPy.
"""

from __future__ import annotations

from functools import lru_cache
from math import ceil, exp, log, pi

import msgspec
import numpy as np
from numpy.typing import NDArray

from gingham.core.music.pitch import hz
from gingham.core.sound.rate import RATE_HZ

_FADE_IN = 24  # samples: softens the very first step without moving the onset
_FADE_OUT_S = 0.6
_MOST = 60  # partials
_HIGHEST = 0.46  # of the sample rate
_BLOCK = 512  # samples: a note is blocks by partials times partials by samples
_SPREAD_DB = 3.0  # of the partials' strengths
_SPREAD = 0.55  # of the logarithm of their decays
_FAST, _SLOW, _SHARE = 2.0, 0.62, 0.55  # the two decays in the mean one, and the fast one's share
_APART = 2e-4  # by so much the two planes of a partial differ in pitch, which makes it beat
DECIBEL = log(10.0) / 20.0

Samples = NDArray[np.float32]


Body = tuple[tuple[float, float, float], ...]
"""Resonances of a body: (frequency in Hz, gain, width in Hz)."""
GUITAR_BODY: Body = ((102.0, 0.9, 14.0), (208.0, 0.8, 26.0), (395.0, 0.5, 60.0), (1900.0, 0.35, 900.0))
UKULELE_BODY: Body = ((196.0, 1.0, 26.0), (375.0, 0.8, 48.0), (720.0, 0.5, 110.0), (2600.0, 0.35, 1100.0))
_KNOCK_S = 0.06  # the box answers the pluck itself for so long
_KNOCK = 0.1


class Timbre(msgspec.Struct, frozen=True, gc=False):
    """What string and finger are like.

    `pluck_at` is the plucking point as a share of the string, `cutoff_hz` how bright the pluck is, `decay_db`
    by how many dB a second a low partial dies, `damping_db` by how many more for every kHz, `stiffness` the
    inharmonicity B, `body` the resonances of the box.
    """

    pluck_at: float
    cutoff_hz: float
    decay_db: float
    damping_db: float
    stiffness: float
    body: Body = ()


STEEL_THUMB = Timbre(0.22, 3000.0, 4.5, 2.2, 6e-5)
STEEL_FINGER = Timbre(0.17, 8000.0, 4.5, 2.2, 4e-5)
NYLON_THUMB = Timbre(0.25, 1700.0, 9.0, 5.0, 4e-5)
NYLON_FINGER = Timbre(0.2, 2600.0, 10.0, 5.5, 3e-5)


def pluck(midi: float, timbre: Timbre, seconds: float, rate_hz: int = RATE_HZ) -> Samples:
    """A plucked string at `midi`, `seconds` long, with a peak of about 1.

    Returns float32 samples, shape (round(seconds * rate_hz),).

    Raises
    ------
    ValueError
        If the pitch is too high for the sample rate (its period must be 12 samples or more).
    """
    return made(midi, timbre, seconds, rate_hz)[0]


def made(midi: float, timbre: Timbre, seconds: float, rate_hz: int) -> tuple[Samples, float]:
    """As `pluck`, and the factor from the strengths of its partials to its samples."""
    period = rate_hz / hz(midi)
    if period < 12:
        raise ValueError(f"period of {period:.1f} samples is too short")
    count = round(seconds * rate_hz)
    sound = summed(*partials(midi, timbre, rate_hz), count, rate_hz)
    peak = float(np.max(np.abs(sound))) or 1.0
    sound = sound / peak
    knock = _knock(timbre.body, min(count, round(_KNOCK_S * rate_hz)), rate_hz)
    sound[: len(knock)] += knock
    whole = float(np.max(np.abs(sound))) or 1.0
    return _shaped(sound / whole, rate_hz), 1.0 / (peak * whole)


Numbers = NDArray[np.float64]


def partials(midi: float, timbre: Timbre, rate_hz: int) -> tuple[Numbers, Numbers, Numbers, Numbers]:
    """Frequency (Hz), strength, phase (radians) and decay (dB a second) of every vibration of a note.

    Each partial has two: the fast ones of all partials come first, then the slow ones.
    """
    first, b = hz(midi), timbre.stiffness
    n = np.arange(1, _MOST + 1)
    frequency = n * first * np.sqrt((1.0 + b * n * n) / (1.0 + b))
    inside = frequency < _HIGHEST * rate_hz
    n, frequency = n[inside], frequency[inside]
    chance = np.random.default_rng(round(7 * midi)).standard_normal((2, _MOST))[:, : len(n)]
    strength = np.sin(pi * n * timbre.pluck_at) / n * np.exp(-frequency / timbre.cutoff_hz)
    strength = strength * _body_gain(timbre.body, frequency) * 10.0 ** (_SPREAD_DB * chance[0] / 20.0)
    decay = timbre.decay_db + timbre.damping_db * frequency / 1000.0
    decay[1:] *= np.exp(_SPREAD * np.clip(chance[1][1:], -1.8, 1.8))
    apart = np.where(n > 1, 1.0 + _APART * np.sign(chance[0]), 1.0)  # the first partial keeps its pitch
    # Half-way phases between a pulse and a chirp: a soft attack without a spike.
    phase = 0.35 * n * n / len(n) - pi / 2
    return (
        np.concatenate([frequency, frequency * apart]),
        np.concatenate([_SHARE * strength, (1.0 - _SHARE) * strength]),
        np.concatenate([phase, phase]),
        np.concatenate([_FAST * decay, _SLOW * decay]),
    )


def summed(
    frequency: Numbers, strength: Numbers, phase: Numbers, decay: Numbers, count: int, rate_hz: int
) -> Numbers:
    """The real part of the sum of decaying rotations, as blocks by vibrations times vibrations by samples."""
    step = (-DECIBEL * decay + 2j * pi * frequency) / rate_hz
    begin = np.exp(np.outer(np.arange(ceil(count / _BLOCK)) * _BLOCK, step)).astype(np.complex64)
    within = (strength * np.exp(1j * phase))[:, None] * np.exp(np.outer(step, np.arange(_BLOCK)))
    return np.asarray((begin @ within.astype(np.complex64)).real.ravel()[:count], np.float64)


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


def _shaped(samples: Numbers, rate_hz: int) -> Samples:
    out = samples.astype(np.float32)
    ramp = min(_FADE_IN, len(out))
    out[:ramp] *= np.linspace(0.0, 1.0, ramp + 1, dtype=np.float32)[1:]
    tail = min(ceil(_FADE_OUT_S * rate_hz), len(out) // 2)
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
