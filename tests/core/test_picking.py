"""Strings in, fingers out: against an exhaustive search, by known lines, and what no hand can do."""

from __future__ import annotations

from fractions import Fraction
from itertools import combinations, pairwise, product

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from gingham.core.errors import PatternError
from gingham.core.fitting.fit import fit
from gingham.core.fitting.strings_in import read_strings, refinger, strings_played
from gingham.core.hands.motor import motor_of
from gingham.core.hands.picking import Placed, _Scale, fingers_for, hand_on
from gingham.core.instruments.instrument import CATALOGUE
from gingham.core.judging.line import finger_line
from gingham.core.judging.speed import hand_limit
from gingham.core.patterns.library import builtin
from gingham.core.patterns.pattern import FINGERS, Pattern, Pluck, StringStroke
from gingham.core.patterns.shorthand import parse_pattern, print_pattern
from tests.conftest import HEARTH, make_piece

GUITAR, UKULELE, GROWING = CATALOGUE["guitar"], CATALOGUE["ukulele"], motor_of("growing")
CHORDS = [
    "G{320003}",
    "C{x32010}",
    "D{xx0232}",
    "Am7{x02010}",
    "Em",
    "F{133211}",
    "G/B{x20033}",
    "Dsus4{xx0233}",
]


def line(text: str, gap_s: float = 0.25) -> tuple[Placed, ...]:
    """`6+2 . 4 3` at equal distances."""
    places = [() if word == "." else tuple(map(int, word.split("+"))) for word in text.split()]
    return tuple(Placed(index * gap_s, strings) for index, strings in enumerate(places))


def cost_of(chosen: tuple[tuple[str, ...], ...], of: tuple[Placed, ...], scale: _Scale) -> float:
    """The cost of one fingering, each place after all that is still remembered."""
    last: dict[str, tuple[str, int, float]] = {}
    total = 0.0
    for place, fingers in zip(of, chosen, strict=True):
        strings = tuple(sorted(place.strings, reverse=True))
        recent = [each for each in last.values() if each[2] > place.at_s - scale.memory_s]
        total += scale._own(fingers, strings)
        total += sum(scale.coming(each, fingers, strings, place.at_s) for each in recent)
        last.update({f: (f, s, place.at_s) for f, s in zip(fingers, strings, strict=True)})
    return total


places = st.lists(st.integers(1, 6), max_size=2, unique=True).map(tuple)


@settings(max_examples=60)
@given(
    st.lists(places, min_size=1, max_size=5),
    st.sampled_from([0.1, 0.2, 0.4]),
    st.sampled_from(["pim", "pima"]),
)
def test_random_lines_get_the_cheapest_fingering(strings, gap_s: float, names: str) -> None:
    """Every way of fingering is tried; none is cheaper. Fingers never collide and never cross in a pinch."""
    of = tuple(Placed(i * gap_s, s) for i, s in enumerate(strings))
    hand = hand_on(GUITAR, names)
    scale = _Scale(hand, GROWING)
    every = product(*(list(combinations(hand.fingers, len(set(place.strings)))) for place in of))
    least = min(cost_of(chosen, of, scale) for chosen in every)
    found = fingers_for(of, hand, GROWING)
    assert found.cost == pytest.approx(least)
    for place, fingers in zip(of, found.fingers, strict=True):
        pairs = sorted(zip(place.strings, fingers, strict=True), reverse=True)
        assert len(set(fingers)) == len(fingers) and [f for _, f in pairs] == sorted(
            fingers, key=FINGERS.index
        )


@pytest.mark.parametrize(
    ("names", "said", "wanted"),
    [
        ("pima", "6 3 4 2 3", "p i p m i"),
        ("pima", "6+2 . 4 3 6 2 4 3", "p+m . p i p m p i"),
        ("pima", "5 3 2 3 1 3 2 3", "p i m i a i m i"),
        ("pim", "5 3 2 3 1 3 2 3", "p i m i m i m i"),
        ("pima", "6 3+2+1 4 3+2+1", "p i+m+a p i+m+a"),
        ("pi", "4 2 5 2", "p i p i"),
        ("pimac", "6+4+3+2+1 . 6", "p+i+m+a+c . p"),
    ],
)
def test_lines_that_players_know(names: str, said: str, wanted: str) -> None:
    """Thumb on the bass side, each finger at home, two fingers by turns."""
    found = fingers_for(line(said), hand_on(GUITAR, names), GROWING).fingers
    assert " ".join("+".join(sorted(f, key=FINGERS.index)) or "." for f in found) == wanted


def test_one_string_is_plucked_by_turns_at_speed() -> None:
    """No finger twice in a row when it is fast; one finger is enough when it is slow."""
    fast = fingers_for(line("2 2 2 2 2 2", 0.15), hand_on(GUITAR, "pim"), GROWING).fingers
    assert all(a != b for a, b in pairwise(fast))
    slow = fingers_for(line("2 2 2 2", 1.0), hand_on(GUITAR, "pim"), GROWING).fingers
    assert set(slow) == {("m",)}


def test_a_ukulele_hand_and_a_hand_too_small() -> None:
    """Four strings: thumb 4 and 3, index 2, middle 1. Of four strings at once two fingers keep the outer ones."""
    assert fingers_for(line("4 2 3 1"), hand_on(UKULELE, "pim"), GROWING).fingers == (
        ("p",),
        ("i",),
        ("p",),
        ("m",),
    )
    small = fingers_for(line("6+3+2+1"), hand_on(GUITAR, "pi"), GROWING)
    assert small.fingers == (("p", None, None, "i"),) and small.impossible == (0,)


