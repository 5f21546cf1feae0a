"""Forms, endings, bars of their own, words under beats, the tune: what a whole piece is made of."""

from __future__ import annotations

from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from gingham.core.errors import EditError, MeterError, WordsError
from gingham.core.fitting.fit import fit
from gingham.core.fitting.performance import ENDING, perform
from gingham.core.judging.departures import departures
from gingham.core.judging.formsum import form_sum, stays
from gingham.core.judging.inner import inner_moves
from gingham.core.judging.tune import tune_checks
from gingham.core.music.meter import count_at, meter
from gingham.core.patterns.shorthand import parse_pattern
from gingham.core.pieces.chordline import parse_chord_line
from gingham.core.pieces.edits import add_override, remove_section, rename_section, set_meter
from gingham.core.pieces.form import ENDINGS, Form, Turn, parse_turns, print_turns
from gingham.core.pieces.form_edits import (
    add_fill,
    move_section,
    reshape_bar,
    set_bar_pattern,
    set_chord_variant,
    set_form,
    set_repeats,
    set_tune,
    set_words,
)
from gingham.core.pieces.lyrics import parse_tune, place_words, print_tune
from gingham.core.pieces.piece import HereOverride, NamedPattern, Piece, Section
from gingham.core.pieces.rules import Rules, parse_fingers, parse_first
from gingham.core.pieces.transpose import transposed
from gingham.core.values import replace
from gingham.words.form import (
    breath_text,
    inner_text,
    placed_text,
    seam_text,
    start_text,
    stays_text,
    sum_text,
)
from gingham.words.importing import departure_text
from tests.conftest import make_piece

EIGHT = "| G | C | D | G | Em | C | D | G |"
STEPS = NamedPattern("Steps", parse_pattern("4/4 x2: p . i . ; p/5@2 . p/5@0 ."))
F = Fraction


def two_sections() -> Piece:
    """Verse (twice) and Refrain."""
    base = make_piece(EIGHT, tempo=120)
    refrain = Section("Refrain", parse_chord_line("| C | G |", base.meter), "Mine")
    return replace(base, sections=(replace(base.sections[0], repeats=2), refrain))


def played(of_bar) -> list[tuple[Fraction, str, int, int | None]]:
    """When which finger plucks which string at which fret."""
    return [(e.at, e.finger, e.string, e.fret) for e in of_bar.events]


# Forms.


def test_an_order_is_read_as_it_is_typed() -> None:
    """Names with how often; what has no name is left out."""
    assert parse_turns("Verse x2, Refrain,, Verse ×3") == (
        Turn("Verse", 2), Turn("Refrain"), Turn("Verse", 3),
    )  # fmt: skip
    assert parse_turns("Box xx") == (Turn("Box xx"),)
    assert parse_turns("  ") == ()


@given(st.lists(st.tuples(st.sampled_from(["Verse", "Refrain", "Verse 2"]), st.integers(1, 99))))
def test_orders_printed_and_read_are_the_same(turns: list[tuple[str, int]]) -> None:
    """parse ∘ print is the identity."""
    made = tuple(Turn(name, times) for name, times in turns)
    assert parse_turns(print_turns(made)) == made


def test_performance_and_practice_form_are_kept_apart() -> None:
    """Without an order the performance repeats, the practice form does not."""
    piece = two_sections()
    assert perform(piece).times == (2, 1) and perform(piece).bars == 18
    assert perform(piece, practice=True).times == (1, 1)
    assert perform(piece, practice=True).looping and not perform(piece).looping
    longer = set_form(piece, Form(parse_turns("Refrain, Verse x3, Refrain"), "ring"), practice=False)
    of = perform(longer)
    assert [r.piece.sections[r.section].name for r in of.results] == ["Refrain", "Verse", "Refrain", ENDING]
    assert of.times == (1, 3, 1, 1) and of.bars == 2 + 24 + 2 + 1
    assert perform(longer, practice=True).bars == 10, "the other form stays as it was"


