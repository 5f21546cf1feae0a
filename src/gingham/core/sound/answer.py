"""Open strings that answer: what a free string sings when another one is plucked.

Both hang on one bridge. A partial of the plucked string, a rotation exp(s t) with s = −σ + iω, drives each
partial of the free one, which turns by itself as exp(r t). From rest, and with a coupling κ at the bridge,
the free one moves as κ (exp(s t) − exp(r t)) / (s − r): strongly where the two nearly coincide (octaves,
fifths), hardly elsewhere. (A driven, damped oscillator; strings on a guitar's body: Woodhouse, Acta Acustica
90, 2004.)
"""

from __future__ import annotations

from math import ceil

import numpy as np

from gingham.core.sound.string import (
    DECIBEL,
    Numbers,
    Samples,
    Timbre,
    partials,
    summed,
)

ANSWER_S = 2.0
_COUPLING = 0.06  # 1/s: an octave answers some 31 dB below the pluck
_APART_HZ = 12.0  # further apart, partials leave each other alone
_MOST = 12  # pairs of partials
_LEAST = 0.2  # 1/s: the least difference of two rotations
_FADE_OUT_S = 0.4
_SILENT = 10.0 ** (-48.0 / 20.0)


def answer(
    midi: int, timbre: Timbre, open_midi: int, open_timbre: Timbre, scale: float, rate_hz: int
) -> Samples | None:
    """What the free string at `open_midi` adds to the pluck at `midi`, float32; None where that is nothing.

    `scale` is the factor from the pluck's partials to its samples (see `string.made`). ANSWER_S long.
    """
    frequency, strength, phase, decay = partials(midi, timbre, rate_hz)
    own_frequency, _, _, own_decay = _once(partials(open_midi, open_timbre, rate_hz))
    apart = np.abs(frequency[:, None] - own_frequency)
    driving, driven = np.nonzero(apart < _APART_HZ)
    pushed = -DECIBEL * decay[driving] + 2j * np.pi * frequency[driving]
    free = -DECIBEL * own_decay[driven] + 2j * np.pi * own_frequency[driven]
    between = pushed - free
    between = np.where(np.abs(between) < _LEAST, _LEAST * 1j, between)
    moved = _COUPLING * scale * strength[driving] * np.exp(1j * phase[driving]) / between
    strongest = np.argsort(-np.abs(moved))[:_MOST]
    driving, driven, moved = driving[strongest], driven[strongest], moved[strongest]
    if 2.0 * float(np.abs(moved).sum()) < _SILENT:
        return None
    count = round(ANSWER_S * rate_hz)
    sound = summed(
        np.concatenate([frequency[driving], own_frequency[driven]]),
        np.concatenate([np.abs(moved), np.abs(moved)]),
        np.concatenate([np.angle(moved), np.angle(-moved)]),
        np.concatenate([decay[driving], own_decay[driven]]),
        count,
        rate_hz,
    )
    if float(np.max(np.abs(sound))) < _SILENT:
        return None
    tail = ceil(_FADE_OUT_S * rate_hz)
    sound[count - tail :] *= np.linspace(1.0, 0.0, tail)
    return sound.astype(np.float32)


def _once(vibrations: tuple[Numbers, ...]) -> tuple[Numbers, ...]:
    """The slower of the two vibrations of each partial: the one that has not died when the pluck has."""
    return tuple(values[len(values) // 2 :] for values in vibrations)
