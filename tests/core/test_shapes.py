"""Shapes: the ones players grab come first, fingers are right, tunings and capo hold."""

from __future__ import annotations

from pathlib import Path

import pytest

from gingham.core.errors import ShapeError, TuningError
from gingham.core.instruments.instrument import CATALOGUE, check_capo, instrument
from gingham.core.music.chords import parse_chord
from gingham.core.shapes import search
from gingham.core.shapes.fretting import THUMB, fretting, frettings
from gingham.core.shapes.known import known_shapes
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
    """No foreign tone, four fingers and the thumb at most, never past the searched frets, easiest first."""
    on, chord = CATALOGUE[name], parse_chord(symbol)
    found = shapes_for(chord, on)
    assert found, "no shape"
    assert found[0].effort == min(r.effort for r in found) or found[0].shape in known_shapes(chord, on)
    for ranked in found:
        classes = {(on.open_midi(s) + ranked.shape.fret(s)) % 12 for s in ranked.shape.sounding}
        assert classes <= chord.pitch_classes
        assert max(ranked.fretting.fingers) <= THUMB
        assert "3" not in {str(d) for d in missing_degrees(chord, ranked.shape, on)}


@pytest.mark.parametrize(
    ("shape", "fingers"),
    [
        ("320003", "210003"), ("x32010", "032010"), ("xx0232", "000132"), ("x02210", "002310"),
        ("133211", "134211"), ("x24432", "013421"), ("x21202", "021304"), ("xx3211", "003211"), ("022030", "012030"),
        ("244222", "134111"), ("133111", "134111"), ("x35533", "013411"), ("422400", "311400"), ("x42220", "031110"),
        ("8x887x", "203410"),
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

    chord, instrument = parse_chord(symbol), CATALOGUE[on]
    bass = chord.bass_note.pitch_class if on == "guitar" else None
    walked = search._walk(search._wanted(chord, instrument, 12, bass))
    every = search._easiest(walked, chord, instrument, len(walked))
    for ranked in every:
        assert search._least_effort(ranked.shape) <= ranked.effort + 0.006
    assert search._easiest(walked, chord, instrument, 24) == every[:24]
    assert set(search.shapes_for(chord, instrument, 0)) <= set(every[:24])


@pytest.mark.parametrize(
    ("on", "symbol", "shapes"),
    [
        ("guitar", "C", "x32010 x35553"), ("guitar", "D", "xx0232 x57775"), ("guitar", "F", "133211 xx3211"),
        ("guitar", "G", "320003 355433"), ("guitar", "A", "x02220 577655"), ("guitar", "Am", "x02210 577555"),
        ("guitar", "Bm", "x24432 799777"), ("guitar", "C7", "x32310 x35353"), ("guitar", "D7", "xx0212 x57575"),
        ("guitar", "G7", "320001 353433"), ("guitar", "A7", "x02020 575655"), ("guitar", "B7", "x21202 x24242"),
        ("guitar", "Dm", "xx0231 x57765"), ("guitar", "Am7", "x02010 575555"), ("guitar", "Gm", "355333"),
        ("guitar", "E", "022100 x76454"), ("guitar", "Em", "022000 xx2453"),
        ("ukulele", "F", "2010"), ("ukulele", "Bb", "3211"), ("ukulele", "E7", "1202"), ("ukulele", "D", "2220 7655"),
    ],
)  # fmt: skip
def test_the_first_three_hold_the_shapes_players_use(on: str, symbol: str, shapes: str) -> None:
    """Open, then movable, not three versions of one grip."""

    found = [str(ranked.shape) for ranked in shapes_for(parse_chord(symbol), CATALOGUE[on], 0)[:3]]
    assert set(shapes.split()) <= set(found)


def test_the_thumb_may_come_over_the_neck() -> None:
    """As another way to hold D with F# in the bass, and as the only one where four fingers are too few."""
    ways = frettings(parse_shape("200232"))
    assert ways[0].fingers[0] != THUMB and any(way.fingers[0] == THUMB for way in ways)
    assert fretting(parse_shape("220232")).fingers[0] == THUMB
    assert fretting(parse_shape("232415")) is None
