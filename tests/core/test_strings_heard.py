"""The tuner, the ring check and the loop test, against sounds whose truth is known."""

from __future__ import annotations

import numpy as np
import pytest

from gingham.core.instruments.instrument import CATALOGUE, instrument
from gingham.core.listening.delay import delay_of
from gingham.core.listening.ringing import Ring, RingCheck, causes, ring_of
from gingham.core.listening.simulate_strings import held_pitches, held_strings, open_strings
from gingham.core.listening.tuner import Tone, Tuner, tone_of
from gingham.core.shapes.fretting import fretting, held_with
from gingham.core.shapes.shape import parse_shape
from gingham.core.sound.rate import RATE_HZ
from gingham.core.sound.string import click
from gingham.core.values import replace
from gingham.words.ringing import ring_text, tune_text
from tests.conftest import make_piece

BLOCK = 1024


def piece_on(name: str, capo: int = 0):
    return replace(make_piece("| C |", "4/4 x2: p i p i", capo=capo), instrument=CATALOGUE[name])


def blocks(samples):
    return (samples[begin : begin + BLOCK] for begin in range(0, len(samples), BLOCK))


@pytest.mark.parametrize("name", ["guitar", "ukulele", "ukulele-low", "ukulele-baritone"])
@pytest.mark.parametrize("voice", ["own", "nylon", "steel"])
def test_the_tuner_is_within_a_cent(name: str, voice: str) -> None:
    """Every string of four instruments on three sounds, each out by another amount, plucked in turn."""
    piece = piece_on(name, capo=2)
    piece = replace(piece, rules=replace(piece.rules, voice=voice))
    count = piece.instrument.strings
    out = {string: (-38.0, 17.0, -6.0, 3.0, 52.0, -1.0)[string - 1] for string in range(1, count + 1)}
    tuner = Tuner(RATE_HZ, [piece.instrument.open_midi(s) + 2 for s in range(1, count + 1)])
    last: dict[int, Tone] = {}
    for block in blocks(open_strings(piece, out, capo=2)):
        last.update((tone.string, tone) for tone in tuner.feed(block))
    assert {string: round(tone.cents - out[string]) for string, tone in last.items()} == dict.fromkeys(out, 0)
    assert max(abs(tone.cents - out[string]) for string, tone in last.items()) < 1.0


def test_only_the_string_that_is_asked_for_is_told() -> None:
    """A ukulele's string 4, half a tone low, lies nearer to another one: asked for, it is itself."""
    piece = piece_on("ukulele")
    samples = open_strings(piece, {4: -150.0})[int(0.7 * RATE_HZ) : int(1.6 * RATE_HZ)]
    tuning = [piece.instrument.open_midi(s) for s in range(1, 5)]
    tone = tone_of(samples, RATE_HZ, tuning, only=4)
    assert tone is not None and tone.string == 4 and abs(tone.cents + 150.0) < 1.0


@pytest.mark.parametrize("level", [0.0, 3e-4])
def test_silence_and_a_noisy_room_are_no_string(level: float) -> None:
    noise = np.random.default_rng(1).normal(0.0, level, RATE_HZ).astype(np.float32)
    assert tone_of(noise, RATE_HZ, [64, 59, 55, 50, 45, 40]) is None
    loud = (noise + 0.2 * np.random.default_rng(2).normal(0.0, 1.0, RATE_HZ)).astype(np.float32)
    assert tone_of(loud, RATE_HZ, [64, 59, 55, 50, 45, 40]) is None


@pytest.mark.parametrize(
    ("cents", "words"),
    [
        (0.4, "in tune: leave it"),
        (-2.9, "in tune: leave it"),
        (-8.0, "8 cents too low: turn it up a hair, stop in the middle"),
        (-30.0, "30 cents too low: turn it up a little, stop in the middle"),
        (-90.0, "90 cents too low: turn it up a good way, stop in the middle"),
        (20.0, "20 cents too high: turn it down a little, past the note and up again"),
        (5.0, "5 cents too high: turn it down a hair, stop in the middle"),
        (80.0, "80 cents too high: turn it down first. Tighter still, and it may break"),
    ],
)
def test_which_way_to_turn(cents: float, words: str) -> None:
    assert tune_text(Tone(6, cents, 82.4, 0.99)) == words


RINGS = [
    ("guitar", "x32010", {}),
    ("guitar", "x32010", {2: "buzzing"}),
    ("guitar", "x32010", {5: "dead", 1: "buzzing"}),
    ("guitar", "133211", {6: "buzzing", 3: "dead"}),
    ("guitar", "320003", {6: "dead"}),
    ("ukulele", "0003", {1: "dead"}),
    ("ukulele", "3211", {4: "buzzing", 2: "dead"}),
]


@pytest.mark.parametrize(("name", "shape", "faults"), RINGS)
def test_every_string_of_a_shape_is_told(name: str, shape: str, faults: dict) -> None:
    """Clear, buzzing, dead, as they were played, block by block."""
    piece, held = piece_on(name), parse_shape(shape)
    pitches = held_pitches(piece, held)
    check = RingCheck(held, pitches, RATE_HZ)
    for block in blocks(held_strings(piece, held, faults)):
        check.feed(block)
    assert check.expected is None
    assert {s: ring.state for s, ring in check.found.items()} == {s: faults.get(s, "clear") for s in pitches}


