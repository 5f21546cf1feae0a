"""Rendering three minutes of a demo piece, cold and with its notes cached, against a plain per-note string.

Run: `.venv/bin/python -m benchmarks.render`. Budget: 1 s cold, 0.5 s with its notes cached. The reference in
the same run is the simplest plucked string, one `scipy.signal.lfilter` call for each pluck of the piece.
"""

from __future__ import annotations

import time
from math import ceil

import numpy as np
from scipy.signal import lfilter

from gingham.core.fitting.whole import fit_piece
from gingham.core.formats.wav import render
from gingham.core.music.pitch import hz
from gingham.core.patterns.shorthand import parse_pattern
from gingham.core.pieces.chordline import parse_chord_line
from gingham.core.pieces.piece import NamedPattern, Piece, Section
from gingham.core.sound.string import RATE_HZ
from gingham.core.sound.timeline import timeline
from gingham.core.sound.voices import VoiceBank, kind_of

_MINUTES, _TEMPO = 3, 72


def three_minutes() -> Piece:
    """The first demo piece's chords and pattern at 72, as often as three minutes take."""
    pattern = parse_pattern("4/4 x2: p+m . p i ; p m p i")
    line = parse_chord_line("| G | Am7 | Dsus4 D | Em7{022030} | C | G/B{x20033} | Am7 | D |", pattern.meter)
    times = ceil(_MINUTES * _TEMPO / 4 / len(line.bars))
    section = Section("Verse", line, "Hearth", repeats=times)
    return Piece("Three minutes", (section,), (NamedPattern("Hearth", pattern),), capo=2, tempo=_TEMPO)


def plain_string(midi: int, seconds: float, rng: np.random.Generator) -> np.ndarray:
    """Noise through one delay-line filter: a period of feedback with a two-point average."""
    period = round(RATE_HZ / hz(midi))
    noise = np.zeros(round(seconds * RATE_HZ))
    noise[:period] = rng.uniform(-1.0, 1.0, period)
    feedback = np.zeros(period + 2)
    feedback[0], feedback[period], feedback[period + 1] = 1.0, -0.498, -0.498
    return np.asarray(lfilter([1.0], feedback, noise))


def reference(piece: Piece) -> float:
    """Seconds that the plain string needs for every pluck of the piece."""
    notes = timeline(fit_piece(piece)).notes
    rng = np.random.default_rng(1)
    began = time.perf_counter()
    for note in notes[:120]:
        if note.midi is not None:
            plain_string(note.midi, 4.0, rng)
    return (time.perf_counter() - began) * len(notes) / 120


def main() -> None:
    """Print seconds and how many times faster than real time."""
    piece = three_minutes()
    bank = VoiceBank(kind_of(piece))
    began = time.perf_counter()
    samples = render(piece, bank)
    cold = time.perf_counter() - began
    began = time.perf_counter()
    render(piece, bank)
    warm = time.perf_counter() - began
    length = len(samples) / RATE_HZ
    plain = reference(piece)
    for name, took in (("cold", cold), ("notes cached", warm), ("reference, lfilter per note", plain)):
        print(f"{name:28} {took:6.2f} s for {length:.0f} s of sound   {length / took:6.0f} × real time")


if __name__ == "__main__":
    main()
