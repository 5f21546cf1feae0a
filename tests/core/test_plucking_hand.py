"""The plucking hand: its place and shifts, strings at once, the beats, what rings on, barres; shapes in words."""

from __future__ import annotations

from fractions import Fraction

import pytest

from gingham.core.fitting.fit import fit
from gingham.core.hands.motor import MOTORS
from gingham.core.instruments.instrument import CATALOGUE
from gingham.core.judging.barres import barre_load
from gingham.core.judging.hand_places import calmer, hand_path
from gingham.core.judging.on_beats import off_the_rule
from gingham.core.judging.pinches import gaps, pinches
from gingham.core.judging.rings_on import clashes, rings
from gingham.core.judging.speed import hand_limit
from gingham.core.judging.strokes_told import (
    passed_over,
    plucks_a_second,
    stressed,
    swept_on,
    thumb_brush_cost,
)
from gingham.core.judging.why_shape import why_shape
from gingham.core.music.chords import parse_chord
from gingham.core.music.meter import meter
from gingham.core.patterns.mixing import in_order, with_thumb
from gingham.core.patterns.shorthand import parse_pattern, print_pattern
from gingham.core.pieces.own_edits import set_section_rules
from gingham.core.pieces.rules import Rules, parse_thumb
from gingham.core.shapes.drawing import slid
from gingham.core.shapes.fretting import fretting
from gingham.core.shapes.shape import parse_shape
from gingham.core.shapes.silent import silent_strings
from gingham.words import plucking
from gingham.words.shapes import brush_text, silent_lines, told_shape, why_text
from tests.conftest import make_piece

GUITAR = CATALOGUE["guitar"]


def test_the_hand_shifts_to_a_chord_of_four_strings_and_back() -> None:
    """G and D by turns: a string over, then back over the seam; the thumb crosses 6-4-6-4 and 4-3-4-3."""
    path = hand_path(
        fit(make_piece("| G{320003} | D{xx0232} |", "4/4 x1: p+m i p i", rules=Rules(hand="pim")))
    )
    assert [(p.chord, p.index_string, p.moved) for p in path.places] == [("G", 3, 1), ("D", 2, -1)]
    assert path.shifts == 2 and plucking.path_text(path).startswith("Over the section the hand shifts twice")
    assert (
        plucking.place_text(path.places[1])
        == "Index on string 2 and middle on string 1: the hand is at place 2."
    )
    assert plucking.moved_text(path.places[1]) == "It has gone 1 string toward the thinner ones."


def test_calmer_ways_have_less_travel_and_say_what_they_cost() -> None:
    """Each, once taken, travels as it was said to."""
    result = fit(make_piece("| G{320003} | D{xx0232} |", "4/4 x1: p+m i p i", rules=Rules(hand="pim")))
    path, ways = hand_path(result), calmer(result)
    assert ways and any(way.thumb < path.thumb for way in ways) and any(not way.shifts for way in ways)
    for way in ways:
        after = hand_path(fit(set_section_rules(result.piece, 0, way.own)))
        assert (after.shifts, after.thumb) == (way.shifts, way.thumb)
        assert plucking.calmer_text(way).startswith("Calmer: ")
    still = make_piece("| Am{x02210} |", "4/4 x1: p i p i", rules=Rules(parse_thumb("root")))
    assert calmer(fit(still)) == ()


def test_pinches_with_their_span_top_note_and_neighbours() -> None:
    """On G: thumb on 6 with middle on 2, over five strings, twice; index and middle together are neighbours."""
    result = fit(make_piece("| G{320003} |", "4/4 x1: p+m i+m p1+m i", capo=2))
    one, two = pinches(result, 0)
    assert (one.plucks, one.span, str(one.top), one.times) == ((("m", 2), ("p", 6)), 5, "B", 2)
    assert two.close == ((2, 3),) and two.degree == "3"
    assert plucking.pinch_text(one) == (
        "Thumb on 6 and middle on 2 at 1 (2 times), over 5 strings; on top B, the third, on string 2."
    )
    assert "Strings 3 and 2 are neighbours" in plucking.pinch_text(two)
    assert gaps(frozenset({6, 4, 3, 1})) == ((6, 4), (3, 1))
    assert plucking.spacing_text(frozenset({6, 4, 3, 1}), ((6, 4), (3, 1))) == (
        "Strings in use: 6 4 3 1, strings 5 and 2 skipped."
    )


