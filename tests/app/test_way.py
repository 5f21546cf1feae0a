"""The page of one's own way of playing, by mouse and by keys."""

from __future__ import annotations

from pathlib import Path

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QLabel

from gingham.core.bench.substitutes import substitutes
from gingham.core.fitting.fit import fit
from gingham.core.formats.pattern_file import save_pattern
from gingham.core.formats.ways_file import load_ways
from gingham.core.patterns.shorthand import parse_pattern
from gingham.core.pieces.chordline import print_chord_line
from gingham.core.pieces.edits import add_override
from gingham.core.pieces.piece import ChordOverride
from gingham.core.pieces.rules import Rules, parse_fingers, parse_thumb
from gingham.core.shapes.shape import parse_shape
from gingham.core.values import replace
from tests.conftest import make_piece

ENTER = Qt.Key.Key_Return


@pytest.fixture
def page(window):
    """The page, opened by its action."""
    window.actions_by_id["way"].trigger()
    return window.pages.made["way"]


def answer(page, group: str, field: str, value: str) -> None:
    """Choose an answer as the mouse does."""
    box = page.boxes[group, field]
    assert box.findData(value) >= 0
    box.setCurrentIndex(box.findData(value))
    box.activated.emit(box.currentIndex())


def kept(tmp_path: Path):
    """What the file has."""
    return load_ways(tmp_path / "config" / "gingham" / "ways.json")


def test_answers_hold_at_once_for_window_and_new_pieces(page, window, tmp_path: Path) -> None:
    """Names in the window, rules in the next new piece, all in the file; the open piece stays as it is."""
    before = window.document.piece
    answer(page, "The thumb", "thumb", "root-fifth")
    answer(page, "The thumb", "walk", "on")
    answer(page, "The fingers", "fingers", "home")
    answer(page, "A new piece", "meter", "6/8")
    answer(page, "A new piece", "times", "2")
    answer(page, "Names and numbers", "fingers", "words")
    answer(page, "Practising", "order", "chords")
    assert window.appearance.theme.naming.fingers == "words" and window.plans.learning.order == "chords"
    assert window.document.piece == before
    window.actions_by_id["new"].trigger()
    fresh = window.document.piece
    assert fresh.rules.thumb == parse_thumb("root-fifth+walk") and fresh.rules.fingers.kind == "home"
    assert (str(fresh.meter), fresh.sections[0].repeats) == ("6/8", 2)
    assert kept(tmp_path).now.rules == fresh.rules and kept(tmp_path).now.fingers == "words"


def test_ways_under_names_are_changed_for_each_other(page, window, tmp_path: Path) -> None:
    """One more, renamed, made otherwise, changed back; what was chosen in the menu stays with its way."""
    page.fresh.click()
    page.name.setText("Duet")
    page.name.left.emit()
    answer(page, "Names and numbers", "strings", "letters")
    window.actions_by_id["names-counts"].trigger()
    counts = window.appearance.theme.naming.counts
    page.list.setCurrentRow(0)
    assert window.appearance.theme.naming.strings == "numbers"
    page.list.setCurrentRow(1)
    naming = window.appearance.theme.naming
    assert (naming.strings, naming.counts) == ("letters", counts)
    assert [way.name for way in kept(tmp_path).ways] == ["My way", "Duet"] and kept(tmp_path).current == 1
    assert not page.back.isVisible()
    page.gone.click()
    assert page.list.count() == 1 and not page.gone.isEnabled()
    assert page.back.text() == "Bring “Duet” back"
    page.back.click()
    assert [way.name for way in kept(tmp_path).ways] == ["My way", "Duet"] and not page.back.isVisible()
    assert window.appearance.theme.naming.strings == "letters"


def test_a_piece_gives_its_way_and_takes_one(page, window) -> None:
    """As this piece does; then the whole piece in another way, with one undo."""
    shown = window.shown
    shown.edit("Rule", replace(shown.piece, rules=replace(shown.piece.rules, hold="whole", hand="pi")))
    assert page.own.list.count() == 3, "a heading and two rows"
    page.taken.click()
    assert page.own.found == () and "everything in this way" in page.own.empty.text()
    page.list.setCurrentRow(0)
    page.own.all.click()
    assert shown.piece.rules.hold == "plucked" and shown.piece.rules.hand == "pima"
    window.actions_by_id["undo"].trigger()
    assert shown.piece.rules.hold == "whole"


def test_strings_named_in_a_piece_stay_an_answer_of_its_way(page, window, tmp_path: Path) -> None:
    """In words, and chosen again after another answer with the strings they had."""
    named = Rules(parse_thumb("named:6,4+walk"), parse_fingers("named:i3,m1"))
    window.shown.edit("Strings of my own", replace(window.shown.piece, rules=named))
    page.taken.click()
    for group, field, said in (
        ("The thumb", "thumb", "on strings 6, 4"),
        ("The fingers", "fingers", "i on 3, m on 1"),
    ):
        box = page.boxes[group, field]
        chosen, words = box.currentData(), box.currentText()
        assert words == said
        answer(page, group, field, "root" if field == "thumb" else "home")
        answer(page, group, field, chosen)
    rules = kept(tmp_path).now.rules
    assert (rules.thumb, rules.fingers) == (named.thumb, named.fingers)
    assert page.own.found == ()


