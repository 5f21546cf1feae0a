"""Rendered audio, measured: pitch, onsets, stopped strings, seams, count-in, layers."""

from __future__ import annotations

import wave
from fractions import Fraction
from pathlib import Path

import numpy as np
import pytest
import soundfile
from benchmarks.pitch import cents, measured_hz

from gingham.core.fitting.fit import fit
from gingham.core.fitting.whole import fit_piece
from gingham.core.formats.exports import export
from gingham.core.formats.sound_choice import SoundChoice
from gingham.core.formats.wav import render
from gingham.core.instruments.instrument import CATALOGUE
from gingham.core.music.meter import meter
from gingham.core.music.pitch import hz
from gingham.core.pieces.rules import Rules
from gingham.core.sound.player import Player
from gingham.core.sound.room import Room
from gingham.core.sound.string import NYLON_FINGER, RATE_HZ, STEEL_THUMB, pluck
from gingham.core.sound.timeline import SoundedNote, clicks_alone, swung, timeline
from gingham.core.sound.voices import Kind, VoiceBank
from gingham.core.values import replace
from tests.conftest import Dry, make_piece


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


class Impulses(Dry):
    """A voice bank whose notes are single samples, so that onsets can be read off exactly."""

    def note(self, note) -> np.ndarray:
        """One sample of sound."""
        return np.array([1.0], dtype=np.float32)


class Steady(Dry):
    """Notes that never decay, to see where they are stopped."""

    def note(self, note) -> np.ndarray:
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


def spectrum(sound: np.ndarray) -> float:
    """The centre of the spectrum of a note's first tenth of a second, in Hz: how bright it is."""
    power = np.abs(np.fft.rfft(sound[:4410])) ** 2
    return float(np.sum(np.fft.rfftfreq(4410, 1 / RATE_HZ) * power) / np.sum(power))


@pytest.mark.parametrize("midi", [45, 52, 64])
def test_touch_accent_and_string_change_the_colour(midi: int) -> None:
    """Nails are brighter than flesh, a flat pick more; an accent brightens; steel rings longer than nylon."""

    def note(kind: Kind, **changes: object) -> np.ndarray:
        return VoiceBank(kind).note(replace(SoundedNote(0.0, 1, midi, 0.5, "m"), **changes))

    by_touch = [spectrum(note(Kind(touch=touch))) for touch in ("flesh", "nail", "flat-pick")]
    assert by_touch == sorted(by_touch) and by_touch[2] > 1.15 * by_touch[0]
    levels = [spectrum(note(Kind(), level=level)) for level in (0, 1, 2)]
    assert levels == sorted(levels) and levels[2] > levels[0]
    assert spectrum(note(Kind(), soft=True, finger="")) < levels[0], "a hammer-on has no edge"
    steel, nylon = note(Kind()), note(Kind(nylon=True))
    late = slice(RATE_HZ, RATE_HZ + 8000)
    assert np.std(steel[late]) / np.std(steel[:8000]) > 1.5 * np.std(nylon[late]) / np.std(nylon[:8000])
    assert max(np.max(np.abs(sound)) for sound in (steel, nylon)) <= 1.0


def test_the_body_does_not_move_the_pitch() -> None:
    """Within a cent, on each body, wound or plain."""
    for kind in (Kind(), Kind(small=True, nylon=True), Kind(touch="flat-pick")):
        for string, midi in ((6, 40), (1, 76)):
            sound = VoiceBank(kind).note(SoundedNote(0.0, string, midi, 0.5, "p"))
            power = np.abs(np.fft.rfft(sound[4000:69536] * np.hanning(65536), 1 << 20))
            near = slice(
                round(hz(midi) * 0.97 * (1 << 20) / RATE_HZ), round(hz(midi) * 1.03 * (1 << 20) / RATE_HZ)
            )
            found = (near.start + int(np.argmax(power[near]))) * RATE_HZ / (1 << 20)
            assert abs(1200 * np.log2(found / hz(midi))) < 1.0


def test_the_room_keeps_onsets_and_differs_between_the_ears() -> None:
    """The direct sound is on its sample whatever the blocks; reflections follow; nothing clips."""
    pulse = np.zeros(6000, dtype=np.float32)
    pulse[100] = 0.9
    whole = Room().stereo(pulse)
    assert np.nonzero(whole[:, 0])[0][0] == 100 and not np.allclose(whole[:, 0], whole[:, 1])
    room = Room()
    parts = np.concatenate([room.stereo(pulse[i : i + 750]) for i in range(0, 6000, 750)])
    assert np.allclose(parts, whole)
    loud = Room().stereo(np.ones(6000, dtype=np.float32))
    assert np.max(np.abs(loud)) < 1.0


def test_sound_is_exported_as_it_is_heard(tmp_path: Path) -> None:
    """FLAC holds the very samples of the WAV file; count-in and clicks come first, a silent thumb stays silent."""
    piece = make_piece("| G |", "4/4 x1: p i . .", tempo=120)
    wav, flac = tmp_path / "a.wav", tmp_path / "a.flac"
    export(piece, wav)
    export(piece, flac)
    with wave.open(str(wav)) as file:
        plain = np.frombuffer(file.readframes(file.getnframes()), dtype="<i2").reshape(-1, 2)
    found, rate = soundfile.read(flac, dtype="int16")
    assert rate == RATE_HZ and np.max(np.abs(found.astype(int) - plain.astype(int))) <= 1
    export(piece, flac, choice=SoundChoice(1, "bar", frozenset("imac")))
    counted, _ = soundfile.read(flac)
    assert len(counted) - len(found) == pytest.approx(2 * RATE_HZ, abs=RATE_HZ)
    assert np.abs(counted[: RATE_HZ // 10]).max() > 0.05
