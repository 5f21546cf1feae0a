"""Shapes: the ones players grab come first, fingers are right, tunings and capo hold."""

from __future__ import annotations

from pathlib import Path

import pytest

from gingham.core.errors import ShapeError, TuningError
from gingham.core.instruments.instrument import CATALOGUE, check_capo, instrument
from gingham.core.music.chords import parse_chord
from gingham.core.shapes.fretting import fretting
from gingham.core.shapes.search import missing_degrees, shapes_for
from gingham.core.shapes.shape import check_shape, parse_shape

TABLE = [
    line.split("\t")
    for line in (Path(__file__).parent.parent / "data" / "shapes.tsv").read_text().splitlines()
    if not line.startswith("#")
]


@pytest.mark.parametrize(("on", "symbol", "shape"), TABLE)
def test_the_shape_a_player_would_grab_comes_first(on: str, symbol: str, shape: str) -> None:
    """Open and common movable shapes lead the list."""
    assert str(shapes_for(parse_chord(symbol), CATALOGUE[on])[0].shape) == shape


@pytest.mark.parametrize("symbol", ["G", "F#m7b5", "C13", "Bb7#9", "Am/G", "E5", "Cdim7", "D6/9", "Gsus2"])
@pytest.mark.parametrize("name", list(CATALOGUE))
def test_every_shape_found_is_the_chord_and_fits_a_hand(symbol: str, name: str) -> None:
    """No foreign tone, no more than four fingers, never past the searched frets, easiest first."""
    on, chord = CATALOGUE[name], parse_chord(symbol)
    found = shapes_for(chord, on)
    assert found, "no shape"
    assert [r.effort for r in found] == sorted(r.effort for r in found)
    for ranked in found:
        classes = {(on.open_midi(s) + ranked.shape.fret(s)) % 12 for s in ranked.shape.sounding}
        assert classes <= chord.pitch_classes
        assert max(ranked.fretting.fingers) <= 4
        assert "3" not in {str(d) for d in missing_degrees(chord, ranked.shape, on)}


@pytest.mark.parametrize(
    ("shape", "fingers"),
    [
        ("320003", "210003"), ("x32010", "032010"), ("xx0232", "000132"), ("x02210", "002310"),
        ("133211", "134211"), ("x24432", "013421"), ("x21202", "021304"), ("xx3211", "003211"), ("022030", "012030"),
    ],
)  # fmt: skip
def test_fretting_fingers_lie_as_a_hand_does(shape: str, fingers: str) -> None:
    """Fingers go up with the frets, and along a fret from the chin to the floor."""
    held = fretting(parse_shape(shape))
    assert held is not None
    assert "".join(map(str, held.fingers)) == fingers


def test_a_shape_for_six_fingers_has_no_fretting() -> None:
    """What no hand can hold is said, not guessed."""
    assert fretting(parse_shape("123456")) is None


def test_a_lowered_string_moves_its_notes_up_two_frets() -> None:
    """With the sixth string on D, the same search finds the root open, and G at fret 5."""
    lowered = instrument("guitar", "D2 A2 D3 G3 B3 E4")
    assert str(shapes_for(parse_chord("D"), lowered)[0].shape) == "000232"
    assert any(ranked.shape.fret(6) == 5 for ranked in shapes_for(parse_chord("G"), lowered))


@pytest.mark.parametrize(
    ("text", "code"),
    [
        ("E2 A2", "tuning-strings"),
        ("E2 A2 X3 G3", "tuning-pitch"),
        ("E2 A2 D9 G3", "tuning-range"),
        ("", "tuning-strings"),
    ],
)
def test_an_impossible_tuning_is_refused_with_its_place(text: str, code: str) -> None:
    """Too few strings, no pitch, a pitch no string can hold."""
    with pytest.raises(TuningError) as caught:
        instrument("guitar", text)
    assert caught.value.code == code
    assert text[caught.value.start : caught.value.end] in (text, "X3", "D9")


def test_capo_and_shape_must_stay_on_the_neck() -> None:
    """A capo needs five frets above it, a shape as many as it uses."""
    guitar = CATALOGUE["guitar"]
    assert check_capo(guitar, 14) == 14
    with pytest.raises(TuningError):
        check_capo(guitar, 15)
    with pytest.raises(ShapeError):
        check_shape(parse_shape("x,x,10,12,13,10"), guitar, 7)
    with pytest.raises(ShapeError):
        check_shape(parse_shape("x3201"), guitar)


@pytest.mark.parametrize("text", ["x32010", "x,10,12,12,11,x", "0003"])
def test_a_shape_prints_as_it_is_read(text: str) -> None:
    """Digits where they fit, a comma list where frets have two digits."""
    assert str(parse_shape(text)) == text


@pytest.mark.parametrize("text", ["", "xx", "x3q010", "1,,2"])
def test_an_unreadable_shape_is_refused(text: str) -> None:
    """Anything but frets and x, or a shape in which nothing sounds."""
    with pytest.raises(ShapeError):
        parse_shape(text)


@pytest.mark.parametrize("on", ["guitar", "ukulele", "ukulele-baritone"])
@pytest.mark.parametrize("symbol", ["C", "F#m", "Bb7", "Am7", "Dsus4", "G6", "Edim7"])
def test_leaving_out_hard_shapes_loses_no_easy_one(on: str, symbol: str) -> None:
    """The bound is one: looking at every shape of the walk gives the same list."""
    from gingham.core.instruments.instrument import CATALOGUE
    from gingham.core.music.chords import parse_chord
    from gingham.core.shapes import search

    chord, instrument = parse_chord(symbol), CATALOGUE[on]
    bass = chord.bass_note.pitch_class if on == "guitar" else None
    walked = search._walk(search._wanted(chord, instrument, 12, bass))
    every = search._best(walked, chord, instrument, len(walked))
    for ranked in every:
        assert search._least_effort(ranked.shape) <= ranked.effort + 0.006
    assert search.shapes_for(chord, instrument, 0) == every[:12]
