"""The short texts of the screen: what is written where there is little room."""

from __future__ import annotations

from fractions import Fraction

import pytest

from gingham.core.fitting.fit import fit
from gingham.core.instruments.instrument import instrument
from gingham.core.music.meter import parse_meter
from gingham.core.patterns.pattern import Pluck, accented, shifted, toggled, with_bass
from gingham.core.patterns.shorthand import parse_pattern, print_pattern, print_slot
from gingham.core.pieces.rules import Rules, parse_thumb
from gingham.core.values import replace
from gingham.words.card import beats_text, thumb_text
from gingham.words.names import short_degree, signs
from gingham.words.naming import USUAL
from gingham.words.piece_text import about_line, about_text, tempo_text
from tests.conftest import make_piece


@pytest.mark.parametrize(
    ("length", "meter", "words"),
    [
        ("1", "4/4", "4 beats"), ("1/2", "4/4", "2 beats"), ("1/4", "4/4", "1 beat"), ("3/8", "4/4", "1½ beats"),
        ("1/8", "4/4", "½ beat"), ("3/4", "6/8", "2 beats"), ("3/8", "6/8", "1 beat"), ("1/8", "6/8", "⅓ beat"),
        ("7/8", "7/8", "1 bar"), ("7/4", "7/8", "2 bars"), ("3/8", "7/8", "3 eighths"), ("1/5", "4/4", "4/5 beats"),
    ],
)  # fmt: skip
def test_how_long_a_chord_lasts(length: str, meter: str, words: str) -> None:
    """In counted beats; where the beats are unequal in bars or eighths."""
    assert beats_text(Fraction(length), parse_meter(meter)) == words


@pytest.mark.parametrize(
    ("plan", "words"),
    [("pair", "thumb 6 then 4"), ("root", "thumb on 6"), ("named:6,4,3", "thumb 6 then 4 then 3")],
)
def test_the_thumb_on_a_card(plan: str, words: str) -> None:
    """Its strings in order, one string once."""
    piece = replace(make_piece("| G |"), rules=Rules(parse_thumb(plan)))
    assert thumb_text(fit(piece).spans[0].assignment) == words


def test_names_and_signs_are_short_and_right() -> None:
    """Degrees beside strings, syllables under columns, flats and sharps drawn as such."""
    assert [short_degree(d) for d in ("1", "b3", "5", "#9", "bb7")] == [
        "root",
        "♭3rd",
        "5th",
        "♯9th",
        "♭♭7th",
    ]
    assert [USUAL.syllable(s, 0) for s in ("1", "2&", "3e", "12")] == ["1", "&", "e", "12"]
    assert [signs(n) for n in ("Bb", "F#m7b5", "E7#9", "Abmaj7/Eb")] == ["B♭", "F♯m7♭5", "E7♯9", "A♭maj7/E♭"]


def test_a_piece_in_one_line() -> None:
    """Under a capo both keys; in threes the tempo in eighths too."""
    assert about_text(make_piece("| G | D | G |", capo=2)).endswith("shapes in G, sounds in A")
    assert tempo_text(make_piece("| G |")) == ""
    assert tempo_text(make_piece("| G |", "6/8 x3: p i m a m i", tempo=54)) == "= 162 eighths"


def test_pattern_edits_by_key() -> None:
    """A finger in and out is nothing; the bass number comes and goes; accents go round; shifts keep to the grammar."""
    pattern = parse_pattern("4/4 x1: p+m i . a")
    assert toggled(toggled(pattern, 2, "c"), 2, "c") == pattern
    assert print_slot(with_bass(pattern, 0, 2).slots[0]) == "p2+m"
    assert with_bass(with_bass(pattern, 0, 2), 0, 2) == pattern
    assert print_pattern(with_bass(pattern, 2, 1)) == "4/4 x1: p+m i p1 a"
    once = accented(pattern, 0)
    assert print_slot(once.slots[0]) == "p!+m!" and accented(accented(once, 0), 0) == pattern
    assert shifted(Pluck("m"), 2, 1) == Pluck("m", shift=-1)
    assert shifted(Pluck("m"), 2, 5) == Pluck("m", strings=(5,))
    assert shifted(Pluck("m", strings=(1,)), 1, 3) == Pluck("m", strings=(3,))


def test_the_line_about_a_piece_begins_with_what_is_looked_for() -> None:
    """Capo and sounding key before the meter; the strings in front where they are not the usual ones, else last."""
    piece = make_piece("| G | Em7 | C | D |", capo=2)
    assert about_line(piece) == "Guitar  ·  capo 2  ·  sounds in A  ·  4/4  ·  shapes in G  ·  E A D G B E"
    low = replace(piece, instrument=instrument("guitar", "D2 A2 D3 G3 B3 E4"), capo=0)
    assert about_line(low) == "Guitar  ·  D A D G B E  ·  in G  ·  4/4"
