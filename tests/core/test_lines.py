"""Pattern shorthand and chord line: parse ∘ print is the identity, faults are marked in place."""

from __future__ import annotations

from fractions import Fraction
from itertools import accumulate

import pytest
from hypothesis import given
from hypothesis import strategies as st

from gingham.core.errors import ChordLineError, MeterError, PatternError
from gingham.core.music.meter import count_at, meter, parse_meter, slot_lengths
from gingham.core.patterns.library import builtin
from gingham.core.patterns.pattern import Ornament, Pattern, Pluck, StringStroke, Sweep, Variant
from gingham.core.patterns.shorthand import parse_pattern, print_pattern
from gingham.core.pieces.chordline import (
    ChordLine,
    ChordPlace,
    Pickup,
    parse_chord_line,
    print_chord_line,
    spans,
    written_out,
)
from gingham.core.shapes.shape import Shape

accents = st.integers(0, 2)
frets = st.none() | st.integers(0, 24)
ornaments = st.none() | st.builds(Ornament, st.sampled_from(["hammer", "pull"]), frets)
ornaments |= st.builds(Ornament, st.just("slide"), st.integers(0, 24))
fixed = st.lists(st.integers(1, 10), max_size=3).map(tuple)


@st.composite
def plucks(draw) -> Pluck:
    """Any pluck that the grammar can write: a shift or fixed strings, lanes for the thumb only."""
    finger = draw(st.sampled_from("pimac"))
    strings = draw(fixed)
    shift = 0 if strings else draw(st.integers(-2, 2))
    lane = draw(st.none() | st.integers(1, 9)) if finger == "p" else None
    return Pluck(finger, lane, shift, strings, draw(frets), draw(ornaments), draw(accents))


sweeps = st.builds(
    Sweep,
    st.sampled_from(["brush-down", "brush-up", "thumb-brush", "chuck"]),
    st.none() | st.tuples(st.integers(1, 10), st.integers(1, 10)),
    accents,
)
strokes = plucks() | sweeps | st.builds(StringStroke, st.integers(1, 10), frets, accents)
slots = st.lists(strokes, max_size=3).map(tuple)


@st.composite
def patterns(draw) -> Pattern:
    """Any pattern: meter, one slot count or one a beat, breaks inside, variants of the same length."""
    of = draw(
        st.sampled_from([meter(4, 4), meter(3, 4), meter(6, 8), meter(7, 8), meter(2, 2), meter(12, 8)])
    )
    counts = st.sampled_from([1, 2, 3, 4, 6])
    beats = len(of.groups)
    per_beat = draw(st.tuples(counts) | st.lists(counts, min_size=beats, max_size=beats).map(tuple))
    size = draw(st.integers(1, 14))
    body = st.lists(slots, min_size=size, max_size=size).map(tuple)
    breaks = tuple(sorted(draw(st.sets(st.integers(1, size - 1), max_size=2)))) if size > 1 else ()
    variants = draw(st.lists(st.builds(Variant, st.sampled_from(["6", "D", "F#m"]), body), max_size=2))
    return Pattern(of, per_beat, draw(body), breaks, tuple(variants))


@given(patterns())
def test_every_pattern_reads_back_from_its_print(pattern: Pattern) -> None:
    """parse ∘ print is the identity on values."""
    assert parse_pattern(print_pattern(pattern)) == pattern


symbols = st.sampled_from(["G", "Am7", "D/F#", "Bb", "F#m7b5", "E7#9", "C6/9"])
shapes = st.none() | st.lists(st.none() | st.integers(0, 14), min_size=4, max_size=6).filter(any).map(
    lambda f: Shape(tuple(f))
)
places = st.builds(ChordPlace, symbols, shapes, st.booleans())
rests = st.sampled_from([ChordPlace("/"), ChordPlace("N.C.")])


@st.composite
def chord_lines(draw) -> ChordLine:
    """Any chord line in 4/4, with and without a pick-up."""
    bars = []
    for index in range(draw(st.integers(1, 6))):
        if index and draw(st.booleans()):
            bars.append((ChordPlace("%"),))
            continue
        size = draw(st.sampled_from([1, 2, 4, 8]))
        bars.append((draw(places), *(draw(places | rests) for _ in range(size - 1))))
    pickup = draw(
        st.none() | st.builds(Pickup, st.sampled_from([Fraction(1, 4), Fraction(3, 8)]), st.tuples(places))
    )
    return ChordLine(tuple(bars), pickup)


@given(chord_lines())
def test_every_chord_line_reads_back_and_its_spans_tile_it(line: ChordLine) -> None:
    """parse ∘ print is the identity; spans fill the bars without gap or overlap."""
    of = meter(4, 4)
    assert parse_chord_line(print_chord_line(line), of) == line
    pickup = line.pickup.length if line.pickup else Fraction(0)
    time = -pickup
    for span in spans(line, of):
        at = (span.bar - 1) * of.bar + span.at if span.bar else span.at - pickup
        assert at == time
        time += span.length
    assert time == len(line.bars) * of.bar


