"""Patterns, chords and exceptions found in parts: what was generated is read back."""

from __future__ import annotations

from fractions import Fraction

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from gingham.core.errors import FileError
from gingham.core.finding.find import find
from gingham.core.finding.part import part_of
from gingham.core.fitting.performance import perform
from gingham.core.formats.exports import WRITERS
from gingham.core.formats.imports import READERS
from gingham.core.patterns.shorthand import parse_pattern, print_pattern
from gingham.core.pieces.form_edits import set_bar_pattern
from gingham.core.pieces.piece import NamedPattern
from gingham.core.pieces.rules import Rules
from gingham.words.importing import guess_text
from tests.conftest import make_piece
from tests.core.test_exchange import demo, strings_of

F = Fraction
STROKES = st.sampled_from(["p", "i", "m", "a", "p+m", "p+a", "i+m", ".", "p+i", "p1", "m'"])


@st.composite
def lines(draw) -> str:
    """A bar of eighths that begins with the thumb and uses one finger at least."""
    rest = draw(st.lists(STROKES, min_size=7, max_size=7))
    return "4/4 x2: " + " ".join(["p", *rest])


@settings(max_examples=25)
@given(lines())
def test_what_was_generated_is_read_back_note_for_note(line: str) -> None:
    """Whatever pattern is found, it gives every note of the part again, and nothing is left over."""
    piece = make_piece("| G | C | D/F# | Em | Am7 | D | G | C |", line)
    part = part_of(perform(piece))
    found = find(part)
    assert strings_of(part_of(perform(found.piece))) == strings_of(part)
    assert all(each.kept for each in found.exceptions)


PLANTS = [
    ("4/4 x2: p+m . p i p m p i", 5, "4/4 x2: p . i . p . . ."),
    ("4/4 x2: p i m i p i m i", 2, "4/4 x4: p i m a . . . . p . i . m . . ."),
    ("4/4 x3: p i m p i m p i m p i m", 7, "4/4 x1: p+i+m . p ."),
    ("4/4 x2: p+m . p i p m p i", 6, "4/4 x2: p+m . p i p m p i/1@5"),  # one pluck, at a fret of its own
]


@pytest.mark.parametrize(("line", "bar", "fill"), PLANTS)
def test_planted_exceptions_are_found_and_nothing_else(line: str, bar: int, fill: str) -> None:
    """The pattern is the shortest one that repeats; the one odd bar is listed and kept."""
    base = make_piece("| G | C | D | Em | G | C | D | G |", line)
    piece = set_bar_pattern(base, 0, bar, NamedPattern("Fill", parse_pattern(fill)))
    found = find(part_of(perform(piece)))
    assert [(e.bar, e.kept) for e in found.exceptions] == [(bar, "bar")]
    assert strings_of(part_of(perform(found.piece))) == strings_of(part_of(perform(piece)))
    shortest = found.piece.pattern(found.piece.sections[0].pattern)
    assert shortest.length <= base.patterns[0].pattern.length


@pytest.mark.parametrize("line", ["4/4 x2: p i m a m i", "4/4 x2: p i m", "4/4 x2: p i m p i m a"])
def test_a_figure_that_rolls_over_the_bar_line_is_found(line: str) -> None:
    """Six, three or seven eighths against eight: the figure itself, no exceptions."""
    rules = Rules(align="run")
    piece = make_piece("| G | C | D | Em | G | C | D | G | G | C | D | Em |", line, rules=rules)
    found = find(part_of(perform(piece)))
    assert found.piece.rules.align == "run" and found.exceptions == ()
    assert "rolls on over bar lines" in guess_text(found.guesses[-1])
    assert print_pattern(found.piece.patterns[0].pattern) == line


def test_reading_can_be_stopped() -> None:
    """A player who has seen enough stops it; nothing is left half-done."""
    with pytest.raises(FileError) as caught:
        find(part_of(perform(demo("forty-lanterns"))), lambda _share: False)
    assert caught.value.code == "reading-stopped"


def test_every_reader_and_writer_has_its_suffix() -> None:
    """What can be read can be written by Gingham itself, or is another name for it."""
    assert {".musicxml", ".mid", ".txt", ".csv", ".wav", ".flac"} == set(WRITERS)
    assert set(READERS) - set(WRITERS) == {".xml", ".mxl", ".midi", ".tab"}
