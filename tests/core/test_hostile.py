"""Hostile texts and files: numbers in bounds, too much refused, nonsense put right by name, nothing that hangs."""

from __future__ import annotations

import json
from fractions import Fraction

import pytest
from benchmarks.attack import fuzz

from gingham.core.errors import FileError, InputError, NumberError
from gingham.core.finding.find import find
from gingham.core.formats.chart import read_chart
from gingham.core.formats.musicxml_in import part_from_musicxml
from gingham.core.formats.piece_file import piece_from_bytes, piece_to_bytes, read_piece
from gingham.core.formats.tab import HEADING
from gingham.core.formats.tab_in import part_from_tab
from gingham.core.music.chords import parse_chord
from gingham.core.music.meter import meter
from gingham.core.numbers import exact, is_whole, whole
from gingham.core.pieces.chordline import parse_chord_line
from gingham.core.pieces.rules import check_strings, parse_first, parse_thumb
from gingham.core.pieces.tempo import parse_swing
from gingham.words.errors import say
from gingham.words.repairs import repair_text
from tests.conftest import make_piece

FOUR = meter(4, 4)


@pytest.mark.parametrize("text", ["", "²", "٣", "1e9", "9" * 5_000, "1_0", " 1", "0x1", "NaN", "-", "1.5"])
def test_what_is_no_whole_number(text: str) -> None:
    """Other scripts, exponents, blanks and thousands of digits are refused at once, quoted briefly."""
    with pytest.raises(NumberError) as caught:
        whole(text, -10, 10)
    assert len(say(caught.value)) < 80 and not is_whole(text)


@pytest.mark.parametrize(
    ("text", "value"), [("3/8", Fraction(3, 8)), ("0.375", Fraction(3, 8)), ("-2", -2), ("+7", 7)]
)
def test_exact_numbers(text: str, value: Fraction) -> None:
    """Fractions, decimals and whole numbers, without a float in between."""
    assert exact(text, -10, 10) == value
    for bad in ("1/0", "1e3", "1/3/4", "11", "1e-999999999", "٣/8", "1/" + "9" * 60):
        with pytest.raises(NumberError):
            exact(bad, -10, 10)


@pytest.mark.parametrize(
    "read",
    [
        lambda: parse_chord_line("(1e999999999/4 C) | C |", FOUR),
        lambda: parse_swing("1e-999999999"),
        lambda: check_strings(parse_thumb("named:99"), 6),
        lambda: check_strings(parse_first("named:7"), 6),
        lambda: parse_thumb("named:" + "6," * 400 + "6"),
        lambda: parse_chord("C" + "add9" * 5_000),
    ],
)
def test_numbers_in_lines_have_bounds(read) -> None:
    """Wherever a number stands in what is typed."""
    with pytest.raises(InputError) as caught:
        read()
    assert "{" not in say(caught.value)


# Texts that took seconds: were one of them quadratic again, these tests would not come to an end.


def test_a_padded_chart_is_read() -> None:
    """Blanks by the ten thousand behind, between and before the chords."""
    blank = " " * 9_000
    chart = read_chart(f"{blank}G{blank}Am7{blank}\n{blank}lanterns{blank}\n", FOUR)
    assert chart.sections[0].chords == "| G | Am7 |"
    assert read_chart(f"| G | C |{blank}x2{blank}", FOUR).sections[0].times == 2
    words = read_chart("G" + " " * 9 + "C\n" + "For-ty lan-terns on", FOUR).sections[0].words
    assert words == ("| For-ty | lan-terns on |",), "a hyphen is no blank, no word is cut"


def test_blank_tablature_and_wide_tablature_are_refused() -> None:
    """A line of blanks is no string; a line of thousands of columns is refused by a stated limit."""
    for text, code in ((" " * 3_000 + "z---\n", "tab-none"), ("E|" + "-0" * 4_000 + "|\n", "tab-wide")):
        with pytest.raises(FileError, match=code):
            part_from_tab(text * 40, "x")


def test_every_reader_takes_whatever_comes() -> None:
    """A seeded part of the campaign in benchmarks/attack, the oversized files included."""
    out = fuzz.main(40)
    assert out["inputs"] > 200 and out["tracebacks"] == out["without words"] == 0


# Pieces.


def record(**changes: object) -> bytes:
    """The file of a small piece with other fields."""
    return json.dumps({**json.loads(piece_to_bytes(make_piece("| G | C |"))), **changes}).encode()


