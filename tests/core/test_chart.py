"""Plain-text chord charts: what is read, and what is said to be a guess."""

from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from gingham.core.errors import FileError, GinghamError
from gingham.core.formats.chart import read_chart
from gingham.core.music.meter import meter
from gingham.core.patterns.library import for_meter
from gingham.core.pieces.chordline import ChordLine, parse_chord_line
from gingham.core.pieces.from_chart import piece_from, with_chart
from gingham.core.pieces.piece import NamedPattern, Piece, Section
from gingham.words.importing import guess_text, known_guess_codes
from tests.conftest import make_piece

FOUR = meter(4, 4)
CHART = """Forty Lanterns
Capo 2

[Verse x2]
G            Am7
Forty lanterns along the quay,
C            G
forty lanterns for you and me,

Refrain:
| C | D/F# | G / / Em | C D G |  x3
Hang them high

[Bridge]
N.C.  C/E  %
"""


def test_sections_chords_words_and_times() -> None:
    """Headings in brackets or with a colon; bars between lines, or chord names above words."""
    chart = read_chart(CHART, FOUR)
    assert (chart.title, chart.capo) == ("Forty Lanterns", 2)
    verse, refrain, bridge = chart.sections
    assert (verse.name, verse.times, verse.chords) == ("Verse", 2, "| G | Am7 | C | G |")
    assert verse.words == ("| Forty | lanterns along the quay, |", "| forty | lanterns for you and me, |")
    assert (refrain.name, refrain.times, refrain.chords) == (
        "Refrain",
        3,
        "| C | D/F# | G / / Em | C / D G |",
    )
    assert bridge.chords == "| N.C. | C/E | % |"
    assert {g.code for g in chart.guesses} == {"chart-bar-each", "chart-places"}


LINES = [  # the line, the chord line that is read in 4/4
    ("G C D G", "| G | C | D | G |"),
    ("| G | C D |", "| G | C D |"),
    ("|: G | C :|", "| G | C |"),
    ("G | C | D", "| G | C | D |"),
    ("|| G / C / || D ||", "| G / C / | D |"),
    ("| G | - | % |", "| G | / | % |"),
    ("| NC | G |", "| N.C. | G |"),
    ("| G C D |", "| G / C D |"),
    ("| G C D Em F |", "| G / / / C D Em F |"),
    ("| G xyz |", "| G |"),
    ("Intro: | G | C |", "| G | C |"),
    ("| % | G |", "| N.C. | G |"),
    ("| G , C |", "| G C |"),
    ("G7#9 F#m7b5 Bbmaj7", "| G7#9 | F#m7b5 | Bbmaj7 |"),
]


@pytest.mark.parametrize(("line", "read"), LINES, ids=[line for line, _ in LINES])
def test_lines_are_read_as_bars(line: str, read: str) -> None:
    """Repeat signs, held places, silence, what does not share the beats."""
    section = read_chart(line, FOUR).sections[0]
    assert section.chords == read
    assert parse_chord_line(section.chords, FOUR).bars


@pytest.mark.parametrize(
    ("line", "times"),
    [("| G | x2", 2), ("| G | (x3)", 3), ("| G | 4x", 4), ("[Verse] ×2\n| G |", 1), ("[Verse ×5]\nG", 5)],
)
def test_how_often_is_read_where_it_stands(line: str, times: int) -> None:
    """Behind the bars, or in the heading."""
    assert read_chart(line, FOUR).sections[0].times == times


def test_words_are_never_cut() -> None:
    """A chord in the middle of a word takes the whole word to its bar."""
    text = "G      C\nForty lanterns"
    assert read_chart(text, FOUR).sections[0].words == ("| Forty | lanterns |",)
    between = "G   C\nHang a lantern"
    assert read_chart(between, FOUR).sections[0].words == ("| Hang | a lantern |",)
    late = "   G        C\nOn forty lanterns"
    assert read_chart(late, FOUR).sections[0].words == ("| On forty | lanterns |",)


def test_what_has_no_chords_is_no_chart() -> None:
    """And far too much of it is not read at all."""
    for text, code in (
        ("just words\nand more", "chart-none"),
        ("", "chart-none"),
        ("G " * 300_000, "chart-long"),
    ):
        with pytest.raises(FileError) as caught:
            read_chart(text, FOUR)
        assert caught.value.code == code


def test_every_guess_has_words() -> None:
    """The player is told each of them."""
    chart = read_chart("G C\n| A B C |\n| G what |", FOUR)
    assert len(chart.guesses) == 4
    assert all(guess_text(guess) for guess in chart.guesses)
    assert {g.code for g in chart.guesses} <= known_guess_codes()


@settings(max_examples=200)
@given(st.text(alphabet="ABCDEFGm7#b/|%x2 \n[]:().-NC", max_size=120))
def test_any_text_is_a_chart_that_can_be_played_or_a_fault(text: str) -> None:
    """Every chord line that comes out can be read again."""
    try:
        chart = read_chart(text, FOUR)
    except FileError as error:
        assert error.code == "chart-none"
        return
    for section in chart.sections:
        assert parse_chord_line(section.chords, FOUR).bars
        assert 1 <= section.times <= 99
    assert len({s.name for s in chart.sections}) == len(chart.sections)


ROWS = [("Verse", "| G | C |", ("| one | two |",), 2), ("Refrain", "| D |", (), 1)]


def test_a_chart_becomes_a_piece() -> None:
    """Its sections, words and capo on the instrument that is at hand."""
    name, pattern = for_meter(FOUR)[0]
    like = make_piece("| Am |", tempo=66)
    made = piece_from(ROWS, like, "Quay", 2, NamedPattern(name, pattern))
    assert (made.title, made.capo, made.tempo, [s.name for s in made.sections]) == (
        "Quay",
        2,
        66,
        ["Verse", "Refrain"],
    )
    assert made.sections[0].repeats == 2 and made.sections[0].words == ("| one | two |",)
    assert piece_from(ROWS, like, "", 17, NamedPattern(name, pattern)).capo == 0, (
        "the neck is too short for that"
    )


def test_a_chart_joins_a_piece_under_names_that_are_free() -> None:
    """The piece's own sections stay; one that was empty gives way."""
    joined = with_chart(make_piece("| Am |"), ROWS)
    assert [s.name for s in joined.sections] == ["Verse", "Verse 2", "Refrain"]
    base = make_piece("| Am |")
    empty = Piece("", (Section("Verse", ChordLine(()), "Mine"),), base.patterns)
    assert [s.name for s in with_chart(empty, ROWS).sections] == ["Verse", "Refrain"]


@pytest.mark.parametrize("row", [("V", "| H |", (), 1), ("V", "| G |", ("| " + "la " * 40 + "|",), 1)])
def test_what_the_player_has_put_wrong_is_told(row: tuple[str, str, tuple[str, ...], int]) -> None:
    """Nothing is taken then."""
    with pytest.raises(GinghamError):
        with_chart(make_piece("| Am |"), [row])
    with pytest.raises(GinghamError):
        with_chart(make_piece("| Am |"), [])
