"""Small promises that nothing else holds: each of these lines could be broken without another test noticing."""

from __future__ import annotations

import pytest

from gingham.core.bench.remedies import remedies
from gingham.core.fitting.fit import fit
from gingham.core.instruments.instrument import CATALOGUE
from gingham.core.music.chords import parse_chord
from gingham.core.pieces.own_edits import set_chord_rules
from gingham.core.pieces.rules import OwnRules, Rules, ThumbPlan
from gingham.core.shapes.known import movable_shapes
from gingham.core.shapes.shape import parse_shape
from tests.conftest import make_piece


@pytest.mark.parametrize(
    ("symbol", "shapes"),
    [("G#m", ["466444"]), ("F#m", ["244222"]), ("Cm", ["x35543"]), ("Bm", ["x24432", "799777"])],
)
def test_a_form_begins_at_the_seventh_fret_at_most(symbol: str, shapes: list[str]) -> None:
    """G♯m has the form of Am at fret 11 and Cm that of Em at fret 8: there are easier shapes."""
    found = [str(shape) for shape in movable_shapes(parse_chord(symbol), CATALOGUE["guitar"])]
    assert [shape for shape in shapes if shape in found] == shapes
    assert all(min(f for f in parse_shape(shape).frets if f is not None) <= 7 for shape in found)


def test_a_shape_that_the_player_has_made_an_exception_for_stays() -> None:
    """String 5 is silent in D xx0232, so another shape is taken; with rules of D's own in that shape it stays."""
    piece = make_piece("| D | Bm | G | A |", "4/4 x2: 5 i m i 4 i m i")
    assert str(fit(piece).spans[0].assignment.shape) != "xx0232"
    own = OwnRules(thumb=ThumbPlan("root"))
    kept = set_chord_rules(piece, "D", parse_shape("xx0232"), own)
    assert str(fit(kept).spans[0].assignment.shape) == "xx0232"


def test_a_hand_without_the_ring_finger_plucks_without_it() -> None:
    """Thumb, index and middle alone: what the ring would pluck goes to another finger or is left out."""
    pattern = "4/4 x2: p i m a p i m a"
    with_ring = fit(make_piece("| C{x32010} |", pattern))
    without = fit(make_piece("| C{x32010} |", pattern, rules=Rules(hand="pim")))
    assert "a" in {event.finger for event in with_ring.bars[0].events}
    assert {event.finger for event in without.bars[0].events} == {"p", "i", "m"}


def test_an_earlier_lift_is_offered_only_where_it_gives_time() -> None:
    """A slid barre whose fingers all have as much time: leaving one pluck out helps none of them."""
    result = fit(make_piece("| A{577655} | G{355433} |", "4/4 x2: p . i+m . ; p . i+m .", tempo=120))
    codes = {way.reason.code for way in remedies(result, 1)}
    assert codes and "remedy-early" not in codes
    one = fit(make_piece("| A{577655} | G{355433} |", "4/4 x2: p m p i ; p m p i", tempo=120))
    assert "remedy-early" in {way.reason.code for way in remedies(one, 1)}