SECTION = {"name": "Verse", "chords": "| G | C |", "pattern": "Mine"}
LINE = "4/4 x2: p i m i p i m i"
HERE = {"kind": "here", "section": "Verse", "bar": 1, "at": "0", "finger": "p", "string": 6}
REPAIRS: dict[str, tuple[dict[str, object], str]] = {
    "sections of one name": ({"sections": [SECTION, SECTION]}, "the second is now “Verse 2”"),
    "patterns of one name": (
        {"patterns": [{"name": "Mine", "line": LINE}] * 2},
        "the second is now “Mine 2”",
    ),
    "absurd repeats": ({"sections": [{**SECTION, "repeats": 10**9}]}, "1000000000 times; it is now 99"),
    "bar 0": (
        {"sections": [{**SECTION, "bars": [{"bar": 0, "pattern": "Mine"}]}]},
        "one pattern stood twice",
    ),
    "beyond the end": (
        {"sections": [{**SECTION, "bars": [{"bar": 7, "pattern": "Mine"}]}]},
        "beyond its end",
    ),
    "no such string": (
        {"overrides": [{**HERE, "string": 99}]},
        "one exception on strings that are not there",
    ),
    "no such finger": ({"overrides": [{**HERE, "finger": "z"}]}, "fingers or bars that cannot be"),
    "twice": ({"overrides": [HERE, HERE]}, "stood there twice; kept once"),
}


@pytest.mark.parametrize("case", REPAIRS)
def test_nonsense_is_put_right_by_name(case: str) -> None:
    """Never in silence; what comes out is a file without anything to repair (or with a sleeping bar)."""
    changes, said = REPAIRS[case]
    read = read_piece(record(**changes))
    assert said in " ".join(map(repair_text, read.repairs))
    again = read_piece(piece_to_bytes(read.piece))
    assert again.piece == read.piece and [r.code for r in again.repairs] in ([], ["asleep-bars"])


@pytest.mark.parametrize(
    "data",
    [
        b"[" * 100_000,
        b'{"format":"gingham-piece","version":1,"sections":7}',
        b'{"format":"gingham-piece","version":2,"x":' + b"[" * 50_000,
        record(version=1, sections={"name": "x"}),
        record(tempo=10**30),
        record(overrides=[HERE] * 10_001),
        record(sections=[SECTION] * 1_001),
        record(overrides=[{**HERE, "at": "1e999999999"}]),
        record(rules={"thumb": "named:9"}),
    ],
)
def test_pieces_that_cannot_be_are_one_clear_error(data: bytes) -> None:
    """Deep nesting, wrong types, too much of something."""
    with pytest.raises(FileError) as caught:
        piece_from_bytes(data, "quay.gingham")
    assert "quay.gingham" in say(caught.value)


def test_a_chord_at_the_end_of_a_short_measure_is_the_next_one_s() -> None:
    """It used to end the reader's thread; a part by another program may well put it there."""
    note = "<note><pitch><step>E</step><octave>4</octave></pitch><duration>{}</duration></note>"
    chord = "<harmony><root><root-step>{}</root-step></root><kind>major</kind></harmony>"
    time = "<attributes><divisions>1</divisions><time><beats>4</beats><beat-type>4</beat-type></time></attributes>"
    bars = (time + chord.format("G") + note.format(1) + chord.format("C"), note.format(4), note.format(4))
    body = "".join(f"<measure>{bar}</measure>" for bar in bars)
    part = part_from_musicxml(f"<score-partwise><part>{body}</part></score-partwise>".encode())
    found = [[(c.at, c.symbol) for c in bar.chords] for bar in part.bars()]
    assert found == [[(0, "G")], [(0, "C")], []] and find(part).piece.sections


def test_two_sections_of_one_name_in_a_tablature_are_both_read() -> None:
    """The second used to take the place of the first without a word."""
    lines = ["E|----|", "B|----|", "G|-{}--|", "D|----|", "A|----|", "E|----|", ""]
    text = "\n".join(f"{HEADING}Verse\n" + "\n".join(lines).format(fret) for fret in (1, 2))
    part = part_from_tab(text, "x")
    found = [(s.name, [n.fret for b in s.bars for n in b.notes]) for s in part.sections]
    assert found == [("Verse", [1]), ("Verse 2", [2])]
