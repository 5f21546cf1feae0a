"""Shapes chosen for the hand and for the pattern; fretting fingers that are the player's; changes of a hand."""

from __future__ import annotations

from fractions import Fraction
from itertools import groupby
from pathlib import Path

import pytest

from gingham.core.bench.relatives import colours, smaller
from gingham.core.bench.remedies import is_tight, remedies
from gingham.core.bench.retuned import can_keep_shapes, with_shapes_kept
from gingham.core.errors import ChordLineError
from gingham.core.fitting.cache import FitCache
from gingham.core.fitting.fit import fit
from gingham.core.fitting.performance import perform
from gingham.core.formats.musicxml import musicxml
from gingham.core.formats.piece_file import piece_from_bytes, piece_to_bytes
from gingham.core.instruments.instrument import CATALOGUE, instrument
from gingham.core.judging.changes import change_into, changes
from gingham.core.judging.formsum import form_changes
from gingham.core.music.chords import parse_chord
from gingham.core.music.meter import meter
from gingham.core.patterns.library import builtin
from gingham.core.patterns.shorthand import parse_pattern, supposed_in_pattern
from gingham.core.pieces.chordline import (
    ChordLine,
    parse_chord_line,
    print_chord_line,
    spans,
    supposed_in_line,
)
from gingham.core.pieces.edits import add_section, pin_grip, reshape_pattern, set_chords, set_instrument
from gingham.core.pieces.piece import NamedPattern, Piece, Section
from gingham.core.pieces.rules import Rules, ThumbPlan
from gingham.core.pieces.transpose import transpose
from gingham.core.practice.making import seam_stage
from gingham.core.practice.stages import Passage
from gingham.core.shapes.fingers import finger_sign, print_fretting
from gingham.core.shapes.known import movable_shapes, open_shapes
from gingham.core.shapes.shape import parse_shape
from gingham.core.values import replace
from gingham.data import FOLDER
from gingham.paper.content import SheetOptions, sheet_content
from gingham.words.changes import change_text
from gingham.words.practice import stage_name
from gingham.words.reasons import remedy_text, supposed_text
from gingham.words.standin import relative_text
from tests.conftest import make_piece

DATA = Path(__file__).parent.parent / "data"
FOUR = meter(4, 4)


def rows(name: str) -> list[list[str]]:
    """The rows of a table."""
    lines = (DATA / name).read_text().splitlines()
    return [line.split("\t") for line in lines if not line.startswith("#")]


def shapes_of(piece: Piece) -> list[str]:
    """The shapes of a fitted piece, in order."""
    return [str(span.assignment.shape) for span in fit(piece).spans]


@pytest.mark.parametrize(("on", "tuning", "chords", "pattern", "expected"), rows("progressions.tsv"))
def test_shapes_of_the_table(on: str, tuning: str, chords: str, pattern: str, expected: str) -> None:
    """What a player would hold, for this pattern."""
    piece = make_piece(chords, pattern)
    piece = replace(piece, instrument=instrument(on, None if tuning == "-" else tuning))
    assert shapes_of(piece) == expected.split()


_NOTES = ("C", "Db", "D", "Eb", "E", "F", "F#", "G", "Ab", "A", "Bb", "B")
_PROGRESSIONS = (
    ((0, ""), (7, ""), (9, "m"), (5, "")),
    ((2, "m7"), (7, "7"), (0, "maj7"), (9, "m7")),
    ((0, "m"), (10, ""), (8, ""), (7, "")),
    ((0, ""), (4, "m"), (5, ""), (7, "sus4")),
    ((0, "7"), (5, "7"), (0, "7"), (7, "7")),
    ((9, "m"), (2, "m"), (4, "7"), (9, "m")),
    ((0, "add9"), (7, ""), (5, "m"), (0, "")),
    ((0, ""), (2, ""), (5, ""), (10, "")),
    ((0, "maj7"), (5, "m"), (9, ""), (0, "6")),
)


