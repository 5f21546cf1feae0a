"""The instrument learned from the take itself: tuning, inharmonicity and partials of every string.

A spectrum is then written as a sum of strings: non-negative weights by multiplicative steps that lessen the
weighted Kullback-Leibler divergence (Lee and Seung, NIPS 2001). Nothing is trained beforehand.
"""

from __future__ import annotations

import msgspec
import numpy as np
from numpy.typing import NDArray

from gingham.core.listening.spectra import PARTIALS, Floats, Grid, comb, hertz, partial_hz, partials_hz

Note = tuple[int, int]
"""A string and the MIDI pitch that it sounds."""
_PRIOR = 1.0 / np.arange(1, PARTIALS + 1) ** 0.9
_PRIOR = _PRIOR / _PRIOR.sum()
_USUAL_B = 4e-5
_TUNED = 12  # partials that tell a string's tuning
_MOST_CENTS = 45.0
_STEPS = 60


class Tuned(msgspec.Struct, frozen=True, gc=False):
    """How a string is tuned: cents above the nominal pitch, and its inharmonicity B."""

    cents: float
    inharmonicity: float


class Strings:
    """What the strings of a take look like; without examples a plain falling row of partials."""

    def __init__(self, grid: Grid, notes: list[Note]) -> None:
        self.grid, self.notes = grid, sorted(set(notes))
        self.index = {note: i for i, note in enumerate(self.notes)}
        self.tuned: dict[int, Tuned] = {}
        self.partials: dict[Note, NDArray[np.float64]] = {}
        self.atoms = self._atoms()

    def learn(self, rises: Floats, examples: dict[Note, list[int]]) -> None:
        """Learn from spectra (rows of `rises`) in which one known note alone was struck."""
        self.tuned = _tuning(rises, examples, self.grid)
        for (string, midi), rows in examples.items():
            tuned = self.tuning(string)
            found = _at_partials(rises[rows], self.grid, midi + tuned.cents / 100, tuned.inharmonicity)
            found = found / (found.sum(1, keepdims=True) + 1e-12)
            shape = np.median(found, 0) if len(rows) > 2 else found.mean(0)
            shape = shape / (shape.sum() + 1e-12)
            self.partials[string, midi] = (len(rows) * shape + 0.7 * _PRIOR) / (len(rows) + 0.7)
        self.atoms = self._atoms()

    def tuning(self, string: int) -> Tuned:
        """A string's tuning; that of the others where it was never heard alone."""
        if string in self.tuned:
            return self.tuned[string]
        cents = float(np.median([t.cents for t in self.tuned.values()])) if self.tuned else 0.0
        return Tuned(cents, _USUAL_B)

    def partials_hz(self, note: Note, count: int) -> NDArray[np.float64]:
        """Where the first `count` partials of a note lie."""
        tuned, numbers = self.tuning(note[0]), np.arange(1.0, count + 1)
        return partials_hz(note[1] + tuned.cents / 100, numbers, tuned.inharmonicity)

    def _atoms(self) -> Floats:
        rows = []
        for note in self.notes:
            tuned = self.tuning(note[0])
            rows.append(comb(self.grid, note[1] + tuned.cents / 100, self._shape(note), tuned.inharmonicity))
        noise = np.full(self.grid.bins, 1.0 / np.sqrt(self.grid.bins), np.float32)
        return np.array([*rows, noise], np.float32)

    def _shape(self, note: Note) -> NDArray[np.float64]:
        """Partials of a note: as heard, else as those of its string, else of notes near by."""
        if note in self.partials:
            return self.partials[note]
        same = [shape for (string, _), shape in self.partials.items() if string == note[0]]
        near = [shape for (_, midi), shape in self.partials.items() if abs(midi - note[1]) <= 7]
        if not same and not near:
            return np.asarray(_PRIOR, np.float64)
        mean = np.exp(np.log(np.array(same or near) + 1e-4).mean(0))
        share = 0.65 if same else 0.4
        return np.asarray(share * mean / mean.sum() + (1 - share) * _PRIOR)


class Shares(msgspec.Struct, frozen=True):
    """A spectrum as a sum of strings: for each string its weight, its share of all strings, and its evidence.

    `evidence` is by how much the divergence grows without it, relative to the spectrum; `noise` the share of
    what is no string.
    """

    weight: dict[int, float]
    share: dict[int, float]
    evidence: dict[int, float]
    noise: float
    row: Floats
    """The weights of all atoms."""


def trust(rises: Floats, before: Floats) -> Floats:
    """How far each bin of a rise can be believed: less where strings were ringing loudly already."""
    level = rises + 0.05 * rises.max(1, keepdims=True) + 1e-12
    return np.asarray(1.0 / (1.0 + (0.5 * before / level) ** 2), np.float32)


def weights_of(
    strings: Strings, spectra: Floats, believed: Floats, sounding: list[dict[int, int]], steps: int
) -> Floats:
    """The weight of each atom in each spectrum: only strings that can sound there (string to pitch) have one.

    `believed` says how far each bin of each spectrum can be trusted.
    """
    mask = np.zeros((len(spectra), len(strings.atoms)), np.float32)
    mask[:, -1] = 1.0
    for row, pitches in enumerate(sounding):
        mask[row, [strings.index[note] for note in pitches.items()]] = 1.0
    return weighted_nmf(spectra, strings.atoms, mask, believed, steps)


