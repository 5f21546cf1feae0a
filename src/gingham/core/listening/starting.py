"""When a pluck starts, where something else sounds beside it: a tap of the foot, a squeak, noise.

Around a moment the sound is written as sines: the partials of all strings that may ring, steady throughout,
and those of the plucked strings once more from a start on (least squares; in white noise these are the
likeliest). A tap and a squeak leave these partials as they were, so where they begin says which of several
jumps of the prediction error is the pluck, and when it was if there is no clear jump.
"""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from gingham.core.listening.attack import Attacks
from gingham.core.listening.fewer import decimated
from gingham.core.listening.onsets import LATE_S

Numbers = NDArray[np.float64]
Note = tuple[int, int]
_OWN, _OTHERS = 5, 3  # partials of each string
_RATE, _HIGHEST_HZ = 2_756, 1_200.0  # below what hisses and squeaks
_BACK_S, _AHEAD_S, _SEARCH_S = 0.045, 0.05, 0.035
_GRID = 6  # samples from one start that is tried to the next
_SOUNDS_S = 0.0043  # the partials are best fitted by so late a beginning
_AROUND_S = 0.003
_RIDGE = 0.01
_SAME_HZ = 6.0  # nearer sines are one
_CLEARER, _SURER, _SUREST = 16.0, 25.0, 40.0
"""Nats by which another jump is likelier; a start without a jump, where the attack is faint and where not."""
_ROUGHLY_S = 0.008  # a start without a jump is known no better
_FAINT_DB, _PLAIN_DB = 8.0, 12.0  # a plain attack with no other jump beside it needs no partials


class Starts:
    """Finds the starts of plucks in one take; `partials_hz` says where so many partials of a note lie."""

    def __init__(self, attacks: Attacks, partials_hz: Callable[[Note, int], Numbers]) -> None:
        factor = max(1, round(attacks.rate / _RATE))
        self._attacks, self._partials_hz = attacks, partials_hz
        self._rate = attacks.rate / factor
        self._before = int(_BACK_S * self._rate)
        self._count = self._before + int(_AHEAD_S * self._rate)
        blank = np.zeros(self._count)
        self._samples = np.concatenate([blank, decimated(attacks.samples, factor), blank])
        self._sines: dict[tuple[frozenset[Note], frozenset[Note]], _Sines] = {}

    def at(self, near_s: float, due_s: float, own: frozenset[Note], others: frozenset[Note]) -> float:
        """When (seconds) strings were plucked near a candidate of the flux; `others` may ring on.

        `due_s` is when they should come.
        """
        attack = self._attacks.at(near_s)
        is_faint = attack.rise_db < _FAINT_DB
        # What the noise leaves of a faint one may be anywhere: two of three agree.
        usual = sorted((attack.t_s, near_s - LATE_S, due_s))[1] if is_faint else attack.t_s
        jumps = self._attacks.jumps(near_s, usual)
        if attack.rise_db > _PLAIN_DB and not jumps:
            return usual
        times, speaks = self._likelihoods(usual, own, others)
        best = int(speaks.argmax())

        def speaks_for(start_s: float) -> float:
            return float(speaks[np.abs(times - start_s) < _AROUND_S].max(initial=-np.inf))

        keeps = speaks_for(usual) + _CLEARER
        if speaks[best] < keeps:
            return usual
        tried = [usual, *jumps]
        speaks_of = [keeps, *map(speaks_for, tried[1:])]
        found = int(np.argmax(speaks_of))
        surer = speaks[best] - speaks_of[found] > (_SURER if is_faint else _SUREST)
        is_elsewhere = abs(times[best] - tried[found]) > _ROUGHLY_S
        return float(times[best] if surer and is_elsewhere else tried[found])

    def _likelihoods(
        self, middle_s: float, own: frozenset[Note], others: frozenset[Note]
    ) -> tuple[Numbers, Numbers]:
        """Starts around a time, and the logarithm of how likely each is, but for a constant."""
        if (own, others) not in self._sines:
            own_hz, other_hz = self._lines(own, _OWN), self._lines(others, _OTHERS)
            self._sines[own, others] = _Sines(own_hz, other_hz, self._rate, self._before, self._count)
        sines = self._sines[own, others]
        first = max(0, int(middle_s * self._rate) - self._before + self._count)
        left = sines.left(self._samples[first : first + self._count])
        times = (first - self._count + sines.starts) / self._rate - _SOUNDS_S
        return times, -0.5 * self._count * np.log(left)

    def _lines(self, notes: frozenset[Note], count: int) -> Numbers:
        """The partials that are low enough, in hertz, so many of each note."""
        found = [hz for note in sorted(notes) for hz in self._partials_hz(note, count).tolist()]
        return np.array([hz for hz in found if hz < _HIGHEST_HZ])