def test_the_player_may_pluck_in_any_order_and_the_room_may_be_noisy() -> None:
    piece, held = piece_on("guitar"), parse_shape("x32010")
    pitches = held_pitches(piece, held)
    samples = held_strings(piece, held, {})
    parts = [samples[int((0.6 + 1.7 * k) * RATE_HZ) :][: int(1.7 * RATE_HZ)] for k in range(5)]
    lead = samples[: int(0.5 * RATE_HZ)]
    noise = np.random.default_rng(3).normal(0.0, 3e-3, RATE_HZ * 12)
    mixed = np.concatenate([lead, *parts[::-1]])
    mixed = (mixed + noise[: len(mixed)]).astype(np.float32)
    check = RingCheck(held, pitches, RATE_HZ)
    told = [ring.string for block in blocks(mixed) for ring in check.feed(block)]
    assert told == [1, 2, 3, 4, 5]
    assert "buzzing" not in {ring.state for ring in check.found.values()}


def test_another_sound_than_the_strings_is_unclear() -> None:
    """A shout is no dead string."""
    rng = np.random.default_rng(4)
    time = np.arange(RATE_HZ) / RATE_HZ
    shout = (0.3 * np.sin(2 * np.pi * 293.0 * time) + 0.05 * rng.normal(0, 1, RATE_HZ)).astype(np.float32)
    assert ring_of(shout, RATE_HZ, {5: 48.0, 4: 52.0}, 5).state == "unclear"


@pytest.mark.parametrize(
    ("shape", "fingers", "string", "state", "codes"),
    [
        # C: string 3 is open, finger 1 on string 2 at fret 1 and finger 2 on string 4 at fret 2 may lean on it.
        ("x32010", "032010", 3, "dead", ["ring-leaning", "ring-leaning", "ring-open"]),
        # C: string 4 at fret 2; finger 3 on string 5 at fret 3 lies nearer the bridge, string 3 is open.
        ("x32010", "032010", 4, "buzzing", ["ring-nearer", "ring-leaning", "ring-pressure"]),
        # C: string 5 at fret 3; nothing beside it is farther up.
        ("x32010", "032010", 5, "buzzing", ["ring-nearer", "ring-pressure"]),
        # F: string 2 under the barre; string 3 at fret 2 beside it.
        ("133211", "134211", 2, "dead", ["ring-leaning", "ring-barre", "ring-nearer", "ring-pressure"]),
        # G, string 2 open between open strings: the hand has nothing to do with it.
        ("320003", "320004", 3, "buzzing", ["ring-open"]),
        ("x32010", "032010", 2, "clear", []),
        ("x32010", "032010", 2, "unclear", []),
    ],
)
def test_why_a_string_does_not_ring(shape: str, fingers: str, string: int, state, codes: list[str]) -> None:
    held = parse_shape(shape)
    way = held_with(held, tuple(map(int, fingers)))
    found = causes(held, way, Ring(string, state, 10.0, -50.0))
    assert [cause.code for cause in found] == codes


def test_causes_are_said_with_pressure_last() -> None:
    held = parse_shape("x32010")
    ring = Ring(4, "buzzing", 8.0, -25.0)
    assert ring_text(ring, causes(held, fretting(held), ring)) == (
        "buzzing. Try: finger 2 closer behind fret 2; finger 3 on string 5 leans on it: stand it more upright;"
        " only then a little more pressure"
    )


@pytest.mark.parametrize("late_ms", [0.0, 4.2, 38.0, 137.5, 410.0])
@pytest.mark.parametrize("turned", [1, -1])
def test_the_loop_test_finds_what_was_put_in(late_ms: float, turned: int) -> None:
    """Eight clicks through a loudspeaker that turns the wave over or not, an echo, and noise."""
    played = [(0.3 + 0.5 * k, 2 if k % 4 == 0 else 1) for k in range(8)]
    heard = np.random.default_rng(5).normal(0.0, 2e-3, 6 * RATE_HZ)
    for at, strength in played:
        for gain, later in ((0.2, 0.0), (0.05, 0.011)):
            begin = round((at + late_ms / 1000.0 + later) * RATE_HZ)
            sound = click(RATE_HZ, strength)
            heard[begin : begin + len(sound)] += turned * gain * sound
    found = delay_of(heard.astype(np.float32), RATE_HZ, played)
    assert found is not None and abs(found.seconds * 1000.0 - late_ms) < 0.1


def test_no_clicks_no_delay() -> None:
    noise = np.random.default_rng(6).normal(0.0, 0.01, 4 * RATE_HZ).astype(np.float32)
    assert delay_of(noise, RATE_HZ, [(0.5, 2), (1.0, 1)]) is None
    assert delay_of(np.zeros(0, np.float32), RATE_HZ, [(0.5, 2)]) is None


def test_a_lowered_string_is_tuned_to_its_own_pitch() -> None:
    lowered = instrument("guitar", "D2 A2 D3 G3 B3 E4")
    piece = replace(make_piece("| D |", "4/4 x2: p i p i"), instrument=lowered)
    samples = open_strings(piece, {6: 9.0})[int(0.65 * RATE_HZ) : int(1.5 * RATE_HZ)]
    tone = tone_of(samples, RATE_HZ, [lowered.open_midi(s) for s in range(1, 7)])
    assert tone is not None and tone.string == 6 and abs(tone.cents - 9.0) < 1.0