def decompose(
    strings: Strings, rises: Floats, before: Floats, sounding: list[dict[int, int]]
) -> list[Shares]:
    """Write each spectrum as a sum of those strings that can sound there (string to pitch)."""
    if not len(rises):
        return []
    atoms, sums = strings.atoms, strings.atoms.sum(1)
    weights = trust(rises, before)
    found = weights_of(strings, rises, weights, sounding, _STEPS)
    made = found @ atoms + 1e-9
    size = rises.sum(1) + 1e-9
    out = []
    for row, pitches in enumerate(sounding):
        total = float((found[row] * sums)[:-1].sum()) + 1e-9
        own = [strings.index[note] for note in pitches.items()]
        weight = dict(zip(pitches, (found[row, own] * sums[own]).tolist(), strict=True))
        without = np.maximum(made[row] - found[row, own, None] * atoms[own], 0.0) + 1e-9
        loss = rises[row] * np.log(made[row] / without) - made[row] + without
        evidence = dict(zip(pitches, ((weights[row] * loss).sum(1) / size[row]).tolist(), strict=True))
        share = {string: value / total for string, value in weight.items()}
        noise = float(found[row, -1] * sums[-1] / size[row])
        out.append(Shares(weight, share, evidence, noise, found[row]))
    return out


def weighted_nmf(values: Floats, atoms: Floats, mask: Floats, weights: Floats, steps: int) -> Floats:
    """Non-negative activations (rows by atoms) of fixed atoms under a weighted KL divergence."""
    scale = weights @ atoms.T + 1e-9
    start = (weights * values).sum(1, keepdims=True) / np.maximum(1.0, mask.sum(1, keepdims=True))
    found = mask * start / scale
    weighted = weights * values
    for _ in range(steps):
        found *= (weighted / (found @ atoms + 1e-9)) @ atoms.T / scale
    return np.asarray(found, np.float32)


def _at_partials(rises: Floats, grid: Grid, midi: float, inharmonicity: float) -> NDArray[np.float64]:
    """The largest magnitude at each partial, rows by partials."""
    out = np.zeros((len(rises), PARTIALS))
    for number in range(1, PARTIALS + 1):
        bin_ = round(partial_hz(midi, number, inharmonicity) / grid.bin_hz)
        if bin_ + 2 >= grid.bins:
            break
        out[:, number - 1] = rises[:, bin_ - 1 : bin_ + 2].max(1)
    return out


def _tuning(rises: Floats, examples: dict[Note, list[int]], grid: Grid) -> dict[int, Tuned]:
    """Cents and inharmonicity of each string, from the peaks near its partials (a robust line in n²)."""
    points: dict[int, list[NDArray[np.float64]]] = {}
    for (string, midi), rows in examples.items():
        points.setdefault(string, []).append(_deviations(rises[rows], grid, midi))
    out = {}
    for string, parts in points.items():
        squares, cents, loud = np.concatenate(parts, axis=1)
        if len(squares) >= 6:
            out[string] = _line(squares, cents, loud)
    return out


def _deviations(rises: Floats, grid: Grid, midi: int) -> NDArray[np.float64]:
    """n², cents away from n f₀, and weight of every clear peak near a partial."""
    rows, found = np.arange(len(rises)), []
    loudest = rises.max(1)
    for number in range(1, _TUNED + 1):
        place = partial_hz(midi, number, _USUAL_B) / grid.bin_hz
        reach = max(2, int(np.ceil(0.025 * place)))
        low, high = round(place) - reach, round(place) + reach
        if low < 1 or high + 2 >= grid.bins:
            continue
        top = rises[:, low : high + 1].argmax(1) + low
        left, mid, right = (np.log(rises[rows, top + step] + 1e-9) for step in (-1, 0, 1))
        bend = left - 2 * mid + right
        shift = np.where(bend < -1e-6, 0.5 * (left - right) / np.where(bend < -1e-6, bend, -1.0), 2.0)
        hz = (top + shift) * grid.bin_hz
        cents = 1200 * np.log2(np.maximum(hz, 1.0) / number / hertz(midi))
        size = np.exp(mid)
        good = (np.abs(shift) < 1) & (size > 0.03 * loudest) & (np.abs(cents) < _MOST_CENTS)
        found.append(np.array([np.full(good.sum(), number**2), cents[good], size[good] * number]))
    return np.concatenate(found, axis=1) if found else np.zeros((3, 0))


def _line(squares: NDArray[np.float64], cents: NDArray[np.float64], loud: NDArray[np.float64]) -> Tuned:
    weight, level, slope = loud, 0.0, 0.0
    for _ in range(8):
        sw, sx, sxx = weight.sum(), (weight * squares).sum(), (weight * squares * squares).sum()
        sxx += 20 * sw
        sy, sxy = (weight * cents).sum(), (weight * squares * cents).sum()
        slope = (sw * sxy - sx * sy) / max(sw * sxx - sx * sx, 1e-12)
        level = (sy - slope * sx) / max(sw, 1e-12)
        weight = loud / np.maximum(np.abs(cents - level - slope * squares), 3.0)
    # cents of partial n: 1200 log2 √(1 + B n²) ≈ 600 B n² / ln 2
    return Tuned(float(level), float(np.clip(slope * np.log(2.0) / 600.0, 0.0, 4e-4)))
