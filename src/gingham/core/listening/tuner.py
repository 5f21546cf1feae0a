"""How far a plucked string is from its pitch, by the first partials of the last half second or so.

The partials of a stiff string lie at n·f·√(1 + B·n²) (H. Fletcher, "Normal vibration frequencies of a
stiff piano string", 1964): frequency and stiffness are read from all of them together, and what is told is
the first partial, which is what a player hears as the pitch.
"""

from __future__ import annotations

from collections.abc import Sequence

import msgspec
import numpy as np
from numpy.typing import NDArray

from gingham.core.listening.spectra import Floats

WINDOW_S = 0.7
_LEAST_S, _LOOK_S = 0.25, 0.09
_STEP_S, _END_S = 0.02, 0.1
_RISE, _STILL = 2.0, 0.35
_QUIET = 2e-3  # root mean square of what is no string
_PARTIALS = 10
_NEAR_CENTS = 260
_STEP_CENTS = 10
_ZEROS = 4  # the spectrum is drawn so many times finer than the window asks
_HIGHEST_HZ = 3_500.0
_EXPLAINED = 0.45  # less of the sound than this in the partials of a string is no string of ours
_TOLD_APART = 0.93  # the higher of two strings an octave apart explains nearly as much of its own sound
_A4_MIDI, _A4_HZ = 69, 440.0
CLOSE_CENTS = 3.0
"""A string so near is in tune."""
TOO_HIGH_CENTS = 80.0
"""So far above its pitch a string is being wound towards its breaking."""


class Tone(msgspec.Struct, frozen=True):
    """A string that sounds: how many cents it is from its pitch (positive is sharp), its frequency in Hz.

    `sure` is the share of the sound that its partials explain, 0 to 1.
    """

    string: int
    cents: float
    hz: float
    sure: float


def hz_of(midi: float) -> float:
    """The frequency of a MIDI number in equal temperament, A4 = 440 Hz."""
    return float(_A4_HZ * 2.0 ** ((midi - _A4_MIDI) / 12.0))


def tone_of(samples: Floats, rate: int, tuning: Sequence[int], only: int | None = None) -> Tone | None:
    """The string that sounds at the end of some samples; None if it is too quiet or none of these.

    `tuning` are the pitches of the strings (MIDI), string 1 first; `only` asks for one of them.
    """
    part = samples[-int(WINDOW_S * rate) :]
    if len(part) < _LEAST_S * rate or float(np.sqrt(np.mean(part**2))) < _QUIET:
        return None
    spectrum, width = _spectrum(part, rate)
    strings = range(1, len(tuning) + 1) if only is None else [only]
    found = [(*_nearest(spectrum, width, hz_of(tuning[string - 1])), string) for string in strings]
    best = max(share for share, _, _ in found)
    if best < _EXPLAINED:
        return None
    near = [each for each in found if each[0] >= _TOLD_APART * best]
    highest = max(about for _, about, _ in near)  # an octave lower every partial is there as well
    same = [each for each in near if each[1] > 0.9 * highest]
    share, about, string = min(same, key=lambda each: abs(np.log(each[1] / hz_of(tuning[each[2] - 1]))))
    first = _first_partial(spectrum, width, about)
    cents = 1200.0 * float(np.log2(first / hz_of(tuning[string - 1])))
    return Tone(string, round(cents, 2), round(first, 3), round(share, 3))


class Tuner:
    """Listens on and on: what comes in is looked at some times a second."""

    def __init__(self, rate: int, tuning: Sequence[int]) -> None:
        self._rate, self._tuning = rate, tuning
        self.only: int | None = None
        """The one string that is asked for."""
        self._kept = np.zeros(0, dtype=np.float32)
        self._new = np.zeros(0, dtype=np.float32)
        self._look = int(_LOOK_S * rate)

    def feed(self, block: Floats) -> list[Tone]:
        """What has come in since; what sounds at each look that falls into it, where it can be told."""
        self._new = np.concatenate([self._new, block])
        found = []
        while len(self._new) >= self._look:
            self._kept = np.concatenate([self._kept, self._new[: self._look]])
            self._new = self._new[self._look :]
            found.append(self._now())
        return [tone for tone in found if tone is not None]

    def _now(self) -> Tone | None:
        self._kept = self._kept[-int(WINDOW_S * self._rate) :]
        self._kept = self._kept[self._struck() :]
        now = self._kept[-int(_END_S * self._rate) :]
        if float(np.mean(now**2)) < _STILL**2 * float(np.mean(self._kept**2)):
            return None  # it has been damped: an end is heard as another pitch
        return tone_of(self._kept, self._rate, self._tuning, self.only)

    def _struck(self) -> int:
        """Where the newest pluck has settled in what is kept, 0 without one: two strings are no pitch."""
        step = int(_STEP_S * self._rate)
        count = len(self._kept) // step
        if count < 4:
            return 0
        power = np.square(self._kept[: count * step], dtype=np.float64).reshape(count, step).mean(axis=1)
        rises = np.flatnonzero((power[2:] > _RISE * np.maximum(power[:-2], 1e-9)) & (power[2:] > _QUIET**2))
        return int(rises[-1] + 4) * step if len(rises) and rises[-1] + 4 < count else 0