@pytest.mark.parametrize("root", range(12))
def test_no_pluck_is_silenced_and_no_root_lost(root: int) -> None:
    """108 progressions over all keys with every built-in pattern."""
    by_meter = groupby(sorted(builtin(), key=lambda each: str(each[1].meter)), key=lambda each: each[1].meter)
    patterns = {of: [NamedPattern(*each) for each in group] for of, group in by_meter}
    for steps in _PROGRESSIONS:
        line = " ".join(_NOTES[(root + step) % 12] + quality for step, quality in steps)
        for of, named in patterns.items():
            cache, chords = FitCache(), parse_chord_line(line, of)
            for each in named:
                piece = Piece("", (Section("", chords, each.name),), (each,), meter=of)
                result = fit(piece, 0, cache)
                assert "muted-string" not in {problem.code for _, problem in result.problems()}, (
                    line,
                    each.name,
                )
                for span in result.spans:
                    on = span.assignment
                    low = on.basses[0].string
                    midi = piece.instrument.open_midi(low) + on.fret(low)
                    assert midi % 12 == on.chord.bass_note.pitch_class, (line, each.name, str(on.shape))


def test_every_known_shape_is_its_chord() -> None:
    """All tones but a plain fifth or, on four strings, the root; no foreign one; the bass lowest on six."""
    tunings = {
        "E A D G B E": CATALOGUE["guitar"], "D A D G B E": instrument("guitar", "D2 A2 D3 G3 B3 E4"),
        "G C E A": CATALOGUE["ukulele"], "D G B E": CATALOGUE["ukulele-baritone"],
    }  # fmt: skip
    checked, on = 0, []
    for line in (FOLDER / "shapes.txt").read_text().splitlines():
        words = line.split()
        if not words or words[0].startswith("#"):
            continue
        if words[0] in ("tuning", "movable"):
            on = [tunings[names.strip()] for names in line.removeprefix(words[0]).split(",")]
            continue
        chord = parse_chord(words[0])
        for strung in on:
            for shape in map(parse_shape, words[1:]):
                midis = sorted(strung.open_midi(s) + shape.fret(s) for s in shape.sounding)
                classes = {midi % 12 for midi in midis}
                missing = {str(d) for d, n in chord.tones if n.pitch_class not in classes}
                spare = {"5"} if strung.strings > 4 else {"5", "1"}
                assert classes <= chord.pitch_classes and missing <= spare, line
                assert strung.strings <= 4 or midis[0] % 12 == chord.bass_note.pitch_class
                checked += 1
    assert checked > 200


def test_forms_move_to_every_root_and_other_tunings_have_their_own() -> None:
    guitar, lowered = CATALOGUE["guitar"], instrument("guitar", "D2 A2 D3 G3 B3 E4")
    assert list(map(str, movable_shapes(parse_chord("Bm"), guitar))) == ["x24432", "799777"]
    assert list(map(str, movable_shapes(parse_chord("Bm"), lowered))) == ["x24432"]
    assert open_shapes(parse_chord("Bm"), guitar) == () == movable_shapes(parse_chord("Bm/A"), guitar)
    assert list(map(str, open_shapes(parse_chord("G"), lowered))) == ["5x0003", "520003"]
    flat = instrument("guitar", "Eb2 Ab2 Db3 Gb3 Bb3 Eb4")
    assert open_shapes(parse_chord("E"), flat) == ()


def test_an_edit_of_the_pattern_changes_only_what_cannot_be_plucked() -> None:
    """C5 has no third string: under a finger on it another shape is held; the chords beside it stay."""
    piece = make_piece("| G | C5 | D |", "4/4 x1: p p p p")
    before = shapes_of(piece)
    after = shapes_of(reshape_pattern(piece, piece.patterns[0].name, parse_pattern("4/4 x1: p i m a")))
    assert before == ["320003", "x355xx", "xx0232"]
    assert (after[0], after[2]) == (before[0], before[2]) and after[1] != before[1]
    assert "muted-string" not in {
        p.code for _, p in fit(make_piece("| G | C5 | D |", "4/4 x1: p i m a")).problems()
    }


