"""Open strings that answer: how much, at which pitch, and when they are quiet."""

from __future__ import annotations

import numpy as np
import pytest
from scipy.signal import lfilter

from gingham.core.fitting.fit import fit
from gingham.core.sound.answer import ANSWER_S, answer
from gingham.core.sound.player import Player
from gingham.core.sound.rate import RATE_HZ
from gingham.core.sound.string import STEEL_FINGER, STEEL_THUMB, made, partials
from gingham.core.sound.timeline import SoundedNote, Timeline, timeline
from gingham.core.sound.voices import Kind, VoiceBank
from tests.conftest import make_piece


def _level(midi: int, open_midi: int) -> float | None:
    """How far below the pluck (dB) the free string is at its loudest; None if it keeps quiet."""
    scale = made(midi, STEEL_FINGER, 3.0, RATE_HZ)[1]
    found = answer(midi, STEEL_FINGER, open_midi, STEEL_THUMB, scale, RATE_HZ)
    return None if found is None else 20.0 * float(np.log10(np.abs(found).max()))


@pytest.mark.parametrize(
    ("midi", "open_midi", "least", "most"),
    [
        (67, 55, -36, -26),  # G4 over G3: every partial of the one on every second of the other
        (62, 50, -38, -26),  # D4 over D3
        (62, 55, -48, -36),  # D4 over G3: the third partial of the one near the second of the other
        (55, 55, -36, -20),  # the same pitch
        (61, 50, None, None),  # C#4 over D3, a seventh: nothing
        (66, 55, None, None),  # F#4 over G3
    ],
)
def test_octaves_answer_most_and_sevenths_do_not(midi: int, open_midi: int, least, most) -> None:
    level = _level(midi, open_midi)
    assert level is None if least is None else level is not None and least <= level <= most


def test_the_answer_is_what_an_oscillator_does_that_the_pluck_drives() -> None:
    """Every partial of the free string as a filter, driven by every vibration of the pluck."""
    scale = made(67, STEEL_FINGER, 3.0, RATE_HZ)[1]
    ours = answer(67, STEEL_FINGER, 55, STEEL_THUMB, scale, RATE_HZ)
    assert ours is not None
    time = np.arange(RATE_HZ) / RATE_HZ
    frequency, strength, phase, decay = partials(67, STEEL_FINGER, RATE_HZ)
    rate = -np.log(10.0) / 20.0 * decay + 2j * np.pi * frequency
    pushes = scale * strength * np.exp(1j * phase) * np.exp(time[:, None] * rate)
    own, _, _, dying = (each[len(each) // 2 :] for each in partials(55, STEEL_THUMB, RATE_HZ))
    moved = np.zeros(len(time), complex)
    for f, d in zip(own, dying, strict=True):
        near = np.abs(frequency - f) < 12.0
        turn = np.exp((-np.log(10.0) / 20.0 * d + 2j * np.pi * f) / RATE_HZ)
        moved += lfilter([0.06 / RATE_HZ], [1.0, -turn], pushes[:, near].sum(axis=1))
    error = ours[: len(time)] - moved.real
    assert np.sqrt((error**2).mean()) < 0.1 * np.sqrt((moved.real**2).mean())


def test_the_answer_has_the_open_strings_own_pitch() -> None:
    scale = made(67, STEEL_FINGER, 3.0, RATE_HZ)[1]
    found = answer(67, STEEL_FINGER, 55, STEEL_THUMB, scale, RATE_HZ)
    assert found is not None and len(found) == round(ANSWER_S * RATE_HZ)
    late = found[RATE_HZ:]
    peak = np.argmax(np.abs(np.fft.rfft(late * np.hanning(len(late)), 1 << 20))) * RATE_HZ / (1 << 20)
    assert abs(1200.0 * np.log2(peak / (2.0 * 195.998))) < 3.0


def _rung(*notes: SoundedNote) -> np.ndarray:
    """One second from half a second after the notes' whole, at a beat a second."""
    line = Timeline(notes, (), (), 16.0, 0.25, 1.0)
    player = Player(line, VoiceBank(Kind()), 60.0)
    return player.block(2 * RATE_HZ)[RATE_HZ:]


_OPEN = ((3, 55),)
_PLUCK = SoundedNote(0.0, 1, 67, 1.0, "a", free=_OPEN)
_LIFTED = SoundedNote(0.2, 1, None, 0.0, "")


def test_a_free_string_rings_on_when_the_finger_has_left_the_other() -> None:
    assert np.abs(_rung(_PLUCK, _LIFTED)).max() > 0.002
    assert not _rung(SoundedNote(0.0, 1, 67, 1.0, "a"), _LIFTED).any()


@pytest.mark.parametrize(
    "notes",
    [
        (_PLUCK, _LIFTED, SoundedNote(0.21, 3, None, 0.0, "")),  # a finger comes down on it
        (
            _PLUCK,
            SoundedNote(0.19, 3, 55, 1.0, "i", free=_OPEN),
            _LIFTED,
            SoundedNote(0.21, 3, None, 0.0, ""),
        ),
        (SoundedNote(0.0, 3, 55, 1.0, "i", free=_OPEN), _PLUCK, _LIFTED, SoundedNote(0.21, 3, None, 0.0, "")),
    ],
    ids=["stopped", "plucked, then stopped", "sounds itself, then stopped"],
)
def test_a_string_that_is_stopped_or_plucked_answers_no_more(notes: tuple[SoundedNote, ...]) -> None:
    assert not _rung(*notes).any()


@pytest.mark.parametrize(
    ("chord", "capo", "free"),
    [
        ("G{320003}", 0, ((2, 59), (3, 55), (4, 50))),
        ("G{320003}", 2, ((2, 61), (3, 57), (4, 52))),
        ("Am{x02210}", 0, ((1, 64), (5, 45))),
        ("F{133211}", 0, ()),
    ],
)
def test_the_open_strings_of_a_chord_are_free(chord: str, capo: int, free: tuple) -> None:
    notes = timeline([fit(make_piece(f"| {chord} |", capo=capo))]).notes
    assert {note.free for note in notes if note.gain} == {free}
