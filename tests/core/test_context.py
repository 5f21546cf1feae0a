"""Shapes chosen together: the least total, guide fingers, pins, other shapes between other neighbours."""

from __future__ import annotations

from itertools import pairwise, product

import pytest

from gingham.core.fitting.fit import fit
from gingham.core.instruments.instrument import CATALOGUE
from gingham.core.music.chords import parse_chord
from gingham.core.pieces.rules import Rules
from gingham.core.shapes import context
from gingham.core.shapes.context import Wish, change_cost, grips_for
from gingham.core.shapes.fingers import parse_fretting, print_fretting
from gingham.core.shapes.shape import parse_shape
from gingham.core.values import replace
from tests.conftest import make_piece

GUITAR = CATALOGUE["guitar"]


def grips(line: str, on: str = "guitar") -> str:
    """The grips of a progression as `shape:fingers`; a shape in braces is pinned."""
    chords = wishes(line)
    found = grips_for([chords], CATALOGUE[on])
    held = [found[wish.key] for wish in chords]
    return " ".join(f"{g.shape}:{print_fretting(g.fretting.fingers)}" for g in held)


def wishes(line: str) -> list[Wish]:
    """Symbols with pinned shapes and fingers in braces."""
    out = []
    for word in line.split():
        symbol, _, pin = word.rstrip("}").partition("{")
        shape, _, fingers = pin.partition(":")
        held = parse_shape(shape) if shape else None
        out.append(Wish(parse_chord(symbol), held, parse_fretting(fingers, held) if fingers else None))
    return out


@pytest.mark.parametrize(
    ("line", "expected"),
    [
        ("Dsus4 D", "xx0233:000134 xx0232:000132"),
        ("C G", "x32010:032010 320003:320004"),
        ("Am C", "x02210:002310 x32010:032010"),
        ("Em{022000} G", "022000:012000 320003:210003"),
        ("Am E", "x02210:002310 022100:023100"),
    ],
)
def test_fingers_are_chosen_with_their_neighbours(line: str, expected: str) -> None:
    """A hand would do it so: fingers stay, or move over together; a pinned shape draws its neighbour along."""
    assert grips(line) == expected


def test_the_same_symbol_gets_another_shape_between_other_neighbours() -> None:
    """F alone is the full barre; between C, Am and G the small one that shares fingers with them."""
    assert grips("F").startswith("133211")
    assert "xx3211" in grips("C Am F G") and "133211" in grips("F Bbm{x13321} Fm{133111}")


@pytest.mark.parametrize("line", ["C Am F G", "G D/F# Em", "Bm G A", "F C", "E7 A", "D{x57775} G A"])
def test_no_other_choice_is_cheaper(line: str) -> None:
    """Against every combination of the same states: the walk finds the least total, the seam included."""
    chords = wishes(line)
    options = [context._states(wish, GUITAR, 0) for wish in chords]

    def total(states) -> float:
        around = [*states, states[0]]
        return sum(s.effort for s in states) + sum(
            context._CHANGE * change_cost(a.grip, b.grip) for a, b in pairwise(around)
        )

    best = min(total(states) for states in product(*options))
    chosen = grips_for([chords], GUITAR)
    efforts = {state.grip: state.effort for states in options for state in states}
    grips_chosen = [chosen[wish.key] for wish in chords]
    picked = [context._state(grip.shape, grip.fretting, efforts[grip]) for grip in grips_chosen]
    assert total(picked) == pytest.approx(best)


def test_a_finger_that_stays_makes_a_change_easier() -> None:
    """Costs in order: the same grip, a guide finger, a slide, a move, a jump along the neck."""

    def grip(shape: str, fingers: str = "") -> context.Grip:
        ways = context.frettings(parse_shape(shape))
        found = [way for way in ways if "".join(map(str, way.fingers)) == fingers]
        return context.Grip(parse_shape(shape), (found or ways)[0])

    costs = [
        change_cost(grip("xx0232"), grip("xx0232")),
        change_cost(grip("xx0232"), grip("xx0233", "000134")),
        change_cost(grip("x02210"), grip("x32010")),
        change_cost(grip("x02210"), grip("xx0232")),
        change_cost(grip("x02210"), grip("577555")),
    ]
    assert costs == sorted(costs) and costs[0] < 0 < costs[-1]


def test_long_pieces_and_chords_no_hand_can_hold() -> None:
    """A symbol keeps one grip through all progressions; a chord that cannot be held does not stop the rest."""
    many = grips_for([wishes("C Am F G " * 20), wishes("G F C")], GUITAR)
    assert [key[0] for key in many] == ["C", "Am", "F", "G"]
    assert grips_for([], GUITAR) == {}
    three = replace(GUITAR, tuning=GUITAR.tuning[:3])
    found = grips_for([wishes("C13 C")], three)
    assert list(found.values())[1] is not None


def test_the_piece_s_rule_chooses_together_or_each_alone() -> None:
    """The result's shapes follow the rule; pins stay pins under both."""
    piece = make_piece("| C | Am | F | G |", "4/4 x1: p i m i")
    together = [str(span.assignment.shape) for span in fit(piece).spans]
    alone = [str(s.assignment.shape) for s in fit(replace(piece, rules=Rules(shapes="alone"))).spans]
    assert together[2] == "xx3211" and alone[2] == "133211"
    pinned = make_piece("| C | Am | F | G{355433} |", "4/4 x1: p i m i")
    for rules in (Rules(), Rules(shapes="alone")):
        assert str(fit(replace(pinned, rules=rules)).spans[3].assignment.shape) == "355433"
