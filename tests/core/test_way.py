"""My way of playing: what new pieces begin with, own shapes, own_choices and the way back, the file."""

from __future__ import annotations

import json
from fractions import Fraction
from pathlib import Path

import pytest

from gingham.core.errors import FileError, InputError
from gingham.core.fitting.fit import fit
from gingham.core.formats.piece_file import piece_from_bytes, piece_to_bytes
from gingham.core.formats.ways_file import KnownWays, load_ways, save_ways
from gingham.core.instruments.instrument import CATALOGUE
from gingham.core.judging.changes import changes
from gingham.core.judging.support import support_clash
from gingham.core.patterns.shorthand import parse_pattern
from gingham.core.pieces.chordline import parse_chord_line, print_chord_line
from gingham.core.pieces.edits import add_override, rename_section
from gingham.core.pieces.form_edits import add_fill
from gingham.core.pieces.own_edits import set_chord_rules, set_section_rules
from gingham.core.pieces.piece import ChordOverride, HereOverride, Piece
from gingham.core.pieces.rules import OwnRules, Rules, parse_fingers, parse_first, parse_thumb
from gingham.core.pieces.way import Way, as_usual, in_own_shapes, own_choices, own_shapes, with_reason
from gingham.core.practice.orders import OPENINGS, SINGING, Learning
from gingham.core.practice.plan import plan
from gingham.core.shapes.shape import parse_shape
from gingham.core.sound.timeline import timeline
from gingham.core.values import replace
from gingham.words.naming import NAMINGS, Naming
from gingham.words.practice import OPENING_NAMES, SING_NAMES
from gingham.words.way import QUESTIONS, choice_text
from tests.conftest import make_piece

WAY = Way(
    "Evenings",
    Rules(parse_thumb("root-fifth+walk"), hand="pim", support="little-finger", tones="named"),
    meter="6/8",
    times=2,
    ending="roll",
    pattern="Barley",
    shapes="F{xx3211} C{332010}",
    fingers="words",
    order="chords",
)


def test_a_new_piece_begins_as_the_way_says() -> None:
    """Rules, meter, pattern, times and ending; a pattern of another meter gives way to one that fits."""
    piece = WAY.new_piece("Untitled")
    section = piece.sections[0]
    assert piece.rules == WAY.rules and str(piece.meter) == "6/8" and piece.performance.ending == "roll"
    assert (section.pattern, section.repeats, section.chords.bars) == ("Barley", 2, ())
    assert replace(WAY, meter="3/4").new_piece("x").pattern("Ferry") == parse_pattern(
        "3/4 x2: p . i+m . i+m ."
    )


@pytest.mark.parametrize(
    ("line", "before", "held"),
    [
        ("| F | C G |", "", "| F{xx3211} | C{332010} G |"),
        ("| F | F{133211} |", "", "| F{xx3211} | F{133211} |"),
        ("| F | C |", "F", "| F | C{332010} |"),
        ("(1/4 F) | C |", "", "(1/4 F{xx3211}) | C{332010} |"),
    ],
)
def test_own_shapes_come_with_chords_that_are_new(line: str, before: str, held: str) -> None:
    """What the player has pinned stays, and a chord that was there keeps the program's choice."""
    read = parse_chord_line(line, make_piece("| G |").meter)
    guitar = CATALOGUE["guitar"]
    got = in_own_shapes(read, frozenset(before.split()), WAY.shapes, guitar, 0)
    assert print_chord_line(got) == held
    assert in_own_shapes(read, frozenset(), WAY.shapes, CATALOGUE["ukulele"], 0) == read


@pytest.mark.parametrize(
    ("line", "code", "at"), [("F{xx3211} H", "chord-root", 10), ("F C{332010}", "own-shape", 0)]
)
def test_faults_in_own_shapes_are_marked(line: str, code: str, at: int) -> None:
    """With the place of the word."""
    with pytest.raises(InputError) as caught:
        own_shapes(line)
    assert (caught.value.code, caught.value.start) == (code, at)


