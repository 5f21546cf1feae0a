"""What was meant, played at the times at which the player came to it: plan and take sound together."""

from __future__ import annotations

import numpy as np

from gingham.core.listening.analysis import Analysis
from gingham.core.listening.simulate import Played, rendered
from gingham.core.listening.sounds import Sound
from gingham.core.listening.spectra import Floats
from gingham.core.sound.rate import RATE_HZ
from gingham.core.sound.voices import kind_of

_PEAK = 0.6


def as_played(sound: Sound) -> Floats:
    """The recording at RATE_HZ, as loud as others."""
    samples = sound.samples
    if sound.rate != RATE_HZ:
        count = int(len(samples) * RATE_HZ / sound.rate)
        at = np.arange(count) * (sound.rate / RATE_HZ)
        samples = np.interp(at, np.arange(len(samples)), samples).astype(np.float32)
    return _levelled(samples)


def as_meant(analysis: Analysis, seconds: float) -> Floats:
    """The plan in the player's own running beat, as long as the recording."""
    plan, hearing = analysis.question.plan, analysis.hearing
    inside = sorted(i for k in hearing.reach for i in plan.moments[k])
    played = [
        Played(max(0.0, hearing.expected[i]), plan.plucks[i].string, plan.plucks[i].midi, 0.0, i, "ok")
        for i in inside
    ]
    played.sort(key=lambda each: each.t_s)
    sound = rendered(played, kind_of(analysis.question.bars[0].result.piece), {})
    out = np.zeros(int(seconds * RATE_HZ), np.float32)
    count = min(len(out), len(sound))
    out[:count] = sound[:count]
    return _levelled(out)


def together(one: Floats, other: Floats) -> Floats:
    """Both at once."""
    out = np.zeros(max(len(one), len(other)), np.float32)
    out[: len(one)] += one
    out[: len(other)] += other
    return _levelled(out)


def _levelled(samples: Floats) -> Floats:
    peak = float(np.abs(samples).max()) if len(samples) else 0.0
    return samples if peak < 1e-6 else (samples * np.float32(_PEAK / peak)).astype(np.float32)
