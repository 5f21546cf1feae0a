"""First and last endings, jump marks, and chords by how long they stay."""

from __future__ import annotations

from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from gingham.core.errors import EditError, InputError
from gingham.core.fitting.performance import perform
from gingham.core.music.meter import meter
from gingham.core.pieces.chordline import ChordLine, parse_chord_line, print_chord_line, spans
from gingham.core.pieces.edits import add_section
from gingham.core.pieces.endings import goes_on, with_endings
from gingham.core.pieces.form import Form, parse_turns, print_turns
from gingham.core.pieces.form_edits import add_fill, set_form
from gingham.core.pieces.piece import HereOverride, Piece
from gingham.core.pieces.stays import parse_stays, print_stays, stays_of, with_stays
from gingham.core.values import replace
from gingham.paper.content import SheetOptions, sheet_content
from gingham.words.form import jump_text
from tests.conftest import make_piece


def in_order(order: str, chords: str = "| G | Am | C | D |") -> Piece:
    """Verse and Verse 2 in an order of performance."""
    piece = add_section(make_piece(chords), 0)
    return set_form(piece, Form(parse_turns(order)), practice=False)


@pytest.mark.parametrize(
    ("order", "performed", "practised"),
    [
        ("Verse x2, Verse 2", "V 1 V 2 V2", "V 1 V 2 V2"),
        ("Verse x3", "V 1 V 1 V 2", "V 1 V 2 V2"),
        ("Verse, Verse 2, Verse", "V 1 V2 V 2", "V 1 V 2 V2"),
        ("Verse, Verse 2", "V 1 V 2 V2", "V 1 V 2 V2"),
        ("Verse x2, Verse 2, Verse", "V 1 V 2 V2 V 2", "V 1 V 2 V2"),
    ],
)
def test_the_form_goes_through_both_endings(order: str, performed: str, practised: str) -> None:
    """The last ending the last time in a row; without repeats in a row, the last time in the form."""
    piece = with_endings(in_order(order), 0, 1)
    short = {"Verse": "V", "Verse (first ending)": "1", "Verse (last ending)": "2", "Verse 2": "V2"}
    for practice, wanted in ((False, performed), (True, practised)):
        assert " ".join(short[turn.section] for turn in piece.turns(practice)) == wanted
    assert parse_turns(print_turns(piece.turns(False))) == piece.turns(False), "the order reads back as typed"


def test_what_belongs_to_the_last_bars_goes_with_them() -> None:
    """Chords written out, own patterns, words and single exceptions; nothing sounds otherwise than before."""
    piece = add_fill(make_piece("| G | Am | C / / D | % |"), 0, 4)
    words = ("(and) | one | two | three | four |", "| five | six | sev-en | eight |")
    here = HereOverride("Verse", 4, Fraction(1, 8), "i", None)
    piece = replace(piece, sections=(replace(piece.sections[0], words=words),), overrides=(here,))
    parted = with_endings(piece, 0, 2)
    body, first, last = parted.sections
    assert (
        print_chord_line(body.chords) == "| G | Am |"
        and print_chord_line(first.chords) == "| C / / D | C / / D |"
    )
    assert body.words == ("(and) | one | two |", "| five | six |")
    assert first.words == ("| three | four |", "| sev-en | eight |") == last.words
    assert [own.bar for own in first.bars] == [2] and not body.bars and last.chords == first.chords
    assert [(o.section, o.bar) for o in parted.overrides if isinstance(o, HereOverride)] == [
        (first.name, 2), (last.name, 2),
    ]  # fmt: skip
    once, twice = perform(piece), perform(parted)

    def strings(played: object) -> list[tuple[int, str]]:
        return [
            (event.string, event.count)
            for result in played.results for bar in result.bars for event in bar.events if not event.silent
        ]  # fmt: skip

    assert strings(twice) == 2 * strings(once)


@pytest.mark.parametrize(
    ("words", "body", "ending"),
    [
        (("| a | b |", "| c | d |"), ("| a | b |", "| c |"), ("| d |",)),
        (("a | b | c | d",), ("|a | b | c |",), ("| d|",)),
        (("| a | b | c | d | e | f | g | h |",), ("| a | b | c | e | f | g |",), ("| d | h |",)),
        (("| a | b |", "no bars"), ("| a | b |", "no bars"), ()),
    ],
)
def test_words_stay_under_their_bars(
    words: tuple[str, ...], body: tuple[str, ...], ending: tuple[str, ...]
) -> None:
    """Lines follow one another over four bars, and over the next verse's; what says no bars stays in front."""
    piece = make_piece("| G | Am | C | D |")
    piece = replace(piece, sections=(replace(piece.sections[0], words=words),))
    parted = with_endings(piece, 0, 1)
    assert (parted.sections[0].words, parted.sections[1].words) == (body, ending)


