"""Plucks that nobody planned: onsets that belong to no moment and yet are a string's.

Each is judged string by string: at first by what rises there, and, where a pluck is not out of the question,
also by what sounds beyond what rang on (see `foretold`). The weights were fitted (logistic regression) to
extra plucks with known truth, see `docs/decisions.md`. What is not clear is no extra.
"""

from __future__ import annotations

from collections.abc import Callable
from math import log

import msgspec
import numpy as np
from numpy.typing import NDArray

from gingham.core.listening.attack import Attacks
from gingham.core.listening.fewer import decimated
from gingham.core.listening.foretold import unexpected
from gingham.core.listening.onsets import LATE_S
from gingham.core.listening.spectra import Floats, Grid, hann, magnitude_between
from gingham.core.listening.strings import Shares, Strings, decompose
from gingham.core.listening.struck import Struck

_APART_S = (
    0.06  # nearer to a planned onset it is a flam, or an echo: unclear, but for what is clear all the same
)
_TOUCHES_S = 0.065  # so long before a pluck its finger may be heard as it comes to the string
_CLOSE_S, _COMES_S, _HEARD_S, _BESIDE_S = 0.032, 0.05, 0.02, 0.08
_CLOSE_SHARE, _CLOSE_EVIDENCE = 0.6, 0.85
_WINDOW_S, _GAP_S, _EARLY_S = 0.0697, 0.010, 0.002
_BEFORE_NEXT_S = 0.008
_BREAK_S, _BREAK_GAP_S = 0.036, 0.004
_PARTIALS = 8
_HIGHEST_HZ = 4000.0
# The weights of `_measures`, and of those with what sounds beyond what rang on (`_score`).
_AT_FIRST = np.array([-2.03, -0.42, 0.62, 1.43, -1.55, -1.67, 1.89, 3.75, 0.98, -0.56, 0.57])
_WORTH_A_LOOK = -4.5
_IN_FULL = np.array(
    [2.68, -1.04, 0.95, 0.54, -0.5, -1.55, 1.56, 0.83, -1.84, -1.22, -0.22, 3.54, -0.53, 1.13, -4.62]
)
_ROUGHLY, _DULL = 2, -2.5  # at first of so many samples one; what scores less there is no pluck
_LEAST = -0.65  # less is more often wrong than right: not told
_EVEN = 1.5  # with which one in two is an extra pluck
_NEIGHBOUR_S = 0.02  # nearer plucks are taken for the candidate itself
_LEAST_FLUX = 0.06  # of a planned pluck’s
_LEAST_EVIDENCE = 0.1
_LOUD_DB = -12.0


Breaks = tuple[list[float], list[float]]
"""Of each string, lowest number first: how far it does not go on as before, and how loud it is in dB."""


class Extra(msgspec.Struct, frozen=True):
    """An unplanned pluck: its candidate, string and pitch, how sure, and the weights of its spectrum."""

    candidate: int
    string: int
    midi: int
    sure: float
    row: Floats


class Free(msgspec.Struct, frozen=True):
    """What the search needs: the take, its candidates, which are free or taken, and the strings."""

    samples: Floats
    grid: Grid
    struck: Struck
    strings: Strings
    attacks: Attacks
    free: list[int]
    taken: frozenset[int]
    usual: dict[int, float]
    sounding: Callable[[float], dict[int, int]]

    def usual_of(self, string: int) -> float:
        """The weight that a planned pluck of a string usually has."""
        return self.usual.get(string, self.usual.get(0, 1.0)) + 1e-12


def find_extras(of: Free, heard: list[tuple[float, int]]) -> list[Extra]:
    """The unplanned plucks among the free candidates, in order; `heard`: when and where others lie."""
    if not of.taken:
        return []
    planned = np.sort(of.struck.times[sorted(of.taken)])
    heard_s = np.sort(np.array([t_s for t_s, _ in heard]))
    seen = _promising(of, _worth_a_look(of, planned, heard_s), heard_s)
    found = [(each, _best(of, each, beyond)) for each, beyond in _beyond(of, seen, heard_s)]
    return [
        best
        for each, best in found
        if best is not None
        and (_alone(each.t_s, planned, heard_s) or _is_clear(best, each.share, each.t_s, heard))
    ]


def _worth_a_look(of: Free, planned: NDArray[np.float64], heard_s: NDArray[np.float64]) -> list[_Seen]:
    """The candidates at which, by what rises there, a pluck is not out of the question."""
    times, taken = of.struck.times, sorted(of.taken)
    flux = of.struck.flux / np.median(of.struck.flux[taken])
    sudden = [j for j in of.free if flux[j] >= _LEAST_FLUX]
    able = [j for j in sudden if _alone(float(times[j]), planned, heard_s, close=True)]
    if not able:
        return []
    sounding = [of.sounding(float(times[j]) - LATE_S) for j in able]
    before, rises = _spectra(of, able, planned)
    shares = decompose(of.strings, rises, before, sounding)
    rising = [
        (j, pitches, share)
        for j, pitches, share in zip(able, sounding, shares, strict=True)
        if max(share.evidence.values(), default=0.0) >= _LEAST_EVIDENCE
    ]
    usual_rise = float(np.median([of.attacks.at(float(times[j])).rise_db for j in taken]))
    breaks = _breaks(of, {float(times[j]): pitches for j, pitches, _ in rising})
    out: list[_Seen] = []
    for j, pitches, share in rising:
        t_s = float(times[j])
        rise_db = of.attacks.at(t_s).rise_db - usual_rise
        measures = _measures(of, pitches, share, rise_db, float(flux[j]), breaks[t_s])
        if max(float(each @ _AT_FIRST) for each in measures.values()) > _WORTH_A_LOOK:
            out.append(_Seen(j, t_s, pitches, share, measures))
    return out


