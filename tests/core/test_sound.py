"""Rendered audio, measured: pitch, onsets, stopped strings, seams, count-in, layers."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction

import numpy as np
import pytest
from benchmarks.pitch import cents, measured_hz

from gingham.core.fitting.fit import fit
from gingham.core.fitting.whole import fit_piece
from gingham.core.formats.wav import render
from gingham.core.instruments.instrument import CATALOGUE
from gingham.core.music.meter import meter
from gingham.core.music.pitch import hz
from gingham.core.pieces.rules import Rules
from gingham.core.sound.player import Player, VoiceBank
from gingham.core.sound.string import NYLON_FINGER, RATE_HZ, STEEL_THUMB, pluck
from gingham.core.sound.timeline import clicks_alone, swung, timeline
from tests.conftest import make_piece


@pytest.mark.parametrize("midi", [38, 40, 47, 55, 64, 71, 76, 83])
@pytest.mark.parametrize("timbre", [STEEL_THUMB, NYLON_FINGER])
def test_a_string_is_in_tune_within_a_cent(midi: int, timbre) -> None:
    """Measured from the phase of the rendered fundamental."""
    samples = pluck(midi, timbre, 1.0)
    assert abs(cents(measured_hz(samples, hz(midi)), hz(midi))) < 1.0


def test_a_string_starts_at_once_and_dies_away() -> None:
    """Sound in the first millisecond, half as loud after two seconds at most, silent at the end."""
    samples = pluck(52, STEEL_THUMB, 4.0)
    assert samples.dtype == np.float32 and len(samples) == 4 * RATE_HZ
    assert np.max(np.abs(samples[: RATE_HZ // 1000])) > 0.001
    early, late = np.std(samples[:8000]), np.std(samples[2 * RATE_HZ : 2 * RATE_HZ + 8000])
    assert 0 < late < early / 2
    assert abs(samples[-1]) < 1e-4


def test_a_pitch_too_high_for_the_model_is_refused() -> None:
    """A period of fewer than twelve samples cannot be a string."""
    with pytest.raises(ValueError, match="period"):
        pluck(125, STEEL_THUMB, 0.1)


class Impulses(VoiceBank):
    """A voice bank whose notes are single samples, so that onsets can be read off exactly."""

    def note(self, midi: int | None, thumb: bool, soft: bool, bright=False) -> np.ndarray:
        """One sample of sound."""
        return np.array([1.0], dtype=np.float32)


class Steady(VoiceBank):
    """Notes that never decay, to see where they are stopped."""

    def note(self, midi: int | None, thumb: bool, soft: bool, bright=False) -> np.ndarray:
        """Two seconds at a constant level."""
        return np.ones(2 * RATE_HZ, dtype=np.float32)


def played(player: Player, seconds: float, block: int = 1024) -> np.ndarray:
    """Some seconds of a player's output."""
    return np.concatenate([player.block(block) for _ in range(int(seconds * RATE_HZ / block) + 1)])


@pytest.mark.parametrize("block", [64, 1000, 1024, 44100])
def test_onsets_are_on_the_sample_whatever_the_block(block: int) -> None:
    """Eighths at 90 are 14,700 samples apart."""
    line = timeline([fit(make_piece("| G |", "4/4 x2: p i m i p i m i"))])
    found = np.nonzero(played(Player(line, Impulses(), 90.0), 2.7, block))[0]
    assert list(found[:8]) == [14_700 * k for k in range(8)]


def test_a_loop_has_no_gap_and_does_not_drift() -> None:
    """Beat one of the third round falls where six bars' worth of beats put it."""
    line = timeline([fit(make_piece("| G | C |", "4/4 x1: p . . ."))])
    found = np.nonzero(played(Player(line, Impulses(), 100.0, loop=True), 16.0))[0]
    assert list(found) == [pytest.approx(round(k * 4 * 26_460), abs=1) for k in range(len(found))]
    assert len(found) >= 6


def test_the_first_beat_after_a_count_in_has_its_click() -> None:
    """Four clicks of count-in and four of the bar, half a second apart, wherever a block ends."""
    player = Player(clicks_alone(meter(4, 4), 1), VoiceBank(), 120.0)
    player.clicks = 1
    player.count_in()
    sound = np.abs(np.concatenate([player.block(1000) for _ in range(170)]))
    loud = np.nonzero(sound > 0.1)[0]
    onsets = loud[np.insert(np.diff(loud) > 4000, 0, True)]
    assert np.allclose(onsets / VoiceBank().rate_hz, np.arange(8) * 0.5, atol=0.005)