@pytest.mark.parametrize("bars", [0, 4, 9])
def test_an_ending_is_shorter_than_its_section(bars: int) -> None:
    """Said with the most that there can be."""
    with pytest.raises(EditError) as caught:
        with_endings(make_piece("| G | Am | C | D |"), 0, bars)
    assert caught.value.values["most"] == 3


def test_where_a_section_goes_on_is_said_on_the_sheet() -> None:
    """Nothing where it goes on to what stands beneath it."""
    assert jump_text(("B", "B"), "B") == "" and jump_text(("C",), "B") == "then C"
    assert jump_text(("C", "", ""), "B") == "first time: C; second to third time: the end"
    piece = with_endings(in_order("Verse x2, Verse 2"), 0, 1)
    assert goes_on(piece, "Verse", False) == ("Verse (first ending)", "Verse (last ending)")
    assert [(s.name, s.jump) for s in sheet_content(piece, SheetOptions()).sections] == [
        ("Verse", "first time: Verse (first ending); second time: Verse (last ending)"),
        ("Verse (first ending)", "then Verse"),
        ("Verse (last ending)", ""),
        ("Verse 2", ""),
    ]


@pytest.mark.parametrize(
    ("typed", "of", "chords", "printed"),
    [
        ("G 2, Am7 1/2, D 1/2", "4/4", "| G | G | Am7 D |", "G 2, Am7 1/2, D 1/2"),
        ("G 3x, D 1x", "4/4", "| G | G D |", "G 3/2, D 1/2"),
        ("G 2 = 4x, C{x32010}", "4/4", "| G | G | C{x32010} |", "G 2, C{x32010} 1"),
        ("G 3/4, D 1/4", "4/4", "| G / / D |", "G 3/4, D 1/4"),
        ("G 2/3, D 1/3", "3/4", "| G / D |", "G 2/3, D 1/3"),
        ("N.C. 1, ~G 1", "4/4", "| N.C. | ~G |", "N.C. 1, ~G 1"),
    ],
)
def test_chords_by_bars_or_by_passages(typed: str, of: str, chords: str, printed: str) -> None:
    """A passage is half a bar here; a bare chord stays a bar."""
    at = meter(*map(int, of.split("/")))
    line = with_stays(ChordLine(()), parse_stays(typed, at, Fraction(1, 2)), at)
    assert (print_chord_line(line), print_stays(line, at)) == (chords, printed)


@pytest.mark.parametrize(
    ("typed", "code", "start", "end"),
    [
        ("G 2, D 2 = 3x", "stay-disagrees", 5, 13),
        ("G 2, H 1", "chord-root", 5, 6),
        ("G two", "stay", 0, 5),
        ("G 1/8, D 7/8", "stay-beat", 0, None),
        ("G 1/2", "stay-bar", 0, None),
        ("G 3000", "stay", 0, 6),
    ],
)
def test_faults_in_stays_are_marked(typed: str, code: str, start: int, end: int | None) -> None:
    """At the chord where there is one."""
    of = meter(4, 4)
    with pytest.raises(InputError) as caught:
        with_stays(ChordLine(()), parse_stays(typed, of, Fraction(1, 2)), of)
    assert (caught.value.code, caught.value.start, caught.value.end) == (code, start, end)


@given(
    st.lists(st.sampled_from(["G", "| G / / D ", "Am Em", "% ", "C{x32010}", "N.C."]), min_size=1, max_size=6)
)
def test_stays_printed_and_read_sound_the_same(parts: list[str]) -> None:
    """Whatever the line, chord for chord at the same times."""
    of = meter(4, 4)
    text = "| G |" + "|".join(part.strip("| ") for part in parts) + "|"
    line = parse_chord_line(text, of)
    again = with_stays(line, parse_stays(print_stays(line, of), of, Fraction(1)), of)

    def sounding(one: ChordLine) -> list[tuple[object, Fraction]]:
        return [(stay.place, stay.length) for stay in stays_of(one, of)]

    assert sounding(again) == sounding(line)
    assert sum(span.length for span in spans(again, of)) == len(line.bars)