@pytest.mark.parametrize(
    ("form", "code"),
    [
        (Form((Turn("Bridge"),)), "no-section"),
        (Form((Turn("Verse", 0),)), "times"),
        (Form((Turn("Verse"),) * 600), "turns-many"),
        (Form((), "applause"), "ending"),
    ],
)
def test_a_form_that_cannot_be_is_refused(form: Form, code: str) -> None:
    """The piece stays as it is."""
    with pytest.raises(EditError) as caught:
        set_form(two_sections(), form, practice=False)
    assert caught.value.code == code


def test_sections_that_are_renamed_moved_or_removed_take_their_turns_along() -> None:
    """A form never names what is not there."""
    piece = set_form(two_sections(), Form(parse_turns("Verse, Refrain, Verse")), practice=False)
    assert print_turns(rename_section(piece, 0, "Ballad").performance.turns) == "Ballad, Refrain, Ballad"
    assert print_turns(remove_section(piece, 0).performance.turns) == "Refrain"
    assert [s.name for s in move_section(piece, 1, -1).sections] == ["Refrain", "Verse"]
    assert move_section(piece, 0, -1) == piece
    assert set_repeats(piece, 1, 4).sections[1].repeats == 4
    with pytest.raises(EditError):
        set_repeats(piece, 1, 0)


ENDED = {
    "ring": [(F(0), "p", 6)],
    "pinch": [(F(0), "p", 6), (F(0), "i", 3), (F(0), "m", 2), (F(0), "a", 1)],
    "roll": [(F(0), "p", 6), (F(1, 8), "i", 3), (F(1, 4), "m", 2), (F(3, 8), "a", 1)],
    "brush": [(F(0), "p", string) for string in (6, 5, 4, 3, 2, 1)],
}


@pytest.mark.parametrize("kind", list(ENDED))
def test_an_ending_is_a_bar_on_the_last_chord(kind: str) -> None:
    """Ring out, pinch of all fingers, slow roll, brush: on G the thumb begins on string 6."""
    piece = set_form(make_piece("| C | G |"), Form((), kind), practice=False)
    of = perform(piece)
    events = of.results[-1].bars[0].events
    assert [(e.at, e.finger, e.string) for e in events] == ENDED[kind]
    assert of.results[-1].spans[0].span.chord.text == "G"


@pytest.mark.parametrize(
    ("line", "pattern", "counts"),
    [
        ("| D |", "6/8 x3: p i m a m i", "1 2 3 4 5 6"),
        ("| D |", "7/8 x2,2,3: p i p i p i m", "1 2 3 4 5 6 7"),
        ("| D |", "3/4 x2: p i m i m i", "1 1& 2 2& 3 3&"),
    ],
)
def test_an_ending_is_counted_like_the_piece(line: str, pattern: str, counts: str) -> None:
    """Eighths where the meter counts eighths."""
    piece = set_form(make_piece(line, pattern), Form((), "roll"), practice=False)
    result = perform(piece).results[-1]
    of = result.pattern.meter
    assert [count_at(of, at) for at in result.pattern.starts[:-1]] == counts.split()
    assert not any(p.code == "fill-length" for _, p in result.problems())


def test_an_ending_never_puts_two_fingers_on_one_string() -> None:
    """On D nobody moves over for an ending, whose thumb plays one bass: all four strings, each by its finger."""
    piece = set_form(make_piece("| D |"), Form((), "pinch"), practice=False)
    events = perform(piece).results[-1].bars[0].events
    strings = [e.string for e in events]
    assert len(set(strings)) == len(strings) == 4
    assert not list(perform(piece).results[-1].problems())


def test_an_ending_leaves_the_thumb_s_string_to_the_thumb() -> None:
    """With the first bass on string 3 the index finger, which is at home there, does not play."""
    rules = Rules(fingers=parse_fingers("home"), first=parse_first("named:3"))
    piece = set_form(make_piece("| G |", rules=rules), Form((), "pinch"), practice=False)
    events = perform(piece).results[-1].bars[0].events
    assert [(e.finger, e.string) for e in events] == [("p", 3), ("m", 2), ("a", 1)]


