"""Patterns said in the words of all schools: what is likeliest, what means nothing, what reads back."""

from __future__ import annotations

from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from gingham.core.errors import PatternError
from gingham.core.fitting.fit import fit
from gingham.core.instruments.instrument import CATALOGUE, instrument
from gingham.core.music.meter import meter, parse_meter
from gingham.core.patterns.library import builtin
from gingham.core.patterns.pattern import Ornament, Pattern, Pluck, Sweep, order
from gingham.core.patterns.said import read_said
from gingham.core.patterns.shorthand import print_pattern
from gingham.core.pieces.rules import ThumbPlan
from gingham.core.values import replace
from gingham.words.bench import bench_text, reasons_of
from gingham.words.errors import say
from gingham.words.naming import FINGER_NAMINGS, Naming
from gingham.words.saying import SCRIPTS, script, string_words
from tests.conftest import make_piece

ROWS = [
    line.split("\t")
    for line in (Path(__file__).parent.parent / "data" / "said.tsv").read_text().splitlines()
    if not line.startswith("#")
]
GUITAR = CATALOGUE["guitar"]


@pytest.mark.parametrize(("on", "of", "said", "likeliest"), ROWS)
def test_the_likeliest_reading_comes_first(on: str, of: str, said: str, likeliest: str) -> None:
    if likeliest.startswith("fault "):
        with pytest.raises(PatternError) as caught:
            read_said(said, CATALOGUE[on])
        assert said[caught.value.start : caught.value.end] == likeliest.removeprefix("fault ")
        return
    found = read_said(said, CATALOGUE[on], None if of == "-" else parse_meter(of))
    assert print_pattern(found.ways[0].pattern) == likeliest
    for reading in found.readings:
        assert all(reasons_of(found, reading)) and all(map(bench_text, reading.supposed))
        ways = {(w.pattern.meter, w.pattern.per_beat, w.pattern.slots, w.align) for w in reading.ways}
        assert len(ways) == len(reading.ways)


@pytest.mark.parametrize(
    ("said", "word", "offered"),
    [
        ("pointer elbow", "elbow", "Without it this reads i"),
        ("thumb indx middle", "indx", "Did you mean index"),
        ("T I Q", "Q", "Without it this reads p i"),
        ("6 3 0", "0", "Without it this reads 6 3"),
        ("thumb 7 1", "7", "Without it"),
        ("x", "x", "Say thumb"),
        ("thumb fifth finger", "fifth finger", "no fifth finger"),
        ("index+index thumb", "index+index", "i is left"),
        ("3+3+2 1", "3+3+2", "3+2 is left"),
        ("hammer thumb", "hammer", "needs a pluck before it"),
    ],
)
def test_a_word_that_means_nothing_is_named(said: str, word: str, offered: str) -> None:
    """The word is marked, and the nearest reading offered."""
    with pytest.raises(PatternError) as caught:
        read_said(said)
    assert said[caught.value.start : caught.value.end] == word
    assert offered in say(caught.value)


def test_nothing_and_too_much_are_refused() -> None:
    for said in ("", " , ", ". .", "...", "thumb " * 500):
        with pytest.raises(PatternError):
            read_said(said)


@pytest.mark.parametrize(
    ("said", "codes"),
    [
        ("pinch thumb", ["spoken-pinch"]),
        ("thumb index", []),
        ("T 1 T 2", ["spoken-numbers-fingers"]),
        ("6 3 4 2", []),
        ("thumb, index, middle and ring", ["spoken-list"]),
        ("thumb - index - thumb - middle", ["spoken-dashes"]),
        ("thumb double", ["spoken-double"]),
        ("thumb pick thumb pick", ["spoken-pick"]),
        ("pick thumb, pick index", []),
        ("E A D", ["spoken-letter"]),
        ("1 & 2 &", ["spoken-count-alone"]),
    ],
)
def test_what_was_supposed_is_said(said: str, codes: list[str]) -> None:
    assert [reason.code for reason in read_said(said).supposed] == codes


def test_other_readings_are_listed() -> None:
    """Numbers as strings, dashes as rests, an `and` as a pinch: after the likeliest, with what they suppose."""
    numbers = read_said("T 1 T 2")
    assert "4/4 x2: p 1 p 2 ; p 1 p 2" in [print_pattern(way.pattern) for way in numbers.ways]
    assert reasons_of(numbers, numbers.readings[1])[0].startswith("Numbers are taken as strings. ")
    pinched = read_said("thumb, index, middle and ring")
    assert pinched.readings[1].tokens == ("p", "i", "m+a")
    five = [print_pattern(w.pattern) for w in read_said("down down up up up").ways]
    assert "4/4 x4: d d u u u . . ." in five, "five strokes in eight places over half a bar"
    lowered = instrument("guitar", "drop D")
    assert read_said("low D, G, high D, B", lowered).tokens == ("6", "3", "4", "2")


# What is said aloud reads back.