def test_a_new_pluck_stops_the_old_one_on_its_string_only() -> None:
    """On one string the level never adds up; on two it does."""
    one = timeline([fit(make_piece("| G{320003} |", "4/4 x1: p1 p1 p1 p1", rules=Rules(accents="even")))])
    level = played(Player(one, Steady(), 120.0), 1.9)
    assert np.max(level[:80_000]) == pytest.approx(np.min(level[:80_000]), rel=0.02) or np.max(level) < 0.55
    after = level[22_050 + 200 : 22_050 + 2000]
    assert np.allclose(after, level[200:2000], rtol=0.02)
    two = timeline([fit(make_piece("| G{320003} |", "4/4 x1: p1 i . ."))])
    both = played(Player(two, Steady(), 120.0), 1.0)
    assert both[30_000] > 1.5 * both[10_000]


def test_tempo_changes_while_playing_without_a_gap() -> None:
    """From the change on the plucks come in the new time; none is lost or doubled."""
    line = timeline([fit(make_piece("| G | % |", "4/4 x1: p p p p"))])
    player = Player(line, Impulses(), 60.0)
    first = played(player, 2.0, 1050)
    player.tempo_bpm = 120.0
    found = np.nonzero(np.concatenate([first, played(player, 4.0, 1050)]))[0]
    gaps = np.diff(found)
    assert len(found) == 8
    assert list(gaps[:1]) == [44_100] and list(gaps[3:]) == [22_050] * (len(gaps) - 3)


def test_count_in_layers_and_swing() -> None:
    """A bar of clicks before the music; the thumb alone; off-beats late under swing."""
    line = timeline([fit(make_piece("| G |", "4/4 x2: p i p i p i p i"))])
    player = Player(line, Impulses(), 120.0)
    player.count_in()
    sound = played(player, 2.6)
    assert np.max(np.abs(sound[:2000])) > 0.1 and not np.any(sound[20_000:22_000])
    assert np.any(sound[2 * RATE_HZ : 2 * RATE_HZ + 2])
    player = Player(line, Impulses(), 120.0)
    player.muted = frozenset("imac")
    assert len(np.nonzero(played(player, 1.9))[0]) == 4
    assert swung(Fraction(1, 8), meter(4, 4), Fraction(2, 3)) == Fraction(1, 6)
    assert swung(Fraction(1, 4), meter(4, 4), Fraction(2, 3)) == Fraction(1, 4)


def test_a_piece_renders_within_limits_and_as_long_as_it_is() -> None:
    """Repeats are played, nothing clips, the sound is there from the first sample on."""
    piece = make_piece("| G | D |", tempo=120)
    piece = replace(piece, sections=(replace(piece.sections[0], repeats=2),))
    sound = render(piece)
    assert np.max(np.abs(sound)) < 1.0
    assert 8.0 < len(sound) / RATE_HZ < 11.5
    assert np.std(sound[: RATE_HZ // 2]) > 0.01


def test_a_rendering_can_be_cancelled() -> None:
    """The tick says how far it is; false ends it."""
    seen: list[float] = []
    sound = render(
        make_piece("| G | C | D | G |", tempo=40),
        tick=lambda share: bool(seen.append(share)) or len(seen) < 3,
    )
    assert len(seen) == 3 and len(sound) == 3 * RATE_HZ


def test_a_timeline_names_its_places_and_cuts_to_bars() -> None:
    """Section and bar at every position; some bars only."""
    results = fit_piece(make_piece("(1/4 D) | G | C |"))
    line = timeline(results)
    assert line.length == 2.25
    assert line.place(0.1)[0].bar == 0 and line.place(0.25)[0].bar == 1 and line.place(2.0)[0].bar == 2
    cut = timeline(results, bars=(2, 2))
    assert cut.length == 1.0 and {place.bar for place in cut.places} == {2}


def test_silent_and_muted_plucks_make_no_note() -> None:
    """What has no pitch is not sounded; a ukulele sounds its own pitches."""
    muted = timeline([fit(make_piece("| C{x32010} |", "4/4 x1: p/6 i p/6 i"))])
    assert len(muted.notes) == 2
    uke = timeline([fit(make_piece("| C{0003} |", "4/4 x1: p . . .", instrument=CATALOGUE["ukulele"]))])
    assert [note.midi for note in uke.notes] == [67]