def test_the_form_adds_up() -> None:
    """18 bars of 4/4 at 120 are 36 seconds; changes inside, between turns, and round the loop."""
    piece = two_sections()
    total = form_sum(perform(piece))
    assert (total.bars, total.seconds) == (18, 36.0)
    assert total.changes == 7 + 7 + 0 + 1 + 1, "G meets G between the verses; G to C; C to G"
    assert total.changes_per_minute == pytest.approx(60 * total.changes / 36, abs=0.05)
    assert total.thumb_per_s == pytest.approx(18 * 4 / 36)
    assert total.fingers_per_s == pytest.approx(18 * 4 / 36)
    assert "18 bars, 36 s, 16 changes" in sum_text(total)
    assert (
        sum_text(form_sum(perform(replace(piece, sections=(Section("V", parse_empty(), "Mine"),)))))
        == "no bars yet"
    )


def parse_empty():
    """A chord line without bars."""
    from gingham.core.pieces.chordline import ChordLine

    return ChordLine(())


def test_equal_chords_meet_at_the_seam() -> None:
    """The verse ends and begins on G: four passages of a half-bar pattern in a row."""
    piece = replace(two_sections(), patterns=(NamedPattern("Mine", parse_pattern("4/4 x2: p i m i")),))
    seam = form_sum(perform(piece)).seams[0]
    assert (seam.section, seam.chord, seam.cells) == ("Verse", "G", 4)
    assert "Where Verse comes round, G meets itself: 4 passages" in seam_text(seam)
    looping = form_sum(perform(piece, practice=True)).seams
    assert looping[-1].section == "" and looping[-1].chord == "G"


def test_how_long_each_chord_stays_is_counted_in_bars_and_passages() -> None:
    """Half a bar is half a passage of a whole-bar pattern."""
    found = stays(fit(make_piece("| G | C D | Em | % |")))
    assert [(s.chord, s.bars, s.cells) for s in found] == [
        ("G", 1, 1), ("C", F(1, 2), F(1, 2)), ("D", F(1, 2), F(1, 2)), ("Em", 2, 2),
    ]  # fmt: skip
    assert stays_text(found) == (
        "Here, G: 1 bar, 1× the pattern; C, D: ½ bar, ½× the pattern; Em: 2 bars, 2× the pattern."
    )


# Bars of their own.


def test_a_bar_of_its_own_plays_its_own_strokes_and_nothing_else_changes() -> None:
    """Bar 8 steps down; every other bar is what it was."""
    piece = make_piece(EIGHT)
    before, after = fit(piece), fit(set_bar_pattern(piece, 0, 8, STEPS))
    assert [played(b) for b in after.bars[:7]] == [played(b) for b in before.bars[:7]]
    assert played(after.bars[7]) == [
        (F(0), "p", 6, 3),
        (F(1, 4), "i", 3, 0),
        (F(1, 2), "p", 5, 2),
        (F(3, 4), "p", 5, 0),
    ]
    assert after.bars[7].pattern is not None and after.patterns()[1:] == (after.bars[7].pattern,)
    assert after.pattern_in(after.bars[0]) == before.pattern


def test_bare_strings_of_a_fill_are_read_against_its_own_chord() -> None:
    """6 5 4 on bar 3's D means those strings there, not what they would be on the first chord."""
    fill = NamedPattern("Run", parse_pattern("4/4 x2: 4 . 3 . ; 2 . 1 ."))
    result = fit(set_bar_pattern(make_piece(EIGHT), 0, 3, fill))
    assert [e.string for e in result.bars[2].events] == [4, 3, 2, 1]


def test_a_fill_has_to_add_up() -> None:
    """Seven places do not fill a bar of eight; two times a half do."""
    piece = make_piece(EIGHT)
    for line, code in (("4/4 x2: p i m i p i m", "fill-length"), ("3/4 x2: p i m i m i", "meter-differs")):
        with pytest.raises(MeterError) as caught:
            set_bar_pattern(piece, 0, 2, NamedPattern("Odd", parse_pattern(line)))
        assert caught.value.code == code
    with pytest.raises(EditError):
        set_bar_pattern(piece, 0, 9, STEPS)
    half = set_bar_pattern(piece, 0, 2, NamedPattern("Half", parse_pattern("4/4 x2: p m p i")))
    assert len(fit(half).bars[1].events) == 8


