"""A singer's range against the tune, worked out by hand: D4 is 62, B4 71."""

from __future__ import annotations

import pytest

from gingham.core.errors import PitchError
from gingham.core.judging.voice import parse_voice, voice_fit
from gingham.core.music.key import parse_key
from gingham.core.pieces.form_edits import set_tune
from gingham.core.pieces.transpose import transposed
from gingham.words.errors import say
from gingham.words.voice import voice_text
from tests.conftest import make_piece

RUNS = "The tune runs from D4 to B4"


@pytest.mark.parametrize(
    ("voice", "moves", "said"),
    [
        ("A3 D5", (0, -1, 1, -2, 2, -3, 3, -4, -5), f"{RUNS}: this voice has it as it is; also 1 down"),
        ("A3 to G4", (-4, -5),
         f"{RUNS}, outside this voice. It lies in it 4 down (shapes in E♭) and 5 down (shapes in D)."),
        ("A3-F4", (), f"{RUNS}: 9 semitones, and this voice has 8. No key holds all of it."),
        ("E4 C#5", (2,), f"{RUNS}, outside this voice. It lies in it 2 up (shapes in A)."),
        ("A2 C4", (-11,), f"{RUNS}, outside this voice. It lies in it 11 down (shapes in A♭)."),
    ],
)  # fmt: skip
def test_which_keys_a_voice_can_sing(voice: str, moves: tuple[int, ...], said: str) -> None:
    """Every move within an octave that holds the tune, the smallest first; moved, it lies in the voice."""
    piece = set_tune(make_piece("| G | C |", key=parse_key("G")), 0, "| D4 . G4 B4 | A4 . . . |")
    read = parse_voice(voice)
    fit = voice_fit(piece, read)
    assert fit is not None and fit.moves == moves
    assert voice_text(fit, read, piece.shape_key()).startswith(said)
    for move in moves:
        moved = voice_fit(transposed(piece, move), read)
        assert moved is not None and 0 in moved.moves


def test_without_a_tune_it_is_said_where_to_write_one() -> None:
    """No guess from the chords."""
    piece = make_piece("| G |")
    assert voice_fit(piece, parse_voice("A3 D5")) is None
    assert "on Form" in voice_text(None, parse_voice("A3 D5"), parse_key("G"))


@pytest.mark.parametrize("text", ["A3", "D5 A3", "high low", "A3 D5 E5", "A3 A3", "H3 D5"])
def test_what_is_no_range_is_refused_in_words(text: str) -> None:
    """One note, the wrong way round, no notes."""
    with pytest.raises(PitchError) as caught:
        parse_voice(text)
    assert say(caught.value)