class _Sines:
    """The partials of some strings over a stretch of samples, fitted to it from many starts on."""

    def __init__(self, own_hz: Numbers, other_hz: Numbers, rate: float, middle: int, count: int) -> None:
        reach = int(_SEARCH_S * rate) // _GRID
        self.starts = middle + _GRID * np.arange(-reach, reach + 1) + round(_SOUNDS_S * rate)
        time = np.arange(count) / rate
        self._late = _sines(own_hz, time)
        self._steady = np.concatenate([self._late, _sines(_apart(own_hz, other_hz), time)], 1)
        ridge = _RIDGE * count
        self._inverse = np.linalg.inv(self._steady.T @ self._steady + ridge * np.eye(self._steady.shape[1]))
        self._both = self._products_since()
        # The Schur complement: what the late sines explain beyond the steady ones.
        alone = self._both[:, : self._late.shape[1]] + ridge * np.eye(self._late.shape[1])
        self._more = np.linalg.inv(alone - self._both.transpose(0, 2, 1) @ self._inverse @ self._both)

    def left(self, x: Numbers) -> Numbers:
        """The energy that is left of `x` once the sines are fitted to it, for each start."""
        flat = self._steady.T @ x
        steady = self._inverse @ flat
        rest = self._since(self._late * x[:, None]) - self._both.transpose(0, 2, 1) @ steady
        energy = float(x @ x)
        explained = float(flat @ steady) + (rest[:, None, :] @ self._more @ rest[:, :, None])[:, 0, 0]
        return np.asarray(np.maximum(energy - explained, 1e-9 * energy + 1e-12))

    def _since(self, values: Numbers) -> Numbers:
        """The sums of values (by sample) from each start to the end."""
        return _to_the_end(np.add.reduceat(values, self.starts, axis=0))

    def _products_since(self) -> Numbers:
        """The products of all sines with the late ones from each start to the end: starts by all by late."""
        steady, late = self._steady, self._late
        first, last = int(self.starts[0]), int(self.starts[-1])
        parts = np.empty((len(self.starts), steady.shape[1], late.shape[1]))
        between = (len(parts) - 1, _GRID, -1)
        steps = steady[first:last].reshape(between).transpose(0, 2, 1)
        np.matmul(steps, late[first:last].reshape(between), out=parts[:-1])
        parts[-1] = steady[last:].T @ late[last:]
        return _to_the_end(parts)


def _to_the_end(parts: Numbers) -> Numbers:
    """Sums of rows from each one on."""
    return np.asarray(np.cumsum(parts[::-1], axis=0)[::-1])


def _apart(own: Numbers, other: Numbers) -> Numbers:
    """Other partials, each some hertz from one's own and from each other."""
    kept, owns = list[float](), own.tolist()
    for hz in sorted(other.tolist()):
        if (not kept or hz - kept[-1] > _SAME_HZ) and all(abs(one - hz) > _SAME_HZ for one in owns):
            kept.append(hz)
    return np.array(kept)


def _sines(hz: Numbers, time: Numbers) -> Numbers:
    """Columns of cosines, then of sines."""
    angle = 2.0 * np.pi * np.outer(time, hz)
    return np.concatenate([np.cos(angle), np.sin(angle)], 1)