def test_a_fill_begins_as_what_the_bar_plays_and_is_edited_alone() -> None:
    """Adding one changes no sound; editing it changes its bar only; it must go on adding up."""
    piece = make_piece("| G | G |", "4/4 x2: p i m i p i m i | p . . . p . . .")
    own = add_fill(piece, 0, 2)
    assert [played(b) for b in fit(own).bars] == [played(b) for b in fit(piece).bars]
    changed = reshape_bar(own, 0, 2, parse_pattern("4/4 x2: p m p m p m p m"))
    assert played(fit(changed).bars[0]) == played(fit(piece).bars[0])
    assert len(fit(changed).bars[1].events) == 8
    with pytest.raises(MeterError):
        reshape_bar(own, 0, 2, parse_pattern("4/4 x2: p m p"))
    again = set_bar_pattern(changed, 0, 2, None)
    assert again == piece, "its pattern goes with it"


def test_a_pattern_that_some_bar_has_for_its_own_goes_on_adding_up_everywhere() -> None:
    """Played by one section and a fill in another, it cannot become two bars long."""
    piece = set_bar_pattern(make_piece(EIGHT), 0, 8, STEPS)
    other = Section("Turn", parse_chord_line("| G | C |", piece.meter), "Steps")
    piece = replace(piece, sections=(*piece.sections, other))
    with pytest.raises(MeterError) as caught:
        reshape_bar(piece, 1, 1, parse_pattern("4/4 x2: p . . . . . . . | p . . . . . . ."))
    assert caught.value.code == "fill-length"
    assert len(fit(reshape_bar(piece, 1, 1, parse_pattern("4/4 x2: p m p i"))).bars[7].events) == 8


def test_bars_of_their_own_wait_where_the_section_has_become_shorter() -> None:
    """Nothing is lost: with the bar back, its strokes are back."""
    piece = set_bar_pattern(make_piece(EIGHT), 0, 8, STEPS)
    short = replace(
        piece, sections=(replace(piece.sections[0], chords=parse_chord_line("| G |", piece.meter)),)
    )
    assert len(fit(short).bars) == 1 and short.sections[0].bars == piece.sections[0].bars
    assert (
        set_meter(piece, meter(3, 4), NamedPattern("W", parse_pattern("3/4 x2: p i m i m i")))
        .sections[0]
        .bars
        == ()
    )


def test_an_exception_inside_a_bar_of_its_own_holds() -> None:
    """Overrides address bar, place and finger, whatever pattern plays there."""
    piece = set_bar_pattern(make_piece(EIGHT), 0, 8, STEPS)
    moved = add_override(piece, HereOverride("Verse", 8, F(1, 4), "i", 2))
    result = fit(moved)
    assert [e.string for e in result.bars[7].events] == [6, 2, 5, 5] and not result.asleep


def test_departures_say_where_the_pattern_goes_on() -> None:
    """Two bars in a row are one departure; a changed pluck ends at the next one."""
    piece = set_bar_pattern(set_bar_pattern(make_piece(EIGHT), 0, 3, STEPS), 0, 4, STEPS)
    piece = add_override(piece, HereOverride("Verse", 6, F(1, 4), "p", 5))
    found = departures(fit(piece))
    assert [(d.first, d.at, d.back, d.back_at, d.pattern) for d in found] == [
        (3, 0, 5, 0, "Steps"), (6, F(1, 4), 6, F(3, 8), ""),
    ]  # fmt: skip
    words = [departure_text(d, piece.meter, "Hearth") for d in found]
    assert words == [
        "Bar 3 plays Steps; back to Hearth at bar 5",
        "Bar 6, 2 has plucks changed by hand; back to Hearth at bar 6, 2&",
    ]
    apart = departures(fit(set_bar_pattern(set_bar_pattern(make_piece(EIGHT), 0, 3, STEPS), 0, 5, STEPS)))
    assert [(d.first, d.back) for d in apart] == [(3, 4), (5, 6)]
    last = departures(fit(set_bar_pattern(make_piece(EIGHT), 0, 8, STEPS)))
    assert departure_text(last[0], piece.meter, "Hearth") == "Bar 8 plays Steps, to the end of the section"