def own() -> Piece:
    """A piece that departs in every way."""
    piece = make_piece("| G | D | C | G |", rules=replace(WAY.rules, muddy="off"))
    piece = set_section_rules(piece, 0, OwnRules(first=parse_first("named:5")))
    piece = set_chord_rules(
        piece, "D", parse_shape("xx0232"), OwnRules(four_string="thumb-only", hold="whole")
    )
    piece = add_fill(piece, 0, 4)
    here = HereOverride("Verse", 2, Fraction(1, 8), "i", None)
    return replace(
        piece, overrides=(*piece.overrides, ChordOverride("G", parse_shape("320003"), "m", 1), here)
    )


def test_departures_are_listed_and_taken_back_one_by_one() -> None:
    """Every scope in words; each goes without the others, until the piece does all in this way."""
    piece = own()
    assert [choice_text(each) for each in own_choices(piece, WAY)] == [
        "Low notes that blur: do not warn (my way: warn if they blur)",
        "First bass: on string 5 (else: root or slash)",
        "bar 4: the pattern Fill, Verse 4 (else Mine)",
        "D: Chords of four strings: only the thumb moves (else: fingers move over)",
        "D: The fretting hand holds: the whole shape (else: what is plucked)",
        "G: middle on string 1",
        "bar 2: index left out",
    ]
    count = 7
    while found := own_choices(piece, WAY):
        assert len(found) == count
        piece, count = as_usual(piece, WAY, found[len(found) // 2]), count - 1
    assert piece.overrides == () and piece.rules == WAY.rules and not piece.sections[0].own


def test_reasons_stay_with_what_they_explain() -> None:
    """For a chord's rules, a string and a place; through another name, another key, another string; one line."""
    piece = own()
    for each in own_choices(piece, WAY):
        piece = with_reason(piece, each, f" {each.scope}:\n why ")
    told = [(each.scope, each.because) for each in own_choices(piece, WAY)]
    assert told == [("piece", ""), ("section", ""), ("bar", "")] + [
        (scope, f"{scope}: why") for scope in ("chord", "chord", "string", "place")
    ]
    assert choice_text(own_choices(piece, WAY)[-1]) == "bar 2: index left out – place: why"
    again = add_override(
        rename_section(piece, 0, "Chorus"), ChordOverride("G", parse_shape("320003"), "m", 3)
    )
    again = add_override(again, HereOverride("Chorus", 2, Fraction(1, 8), "i", 2))
    assert {o.because for o in again.overrides} == {"chord: why", "string: why", "place: why"}
    back = piece_from_bytes(piece_to_bytes(piece), "x")
    assert back.overrides == piece.overrides
    plain = json.loads(piece_to_bytes(piece))
    for each in plain["overrides"]:
        del each["because"]
    assert {o.because for o in piece_from_bytes(json.dumps(plain).encode(), "x").overrides} == {""}


def test_ways_come_back_from_their_file(tmp_path: Path) -> None:
    """All fields, and which one is in use; a damaged file is an error, never a silent default."""
    path = tmp_path / "deep" / "ways.json"
    assert load_ways(path) == KnownWays()
    known = KnownWays((Way(), WAY), 1)
    save_ways(path, known)
    assert load_ways(path) == known
    path.write_bytes(path.read_bytes().replace(b"root-fifth", b"sideways"))
    with pytest.raises(FileError) as caught:
        load_ways(path)
    assert caught.value.values["place"] == "ways[1]"
    path.write_bytes(b"{}")
    with pytest.raises(FileError):
        load_ways(path)


@pytest.mark.parametrize(
    ("tones", "missed"),
    [("third", ["no-third"]), ("named", ["no-third", "no-tone"]), ("few", [])],
)
def test_what_a_chord_must_sound(tones: str, missed: list[str]) -> None:
    """Thumb and index on G7: root and fifth only, so the third and the seventh are missing."""
    piece = make_piece("| G7{320001} |", "4/4 x1: p1 p2 p1 p2", rules=Rules(tones=tones))
    assert sorted(fault.code for fault in fit(piece).spans[0].faults) == missed


def test_a_little_finger_on_the_top_cannot_pluck_nor_chuck() -> None:
    """Said where the pattern needs it, and only for the hand that leans."""

    def said(pattern: str, support: str) -> str | None:
        rules = Rules(fingers=parse_fingers("named:i4,m3,a2,c1"), support=support, hand="pimac")
        problem = support_clash(fit(make_piece("| G |", pattern, rules=rules)), 0)
        return problem.code if problem is not None else None

    assert said("4/4 x1: p i m c", "little-finger") == "support-finger"
    assert said("4/4 x1: p i k i", "little-finger") == "support-chuck"
    assert said("4/4 x1: p i m i", "little-finger") is None and said("4/4 x1: p i m c", "floating") is None


def test_one_chord_is_held_whole_and_one_accented() -> None:
    """Its fingers are due before the first pluck; its thumb is no louder than the fingers."""
    piece = make_piece("| G | C |", "4/4 x1: p i m i")
    own = set_chord_rules(piece, "C", parse_shape("x32010"), OwnRules(hold="whole", accents="even"))
    plain, whole = fit(piece), fit(own)
    assert [str(span.hold) for span in whole.spans] == ["3xx00x", "x32010"]
    assert all(move.due == 0 for move in changes(whole)[0].fingers if move.to_place is not None)
    assert any(move.due for move in changes(plain)[0].fingers if move.to_place is not None)
    gains = {note.finger: note.gain for note in timeline([whole]).notes if note.at >= 1 and note.gain}
    assert gains["p"] == gains["i"]


def test_learning_begins_and_sings_as_the_player_does() -> None:
    """No stage without a tempo for who counts at once; the words behind the picking hand for who sings."""
    piece = make_piece("| G | C |")
    sung = replace(
        piece, sections=(replace(piece.sections[0], words=("| For-ty lan-terns | a-long the quay |",)),)
    )

    def kinds(**choices: str) -> list[str]:
        return [stage.kind for stage in plan(fit(sung), Learning(**choices))]

    assert kinds()[0] == "free" and kinds()[-3:] == ["hum", "words", "aloud"]
    assert "free" not in kinds(opening="count")
    stages = plan(fit(sung), Learning(sing="words"))
    words = next(i for i, stage in enumerate(stages) if stage.kind == "words")
    assert stages[words - 1].group == "hand" and all(stage.group != "hand" for stage in stages[words:])
    assert set(OPENINGS) == set(OPENING_NAMES) and set(SINGING) == set(SING_NAMES)


@pytest.mark.parametrize(
    ("naming", "finger", "string", "fret"),
    [
        (Naming(), "i", "string 3", "2"),
        (Naming(fingers="numbers", frets="nut"), "‹1›", "string 3", "5"),
        (Naming(fingers="words", strings="places", frets="both"), "in", "3rd from the floor", "2 (5)"),
    ],
)
def test_names_of_every_school(naming: Naming, finger: str, string: str, fret: str) -> None:
    """A finger's number is marked, so that it is no fret's; frets count from capo, nut, or both."""
    assert (naming.finger("i"), naming.string(3, "G"), naming.fret(2, 3)) == (finger, string, fret)
    assert naming.fret(2, 0) == "2"


def test_every_answer_has_words_and_every_naming_is_a_question() -> None:
    """The questions cover the rules; what is left has no fixed set of answers."""
    asked = {question.field for title, group in QUESTIONS for question in group}
    assert set(Rules.__struct_fields__) - asked == {"muddy_above"}
    assert set(NAMINGS) | set(Learning.__struct_fields__) <= asked
    assert all(words for _, group in QUESTIONS for question in group for _, words in question.answers)