@pytest.mark.parametrize(
    ("text", "wrong"),
    [
        ("p i m", "p i m"), ("4/4 x5: p", "5"), ("4/4 x2: p q i", "q"), ("4/4 x2: ; p", ";"), ("4/4 x2: p ;", ";"),
        ("4/4 x2: p | i", "|"), ("7/7 x2: p", "7/7"), ("4/4 x2: p m@99", "m@99"), ("4/4 x2,3: p i", "2,3"),
        ("4/4 x2: p i!!! m", "i!!!"), ("4/4 x2: p i\nwhen 6: p", "when 6: p"),
        ("4/4 x2: p i\nwhen 6: p ; i", ";"), ("4/4 x2: p i when D: p q", "q"),
    ],
)  # fmt: skip
def test_the_wrong_token_of_a_pattern_is_marked(text: str, wrong: str) -> None:
    """The error's place is the token, nothing more."""
    with pytest.raises(PatternError) as caught:
        parse_pattern(text)
    assert text[caught.value.start : caught.value.end] == wrong


def test_versions_may_stand_behind_the_pattern() -> None:
    """As on lines of their own, which is how they are printed."""
    text = "4/4 x1: p i m a\nwhen 6: p . . .\nwhen D: p m . .\npick down up down up\nread on G"
    assert parse_pattern(text.replace("\n", " ")) == parse_pattern(text)
    assert print_pattern(parse_pattern(text.replace("\n", " "))) == text


@pytest.mark.parametrize(
    ("text", "wrong"),
    [
        ("| G || C |", "||"), ("| / G |", "/"), ("| % |", "%"), ("| G C D |", "G C D"), ("| G Hx |", "Hx"),
        ("| G{x3q} |", "x3q"), ("| G | % C |", "%"), ("(x D) | G |", "x"), ("(4/4 D) | G |", "4/4"), ("| G{ |", "G{"),
        ("(1/4 D) | % |", "%"),
    ],
)  # fmt: skip
def test_the_wrong_place_of_a_chord_line_is_marked(text: str, wrong: str) -> None:
    """The error's place is the place or the bar."""
    with pytest.raises(ChordLineError) as caught:
        parse_chord_line(text, meter(4, 4))
    assert text[caught.value.start : caught.value.end] == wrong


@given(st.text(alphabet="|GCDmx/% {}0123()~.4:;pi+", max_size=40))
def test_any_text_is_read_or_refused_with_a_place_inside_it(text: str) -> None:
    """No other error ever comes out of the two parsers."""
    for parse in (lambda: parse_chord_line(text, meter(4, 4)), lambda: parse_pattern(text)):
        try:
            parse()
        except (ChordLineError, PatternError) as error:
            assert 0 <= error.start <= (error.end if error.end is not None else len(text)) <= len(text)


@pytest.mark.parametrize(
    ("text", "per_beat", "counts"),
    [
        ("4/4", (2,), "1 1& 2 2& 3 3& 4 4&"),
        ("2/4", (4,), "1 1e 1& 1a 2 2e 2& 2a"),
        ("3/4", (3,), "1 1la 1li 2 2la 2li 3 3la 3li"),
        ("6/8", (3,), "1 2 3 4 5 6"),
        ("7/8", (2, 2, 3), "1 2 3 4 5 6 7"),
        ("2/4", (1, 2), "1 2 2&"),
    ],
)
def test_counts(text: str, per_beat: tuple[int, ...], counts: str) -> None:
    """The syllables that players say, for n/4 and n/8."""
    of = parse_meter(text)
    starts = accumulate(slot_lengths(of, per_beat)[:-1], initial=Fraction(0))
    assert " ".join(count_at(of, at) for at in starts) == counts


def test_meters_group_and_refuse() -> None:
    """Threes in n/8, 3+2 and 2+2+3 where they do not fit; the tempo counts the dotted quarter."""
    assert meter(6, 8).groups == (3, 3)
    assert meter(5, 8).groups == (3, 2)
    assert meter(7, 8).groups == (2, 2, 3)
    assert meter(12, 8).tempo_beat == Fraction(3, 8)
    for text in ("4/3", "0/4", "44", "99/4"):
        with pytest.raises(MeterError):
            parse_meter(text)


def test_the_built_in_patterns_fill_whole_bars() -> None:
    """A handful in every common meter, each of whole bars, names told apart."""
    names = [name for name, _ in builtin()]
    assert len(names) == len(set(names)) >= 12
    for _, pattern in builtin():
        assert pattern.length % pattern.meter.bar == 0
    assert {str(pattern.meter) for _, pattern in builtin()} >= {"4/4", "3/4", "6/8", "2/4"}


@pytest.mark.parametrize(
    ("line", "bars"),
    [
        ("| G | % | C |", ["G", "G", "C"]),
        ("| G C | / D | % |", ["G C", "C D", "C D"]),
        ("| G | / / Am / |", ["G", "G / Am /"]),
        ("(1/4 D) | / G | % |", ["D G", "D G"]),
    ],
)
def test_any_bar_of_a_line_written_out_can_stand_first(line: str, bars: list[str]) -> None:
    """Repeats, and holds at a bar's start, as what they stand for."""
    read = parse_chord_line(line, meter(4, 4))
    assert [" ".join(map(str, bar)) for bar in written_out(read)] == bars