def test_departures_are_taken_back_by_key(page, window) -> None:
    """Delete on the row; Escape goes back to Build."""
    shown = window.shown
    shown.edit("String", add_override(shown.piece, ChordOverride("G", parse_shape("320003"), "m", 1)))
    listed = page.own.list
    assert listed.currentItem().text() == "G: middle on string 1"
    QTest.keyClick(listed, Qt.Key.Key_Delete)
    assert shown.piece.overrides == ()
    QTest.keyClick(page, Qt.Key.Key_Escape)
    assert window.pages.current == "build"


def test_an_exception_has_a_reason_of_the_players_own(qtbot, page, window) -> None:
    """Typed below the list, kept through another string, shown in Build, undone; a rule of the piece has none."""
    shown, why = window.shown, page.own.why
    shown.edit("Rule", replace(shown.piece, rules=replace(shown.piece.rules, hold="whole")))
    assert page.own.found[0].scope == "piece" and not why.isVisible()
    shown.edit("String", add_override(shown.piece, ChordOverride("G", parse_shape("320003"), "m", 1)))
    page.own.list.setCurrentRow(page.own.list.count() - 1)
    assert why.isVisible() and why.text() == ""
    why.setFocus()
    for key in (Qt.Key.Key_Backspace, Qt.Key.Key_Delete):  # of letters, not of the exception
        QTest.keyClick(why, key)
    assert len(shown.piece.overrides) == 1
    QTest.keyClicks(why, "the tune  is there")
    QTest.keyClick(why, Qt.Key.Key_Backspace)
    QTest.keyClick(why, Qt.Key.Key_Escape)
    assert why.text() == "" and shown.piece.overrides[0].because == ""
    QTest.keyClicks(why, "the tune  is there")
    QTest.keyClick(why, ENTER)
    assert page.own.list.currentItem().text() == "G: middle on string 1 – the tune is there"
    steps = window.document.stack.count()
    QTest.keyClicks(why, "  ")  # nothing new: no step to undo
    QTest.keyClick(why, ENTER)
    assert why.text() == "the tune is there" and window.document.stack.count() == steps
    shown.edit("String", add_override(shown.piece, ChordOverride("G", parse_shape("320003"), "m", 3)))
    assert shown.piece.overrides[0].because == "the tune is there"
    window.actions_by_id["build"].trigger()
    said = "G: middle on string 3 – the tune is there"
    labels = window.view.reasons
    qtbot.waitUntil(lambda: said in [label.text() for label in labels.findChildren(QLabel)])
    for _ in range(2):
        window.actions_by_id["undo"].trigger()
    assert shown.piece.overrides[0] == ChordOverride("G", parse_shape("320003"), "m", 1)


def test_own_shapes_come_with_a_chord_when_it_is_typed(page, window) -> None:
    """Typed on the page, a fault said there; then F comes as the player holds it, until the pin is let go."""
    page.shapes.setText("F{xx32")
    page.shapes.left.emit()
    assert page.message.isVisible() and window.ways.now.shapes == ""
    page.shapes.setText("F{xx3211}")
    page.shapes.left.emit()
    assert not page.message.isVisible()
    window.actions_by_id["build"].trigger()
    line = window.view.chords
    for text in ("| G | F", "| G | F |", "| G | F | C |"):
        line.setText(text)
        line.textEdited.emit(text)
    line.left.emit()
    assert print_chord_line(window.shown.piece.sections[0].chords) == "| G | F{xx3211} | C |" == line.text()
    line.setText("| G | F | C |")
    line.textEdited.emit(line.text())
    line.left.emit()
    assert print_chord_line(window.shown.piece.sections[0].chords) == "| G | F | C |"


def test_a_damaged_file_is_said_and_kept(window, tmp_path: Path) -> None:
    """The usual way is in use; the next change writes a new file, the old one stays beside it."""
    path = tmp_path / "config" / "gingham" / "ways.json"
    path.parent.mkdir(parents=True, exist_ok=True)
    path.write_text("not ways")
    window.actions_by_id["way"].trigger()
    assert "could not be read" in window.statusBar().currentMessage()
    answer(window.pages.made["way"], "Chords", "hold", "whole")
    assert load_ways(path).now.rules.hold == "whole"
    assert path.with_suffix(".damaged").read_text() == "not ways"


def test_own_patterns_stand_where_built_in_ones_do(page, window, tmp_path: Path) -> None:
    """In Build's list, for a bar on Form, and for new pieces; a file that comes later is seen."""
    folder = tmp_path / "data" / "gingham" / "patterns"
    save_pattern(folder, "Low lamp", parse_pattern("4/4 x1: p i p m"))
    page.refresh()
    page.pattern.setCurrentIndex(page.pattern.findData("Low lamp"))
    page.pattern.activated.emit(0)
    window.actions_by_id["new"].trigger()
    assert window.document.piece.patterns[0].name == "Low lamp"
    window.view.pieces.setCurrentIndex(0)
    assert "Low lamp" in window.build.choices.names()
    window.actions_by_id["form"].trigger()
    assert window.pages.form.bar_pattern.findData("Low lamp") >= 0
    window.build.choices.step_pattern(1)
    assert window.shown.piece.sections[0].pattern != "Mine"


def test_stand_ins_that_do_not_suit_are_left_out_where_the_player_says_so() -> None:
    """F between C and G: the same list without those that make the changes around it harder."""
    line = "| C | F{133211} | G |"
    every = substitutes(fit(make_piece(line)), 1)
    suiting = substitutes(fit(make_piece(line, rules=Rules(stand_ins="suiting"))), 1)
    assert [each for each in every if each.suits] == list(suiting) and suiting
