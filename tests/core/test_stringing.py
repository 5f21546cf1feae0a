"""What re-entrant strings mean for a chord: no bass by habit, the lowest string, one pitch pinched twice.

Ukulele strings 4 3 2 1 are G4 C4 E4 A4 (MIDI 67 60 64 69); the shapes stand in brackets.
"""

from __future__ import annotations

import pytest

from gingham.core.bench.stringings import stringings
from gingham.core.fitting.fit import fit
from gingham.core.instruments.instrument import CATALOGUE
from gingham.core.judging.stringing import lowest_string, unisons
from gingham.words.panel import chord_lines
from gingham.words.tuning import strung_text
from tests.conftest import make_piece

PINCH = "3/4 x2: p1+a i m i m i"


@pytest.mark.parametrize(
    ("instrument", "chord", "lowest", "twice"),
    [
        ("ukulele", "Am{2000}", 3, [(4, 1)]),  # A4 (67+2) and A4 (69)
        ("ukulele", "F{2010}", 3, [(4, 1)]),
        ("ukulele", "C{0003}", 3, []),  # G4 and C5
        ("ukulele", "C{5433}", 3, [(4, 1)]),  # C5 (67+5) and C5 (69+3)
        ("ukulele", "C{0783}", 4, []),  # G4, G4 (60+7), C5 (64+8), C5: of two equal ones the thumb's
        ("ukulele-low", "Am{2000}", 4, []),  # A3 and A4
        ("ukulele-baritone", "Dm{0231}", 4, []),
    ],
)
def test_which_string_is_lowest_and_what_is_pinched_twice(instrument, chord, lowest, twice) -> None:
    """By the pitches of the shape, not by the number of the string."""
    result = fit(make_piece(f"| {chord} |", PINCH, instrument=CATALOGUE[instrument]), 0)
    assert lowest_string(result, 0) == lowest
    assert [each.strings for each in unisons(result, 0)] == twice


@pytest.mark.parametrize(
    ("instrument", "said", "unsaid"),
    [
        (
            "ukulele",
            ["First thumb string: string 4 fret 2, A, the root.", "Lowest here: string 3 open, C, the minor third.",
             "Thumb and ring sound the same A on strings 4 and 1 (bar 1 at 1, 2 times)."],
            "First bass",
        ),
        ("ukulele-low", ["First bass: string 4 fret 2, A, the root."], "Lowest here"),
    ],
)  # fmt: skip
def test_the_panel_calls_no_string_a_bass_by_habit(instrument, said, unsaid) -> None:
    """Re-entrant: thumb strings, the lowest one named; with a low fourth string basses as on a guitar."""
    result = fit(make_piece("| Am{2000} | % |", PINCH, instrument=CATALOGUE[instrument]), 0)
    texts = [line.text for line in chord_lines(result, 0)]
    assert all(text in texts for text in said)
    assert not any(text.startswith(unsaid) for text in texts)


@pytest.mark.parametrize(
    ("chord", "texts"),
    [
        # string 4 at fret 2: A4, A3, E3; string 1 open: A4, A4, E4; strings 3 and 2 open: C4 E4, C4 E4, G3 B3
        ("Am{2000}", ["Am: A4 A4 C4 E4 C4 E4 C4; string 3 is the lowest.",
                      "Am: A3 A4 C4 E4 C4 E4 C4; string 4 is the lowest.",
                      "Em: E3 E4 G3 B3 G3 B3 G3; string 4 is the lowest."]),
        ("C{0003}", ["C: G4 C5 C4 E4 C4 E4 C4; string 3 is the lowest.",
                     "C: G3 C5 C4 E4 C4 E4 C4; string 4 is the lowest.",
                     "G: D3 G4 G3 B3 G3 B3 G3; string 4 is the lowest."]),
    ],
)  # fmt: skip
def test_the_same_hand_on_the_three_stringings(chord: str, texts: list[str]) -> None:
    """Re-entrant, low fourth, baritone: the contour changes, and on the baritone the name."""
    piece = make_piece(f"| {chord} |", PINCH, instrument=CATALOGUE["ukulele"])
    assert [strung_text(each) for each in stringings(piece, 0, 0)] == texts
    assert stringings(make_piece("| G |"), 0, 0) == ()


def test_a_problem_belongs_to_its_own_chord() -> None:
    """Two A minors in one bar, the second without its string 4: the fault stands on that one alone."""
    result = fit(make_piece("| Am{2000} C Am{x000} |", PINCH, instrument=CATALOGUE["ukulele"]), 0)
    faults = [[line.text for line in chord_lines(result, i) if line.kind == "fault"] for i in range(3)]
    assert faults[0] == faults[1] == []
    assert faults[2]