def test_a_version_for_one_chord_is_made_and_taken_back() -> None:
    """`when D:` begins as the pattern itself."""
    piece = make_piece(EIGHT)
    own = set_chord_variant(piece, 0, 1, "D")
    assert [v.when for v in own.pattern("Mine").variants] == ["D"]
    assert [played(b) for b in fit(own).bars] == [played(b) for b in fit(piece).bars]
    assert set_chord_variant(own, 0, 1, "D") == piece


# Words.

PLACES = [  # meter, words of one bar, where its syllables lie
    ((4, 4), "For-ty lan-terns", ["0", "1/4", "1/2", "3/4"]),
    ((4, 4), "one", ["0"]),
    ((4, 4), "one for the boat that", ["0", "1/8", "1/4", "3/8", "1/2"]),
    ((4, 4), ". a . long", ["1/4", "3/4"]),
    ((6, 8), "Bar-ley", ["0", "3/8"]),
    ((6, 8), "Bar-ley on the hill", ["0", "1/8", "1/4", "3/8", "1/2"]),
    ((3, 4), "O-ver and", ["0", "1/4", "1/2"]),
    ((6, 8), "fields a-grow-ing", ["0", "1/8", "1/4", "3/8"]),
]


@pytest.mark.parametrize(("of", "words", "at"), PLACES)
def test_syllables_lie_on_beats_or_closer(of: tuple[int, int], words: str, at: list[str]) -> None:
    """The first grid with enough places, from the start of the bar."""
    placed = place_words((f"| {words} |",), meter(*of), 1)
    assert [str(s.at) for s in placed] == at
    assert not any(s.guessed for s in placed)


def test_words_are_parted_into_syllables_that_join() -> None:
    """Begin, middle and end of a word are told apart; each knows where it stands in the line."""
    line = "| har-bour-side lamp |"
    placed = place_words((line,), meter(4, 4), 1)
    assert [(s.text, s.begins, s.joins) for s in placed] == [
        ("har", True, True), ("bour", False, True), ("side", False, False), ("lamp", True, False),
    ]  # fmt: skip
    assert [line[s.start : s.start + len(s.text)] for s in placed] == ["har", "bour", "side", "lamp"]


def test_words_beyond_the_last_bar_are_the_next_verse() -> None:
    """Two bars, four bars of words: two verses."""
    placed = place_words(("| one | two |", "| three | four |"), meter(4, 4), 2)
    assert [(s.verse, s.bar, s.text) for s in placed] == [
        (1, 1, "one"), (1, 2, "two"), (2, 1, "three"), (2, 2, "four"),
    ]  # fmt: skip


def test_free_words_are_spread_and_called_a_guess() -> None:
    """Four lines over two rounds of four bars: two bars each."""
    lines = ("Forty lanterns along the quay,", "forty for me,", "one for the tide", "and one for the sea")
    placed = place_words(lines, meter(4, 4), 4, 2)
    assert all(s.guessed for s in placed)
    assert {(s.line, s.verse) for s in placed} == {(0, 1), (1, 1), (2, 2), (3, 2)}
    assert {s.bar for s in placed if s.line == 1} == {3, 4}
    piece = set_words(make_piece("| G | C | D | G |"), 0, lines)
    assert "a guess" in placed_text(piece.sections[0], piece.meter)


def test_a_pick_up_has_words_of_its_own() -> None:
    """In brackets before the first bar."""
    placed = place_words(("| (the) | har-bour | sleeps |",), meter(4, 4), 2, 1, F(1, 4))
    assert [(s.bar, str(s.at), s.text) for s in placed][:2] == [(0, "0", "the"), (1, "0", "har")]


def test_too_many_words_are_refused_with_their_line() -> None:
    """Six to a beat is what can be counted."""
    crowd = "| one | " + "la " * 25 + "|"
    with pytest.raises(WordsError) as caught:
        set_words(make_piece("| G | C |"), 0, ("| fine |", crowd))
    assert (caught.value.values["line"], caught.value.values["given"]) == (1, 25)
    assert crowd[caught.value.start : caught.value.end].split()[0] == "la"