_METERS = st.sampled_from([meter(4, 4), meter(3, 4), meter(6, 8), meter(7, 8), meter(2, 4)])
_PLUCKS = st.builds(
    Pluck,
    st.sampled_from("pimac"),
    accent=st.integers(0, 2),
    ornament=st.sampled_from([None, None, None, Ornament("hammer"), Ornament("pull"), Ornament("slide", 5)]),
)
_THUMBS = st.builds(Pluck, st.just("p"), st.sampled_from([1, 2, 3]), accent=st.integers(0, 1))
_SWEEPS = st.builds(
    Sweep,
    st.sampled_from(["brush-down", "brush-up", "thumb-brush", "chuck"]),
    st.sampled_from([None, None, (4, 2)]),
    st.integers(0, 1),
)
_ALONE = (_PLUCKS | _THUMBS | _SWEEPS).map(lambda stroke: (stroke,))
_PINCHES = st.lists(_PLUCKS, min_size=2, max_size=4, unique_by=lambda pluck: pluck.finger).map(
    lambda plucks: order(tuple(plucks))
)


@st.composite
def patterns(draw) -> Pattern:
    """One or two bars of plucks, pinches, brushes, chucks and rests on any grid."""
    of = draw(_METERS)
    per_beat = draw(st.sampled_from([1, 2, 3, 4, 6]))
    size = per_beat * len(of.groups) * draw(st.sampled_from([1, 1, 2]))
    slots = draw(st.lists(st.just(()) | _ALONE | _PINCHES, min_size=size, max_size=size))
    slots[0] = slots[0] or (Pluck("p"),)
    return Pattern(of, (per_beat,), tuple(slots))


@given(patterns(), st.sampled_from(sorted(FINGER_NAMINGS)), st.sampled_from(["fingers", "short", "pairs"]))
def test_what_is_said_aloud_reads_back(pattern: Pattern, naming: str, kind: str) -> None:
    """Finger words, letters and numbers, pairs: the same pattern, for every school."""
    said = script(kind, pattern, None, GUITAR, Naming(fingers=naming))
    read = read_said(said, GUITAR, pattern.meter).ways[0].pattern
    assert replace(read, breaks=()) == pattern, said


@pytest.mark.parametrize("name", [name for name, _ in builtin()])
def test_every_built_in_pattern_reads_back_in_words(name: str) -> None:
    """Without meter or grid where the words say enough; the count gives the rhythm."""
    pattern = dict(builtin())[name]
    for kind in ("fingers", "short", "pairs"):
        for on in ("guitar", "ukulele"):
            said = script(kind, pattern, None, CATALOGUE[on])
            read = read_said(said, CATALOGUE[on], pattern.meter).ways[0].pattern
            assert replace(read, breaks=()) == replace(pattern, breaks=(), variants=()), said
    for counts in ("la-li", "trip-let"):
        said = script("count", pattern, None, GUITAR, Naming(counts=counts))
        read = read_said(said, GUITAR, pattern.meter).ways[0].pattern
        assert [bool(slot) for slot in read.slots] == [bool(slot) for slot in pattern.slots], said


@pytest.mark.parametrize("chord", ["G{320003}", "C{x32010}", "D{xx0232}", "F{133211}"])
def test_string_numbers_said_on_a_chord_sound_the_same_strings(chord: str) -> None:
    """Said on a chord and read on it again, the strings are the same ones."""
    for name, pattern in builtin():
        if pattern.meter != meter(4, 4) or any(isinstance(s, Sweep) for _, s in pattern.strokes()):
            continue
        before = fit(make_piece(f"| {chord} |", print_pattern(pattern)))
        on = before.spans[0].assignment
        head = f"{pattern.meter} x{','.join(map(str, pattern.per_beat))}:"
        read = read_said(f"{head} {string_words(before.pattern, on, GUITAR)}", GUITAR).ways[0].pattern
        after = fit(make_piece(f"| {chord} |", print_pattern(read)))
        strings = [[(e.at, e.string) for bar in r.bars for e in bar.events] for r in (before, after)]
        assert sorted(strings[0]) == sorted(strings[1]), name


def test_numbers_are_remembered_with_their_strings() -> None:
    """`4 3 2 1 2 3` on D stays that, whichever thumb plan is chosen afterwards."""
    read = replace(read_said("6/8 x3: 4 3 2 1 2 3").ways[0].pattern, read_on="D")
    piece = make_piece("| G{320003} | D{xx0232} |", print_pattern(read))
    assert piece.pattern(piece.sections[0].pattern).read_on == "D"
    for plan in ("pair", "root", "string-4", "rise", "tour", "root-fifth"):
        rules = replace(piece.rules, thumb=ThumbPlan(plan))
        bar = fit(replace(piece, rules=rules)).bars[1]
        assert [event.string for event in bar.events] == [4, 3, 2, 1, 2, 3], plan


def test_every_script_has_a_name() -> None:
    pattern = dict(builtin())["Hearth"]
    said = {kind: script(kind, pattern, None, GUITAR) for kind in SCRIPTS}
    assert said["pairs"] == "pinch — inside outside inside" and said["short"] == "p+m — p i p m p i"