def _promising(of: Free, seen: list[_Seen], heard_s: NDArray[np.float64]) -> list[_Seen]:
    """Without those that at half the rate are none: a quarter of the work for most of what can be known."""
    roughly = _beyond(of, seen, heard_s, _ROUGHLY)
    dull = {each.candidate for each, beyond in roughly if _likeliest(of, each, beyond)[0] < _DULL}
    return [each for each in seen if each.candidate not in dull]


class _Seen(msgspec.Struct, frozen=True):
    """A candidate: pitches by string, shares of what rises, and for each string one and what is measured."""

    candidate: int
    t_s: float
    pitches: dict[int, int]
    share: Shares
    measures: dict[int, NDArray[np.float64]]


def _is_clear(found: Extra, share: Shares, t_s: float, heard: list[tuple[float, int]]) -> bool:
    """Whether what lies close to another pluck is one of its own: another string that rises most by far."""
    beside = {string for at_s, string in heard if abs(at_s - t_s) < _BESIDE_S}
    return (
        found.string not in beside
        and share.share[found.string] >= _CLOSE_SHARE
        and share.evidence[found.string] >= _CLOSE_EVIDENCE
    )


def _alone(
    t_s: float, planned: NDArray[np.float64], heard_s: NDArray[np.float64], *, close: bool = False
) -> bool:
    """Whether nothing planned was struck near by; `close` by: nothing so near that both are one."""
    before, after, beside = (_CLOSE_S, _COMES_S, _HEARD_S) if close else (_APART_S, _TOUCHES_S, 0.03)
    near = _between(planned, t_s - before, t_s + after)
    return not near and not _between(heard_s, t_s - LATE_S - beside, t_s - LATE_S + beside)


def _between(times: NDArray[np.float64], begin_s: float, end_s: float) -> bool:
    """Whether one of some times, in order, lies in a stretch."""
    first, last = np.searchsorted(times, (begin_s, end_s))
    return bool(first < last)


def _spectra(of: Free, able: list[int], planned: NDArray[np.float64]) -> tuple[Floats, Floats]:
    """Before and risen, in windows that hold no planned onset."""
    before, rises = [], []
    for j in able:
        t = float(of.struck.times[j])
        earlier, later = int(np.searchsorted(planned, t)), int(np.searchsorted(planned, t, "right"))
        next_s = float(planned[later]) if later < len(planned) else np.inf
        last_s = float(planned[earlier - 1]) if earlier else 0.001
        end = min(t - _EARLY_S + _WINDOW_S, next_s - _BEFORE_NEXT_S)
        begin = max(t - _GAP_S - _WINDOW_S, last_s - 0.001)
        after = magnitude_between(of.samples, of.grid, t - _EARLY_S, end)
        rung = magnitude_between(of.samples, of.grid, min(begin, t - 0.03), t - _GAP_S)
        rung = np.maximum(rung, of.struck.before[j])
        before.append(rung)
        rises.append(np.maximum(0.0, after - 0.95 * rung))
    return np.array(before, np.float32), np.array(rises, np.float32)


def _measures(
    of: Free, pitches: dict[int, int], share: Shares, rise_db: float, flux: float, breaks: Breaks
) -> dict[int, NDArray[np.float64]]:
    """One, and what is measured for each string where something rises."""
    strings, (broken, loud) = sorted(pitches), breaks
    out = {}
    for i, string in enumerate(strings):
        others = [broken[o] for o in range(len(strings)) if o != i and loud[o] > _LOUD_DB] or [0.5]
        out[string] = np.array(
            [
                1.0, log(share.share[string] + 0.03), log(max(share.evidence[string], 0.0) + 0.03),
                log(share.weight[string] / of.usual_of(string) + 0.03), share.noise, rise_db / 10.0,
                log(max(flux, 0.0) + 0.03), min(broken[i], 1.2), loud[i] / 10.0, min(others),
                sum(others) / len(others),
            ]
        )  # fmt: skip
    return out


