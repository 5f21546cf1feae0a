"""When a pluck starts beside a tap, a squeak or in noise: the strings' own partials say it."""

from __future__ import annotations

import numpy as np
import pytest

from gingham.core.listening.attack import Attacks
from gingham.core.listening.spectra import partials_hz
from gingham.core.listening.starting import Starts
from gingham.core.sound.rate import RATE_HZ
from gingham.core.sound.string import pluck
from tests.core.test_listening import STEEL_FINGER

_RINGS, _AT_S = (5, 45), 0.5


def lines(note: tuple[int, int], count: int) -> np.ndarray:
    return partials_hz(float(note[1]), np.arange(1.0, count + 1), 0.0)


def tap(random: np.random.Generator) -> np.ndarray:
    """A shoe on a floor: a click and a thump."""
    time = np.arange(int(0.12 * RATE_HZ)) / RATE_HZ
    click = random.standard_normal(len(time)) * np.exp(-time / 0.004)
    return 0.06 * np.exp(-time / 0.02) * np.sin(2 * np.pi * 80 * time) + 0.03 * click


def squeak(random: np.random.Generator) -> np.ndarray:
    """A finger along a wound string: a band of noise that swells and goes."""
    spectrum = np.fft.rfft(random.standard_normal(int(0.09 * RATE_HZ)))
    hz = np.fft.rfftfreq(int(0.09 * RATE_HZ), 1 / RATE_HZ)
    spectrum[(hz < 1500) | (hz > 4500)] = 0
    noise = np.fft.irfft(spectrum, int(0.09 * RATE_HZ))
    return 0.05 * noise / np.abs(noise).max() * np.hanning(len(noise))


def take(midi: int, besides: np.ndarray, away_s: float, noise: float = 0.0) -> np.ndarray:
    """A pluck at half a second while string 5 rings, and something else so many seconds from it."""
    out = noise * np.random.default_rng(3).standard_normal(RATE_HZ)
    out += 0.5 * pluck(_RINGS[1], STEEL_FINGER, 1.0)[:RATE_HZ]
    start = round(_AT_S * RATE_HZ)
    out[start:] += 0.4 * pluck(midi, STEEL_FINGER, 0.6)[: RATE_HZ - start]
    begin = start + round(away_s * RATE_HZ)
    out[begin : begin + len(besides)] += besides
    return out.astype(np.float32)


def start_of(sound: np.ndarray, near_s: float, note: tuple[int, int], due_s: float = _AT_S) -> float:
    starts = Starts(Attacks(sound, RATE_HZ), lines)
    return starts.at(near_s, due_s, frozenset({note}), frozenset({_RINGS}))


@pytest.mark.parametrize("note", [(4, 52), (3, 57), (2, 62), (1, 67)])
@pytest.mark.parametrize("away_s", [-0.026, -0.02])
def test_a_tap_before_a_pluck_is_not_its_start(note: tuple[int, int], away_s: float) -> None:
    """The error jumps at the tap first; the partials of the string begin later."""
    sound = take(note[1], tap(np.random.default_rng(1)), away_s)
    near_s = _AT_S + away_s + 0.005
    assert Attacks(sound, RATE_HZ).at(near_s).t_s < _AT_S - 0.008
    assert start_of(sound, near_s, note) == pytest.approx(_AT_S, abs=0.003)


@pytest.mark.parametrize("note", [(4, 52), (2, 62)])
@pytest.mark.parametrize("away_s", [0.008, 0.014])
def test_a_tap_after_a_pluck_moves_nothing(note: tuple[int, int], away_s: float) -> None:
    """The first jump is the pluck, and stays it."""
    sound = take(note[1], tap(np.random.default_rng(1)), away_s)
    assert start_of(sound, _AT_S + 0.005, note) == pytest.approx(_AT_S, abs=0.002)


@pytest.mark.parametrize(("besides", "asked"), [(np.zeros(1), False), (tap(np.random.default_rng(1)), True)])
def test_only_what_is_in_doubt_is_asked_of_the_partials(
    monkeypatch, besides: np.ndarray, asked: bool
) -> None:
    """A plain attack with no other jump beside it is the start."""
    asks: list[float] = []
    monkeypatch.setattr(
        Starts,
        "_likelihoods",
        lambda _self, middle_s, *_notes: (asks.append(middle_s), (np.array([middle_s]), np.zeros(1)))[1],
    )
    found = start_of(take(62, besides, -0.012), _AT_S + 0.005, (2, 62))
    assert bool(asks) is asked and (asked or found == pytest.approx(_AT_S, abs=0.001))


@pytest.mark.parametrize("note", [(4, 52), (3, 57), (2, 62), (1, 67)])
def test_without_anything_beside_it_the_start_is_the_attack(note: tuple[int, int]) -> None:
    """Also when nobody expects it there."""
    sound = take(note[1], np.zeros(1), 0.0)
    assert start_of(sound, _AT_S + 0.006, note, due_s=0.47) == Attacks(sound, RATE_HZ).at(_AT_S + 0.006).t_s


@pytest.mark.parametrize("note", [(4, 52), (3, 57), (2, 62)])
def test_a_pluck_in_noise_and_a_squeak_is_told_by_its_partials(note: tuple[int, int]) -> None:
    """No jump is clear; the flux is 25 ms late and the beat 20 ms early."""
    sound = take(note[1], squeak(np.random.default_rng(2)), -0.05, noise=0.02)
    near_s = _AT_S + 0.03
    assert Attacks(sound, RATE_HZ).at(near_s).rise_db < 8
    assert start_of(sound, near_s, note, due_s=_AT_S - 0.02) == pytest.approx(_AT_S, abs=0.006)


def test_at_both_ends_of_a_take_and_in_silence_there_is_still_an_answer() -> None:
    """Nothing before, nothing after, nothing at all: a time near the one that was asked for."""
    out = np.zeros(RATE_HZ // 2, np.float32)
    out[: RATE_HZ // 4] = pluck(52, STEEL_FINGER, 0.6)[: RATE_HZ // 4]
    for near_s in (0.004, 0.3, 0.496):
        assert start_of(out, near_s, (4, 52), due_s=near_s) == pytest.approx(near_s, abs=0.05)
    assert start_of(np.zeros(RATE_HZ, np.float32), 0.5, (4, 52)) == pytest.approx(0.5, abs=0.05)


def test_a_pitch_above_all_partials_that_are_asked_is_where_it_jumps() -> None:
    """Nothing of it lies low enough to say more than the error does."""
    sound = take(90, np.zeros(1), 0.0)
    assert start_of(sound, _AT_S + 0.005, (1, 90)) == pytest.approx(_AT_S, abs=0.002)