@pytest.mark.parametrize("chord", CHORDS)
def test_fit_then_read_back_gives_the_pattern(chord: str) -> None:
    """Every library pattern is what its events say; and read from its strings alone it plucks the same strings."""
    for name, pattern in builtin():
        result = fit(make_piece(f"| {chord} | {chord} |", print_pattern(pattern)))
        on = result.spans[0].assignment
        back = [[] for _ in pattern.slots]
        first = [bar for bar in result.bars if (bar.number - 1) * pattern.meter.bar < pattern.length]
        for event in (e for bar in first for e in bar.events if e.kind == "pluck"):
            back[event.slot].append(event.finger)
        swept = {i for i, slot in enumerate(pattern.slots) if any(not isinstance(s, Pluck) for s in slot)}
        for index, slot in enumerate(pattern.slots):
            if index not in swept and pattern.length <= pattern.meter.bar:
                assert back[index] == [s.finger for s in slot], (name, chord, index)
        strings = strings_played(pattern, on, GUITAR)
        if any(len(set(s)) < len(s) for s in strings) or swept:
            continue
        bare = Pattern(
            pattern.meter, pattern.per_beat, tuple(tuple(StringStroke(s) for s in slot) for slot in strings)
        )
        read = read_strings(bare, on, GUITAR)
        assert [sorted(s) for s in strings_played(read, on, GUITAR)] == [sorted(s) for s in strings], (
            name,
            chord,
        )


def on_g():
    """The strings of thumb and fingers on an open G."""
    return fit(make_piece("| G{320003} |", HEARTH)).spans[0].assignment


def test_fewer_fingers_play_the_same_strings_or_say_what_they_leave_out() -> None:
    """What stays possible is kept as it was written; a pinch of three needs three fingers."""
    kept = refinger(parse_pattern(HEARTH), on_g(), GUITAR, "pima")
    assert (kept.pattern, kept.impossible) == (parse_pattern(HEARTH), ())
    pattern = parse_pattern("4/4 x2: p i m+a i ; p i m+a i")
    two = refinger(pattern, on_g(), GUITAR, "pi")
    assert two.impossible == () and print_pattern(two.pattern).count("+") == 2
    big = refinger(parse_pattern("4/4 x1: p i+m+a p i+m+a"), on_g(), GUITAR, "pi")
    assert big.impossible == ((1, 2), (3, 2))
    fingers = {s.finger for _, s in big.pattern.strokes() if isinstance(s, Pluck)}
    assert fingers == {"p", "i"}


def test_strings_on_one_chord_carry_to_the_others() -> None:
    """`5 3 2 1` said on C is bass, index, middle, ring: on G the bass moves to 6."""
    result = fit(make_piece("| C{x32010} | G{320003} |", "4/4 x1: 5 3 2 1"))
    assert print_pattern(result.pattern) == "4/4 x1: p1 i m a"
    assert [event.string for event in result.bars[1].events] == [6, 3, 2, 1]
    beside = fit(make_piece("| C{x32010} |", "4/4 x2: 5 3 2 3 5 4 2 3"))
    assert print_pattern(beside.pattern) == "4/4 x2: p1 i m i p1 p2 m i"


def test_a_line_by_itself() -> None:
    """Fingers, limit and what is left out; closer strokes lower the limit; a pick goes down and up."""
    eighths = finger_line(parse_pattern("4/4 x2: 6 3 4 2 6 3 4 2"), GUITAR, "pima", 80, "growing")
    sixteenths = finger_line(parse_pattern("4/4 x4: 6 3 4 2 6 3 4 2"), GUITAR, "pima", 80, "growing")
    assert sixteenths.limit.tempo < eighths.limit.tempo
    picked = finger_line(parse_pattern("4/4 x2: 6 3 4+1 2"), GUITAR, "pick", 80, "growing")
    events = [e for bar in picked.bars for e in bar.events]
    assert [e.finger for e in events] == ["down", "up", "down", None, "up"]
    assert picked.impossible == ((2, 1),) and picked.limit.spots[0].code == "pick-jump"
    assert events[1].at == Fraction(1, 8)
    with pytest.raises(PatternError, match="line-no-string"):
        finger_line(parse_pattern("4/4 x1: 4 5"), UKULELE, "pim", 80, "growing")
    with pytest.raises(PatternError, match="line-strings"):
        finger_line(parse_pattern("4/4 x1: p 2"), GUITAR, "pim", 80, "growing")


@given(st.lists(st.sampled_from(["p", "i", "m", ".", "p+m", "a"]), min_size=4, max_size=8))
def test_limits_fall_when_strokes_get_closer(tokens: list[str]) -> None:
    """The same strokes on twice as many places a beat are never faster for a hand."""
    if set(tokens) == {"."}:
        tokens[0] = "p"
    said = " ".join([*tokens, *["."] * (-len(tokens) % 8)])
    wide = fit(make_piece("| G | C |", f"4/4 x2: {said}"))
    close = fit(make_piece("| G | C |", f"4/4 x4: {said}"))
    assert hand_limit(close, "growing").tempo <= hand_limit(wide, "growing").tempo