def _beyond(
    of: Free, seen: list[_Seen], heard_s: NDArray[np.float64], fewer: int = 1
) -> list[tuple[_Seen, Shares]]:
    """What sounds at candidates beyond what rang on, as sums of strings; only of those where that is told.

    `fewer`: of so many samples one is taken.
    """
    samples, rate = decimated(of.attacks.samples, fewer), of.attacks.rate / fewer
    spectra: list[Floats] = []
    told: list[_Seen] = []
    for each in seen:
        t_s = each.t_s - LATE_S
        earlier, later = np.searchsorted(heard_s, (t_s - _NEIGHBOUR_S, t_s + _NEIGHBOUR_S))
        since = float(heard_s[earlier - 1]) if earlier else -np.inf
        until = float(heard_s[later]) if later < len(heard_s) else np.inf
        found = unexpected(samples, rate, of.grid, t_s, since, until)
        if found is not None:
            told.append(each)
            spectra.append(found)
    rows = np.array(spectra, np.float32)
    shares = decompose(of.strings, rows, np.zeros_like(rows), [each.pitches for each in told])
    return list(zip(told, shares, strict=True))


def _best(of: Free, seen: _Seen, beyond: Shares) -> Extra | None:
    """The likeliest string of a candidate, if it is likely enough."""
    score, string = _likeliest(of, seen, beyond)
    if score <= _LEAST:
        return None
    sure = round(float(1.0 / (1.0 + np.exp(-(score + _EVEN)))), 2)
    return Extra(seen.candidate, string, seen.pitches[string], sure, seen.share.row)


def _likeliest(of: Free, seen: _Seen, beyond: Shares) -> tuple[float, int]:
    """The score of the string of a candidate that has the highest, and the string."""
    return max((_score(of, measures, beyond, string), string) for string, measures in seen.measures.items())


def _score(of: Free, measures: NDArray[np.float64], beyond: Shares, string: int) -> float:
    """How likely a string was struck, by what rises and by what sounds beyond what rang on."""
    more = [
        log(beyond.share[string] + 0.03), log(max(beyond.evidence[string], 0.0) + 0.03),
        log(beyond.weight[string] / of.usual_of(string) + 0.01), beyond.noise,
    ]  # fmt: skip
    return float(np.concatenate([measures, more]) @ _IN_FULL)


def _waves(hz: NDArray[np.float64], count: int, rate: float) -> NDArray[np.complex128]:
    """Under Hann's window, a wave of each frequency that turns against it: frequencies by samples."""
    time = (np.arange(count) - count / 2) / rate
    waves = np.exp(-2j * np.pi * hz.ravel()[:, None] * time[None, :])
    return np.asarray(waves * (hann(count + 2)[1:-1] / hann(count + 2).sum()))


def _breaks(of: Free, sounding: dict[float, dict[int, int]]) -> dict[float, Breaks]:
    """The breaks at some candidates (seconds to pitches by string); those of one chord are taken together."""
    by_chord: dict[tuple[tuple[int, int], ...], list[float]] = {}
    for t_s, pitches in sounding.items():
        by_chord.setdefault(tuple(sorted(pitches.items())), []).append(t_s)
    n = int(_BREAK_S * of.attacks.rate)
    padded = np.concatenate([of.attacks.samples, np.zeros(n, np.float32)])
    frames = np.lib.stride_tricks.sliding_window_view(padded, n)
    out: dict[float, Breaks] = {}
    for chord, times in by_chord.items():
        away, loud = _breaks_of_chord(of, frames, np.array(times) - LATE_S, chord)
        out.update(zip(times, zip(away.tolist(), loud.tolist(), strict=True), strict=True))
    return out


def _breaks_of_chord(
    of: Free, frames: Floats, times_s: NDArray[np.float64], notes: tuple[tuple[int, int], ...]
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """How far each string's partials do not go on as before (0 to 1 and more), and their loudness in dB.

    Both times by strings; `frames` are all windows of the take. A ringing string turns its phase evenly from
    window to window; one that is struck begins anew. The phase expected after the onset follows from two
    windows before it (Bello et al., IEEE SPL 2004).
    """
    rate, n = of.attacks.rate, frames.shape[1]
    hz = np.array([of.strings.partials_hz(note, _PARTIALS) for note in notes])
    middles = (-_BREAK_GAP_S - 1.5 * _BREAK_S, -_BREAK_GAP_S - 0.5 * _BREAK_S, _BREAK_GAP_S + 0.5 * _BREAK_S)
    begins = ((times_s + np.array(middles)[:, None] - _BREAK_S / 2) * rate).astype(int)
    found = frames[np.clip(begins, 0, len(frames) - 1)] @ _waves(hz, n, rate).T
    first, second, third = found.reshape(3, len(times_s), *hz.shape)
    span = _BREAK_S + 2 * _BREAK_GAP_S
    turn = np.angle(second * np.conj(first) * np.exp(-2j * np.pi * hz * _BREAK_S))
    fade = np.clip(np.abs(second) / (np.abs(first) + 1e-9), 0.5, 1.0) ** (span / _BREAK_S)
    expected = second * fade * np.exp(1j * (2 * np.pi * hz * span + turn * span / _BREAK_S))
    inside = hz < _HIGHEST_HZ
    away = np.where(inside, np.abs(third - expected), 0.0).sum(2)
    size = np.where(inside, np.maximum(np.abs(third), np.abs(expected)), 0.0).sum(2)
    loud = 20 * np.log10(size / (size.max(1, keepdims=True) + 1e-12) + 1e-6)
    return away / (size + 1e-9), loud
