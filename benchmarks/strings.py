"""Our steel strings beside a played wooden guitar: brightness, fall, levels and decays of partials.

Run `python -m benchmarks.strings [wood-strings.tsv]`. The reference, printed in the same run, is the table
of one measured guitar where its file is given; without it, the range that two guitars were seen to have.
"""

from __future__ import annotations

import sys
from pathlib import Path

import numpy as np

from gingham.core.music.pitch import hz
from gingham.core.sound.rate import RATE_HZ
from gingham.core.sound.timeline import SoundedNote
from gingham.core.sound.voices import Kind, VoiceBank

_OPEN = {6: 40, 5: 45, 4: 50, 3: 55, 2: 59, 1: 64}
_RANGES = "two guitars: B 2e-05 to 1.2e-04, decays 0 to 30 dB/s side by side, top strings fall 3 to 4 dB"


def measured(sound: np.ndarray, first_hz: float) -> tuple[float, float, list[float], list[float]]:
    """Centroid (Hz), fall from 0.1 to 0.9 s (dB), levels and decays (dB a second) of ten partials."""

    def part(begin: float, end: float) -> np.ndarray:
        return sound[int(begin * RATE_HZ) : int(end * RATE_HZ)]

    early = part(0.02, 0.22)
    size = np.abs(np.fft.rfft(early * np.hanning(len(early))))
    centroid = float((size * np.fft.rfftfreq(len(early), 1 / RATE_HZ)).sum() / size.sum())

    def loud(at: float) -> float:
        return 10 * float(np.log10((part(at - 0.05, at + 0.05) ** 2).mean()))

    def partial(at: float, number: int) -> float:
        window = part(at, at + 0.09)
        wave = np.exp(-2j * np.pi * number * first_hz * np.arange(len(window)) / RATE_HZ)
        return 20 * float(np.log10(abs(np.sum(window * np.hanning(len(window)) * wave)) + 1e-9))

    first = [partial(0.03, n) for n in range(1, 11)]
    decays = [(a - partial(0.8, n)) / 0.77 for n, a in enumerate(first, 1)]
    return centroid, loud(0.1) - loud(0.9), [a - max(first) for a in first], decays


def main() -> None:
    """Print a line a string, and the reference."""
    bank = VoiceBank(Kind())
    print("string  centroid  fall dB  levels of partials 1 to 10, dB | decays, dB a second")
    for string, midi in _OPEN.items():
        finger = "p" if string >= 4 else "i"
        sound = bank.note(SoundedNote(0.0, string, midi, 1.0, finger)).astype(float)
        centroid, fall, levels, decays = measured(sound, hz(midi))
        rows = " ".join(f"{v:4.0f}" for v in levels), " ".join(f"{v:3.0f}" for v in decays)
        print(f"{string:6}  {centroid:8.0f}  {fall:7.1f}  {rows[0]} | {rows[1]}")
    path = Path(sys.argv[1]) if len(sys.argv) > 1 else None
    print("reference:", path.read_text() if path is not None and path.exists() else _RANGES)


if __name__ == "__main__":
    main()
