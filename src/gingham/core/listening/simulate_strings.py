"""Strings plucked one by one by the simulated player: out of tune, or faulty for the ring check."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from gingham.core.listening.ringing import State
from gingham.core.listening.spectra import Floats
from gingham.core.pieces.piece import Piece
from gingham.core.shapes.shape import Shape
from gingham.core.sound.rate import RATE_HZ
from gingham.core.sound.string import pluck
from gingham.core.sound.timeline import SoundedNote
from gingham.core.sound.voices import kind_of, timbre_of

_LEAD_S, _EACH_S = 0.6, 1.7
_LEVEL, _NOISE = 0.35, 4e-4
_DEAD_DB_S = 190.0
_RATTLE, _RATTLE_HZ = 0.5, 2_500.0


def open_strings(piece: Piece, cents: dict[int, float], capo: int = 0, seed: int = 0) -> Floats:
    """Every open string in turn, the highest number first, each so many cents from its pitch."""
    strings = range(piece.instrument.strings, 0, -1)
    pitches = {s: piece.instrument.open_midi(s) + capo + cents.get(s, 0.0) / 100.0 for s in strings}
    return _in_turn(piece, pitches, {}, seed)


def held_strings(piece: Piece, shape: Shape, faults: dict[int, State], seed: int = 0) -> Floats:
    """Every string of a shape in turn, some of them buzzing or dead."""
    return _in_turn(piece, held_pitches(piece, shape), faults, seed)


def held_pitches(piece: Piece, shape: Shape) -> dict[int, float]:
    """The MIDI number of each string that a shape lets sound."""
    found = {s: shape.midi(s, piece.instrument, piece.capo) for s in range(1, piece.instrument.strings + 1)}
    return {string: float(midi) for string, midi in found.items() if midi is not None}


def _in_turn(piece: Piece, pitches: dict[int, float], faults: dict[int, State], seed: int) -> Floats:
    rng, kind = np.random.default_rng(seed), kind_of(piece)
    each = int(_EACH_S * RATE_HZ)
    parts = [np.zeros(int(_LEAD_S * RATE_HZ))]
    for string in sorted(pitches, reverse=True):
        finger = "p" if string > piece.instrument.strings / 2 else "i"
        note = SoundedNote(0.0, string, round(pitches[string]), 1.0, finger)
        sound = pluck(pitches[string], timbre_of(kind, note), _EACH_S, RATE_HZ)[:each].astype(np.float64)
        parts.append(_faulty(sound, faults.get(string, "clear"), rng))
    whole = _LEVEL * np.concatenate([*parts, np.zeros(each)])
    return np.asarray(whole + rng.normal(0.0, _NOISE, len(whole)), dtype=np.float32)


def _faulty(sound: NDArray[np.float64], state: State, rng: np.random.Generator) -> NDArray[np.float64]:
    """A string that a finger touches, or one that rattles: it meets the fret at each swing, never alike."""
    time = np.arange(len(sound)) / RATE_HZ
    if state == "dead":
        return sound * 10.0 ** (-_DEAD_DB_S * time / 20.0)
    if state != "buzzing":
        return sound
    swing = np.maximum.accumulate(np.abs(sound)[::-1])[::-1] + 1e-9
    struck = np.clip(sound / swing - 0.4, 0.0, None) * rng.uniform(0.2, 1.8, len(sound)) * swing
    spectrum = np.fft.rfft(struck)
    spectrum[np.fft.rfftfreq(len(struck), 1.0 / RATE_HZ) < _RATTLE_HZ] = 0.0
    rattle = np.fft.irfft(spectrum, len(struck))
    loudest = float(np.abs(sound).max())
    return np.asarray(0.9 * sound + _RATTLE * rattle / (np.abs(rattle).max() + 1e-9) * loudest)