def test_a_symbol_keeps_one_shape_and_fingering_through_all_sections() -> None:
    """D between other neighbours, in another section, under another pattern."""
    piece = add_section(make_piece("| D | A | D | G |", "4/4 x2: p i m i p i m i"), 0)
    piece = set_chords(piece, 1, parse_chord_line("| Em | D | Bm | D |", FOUR))
    cache = FitCache()
    held = {
        (str(s.assignment.shape), s.assignment.fretting.fingers)
        for index in (0, 1)
        for s in fit(piece, index, cache).spans
        if s.assignment.chord.text == "D"
    }
    assert len(held) == 1
    pinned = set_chords(piece, 1, parse_chord_line("| Em | D{xx0232:000143} | Bm |", FOUR))
    assert {
        print_fretting(s.assignment.fretting.fingers)
        for s in fit(pinned, 0).spans
        if s.span.chord.text == "D"
    } == {"000143"}


# Fretting fingers.


@pytest.mark.parametrize(
    "line",
    [
        "| C{x32010:032010} |", "| E{x79997:013331} |", "| F{1x3211:T03211} |", "(1/4 D{xx0232:000132}) | G{320003:210003} |",
        "| Bb{x13331:014441} ~Bb{x13331} |",
    ],
)  # fmt: skip
def test_fingers_are_read_printed_and_kept_in_the_file(line: str) -> None:
    piece = make_piece(line)
    assert print_chord_line(piece.sections[0].chords) == line
    assert piece_from_bytes(piece_to_bytes(piece)) == piece
    wished = [span.fingers for span in spans(piece.sections[0].chords, FOUR) if span.fingers]
    held = [s.assignment.fretting.fingers for s in fit(piece).spans if s.span.fingers]
    assert held == wished and wished


@pytest.mark.parametrize(
    ("text", "code", "part"),
    [
        ("x32010:032", "fingers-length", "032"), ("x32010:0z2010", "fingers", "z"),
        ("x32010:032110", "finger-idle", "1"), ("x32010:032000", "finger-missing", "0"),
        ("x32010:012010", "finger-two-frets", "1"), ("x32010:0320T0", "thumb-far", "T"),
        ("202220:101110", "barre-over", "0"), ("x32010:023010", "fingers-crossed", "3"),
        ("1x5432:Tx4321", "", ""), ("6x3211:Tx3211", "thumb-far", "T"),
    ],
)  # fmt: skip
def test_fingers_that_do_not_suit_are_marked_where_they_stand(text: str, code: str, part: str) -> None:
    line = f"| G | C{{{text}}} |"
    if not code:
        assert parse_chord_line(line, FOUR)
        return
    with pytest.raises(ChordLineError) as caught:
        parse_chord_line(line, FOUR)
    assert (caught.value.code, line[caught.value.start : caught.value.end]) == (code, part)
    assert caught.value.start > line.index(":")


def test_neighbours_with_other_fingers_are_one_span() -> None:
    found = spans(parse_chord_line("| C{x32010} C{x32010:032010} | C{x,3,2,0,1,0:042010} |", FOUR), FOUR)
    assert len(found) == 1 and print_fretting(found[0].fingers) == "032010"


def test_fingers_go_into_the_exports() -> None:
    text = musicxml(perform(make_piece("| C{x32010:043010} |", "4/4 x1: p i m a"))).decode()
    assert "<fingering>4</fingering>" in text or "fingering" in text


# Changes.


@pytest.mark.parametrize(
    ("on", "one", "other", "stays", "moves", "slides", "lands", "lifts", "block"), rows("changes.tsv")
)
def test_what_each_finger_does(on, one, other, stays, moves, slides, lands, lifts, block) -> None:
    piece = replace(make_piece(f"| {one} | {other} |", "4/4 x2: p i m a m i p i"), instrument=CATALOGUE[on])
    change = change_into(fit(piece), 1)
    done = dict.fromkeys(("stays", "moves", "slides", "lands", "lifts"), "")
    for move in sorted(change.fingers, key=lambda move: (move.finger != 5, move.finger)):
        done[move.kind] += finger_sign(move.finger)
    wanted = dict(zip(done, (stays, moves, slides, lands, lifts), strict=True))
    assert {kind: fingers or "-" for kind, fingers in done.items()} == wanted
    assert change.block == int(block)
    assert not any(move.squeak for move in change.fingers if move.kind == "stays")


