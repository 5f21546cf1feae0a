"""Names of shapes, chord changes, capo positions, other keys."""

from __future__ import annotations

from fractions import Fraction
from pathlib import Path

import pytest

from gingham.core.bench.capo import capo_places
from gingham.core.fitting.fit import fit
from gingham.core.instruments.instrument import CATALOGUE
from gingham.core.judging.changes import change_into, changes, hardest
from gingham.core.judging.holding import free_fingers, needed_fingers
from gingham.core.music.chords import parse_chord
from gingham.core.music.key import parse_key
from gingham.core.pieces.chordline import print_chord_line
from gingham.core.pieces.own_edits import set_chord_rules
from gingham.core.pieces.piece import ChordOverride, HereOverride
from gingham.core.pieces.rules import OwnRules, Rules, parse_thumb
from gingham.core.pieces.transpose import transpose
from gingham.core.shapes.naming import names_of
from gingham.core.shapes.search import shapes_for
from gingham.core.shapes.shape import parse_shape
from gingham.core.values import replace
from gingham.words.changes import change_text, move_text, picking_text, window_text
from gingham.words.tuning import capo_detail
from tests.conftest import make_piece

NAMES = [
    line.split("\t")
    for line in (Path(__file__).parent.parent / "data" / "names.tsv").read_text().splitlines()
    if not line.startswith("#")
]
EXAMPLE = "4/4 x2: p m p i ; p m p i"


@pytest.mark.parametrize(("on", "shape", "names"), NAMES)
def test_names_of_the_table(on: str, shape: str, names: str) -> None:
    """The plausible symbols come in the order in which a player would say them."""
    found = [chord.text for chord in names_of(parse_shape(shape), CATALOGUE[on])]
    assert found[: len(names.split())] == (names.split() if names != "-" else [])
    assert names != "-" or found == []


@pytest.mark.parametrize(
    "quality", ["", "m", "7", "m7", "maj7", "sus4", "6", "add9", "m7b5", "dim7", "7#9", "m6"]
)
@pytest.mark.parametrize("root", ["C", "F#", "Bb"])
def test_a_shape_found_for_a_symbol_is_named_by_it(root: str, quality: str) -> None:
    """The search and the naming agree: the symbol is among the names of each of its first shapes."""
    chord = parse_chord(root + quality)
    for ranked in shapes_for(chord, CATALOGUE["guitar"], 0)[:3]:
        names = names_of(ranked.shape, CATALOGUE["guitar"], most=30)
        same = [
            n
            for n in names
            if n.pitch_classes == chord.pitch_classes and n.root.pitch_class == chord.root.pitch_class
        ]
        sounding = {
            (CATALOGUE["guitar"].open_midi(s) + ranked.shape.fret(s)) % 12 for s in ranked.shape.sounding
        }
        assert same or sounding != chord.pitch_classes


def test_names_are_spelled_in_the_key() -> None:
    """The same frets, with sharps in E and with flats in A flat."""
    shape, on = parse_shape("x46664"), CATALOGUE["guitar"]
    assert names_of(shape, on, key=parse_key("E"))[0].text == "C#"
    assert names_of(shape, on, key=parse_key("Ab"))[0].text == "Db"


def test_windows_of_the_design_s_example() -> None:
    """C to G at 72: the finger on string 5 is free from 3&, string 6 is due on the next 1: three slots, 1.25 s."""
    piece = make_piece("| C{x32010} | G{320003} |", EXAMPLE, tempo=72)
    result = fit(piece)
    change = change_into(result, 1)
    moves = {move.finger: move for move in change.fingers}
    assert (moves[3].from_place, moves[3].to_place) == ((5, 3), (6, 3))
    assert (moves[3].slots, moves[3].window, moves[3].due) == (3, Fraction(3, 8), 0)
    assert "free from 3&, lands on string 6 fret 3 by beat 1: 1.5 beats, 1.2 s" in change_text(
        change, piece.meter, piece.tempo
    )
    assert move_text(moves[3], change, piece.meter) == "from 3&, by beat 1"
    assert window_text(moves[3], piece.meter, piece.tempo) == "1.2 s"
    slower = change_into(fit(replace(piece, tempo=36)), 1)
    assert "1.5 beats, 2.5 s" in change_text(slower, piece.meter, 36)


