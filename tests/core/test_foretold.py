"""What sounds beyond what rang on: the predictor, and the weak plucks that it lets stand out."""

from __future__ import annotations

import numpy as np
import pytest

from gingham.core.fitting.fit import fit
from gingham.core.listening.fewer import decimated
from gingham.core.listening.foretold import carried_on, predictor, unexpected
from gingham.core.listening.hearing import hear
from gingham.core.listening.plan import plan_of
from gingham.core.listening.simulate import simulate
from gingham.core.listening.spectra import grid_for
from gingham.core.sound.string import STEEL_FINGER, STEEL_THUMB, pluck
from tests.conftest import make_piece

RATE = 11_025


def _ringing(seconds: float, seed: int = 1) -> np.ndarray:
    """Thirty dying sines and a little noise."""
    random, time = np.random.default_rng(seed), np.arange(round(seconds * RATE)) / RATE
    sines = [
        random.random() * np.exp(-6.0 * random.random() * time)
        * np.cos(2 * np.pi * (80.0 + 4000.0 * random.random()) * time + 6.0 * random.random())
        for _ in range(30)
    ]  # fmt: skip
    return sum(sines) + 1e-4 * random.standard_normal(len(time))


@pytest.mark.parametrize("order", [1, 7, 40])
def test_the_predictor_is_the_one_of_least_squares(order: int) -> None:
    """NumPy's own, over every sample and its neighbours in both directions, held by a small ridge."""
    sound = _ringing(0.05) + 0.1 * np.random.default_rng(2).standard_normal(551)
    frames = np.lib.stride_tricks.sliding_window_view(sound, order + 1)
    known = np.vstack([frames[:, -2::-1], frames[:, 1:]])
    wanted = np.concatenate([frames[:, -1], frames[:, 0]])
    ridge = np.sqrt(1e-5 * (known**2).sum() / order)
    held = np.vstack([known, ridge * np.eye(order)]), np.concatenate([wanted, np.zeros(order)])
    assert np.allclose(predictor(sound, order), np.linalg.lstsq(*held, rcond=None)[0], atol=1e-6)


def test_dying_sines_are_carried_on() -> None:
    """A hundredth of their power is left after 50 ms that nobody has told."""
    sound = _ringing(0.17)
    known, unknown = sound[: round(0.12 * RATE)], sound[round(0.12 * RATE) :]
    error = unknown - carried_on(known, predictor(known, 280), len(unknown))
    assert (error**2).mean() < 0.01 * (unknown**2).mean()


@pytest.mark.parametrize("count", [1, 31, 32, 33, 100])
@pytest.mark.parametrize("order", [1, 5, 40])
def test_many_samples_at_once_are_those_foretold_one_by_one(order: int, count: int) -> None:
    """Each from those before it, whether they are known or foretold."""
    known = _ringing(0.02)
    taps = predictor(known, order)
    one_by_one = list(known)
    for _ in range(count):
        one_by_one.append(float(taps @ one_by_one[: -order - 1 : -1]))
    assert np.allclose(carried_on(known, taps, count), one_by_one[len(known) :], atol=1e-9)


@pytest.mark.parametrize("taps", [[2.0], [1e9], [1e9, -1e9], [1e200, 1e200, -1e200]])
def test_a_predictor_that_runs_away_is_held(taps: list[float]) -> None:
    """However far: past every number, and into what is none."""
    assert np.abs(carried_on(np.ones(100), np.array(taps), 500)).max() <= 1.3


def _two_strings(second_gain: float) -> np.ndarray:
    """The open fifth string, and after a third of a second the open second one as loud as given."""
    slow = 4 * RATE
    sound = pluck(45, STEEL_THUMB, 1.0, slow).astype(float)
    begin = round(0.35 * slow)
    sound[begin:] += second_gain * pluck(59, STEEL_FINGER, 1.0, slow)[: len(sound) - begin]
    return sound


@pytest.mark.parametrize("fewer", [4, 8])
def test_what_begins_stands_out_of_what_rings(fewer: int) -> None:
    """A second string 30 dB below the first: its own partial is the loudest of what is left."""
    grid = grid_for(RATE * 4)
    for gain, clear in ((0.03, True), (0.0, False)):
        low = decimated(_two_strings(gain).astype(np.float32), fewer)
        found = unexpected(low, RATE * 4 / fewer, grid, 0.35, 0.0, 9.0)
        assert found is not None and len(found) == grid.bins
        ground = found[round(246.94 / grid.bin_hz)]
        assert bool(ground > 0.4 * found.max() and ground > 1e-3) is clear


@pytest.mark.parametrize("rate", [8_000, 17_000, 22_050, 28_000, 32_000, 44_100, 48_000, 96_000])
def test_the_spectrum_fits_the_grid_of_any_rate(rate: int) -> None:
    """At 17 and 28 kHz the grid reaches higher than what the predictor works on."""
    grid, factor = grid_for(rate), max(1, round(rate / RATE))
    low = np.random.default_rng(1).standard_normal(rate // factor)
    found = unexpected(low, rate / factor, grid, 0.5, 0.0, 9.0)
    assert found is not None and len(found) == grid.bins and np.isfinite(found).all()


@pytest.mark.parametrize(("since_s", "until_s"), [(0.34, 9.0), (0.0, 0.36)])
def test_with_too_little_before_or_after_nothing_is_said(since_s: float, until_s: float) -> None:
    low = _ringing(1.0)
    assert unexpected(low, RATE, grid_for(RATE), 0.35, since_s, until_s) is None


@pytest.mark.parametrize("seed", [3, 11])
def test_weak_second_plucks_of_ringing_strings_are_heard(seed: int) -> None:
    """Four of five of those that a hand puts in 4 to 9 dB below the others, and nothing else."""
    piece = make_piece("| G | Am7 | D | Em7 | G | Am7 | D | Em7 |", "4/4 x2: p i m i p i m i", tempo=70)
    plan = plan_of([(fit(piece, 0), 1)])
    take = simulate(piece, plan, {"extra": 5.0, "noise": -70.0}, seed=seed)
    true = [(played.t_s, played.string) for played in take.played if played.kind == "extra"]
    told = [(n.t_s, n.string) for n in hear(take.samples, take.rate, plan).notes if n.planned is None]
    hits = [t for t in told if any(abs(t[0] - at) < 0.05 and t[1] == string for at, string in true)]
    assert len(hits) >= 4 and len(told) == len(hits)