def test_a_slid_shape_is_one_move_with_one_window() -> None:
    """A{577655} to G{355433}: string 5 rings last, at 4&; string 6 is due on 1: no time, and both are said."""
    piece = make_piece("| A{577655} | G{355433} |", "4/4 x2: p m p i ; p m p i", tempo=80)
    change = change_into(fit(piece), 1)
    assert {(move.free, move.due, move.window) for move in change.fingers} == {(0, 0, 0)}
    text = change_text(change, piece.meter, piece.tempo)
    assert (
        "The whole shape slides 2 frets down" in text
        and "no time at all" in text
        and text.count("string") <= 2
    )


def test_a_finger_is_free_while_its_string_sounds_open() -> None:
    """The index holds string 2 fret 1 of C; plucked open (`i@0`) it needs no finger and may lift at any time."""
    held = change_into(fit(make_piece("| C{x32010:032010} | G{320003:320004} |", "4/4 x1: p m p m")), 1)
    free = change_into(fit(make_piece("| C{x32010:032010} | G{320003:320004} |", "4/4 x1: p m@0 p m@0")), 1)
    index = {move.finger: move for move in held.fingers}[1], {move.finger: move for move in free.fingers}[1]
    assert index[0].free == 0 and index[1].free == -1


def test_tight_and_squeaking_changes_have_ways_out_that_work() -> None:
    piece = make_piece("| A{577655} | G{355433} |", "4/4 x2: p m p i ; p m p i", tempo=120)
    result = fit(piece)
    change = change_into(result, 1)
    assert is_tight(change, piece) and change.squeak
    ways = remedies(result, 1)
    codes = [way.reason.code for way in ways]
    assert "remedy-early" in codes and "remedy-lift" in codes
    for way in ways:
        assert remedy_text(way.reason)
        if way.piece is not None:
            after = change_into(fit(way.piece), 1)
            easier = after is None or after.difficulty < change.difficulty
            assert easier or after.tightest.window > change.tightest.window
    barre = make_piece("| F | C | G | Am |", "4/4 x2: p m p i ; p m p i", tempo=120)
    assert "remedy-stand-in" in {way.reason.code for way in remedies(fit(barre), 0)}
    assert remedies(fit(replace(piece, tempo=30, sections=make_piece("| C | Am |").sections)), 1) == ()


def test_sections_meet_as_they_are_played() -> None:
    """Verse twice, refrain once: verse into verse, verse into refrain; the loop leads back to the verse."""
    piece = add_section(make_piece("| G | C |", "4/4 x1: p i m i"), 0)
    piece = set_chords(piece, 1, parse_chord_line("| Am | D |", FOUR))
    verse, refrain = (section.name for section in piece.sections)
    piece = replace(piece, sections=(replace(piece.sections[0], repeats=2), piece.sections[1]))
    found = {(each.before, each.after): each.change for each in form_changes(perform(piece, practice=False))}
    assert [(c.before, c.after) for c in (found[verse, verse], found[verse, refrain])] == [
        ("C", "G"),
        ("C", "Am"),
    ]
    assert (refrain, verse) not in found
    loop = form_changes(perform(piece, practice=True))
    assert ("D", "G") in {(each.change.before, each.change.after) for each in loop}
    silent = replace(piece, sections=tuple(replace(s, chords=ChordLine(())) for s in piece.sections))
    assert form_changes(perform(silent, practice=True)) == ()


# What a new key, other rules and other pins keep.


def test_a_movable_pin_moves_along_the_neck_an_open_one_is_listed() -> None:
    moved = transpose(make_piece("| F{133211:134211} | C{x32010:032010} |"), 2)
    assert print_chord_line(moved.piece.sections[0].chords) == "| G{355433:134211} | D |"
    assert [str(place) for place in moved.pins] == ["C{x32010:032010}"]