def test_whole_shapes_leave_one_slot_for_every_finger_that_held() -> None:
    """Nothing may leave before the last stroke on 4&, and all must stand at the next 1; 4 was free."""
    piece = make_piece("| C{x32010} | G{320003} |", EXAMPLE, tempo=72, rules=Rules(hold="whole"))
    result = fit(piece)
    moving = [move for move in change_into(result, 1).fingers if move.kind != "lifts"]
    assert {(move.finger, move.window, move.due) for move in moving} == {
        (2, Fraction(1, 8), 0), (3, Fraction(1, 8), 0), (4, Fraction(1), 0)
    }  # fmt: skip
    assert needed_fingers(result.spans[0]) == {1, 2, 3} and not free_fingers(result.spans[0])
    assert str(result.spans[0].hold) == "x32010"
    sparing = fit(replace(piece, rules=Rules()))
    assert (
        free_fingers(sparing.spans[1])
        and change_into(sparing, 1).difficulty < change_into(result, 1).difficulty
    )


def test_fingers_stay_slide_land_and_lift() -> None:
    """Dsus2 to D sets one finger down, the others stay; a shape moved up the neck slides, and squeaks if wound."""
    one, back = changes(fit(make_piece("| Am{x02210} | Fmaj7{xx3210} |", "4/4 x2: p i m a m i p i")))
    kinds = {move.finger: move.kind for move in one.fingers}
    assert kinds[1] == "stays" and one.seam is False and back.seam is True
    up = changes(fit(make_piece("| A5{577xxx} | B5{799xxx} |", "4/4 x1: p p/5 p p/5", tempo=60)))[0]
    assert up.squeak and any(move.kind == "slides" for move in up.fingers)
    assert "squeak" in change_text(up, make_piece("| G |").meter, 60)
    lifted = changes(fit(make_piece("| Dsus4{xx0233} | Dsus2{xx0230} |", "4/4 x1: p i m a")))[0]
    assert "lifts" in {move.kind for move in lifted.fingers} and lifted.picking == "nothing"
    assert "goes on as it is" in change_text(lifted, make_piece("| G |").meter, 60)


def test_fingers_land_in_the_order_in_which_their_strings_are_due() -> None:
    """Never-plucked strings last; the picking hand is told when it moves over."""
    change = changes(fit(make_piece("| G{320003} | D{xx0232} |", "4/4 x2: p . i . p . m .")))[0]
    due = [move.due for move in change.fingers if move.kind != "lifts"]
    assert due == sorted(due, key=lambda d: Fraction(999) if d is None else d)
    assert change.picking == "hand"
    assert (
        picking_text(change) == "The picking hand moves over to other strings, the thumb from string 6 to 4."
    )
    only = changes(fit(make_piece("| G{320003} | C{x32010} |", "4/4 x1: p i m a")))[0]
    assert (only.picking, only.thumb) == ("thumb", (6, 5))


def test_the_hardest_change_is_named_and_slower_is_easier() -> None:
    """Each change once, hardest first; twice the tempo makes every change harder, no chord change none."""
    piece = make_piece("| G | Bm7 | G | Am7 | D |", "4/4 x2: p i m i p i m i", tempo=50)
    found = changes(fit(piece))
    ranked = hardest(found)
    assert len(ranked) == len({(c.before, c.after) for c in found}) == 5
    assert [c.difficulty for c in ranked] == sorted((c.difficulty for c in ranked), reverse=True)
    fast = {(c.before, c.after): c.difficulty for c in changes(fit(replace(piece, tempo=140)))}
    assert all(fast[c.before, c.after] >= c.difficulty for c in ranked)
    assert changes(fit(make_piece("| G | % |"))) == () == changes(fit(make_piece("| G | N.C. |")))


