"""The ways in which a figure can sit, and patterns as they are tapped."""

from __future__ import annotations

from fractions import Fraction
from math import lcm

import pytest
from hypothesis import given
from hypothesis import strategies as st

from gingham.core.errors import PatternError
from gingham.core.music.meter import meter
from gingham.core.patterns.figures import counts_of, even_fault, places, plain_figure, usual_grid, ways
from gingham.core.patterns.pattern import FINGERS, Pluck
from gingham.core.patterns.shorthand import parse_pattern, print_pattern, print_slot
from gingham.core.patterns.tapped import Tap, quantised
from gingham.words.bench import bench_text
from gingham.words.saying import count_words

METERS = [
    meter(2, 4),
    meter(3, 4),
    meter(4, 4),
    meter(5, 4),
    meter(5, 8),
    meter(6, 8),
    meter(7, 8),
    meter(12, 8),
]


@given(st.integers(1, 20), st.sampled_from(METERS))
def test_random_figures_sit_without_losing_a_stroke(count: int, of) -> None:
    """Every way plays the figure's strokes in order, fills its length, and comes round when it says."""
    figure = plain_figure(count)
    found = ways(figure, of)
    assert len({(way.pattern, way.align) for way in found}) == len(found)
    for way in found:
        played = [slot for slot in way.pattern.slots if slot]
        assert played == [figure[i % count] for i in range(len(played))], way.reason.code
        assert len(played) >= count
        assert parse_pattern(print_pattern(way.pattern)) == way.pattern
        assert bench_text(way.reason) and len(counts_of(way.pattern)) == len(way.pattern.slots)
        if way.reason.code == "way-roll":
            whole = places(of, usual_grid(of))
            assert way.rounds == lcm(count, whole) // whole
            assert (way.pattern.length * way.rounds * whole / count / of.bar).denominator == 1
        else:
            bars = way.pattern.length / way.pattern.meter.bar
            assert bars.denominator == 1 or (1 / bars).denominator == 1, "it fills bars, or bars it"


def codes(count: int, of) -> dict[str, str]:
    """The ways of a plain figure by code, each with its count (the first of its kind)."""
    out: dict[str, str] = {}
    for way in ways(plain_figure(count), of):
        out.setdefault(way.reason.code, count_words(way.pattern))
    return out


def test_the_ways_that_players_know() -> None:
    """Six and seven strokes in 4/4, three as 3+3+2, seven sixteenths in two beats, five in a meter of its own."""
    six = codes(6, meter(4, 4))
    assert six["way-even-in"] == "1 la li 2 la li"
    assert six["way-rest-end"] == "1 & 2 & 3 & (4) (&)"
    roll = next(way for way in ways(plain_figure(6), meter(4, 4)) if way.reason.code == "way-roll")
    assert (roll.rounds, roll.align) == (3, "run")
    groups = [
        w.reason.value("groups") for w in ways(plain_figure(3), meter(4, 4)) if w.reason.code == "way-cut"
    ]
    assert groups == [(3, 3, 2)]
    seven = [print_pattern(way.pattern) for way in ways(plain_figure(7), meter(4, 4))]
    assert "4/4 x2: p . i m a m i m" in seven and "4/4 x4: p i m a m i m ." in seven
    assert "7/8 x2,2,3: p i m a m i m" in seven
    assert even_fault(7, meter(4, 4)).code == "way-uncountable" and even_fault(6, meter(4, 4)) is None
    assert codes(7, meter(7, 8))["way-even"] == "1 2 3 4 5 6 7"
    for bad in (0, 65):
        with pytest.raises(PatternError, match="figure-strokes"):
            plain_figure(bad)


@st.composite
def tapped(draw):
    """A pattern on a grid, and taps near its places, all of them early or late by the same bit."""
    of = draw(st.sampled_from([meter(4, 4), meter(3, 4), meter(6, 8)]))
    per_beat = 3 if of.unit == 8 else draw(st.sampled_from([2, 3, 4]))
    fingers = st.sampled_from(["", "p", "i", "m", "a", "p"])
    count = places(of, (per_beat,))
    beats = draw(st.lists(fingers, min_size=count, max_size=count))
    beats[0], beats[-1] = "p", "i"
    if per_beat > 1:
        beats[1] = "m"  # something between the beats, so that the grid can be told
    place = float(of.tempo_beat) / per_beat
    late = draw(st.floats(-0.02, 0.02))
    wobble = st.floats(-0.008, 0.008)
    taps = tuple(Tap(i * place + late + draw(wobble), f) for i, f in enumerate(beats) if f)
    return of, per_beat, beats, taps


@given(tapped())
def test_random_taps_near_a_grid_give_its_pattern(case) -> None:
    """Whatever the common lateness, the fingers land on their places, and the guesses are told."""
    of, per_beat, beats, taps = case
    found = quantised(taps, of, 80, per_beat)
    read = [slot[0].finger if slot else "" for slot in found.pattern.slots]
    assert read[: len(beats)] == beats
    assert found.guesses[0].code == "tap-grid" and all(bench_text(g) for g in found.guesses)


def test_the_grid_of_taps_is_found() -> None:
    """Eighths, triplets and sixteenths are told apart; taps together are a pinch; none are a fault."""
    for count, words in ((2, "p . m i"), (3, "p i m p i m"), (4, "p . i m p i m .")):
        played = words.split()
        taps = tuple(Tap(i / (4 * count) + 0.01, f) for i, f in enumerate(played) if f != ".")
        found = quantised(taps, meter(2, 4), 60)
        assert found.pattern.per_beat == (count,), words
    together = quantised((Tap(0.0, "m"), Tap(0.012, "p"), Tap(0.25, "i")), meter(2, 4), 60)
    assert print_slot(together.pattern.slots[0]) == "p+m"
    assert "tap-joined" in [g.code for g in together.guesses]
    assert together.pattern.length == Fraction(1, 2)
    with pytest.raises(PatternError, match="tap-none"):
        quantised((), meter(4, 4), 80)
    far = quantised((Tap(0.0, "p"), Tap(0.19, "i"), Tap(0.25, "p")), meter(2, 4), 60, 1)
    assert [g.code for g in far.guesses].count("tap-moved") == 1
    assert all(isinstance(s, Pluck) and s.finger in FINGERS for slot in far.pattern.slots for s in slot)