def test_a_grip_is_pinned_here_in_a_section_or_everywhere() -> None:
    piece = add_section(make_piece("| C | C{x35553} |"), 0)
    shape, fingers = parse_shape("x32010"), (0, 3, 2, 0, 1, 0)
    everywhere = pin_grip(piece, "C", shape, fingers)
    lines = [print_chord_line(section.chords) for section in everywhere.sections]
    assert lines == ["| C{x32010:032010} | C{x35553} |"] * 2
    one = pin_grip(piece, "C", shape, None, 1, parse_shape("x35553"))
    assert [print_chord_line(s.chords) for s in one.sections] == [
        "| C | C{x35553} |",
        "| C{x32010} | C{x32010} |",
    ]


def test_a_hop_is_never_held_at_once() -> None:
    """C{x32010} with root and fifth: finger 3 hops from string 5 to string 6, so only one of them is held."""
    piece = make_piece("| C | Am |", "4/4 x1: p i p m", tempo=60, rules=Rules(thumb=ThumbPlan("root-fifth")))
    one, other = fit(piece).spans
    assert [c.string for c in one.assignment.basses] == [5, 6] and one.assignment.outside()[6].way == "hop"
    assert one.hold.fret(6) is None and one.hold.fret(5) == 3
    assert other.assignment.outside()[6].way == "open" and other.hold.fret(6) == 0


# Lines that are not written out.


@pytest.mark.parametrize(
    ("line", "printed", "supposed"),
    [
        ("E B7 A E", "| E | B7 | A | E |", ["without bar lines each chord is a bar"]),
        ("G / % C", "| G | / | % | C |", ["without bar lines each chord is a bar"]),
        ("G | C |", "| G | C |", ["the first bar line was added"]),
        ("| G | C", "| G | C |", ["the last bar line was added"]),
        ("(1/4 D) G C", "(1/4 D) | G | C |", ["without bar lines each chord is a bar"]),
        ("| G | C |", "| G | C |", []),
    ],
)
def test_chord_lines_are_read_leniently_and_printed_exactly(
    line: str, printed: str, supposed: list[str]
) -> None:
    assert print_chord_line(parse_chord_line(line, FOUR)) == printed
    assert [supposed_text(reason) for reason in supposed_in_line(line, FOUR)] == supposed


@pytest.mark.parametrize(
    ("text", "counts"),
    [("6/8: p i m a m i", "3"), ("4/4: p i m i p i m i", "2"), ("3/4: p i m", "1"), ("4/4: p i m a p", "1")],
)
def test_patterns_without_counts_get_the_places_of_their_tokens(text: str, counts: str) -> None:
    head, tokens = text.split(":")
    assert parse_pattern(text) == parse_pattern(f"{head} x{counts}:{tokens}")
    assert supposed_text(supposed_in_pattern(text)[0]).endswith(f"x{counts}")
    assert supposed_in_pattern(f"{head} x{counts}:{tokens}") == ()


def test_a_section_that_never_changes_has_no_change() -> None:
    assert changes(fit(make_piece("| G | G{320003:210003} |"))) == ()


# What lies near at hand.


@pytest.mark.parametrize(
    ("line", "smaller_ones"),
    [("| F{133211} |", ["1x3211", "xx3211"]), ("| Bm{x24432} |", ["x2443x"]), ("| C{x32010} |", [])],
)
def test_the_same_chord_smaller(line: str, smaller_ones: list[str]) -> None:
    """F without the full barre: four strings, or the thumb over the neck; nothing smaller than open C is offered."""
    found = smaller(fit(make_piece(line)), 0)
    shapes = [str(each.shape) for each in found]
    assert set(smaller_ones) <= set(shapes)
    assert bool(found) is bool(smaller_ones)