def test_the_easiest_capo_for_b() -> None:
    """In A shapes at fret 2, G shapes at 4 not far behind, without a barre; what sounds is B all the same."""
    places = capo_places(make_piece("| B | E | F#7 | B |", "4/4 x2: p i m i p i m i"))
    assert places[0].capo == 2 and places[0].barres == 0 and 4 in [place.capo for place in places[:3]]
    assert [place.effort for place in places] == sorted(place.effort for place in places)
    for place in places:
        assert next(sounds.text for _, sounds in place.shapes) == "B"
        heard = {e.pitch.midi % 12 for bar in fit(place.piece).bars for e in bar.events}
        assert heard <= {pc for symbol in ("B", "E", "F#7") for pc in parse_chord(symbol).pitch_classes}
    same = next(place for place in places if place.capo == 0)
    assert same.differ == ()


def test_another_key_chooses_shapes_and_thumb_anew() -> None:
    """Symbols are respelled, pins and chord exceptions given up and listed, single places kept."""
    piece = make_piece("(1/4 D) | G{320003} / / D/F# | Em7 ~Em7{022033} | % | N.C. |", "4/4 x1: p i m i")
    here = HereOverride("Verse", 1, Fraction(0), "p", 5)
    chord = ChordOverride("G", parse_shape("320003"), "p2", 5)
    piece = set_chord_rules(
        replace(piece, overrides=(here, chord)), "G", parse_shape("320003"), OwnRules(parse_thumb("root"))
    )
    moved = transpose(piece, 3)
    assert print_chord_line(moved.piece.sections[0].chords) == "(1/4 F) | Bb / / F/A | Gm7 ~Gm7 | % | N.C. |"
    assert moved.piece.overrides == (here,) and len(moved.overrides) == 2
    assert [str(place.shape) for place in moved.pins] == ["320003", "022033"]
    thumb = [choice.string for choice in fit(moved.piece).spans[1].assignment.basses]
    assert thumb == [5, 4]
    assert transpose(moved.piece, -3).piece.sections[0].chords == transpose(piece, 0).piece.sections[0].chords


@pytest.mark.parametrize("quality", ["", "m", "7", "maj7", "m7", "dim7", "aug"])
def test_an_independent_library_finds_the_same_root(quality: str) -> None:
    """music21's root of the sounding notes is the root of the first name (symmetric chords: one of theirs)."""
    from music21 import chord as oracle

    for root in ("C", "D", "Eb", "F#", "G", "A", "Bb"):
        for ranked in shapes_for(parse_chord(root + quality), CATALOGUE["guitar"], 0)[:3]:
            midis = [CATALOGUE["guitar"].open_midi(s) + ranked.shape.fret(s) for s in ranked.shape.sounding]
            if len({m % 12 for m in midis}) < len(parse_chord(root + quality).degrees):
                continue
            theirs = oracle.Chord(sorted(midis))
            ours = names_of(ranked.shape, CATALOGUE["guitar"])[0]
            if quality in ("dim7", "aug"):
                assert ours.root.pitch_class in theirs.pitchClasses
            else:
                assert ours.root.pitch_class == theirs.root().pitchClass, (root, quality, ranked.shape)


def test_a_capo_position_says_what_it_asks_of_both_hands() -> None:
    """A, D, E with and without a capo: the pitches agree on none or some, and both lists tell all chords."""
    piece = make_piece("| A{x02220} | D{xx0232} | E{022100} |", "4/4 x1: p i m i")
    places = capo_places(piece)
    here = next(place for place in places if place.capo == 0)
    assert here.differ == () and here.same == ("A", "D", "E") and here.neck == piece.instrument.frets
    assert here.skipped == 3, "A leaves string 4 out between bass and fingers, E 5 and 4, D nothing"
    assert here.fretted == round((2 + 2 + 1) / 3, 1), "strings 3 and 2 of A and D, string 3 of E"
    assert f"{here.neck} frets are left above the capo." in capo_detail(here)
    for place in places:
        assert {*place.differ, *place.same} == {"A", "D", "E"} and not {*place.differ} & {*place.same}