@pytest.mark.parametrize(
    ("pattern", "said"),
    [
        ("4/4 x2: p i p i p i p i", plucking.EVEN),
        ("4/4 x2: p+m i . i i p p i", "a finger with the thumb on 1, nothing on 2, a finger instead of the thumb "
                                      "on 3 and the thumb between beats, on 3&"),
        ("6/8 x3: p i m p i m", plucking.EVEN),
        ("6/8 x3: p i p a i m", "the thumb between beats, on 3 and a finger instead of the thumb on 4"),
        ("4/4 x1: p d p u", plucking.EVEN),
    ],
)  # fmt: skip
def test_departures_from_the_thumb_on_the_beats(pattern: str, said: str) -> None:
    """By kind, with the places as they are counted; a brush on the beat is nobody's instead."""
    text = plucking.beats_text(off_the_rule(parse_pattern(pattern)))
    assert text == said or text == f"Thumb on the beats, fingers between, but for {said}."


def test_what_rings_and_until_when() -> None:
    """Bass 6 rings two beats on G and on to the change, where its finger leaves; a chuck damps all."""
    result = fit(make_piece("| G{320003} | C{x32010} |", "4/4 x1: p1 i p2 i", rules=Rules(hand="pi")))
    found = {(r.bar, r.count, r.string): (r.length, r.ended) for r in rings(result)}
    assert found[1, "1", 6] == (Fraction(1), "change") and found[1, "2", 3] == (Fraction(1, 2), "again")
    assert found[1, "3", 4][1] == "change", "D goes to E on string 4"
    chucked = rings(fit(make_piece("| G{320003} |", "4/4 x1: p1 i k .")))
    assert {(r.string, r.length, r.ended) for r in chucked} == {
        (6, Fraction(1, 2), "damped"), (3, Fraction(1, 4), "damped"),
    }  # fmt: skip
    assert plucking.ring_lines(chucked, meter(4, 4)) == [
        "String 6: up to 2 beats, then damped", "String 3: up to 1 beat, then damped",
    ]  # fmt: skip


def test_low_notes_that_rub_while_they_ring() -> None:
    """A thumb that goes from C on 5 to D on 4 leaves C ringing; from C to E it does not rub."""
    near = fit(make_piece("| C{x30010} |", "4/4 x1: p1 p2 p1 p2", rules=Rules(parse_thumb("named:5,4"))))
    texts = [plucking.clash_text(each, meter(4, 4)) for each in clashes(near)]
    assert texts[0] == (
        "D on string 4 comes while C on string 5 still rings, for 1 beat (bar 1 at 2): the side of the thumb can "
        "damp string 5."
    )
    far = fit(make_piece("| C{x32010} |", "4/4 x1: p1 p2 p1 p2", rules=Rules(parse_thumb("named:5,4"))))
    assert clashes(far) == ()


def test_barres_by_the_minute_and_the_strings_that_need_them() -> None:
    """At 60 a minute two bars last 8 seconds: F enters once in them, 7.5 times a minute, half the time."""
    result = fit(make_piece("| F{133211} | C{x32010} |", "4/4 x1: p1 i p2 m", tempo=60))
    load = barre_load(result)
    (barre,) = load.chords
    assert (load.a_minute, load.share) == (7.5, 0.5)
    assert (barre.fret, barre.strings, barre.needed, barre.beats) == (1, (6, 1), (6, 2), 4)
    assert plucking.barre_text(barre).endswith("for 4 beats; of what you pluck it sounds strings 6 and 2.")
    assert barre_load(fit(make_piece("| G | C |"))).chords == ()


@pytest.mark.parametrize(
    ("shape", "chord", "said", "silent", "brush"),
    [
        ("x32010", "C", "String 6 silent; string 5 fret 3, ring; string 4 fret 2, middle; string 3 open; "
                        "string 2 fret 1, index; string 1 open.",
         ["String 6: the tip of the ring finger touches it."], ""),
        ("xx0232", "D", "Strings 6 and 5 silent; string 4 open; string 3 fret 2, index; string 2 fret 3, ring; "
                        "string 1 fret 2, middle.",
         ["String 6: leave it out, or touch it with the thumb over the neck.", "String 5: leave it out."], ""),
        ("3x0003", "G", "String 6 fret 3, index; string 5 silent; strings 4, 3 and 2 open; string 1 fret 3, middle.",
         ["String 5: leave it out, or let the index lie flatter, to touch it."],
         "Pick this shape, do not brush it: string 5 would sound A, which is not in the chord."),
    ],
)  # fmt: skip
def test_shapes_said_and_what_a_brush_would_sound(
    shape: str, chord: str, said: str, silent: list[str], brush: str
) -> None:
    """From string 6 to string 1, with fretting fingers; silent strings and how they are kept so."""
    read = parse_shape(shape)
    way = fretting(read)
    found = silent_strings(read, way, parse_chord(chord), GUITAR)
    assert told_shape(read, way) == said
    assert silent_lines(found) == silent and brush_text(found) == brush