@pytest.mark.parametrize(
    ("chord", "colour", "string", "fret"),
    [
        ("C{x32010}", "Cmaj7 x32000", 2, 0), ("C{x32010}", "Cadd9 x32030", 2, 3), ("D{xx0232}", "Dsus4 xx0233", 1, 3),
        ("D{xx0232}", "Dsus2 xx0230", 1, 0), ("Am{x02210}", "Am7 x02010", 3, 0), ("E{022100}", "E7 020100", 4, 0),
        ("A{x02220}", "Asus4 x02230", 2, 3),
    ],
)  # fmt: skip
def test_colours_within_one_finger(chord: str, colour: str, string: int, fret: int) -> None:
    near = {f"{each.chord.text} {each.shape}": each for each in colours(fit(make_piece(f"| {chord} |")), 0)}
    assert (near[colour].string, near[colour].fret) == (string, fret)
    assert colour in relative_text(near[colour]) or near[colour].chord.text in relative_text(near[colour])


def test_another_tuning_keeps_the_shapes_or_the_names() -> None:
    """A whole tone down on every string: open G and C shapes now sound F and Bb; on a ukulele no shape can stay."""
    piece, lower = make_piece("| G{320003:210003} | C |"), instrument("guitar", "D2 G2 C3 F3 A3 D4")
    kept = with_shapes_kept(piece, lower)
    places = [place for bar in kept.sections[0].chords.bars for place in bar]
    assert [(place.symbol, str(place.shape)) for place in places] == [("F", "320003"), ("Bb", "x32010")]
    assert print_fretting(places[0].fingers) == "210003"
    assert [span.span.chord.text for span in fit(set_instrument(piece, lower)).spans] == ["G", "C"]
    assert can_keep_shapes(piece, lower) and not can_keep_shapes(piece, CATALOGUE["ukulele"])


def test_the_change_into_the_next_section_is_a_stage() -> None:
    """Half a pattern on each side of the seam; none where the chord goes on."""
    piece = set_chords(
        add_section(make_piece("| G | C |", "4/4 x1: p i m i"), 0), 1, parse_chord_line("| Am | D |", FOUR)
    )
    verse, refrain = fit(piece, 0), fit(piece, 1)
    stage = seam_stage(verse, refrain)
    half = Fraction(1, 2)
    assert stage.passages == (Passage(0, 2 - half, Fraction(2)), Passage(1, Fraction(0), half))
    assert stage_name(stage).startswith(f"Into {piece.sections[1].name}, C to Am")
    same = set_chords(piece, 1, parse_chord_line("| C | D |", FOUR))
    assert seam_stage(fit(same, 0), fit(same, 1)) is None


@pytest.mark.parametrize(
    ("on", "said", "written"),
    [
        ("guitar", "drop D", "D2 A2 D3 G3 B3 E4"), ("guitar", "DADGBE", "D2 A2 D3 G3 B3 E4"),
        ("guitar", "dadgbe", "D2 A2 D3 G3 B3 E4"), ("guitar", "drop-D", "D2 A2 D3 G3 B3 E4"),
        ("ukulele", "gCEA", "G4 C4 E4 A4"), ("ukulele", "Standard", "G4 C4 E4 A4"),
        ("guitar", "CGDGBbEb", "C2 G2 D3 G3 Bb3 Eb4"),
        ("guitar", "D A D G A D", "D2 A2 D3 G3 A3 D4"), ("guitar", "EbAbDbGbBbEb", "Eb2 Ab2 Db3 Gb3 Bb3 Eb4"),
        ("guitar", "drop C", "C2 A2 D3 G3 B3 E4"), ("ukulele", "ADF#B", "A4 D4 F#4 B4"),
        ("guitar", "D2 A2 D3 G3 B3 E4", "D2 A2 D3 G3 B3 E4"),
    ],
)  # fmt: skip
def test_tunings_are_read_as_players_say_them(on: str, said: str, written: str) -> None:
    assert instrument(on, said).tuning_text() == written


def test_the_sheet_shows_each_fingering_that_the_player_chose() -> None:
    piece = make_piece("| D{xx0232:000132} | A | D{xx0232:000243} | A |")
    shown = [print_fretting(face.on.fretting.fingers) for face in sheet_content(piece, SheetOptions()).shapes]
    assert shown.count("000132") == shown.count("000243") == 1 and len(shown) == 3