# The tune.


@given(
    st.lists(st.lists(st.sampled_from(["A4", "C#5", "2@3", ".", "."]), min_size=1, max_size=8), max_size=4)
)
def test_a_tune_printed_and_read_is_the_same(bars: list[list[str]]) -> None:
    """parse ∘ print is the identity on values."""
    of = meter(4, 4)
    text = "".join(f"| {' '.join(bar)} " for bar in bars) + "|" if bars else ""
    notes = parse_tune(text, of)
    assert parse_tune(print_tune(notes, of), of) == notes


@pytest.mark.parametrize("text", ["| H4 |", "| 0@3 |", "| A |", "| A4 B4 | x |"])
def test_a_note_that_cannot_be_is_marked_where_it_stands(text: str) -> None:
    """The fault points at the token."""
    with pytest.raises(WordsError) as caught:
        parse_tune(text, meter(4, 4))
    assert text[caught.value.start : caught.value.end] in ("H4", "0@3", "A", "x")


def test_with_a_capo_the_tune_is_meant_as_it_sounds() -> None:
    """Two frets up, B3's string sounds C♯4."""
    piece = set_tune(make_piece("| G{320003} |", capo=2), 0, "| C#4 . . . |")
    assert tune_checks(fit(piece))[0].by == "m"


def test_a_tune_moves_with_the_key() -> None:
    """A whole tone up: A4 becomes B4, spelled by the new key."""
    piece = set_tune(make_piece("| G | C | D | G |"), 0, "| G4 . Bb4 . | 2@3 |")
    moved = transposed(piece, 2).sections[0].tune
    assert [str(n) for n in moved] == ["A4", "C5"], "what is given by string and fret is left out"


def test_endings_that_can_be_chosen_have_words() -> None:
    """The window and the sheet know them all."""
    from gingham.words.form import ENDING_NAMES

    assert set(ENDING_NAMES) == set(ENDINGS)


def test_the_longest_line_is_timed_for_one_breath() -> None:
    """Four bars of 4/4 at 60: the line ends on its last beat after 13 s and is called long; at 120 it is not."""
    piece = set_words(make_piece("| G | C | D | G |"), 0, ("| one | two | three | four |", "| five |"))
    section = piece.sections[0]
    assert breath_text(section, piece.meter, 60).startswith(
        "The longest line, 1, lasts 13.0 s at 60. More than 10 s"
    )
    assert breath_text(section, piece.meter, 120) == "The longest line, 1, lasts 6.5 s at 120."
    assert breath_text(make_piece("| G |").sections[0], piece.meter, 60) == ""


def test_the_first_note_of_the_tune_is_told() -> None:
    """Plucked with the singer, or where it lies."""
    piece = make_piece("| G{320003} |")
    told = {"| B3 |": "Begin on B3: the part plucks it with you.", "| G4 |": "Begin on G4: string 1, fret 3."}
    assert {tune: start_text(tune_checks(fit(set_tune(piece, 0, tune)))) for tune in told} == told
    assert start_text(()) == ""


def test_a_note_that_moves_inside_a_held_shape_is_followed() -> None:
    """Dsus4 to D moves string 1 only: by Hearth it is heard on 3&; without the middle finger nobody hears it."""
    piece = make_piece("| Dsus4{xx0233} D{xx0232} | G{320003} |")
    (move,) = inner_moves(fit(piece))
    assert (move.string, move.from_fret, move.to_fret, move.heard_bar, move.heard_at) == (1, 3, 2, 1, F(5, 8))
    assert inner_text(move, piece.meter).endswith("the rest held; first heard in bar 1 on 3&.")
    silent = make_piece("| Dsus4{xx0233} D{xx0232} |", "4/4 x2: p i p i ; p i p i")
    assert inner_moves(fit(silent))[0].heard_bar is None
    assert "nobody hears it" in inner_text(inner_moves(fit(silent))[0], piece.meter)