def _spectrum(part: Floats, rate: int) -> tuple[NDArray[np.float64], float]:
    """Magnitudes, and the hertz from one to the next."""
    shaped = part.astype(np.float64) * np.blackman(len(part))
    size = 1 << int(np.ceil(np.log2(len(part) * _ZEROS)))
    width = rate / size
    return np.abs(np.fft.rfft(shaped, size))[: int(_HIGHEST_HZ / width)], width


def _nearest(spectrum: NDArray[np.float64], width: float, hz: float) -> tuple[float, float]:
    """The share of the energy that the partials of a string near `hz` explain, and where it lies."""
    energy = spectrum**2
    floor = int(50.0 / width)
    whole = float(energy[floor:].sum()) or 1.0
    summed = np.concatenate([[0.0], np.cumsum(energy)])
    best = (0.0, hz)
    for cents in range(-_NEAR_CENTS, _NEAR_CENTS + 1, _STEP_CENTS):
        about = hz * 2.0 ** (cents / 1200.0)
        partials = about * np.arange(1, _PARTIALS + 1)
        partials = partials[partials < _HIGHEST_HZ - 40]
        low = (partials * 2.0 ** (-14 / 1200) / width - 2 * _ZEROS).astype(int)
        high = (partials * 2.0 ** (26 / 1200) / width + 2 * _ZEROS).astype(int)
        high = np.minimum(high, len(energy) - 1)
        share = float((summed[high + 1] - summed[low]).sum()) / whole
        best = max(best, (share, about))
    return best


def _first_partial(spectrum: NDArray[np.float64], width: float, about: float) -> float:
    """(f/n)² of every partial lies on a line over n²: its value at 1 is the first partial's square."""
    numbers, squares, weights = [], [], []
    expected = about
    for n in range(1, _PARTIALS + 1):
        hz = n * expected
        if hz > _HIGHEST_HZ - 60:
            break
        reach = max(3 * _ZEROS, int(hz * 0.018 / width))
        low = max(1, int(hz / width) - reach)
        part = spectrum[low : int(hz / width) + reach + 1]
        peak = low + int(np.argmax(part))
        if not 1 <= peak < len(spectrum) - 1:
            continue
        found = _peak(spectrum, peak) * width
        numbers.append(n)
        squares.append((found / n) ** 2)
        weights.append(float(spectrum[peak]))
        expected = 0.5 * (expected + found / n) if n <= 3 else expected
    loud = np.asarray(weights) > 0.02 * max(weights)
    n2, y, w = np.asarray(numbers)[loud] ** 2.0, np.asarray(squares)[loud], np.asarray(weights)[loud]
    middle = float(np.average(y, weights=w))
    near = np.abs(1200.0 * np.log2(y / middle)) < 60.0  # a neighbour that rings along is no partial
    n2, y, w = n2[near], y[near], w[near]
    if len(y) < 3:
        return float(np.sqrt(y[0] if len(y) else middle))
    slope, level = np.polyfit(n2, y, 1, w=np.sqrt(w))
    stiff = float(slope) if 0.0 <= slope <= 4e-4 * level else 0.0
    return float(np.sqrt(level + stiff if stiff else np.average(y, weights=w)))


def _peak(spectrum: NDArray[np.float64], index: int) -> float:
    """The place of a maximum between the lines, by a parabola through the logarithms of three of them."""
    left, middle, right = np.log(spectrum[index - 1 : index + 2] + 1e-12)
    bend = left - 2 * middle + right
    return index + (0.5 * float((left - right) / bend) if bend < 0 else 0.0)
