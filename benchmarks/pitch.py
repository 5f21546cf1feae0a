"""Worst pitch error of the plucked string in cents, over every string and fret, from rendered audio.

Reference in the same run: a plain delay loop with a whole-number period.
"""

from __future__ import annotations

import numpy as np

from gingham.core.instruments.instrument import CATALOGUE
from gingham.core.music.pitch import hz
from gingham.core.sound.string import NYLON_FINGER, RATE_HZ, STEEL_FINGER, STEEL_THUMB, Timbre, pluck


def measured_hz(samples: np.ndarray, expected: float) -> float:
    """The fundamental near `expected` by the phase advance between two long windows (in Hz)."""
    size = 16384
    hop = 4096
    window = np.hanning(size)
    time = np.arange(size) / RATE_HZ
    start = 6000

    def phase(at: int, frequency: float) -> complex:
        part = samples[at : at + size] * window
        return complex(np.sum(part * np.exp(-2j * np.pi * frequency * time)))

    found = expected
    for _ in range(3):
        turn = np.angle(
            phase(start + hop, found) / phase(start, found) * np.exp(-2j * np.pi * found * hop / RATE_HZ)
        )
        found += float(turn) / (2 * np.pi) * RATE_HZ / hop
    return found


def cents(found: float, expected: float) -> float:
    """Distance in cents."""
    return 1200.0 * float(np.log2(found / expected))


def worst(timbre: Timbre, instrument: str) -> tuple[float, int]:
    """The largest error in cents over all strings and frets, and the MIDI number it has."""
    on = CATALOGUE[instrument]
    midis = sorted({p.midi + fret for p in on.tuning for fret in range(on.frets + 1)})
    errors = [(abs(cents(measured_hz(pluck(m, timbre, 1.0), hz(m)), hz(m))), m) for m in midis]
    return max(errors)


def main() -> None:
    """Print the worst errors, and what a whole-number period would give."""
    for timbre, name in ((STEEL_THUMB, "guitar"), (STEEL_FINGER, "guitar"), (NYLON_FINGER, "ukulele")):
        error, midi = worst(timbre, name)
        print(f"{name:8} worst {error:.4f} cents at MIDI {midi}")
    midis = range(40, 84)
    plain = max(abs(cents(RATE_HZ / round(RATE_HZ / hz(m)), hz(m))) for m in midis)
    print(f"reference, whole-number period: worst {plain:.1f} cents")


if __name__ == "__main__":
    main()