@pytest.mark.parametrize(
    ("line", "begins"),
    [
        ("| G{320003} |", "You chose this shape."),
        ("| C{x32010:032010} | G |", "You chose this shape. You chose these fingers."),
        ("| C |", "The easiest of "),
    ],
)
def test_why_a_shape_is_held(line: str, begins: str) -> None:
    """The player's word first, else how easy it is, and what it does for the change."""
    assert " ".join(why_text(why) for why in why_shape(fit(make_piece(line)), 0)).startswith(begins)


def test_fingers_that_stay_are_a_reason() -> None:
    """From C to Am two fingers stay."""
    said = [why_text(why) for why in why_shape(fit(make_piece("| C{x32010} | Am{x02210} |")), 0)]
    assert said[-1] == "Into Am, index and middle stay down."


def test_guides_stay_down_until_the_next_chord() -> None:
    """C to Am on strings 5 and 3: index and middle stay, so they are held on C; ring goes with what is plucked."""
    piece = make_piece("| C{x32010} | Am{x02210} |", "4/4 x1: p1 i p1 i", rules=Rules(hold="guides"))
    plain = make_piece("| C{x32010} | Am{x02210} |", "4/4 x1: p1 i p1 i")
    assert [str(span.hold) for span in fit(plain).spans] == ["x3x0xx", "x0x2xx"]
    assert [str(span.hold) for span in fit(piece).spans] == ["x3201x", "x0221x"]


def test_how_busy_whose_accents_and_what_the_thumb_passes_over() -> None:
    """Two bars of four beats at 60 last eight seconds; Dm7 without string 5 between its basses."""
    piece = make_piece(
        "| G{3x0003} | G{3x0003} |", "4/4 x1: p1 i! p2 m", tempo=60, rules=Rules(accents="follow-m")
    )
    result = fit(piece)
    assert plucks_a_second(result) == {"p": 0.5, "i": 0.25, "m": 0.25}
    assert plucking.rates_text(plucks_a_second(result), 60) == (
        "Plucks a second at 60: thumb 0.5, index 0.2, middle 0.2."
    )
    assert stressed(result) == {"i": ("2",), "m": ("4",)}
    assert passed_over(result, 0) == (5,) and passed_over(fit(make_piece("| G{320003} |")), 0) == ()
    chucked = fit(make_piece("| G{320003} |", "4/4 x1: p i k i"))
    assert swept_on(chucked, 0) and not swept_on(result, 0)
    place = hand_path(chucked).places[0]
    assert plucking.back_text(place, 6) == "After each brush or chuck back to: thumb on 6 and index on 3."


@pytest.mark.parametrize(("shape", "by", "there"), [("133211", 2, "355433"), ("x3545x", -1, "x2434x"),
                                                    ("320003", 1, None), ("133211", -1, None)])  # fmt: skip
def test_a_shape_slides_as_one(shape: str, by: int, there: str | None) -> None:
    """Every held string by as many frets; open strings cannot."""
    moved = slid(parse_shape(shape), by)
    assert (None if moved is None else str(moved)) == there


def test_a_mix_keeps_the_players_thumb() -> None:
    """Fingers of the mixed bars, the thumb of one pattern in every bar, on the finer grid."""
    mixed = in_order(
        {"A": parse_pattern("4/4 x1: p i p m"), "B": parse_pattern("4/4 x2: p i . i p i . i")}, ("A", "B")
    )
    mine = parse_pattern("4/4 x1: p1 . p2 .")
    assert print_pattern(with_thumb(mixed, mine).pattern) == "4/4 x2: p1 . i . p2 . m . | p1 i . i p2 i . i"


def test_what_it_costs_if_the_thumb_brushes() -> None:
    """From string 1 back to string 6 within a place: five strings. A pattern without a brush has no such cost."""
    result = fit(make_piece("| G{320003} | C{x32010} |", "4/4 x2: p d p d ; p d p d"))
    cost = thumb_brush_cost(result)
    assert cost is not None and cost.thumb < cost.fingers == hand_limit(result, "growing").tempo
    assert cost.thumb == int(30 / MOTORS["growing"].gap_s(True, 5)), "a place is half a beat"
    assert f"from {cost.fingers} to {cost.thumb}" in plucking.brush_cost_text(cost)
    assert thumb_brush_cost(
        fit(make_piece("| G |", "4/4 x1: p i p m"))
    ) is None and not plucking.brush_cost_text(None)
