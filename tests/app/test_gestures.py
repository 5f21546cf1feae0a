"""More of what a player does in the Build view: variants, set-up, typing and leaving, exceptions, exports."""

from __future__ import annotations

import threading
from fractions import Fraction
from pathlib import Path

import pytest
from PySide6.QtCore import QEvent, QPoint, QPointF, QRect, Qt
from PySide6.QtGui import QHelpEvent, QImage
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QPushButton, QStyleOptionViewItem

from gingham.app.widgets.geometry import Axis
from gingham.app.widgets.marks import painting
from gingham.core.fitting.fit import fit
from gingham.core.formats import exports
from gingham.core.patterns.shorthand import parse_pattern, print_pattern
from gingham.core.pieces.edits import choose_pattern, reshape_pattern
from gingham.core.pieces.piece import HereOverride, NamedPattern
from gingham.core.values import replace
from tests.conftest import HEARTH, make_piece

LEFT = Qt.MouseButton.LeftButton


def show(qtbot, window, piece) -> None:
    """Another piece in the window's document."""
    with qtbot.waitSignal(window.shown.settled):
        window.document.edit("Other", piece)


def pick(setup, name: str, value: str, scope: str = "piece") -> None:
    """Choose how it is plucked, for the piece, the section or the chord under the cursor."""
    row = setup.plucking
    row.scope.setCurrentIndex(row.scope.findData(scope))
    row.scope.activated.emit(row.scope.currentIndex())
    box = row.boxes[name]
    box.setCurrentIndex(box.findData(value))
    box.activated.emit(box.currentIndex())


def words(window) -> str:
    """The pattern as the piece has it."""
    return print_pattern(window.document.piece.patterns[0].pattern)


def test_a_click_under_a_chord_with_a_variant_edits_the_variant(qtbot, window) -> None:
    """The picture shows what each chord plays; an edit goes where it was made."""
    show(qtbot, window, make_piece("| G | D | G |", "4/4 x1: p i m i\nwhen D: p m i m"))
    canvas = window.view.pattern
    assert [canvas.slot(canvas.axis.columns[c])[0].finger for c in (1, 5, 9)] == ["i", "m", "i"]
    with qtbot.waitSignal(window.shown.settled):
        canvas.finger_toggled.emit(4, "a")
    assert words(window) == "4/4 x1: p i m i\nwhen D: p+a m i m"
    with qtbot.waitSignal(window.shown.settled):
        canvas.rest_wanted.emit(9)
    assert words(window) == "4/4 x1: p . m i\nwhen D: p+a m i m"


def test_strings_alone_become_fingers_when_they_are_edited(qtbot, window) -> None:
    """Typed string numbers are read against the first chord; a click makes them fingers for good."""
    show(qtbot, window, make_piece("| G | D |", "4/4 x1: 6 3 4 2"))
    assert window.view.bar.say._whole == "first-thumb index second-thumb middle"
    with qtbot.waitSignal(window.shown.settled):
        window.view.pattern.finger_toggled.emit(0, "m")
    assert words(window) == "4/4 x1: p1+m i p2 m"


def test_a_changed_built_in_pattern_gets_a_name_of_its_own(qtbot, window) -> None:
    """The list keeps the original; choosing it again brings it back."""
    piece = make_piece("| G |", HEARTH)
    hearth = choose_pattern(piece, 0, NamedPattern("Hearth", parse_pattern(HEARTH)))
    changed = reshape_pattern(hearth, "Hearth", parse_pattern("4/4 x2: p . p i ; p m p i"))
    assert changed.sections[0].pattern == "Hearth, mine"
    again = reshape_pattern(changed, "Hearth, mine", parse_pattern("4/4 x2: p . p . ; p m p i"))
    assert [p.name for p in again.patterns] == ["Hearth, mine"]
    show(qtbot, window, again)
    names = window.view.pattern_names
    names.fill()
    row = names.findText("Hearth")
    assert names.itemData(row, Qt.ItemDataRole.AccessibleTextRole) == "Hearth: p i m"
    image, option = QImage(330, 54, QImage.Format.Format_RGB32), QStyleOptionViewItem()
    option.rect = QRect(0, 0, 330, 54)
    with painting(image) as p:
        names.itemDelegate().paint(p, option, names.model().index(row, 0))
    seen = {image.pixelColor(x, y).name() for x in range(180, 330) for y in range(54)}
    assert {window.view.theme.finger(finger).name() for finger in "pim"} <= seen, "woven in the fingers' dyes"
    with qtbot.waitSignal(window.shown.settled):
        names.activated.emit(names.findText("Hearth"))
    assert window.view.bar.words.text() == HEARTH


@pytest.mark.parametrize(
    ("act", "expected"),
    [
        (lambda s: (s.title.setText("Quay"), s.title.left.emit()), lambda p: p.title == "Quay"),
        (lambda s: (s.section.setText("Pier"), s.section.left.emit()), lambda p: p.sections[0].name == "Pier"),
        (lambda s: s.repeats.setValue(3), lambda p: p.sections[0].repeats == 3),
        (lambda s: s.instrument.activated.emit(1), lambda p: str(p.instrument.tuning[0]) == "G4"),
        (lambda s: s.swing.activated.emit(2), lambda p: str(p.swing) == "2/3"),
        (lambda s: pick(s, "first", "lowest"), lambda p: p.rules.first.kind == "lowest"),
        (lambda s: pick(s, "first", "named:5"), lambda p: p.rules.first.string == 5),
        (lambda s: pick(s, "four_string", "literal"), lambda p: p.rules.four_string == "literal"),
        (lambda s: pick(s, "hand", "pi", "section"), lambda p: p.sections[0].own.hand == "pi"),
        (lambda s: pick(s, "fingers", "home", "chord"), lambda p: any(o.own.fingers for o in p.overrides)),
        (lambda s: s.each_bar.activated.emit(1), lambda p: p.rules.thumb.each_bar),
        (lambda s: s.align.activated.emit(2), lambda p: p.rules.align == "run"),
        (lambda s: s.level.activated.emit(2), lambda p: p.rules.level == "fluent"),
        (lambda s: pick(s, "hold", "whole"), lambda p: p.rules.hold == "whole"),
        (lambda s: pick(s, "hold", "guides", "chord"), lambda p: any(o.own.hold for o in p.overrides)),
        (lambda s: pick(s, "accents", "lilt", "section"), lambda p: p.sections[0].own.accents == "lilt"),
        (lambda s: s.support.activated.emit(2), lambda p: p.rules.support == "resting"),
        (lambda s: s.tones.activated.emit(2), lambda p: p.rules.tones == "few"),
        (lambda s: s.strict.activated.emit(1), lambda p: p.rules.strict == "near"),
        (lambda s: s.muddy_above.activated.emit(2), lambda p: p.rules.muddy_above == Fraction(7, 5)),
    ],
)  # fmt: skip
def test_every_set_up_field_is_one_edit(qtbot, window, act, expected) -> None:
    """Each changes the piece, can be undone, and shows the old value again."""
    show(qtbot, window, make_piece("| G | C | D |"))
    before = window.document.piece
    act(window.view.setup)
    assert expected(window.document.piece) and window.document.stack.count() == 2
    window.document.stack.undo()
    assert window.document.piece is before and not expected(before)


def test_a_meter_that_the_chords_do_not_fit_is_refused(window) -> None:
    """The bar with two places does not divide three beats; everything stays."""
    setup, before = window.view.setup, window.document.piece
    window.actions_by_id["setup"].trigger()
    for text, part in (("7/8", "do not fit"), ("7/16", "not a meter"), ("", "not a meter")):
        setup.meter.setText(text)
        setup.meter.setModified(True)
        setup.meter.left.emit()
        assert part in setup.message.text() and window.document.piece is before
    setup.meter.given_up.emit()
    assert setup.meter.text() == "4/4" and not setup.message.isVisible()


def test_in_a_low_window_the_set_up_takes_no_room_from_the_pictures(window) -> None:
    """It is in the drawer; cards and pictures stay whole at 1024 × 700; the same key goes back to the reasons."""
    window.resize(1024, 700)
    window.actions_by_id["setup"].trigger()
    assert window.view.cards.isVisible() and window.view.setup.isVisible()
    rows = window.view.result.rows()
    assert rows.bottom <= window.view.result.height() and rows.step > 14
    window.activateWindow()
    window.view.setup.title.setFocus()
    window.actions_by_id["setup"].trigger()
    assert window.view.drawer.current == "why" and window.view.reasons.isVisible()


def test_escape_takes_back_what_was_typed(window) -> None:
    """A chord that cannot be read is gone from the line, and nothing was edited."""
    line = window.view.chords
    good = line.text()
    line.setFocus()
    QTest.keyClicks(line, "Hq")
    assert line.fault is not None
    QTest.keyClick(line, Qt.Key.Key_Escape)
    assert line.text() == good and line.fault is None and window.document.stack.count() == 0


def test_undo_is_the_piece_s_from_inside_a_number_too(qtbot, window) -> None:
    """Ctrl+Z in the tempo takes back the last edit, not the digits."""
    window.activateWindow()
    qtbot.waitUntil(lambda: QApplication.activeWindow() is window)
    window.actions_by_id["go-tempo"].trigger()
    tempo = window.view.bar.tempo
    QTest.keyClicks(tempo, "96")
    QTest.keyClick(tempo, Qt.Key.Key_Return)
    assert window.document.piece.tempo == 96
    QTest.keyClick(tempo, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert window.document.piece.tempo == 72 and tempo.value() == 72


def test_leaving_a_line_prints_it_as_it_was_read(qtbot, window) -> None:
    """Spaces are tidied when the player goes on; what cannot be read stays to be mended."""
    line = window.view.chords
    line.setFocus()
    line.selectAll()
    with qtbot.waitSignal(window.shown.settled):
        QTest.keyClicks(line, "|G|  Am7 |")
    window.view.result.setFocus()
    assert line.text() == "| G | Am7 |"
    line.setFocus()
    QTest.keyClick(line, Qt.Key.Key_End)
    QTest.keyClicks(line, " Hq")
    window.view.result.setFocus()
    assert line.text() == "| G | Am7 | Hq" and window.view.chords_message.isVisible()


def test_an_empty_chord_line_still_shows_the_pattern(qtbot, window) -> None:
    """Taking all chords away leaves the pattern to be edited, and a word on what to do."""
    line = window.view.chords
    line.setText("")
    with qtbot.waitSignal(window.shown.settled):
        line.textEdited.emit("")
    assert window.shown.result.bars == () and len(window.view.pattern.axis.columns) == 8
    assert window.shown.span_index() == -1 and "each chord you type" in window.view.reasons.words.text()
    with qtbot.waitSignal(window.shown.settled):
        QTest.keyClicks(window.view.pattern, "a")
    assert words(window).startswith("4/4 x2: p+m+a")
    window.view.result.grab(), window.view.cards.grab(), window.view.strings.grab()


def test_a_left_out_pluck_comes_back_with_the_same_key(qtbot, window) -> None:
    """Delete, only here; Delete again brings it back without a question."""
    canvas = window.view.result
    canvas.string = 2
    QTest.keyClick(canvas, Qt.Key.Key_Delete)
    with qtbot.waitSignal(window.shown.settled):
        QTest.keyClicks(window.view.ask, "o")
    assert "left out here" in canvas.words_at(
        QPoint(round(canvas.axis.columns[0].middle), round(canvas.rows().y(2)))
    )
    with qtbot.waitSignal(window.shown.settled):
        QTest.keyClick(canvas, Qt.Key.Key_Delete)
    assert window.document.piece.overrides == ()


def test_the_question_has_buttons_and_goes_when_the_player_goes_elsewhere(window) -> None:
    """Its answers can be clicked; a click into the picture leaves it."""
    window.activateWindow()
    window.view.result.pluck_moved.emit(0, 2, 1)
    labels = [b.text() for b in window.view.ask.findChildren(QPushButton) if b.isVisible()]
    assert labels == ["Only here (O)", "On every G (T)", "Everywhere (E)", "Cancel (Esc)"]
    assert window.view.ask.geometry().right() <= window.view.width()
    window.view.ask.findChildren(QPushButton)[-1].click()
    assert not window.view.ask.isVisible() and window.document.stack.count() == 0


def test_a_fixed_string_is_moved_here_or_everywhere_only(qtbot, window) -> None:
    """`m/1` does not ask the chord for its string, so “on every G” is not offered."""
    show(qtbot, window, make_piece("| G |", "4/4 x1: p m/1 . ."))
    window.view.result.pluck_moved.emit(1, 1, 2)
    labels = [b.text()[:9] for b in window.view.ask.findChildren(QPushButton) if b.isVisible()]
    assert labels == ["Only here", "Everywher", "Cancel (E"]
    with qtbot.waitSignal(window.shown.settled):
        QTest.keyClicks(window.view.ask, "e")
    assert words(window) == "4/4 x1: p m/2 . ."


def test_exceptions_are_listed_asleep_ones_too(qtbot, window) -> None:
    """One whose pluck is gone says so and can still be taken away."""
    gone = HereOverride("Verse", 1, window.document.piece.meter.bar / 8, "a", 2)
    show(qtbot, window, replace(window.document.piece, overrides=(gone,)))
    buttons = [b for b in window.view.reasons.findChildren(QPushButton) if b is not window.view.reasons.fix]
    assert len(buttons) == 1 and "asleep" in buttons[0].accessibleName()
    with qtbot.waitSignal(window.shown.settled):
        buttons[0].click()
    assert window.document.piece.overrides == ()


def test_backspace_in_the_strings_goes_back_to_the_rule(qtbot, window) -> None:
    """By key: to another string, and back."""
    strings = window.view.strings
    strings.setFocus()
    for key in (Qt.Key.Key_Right, Qt.Key.Key_Down, Qt.Key.Key_Return):
        QTest.keyClick(strings, key)
    assert [o.string for o in window.document.piece.overrides] == [5]
    qtbot.waitUntil(lambda: strings.assignment.basses[1].overridden)
    with qtbot.waitSignal(window.shown.settled):
        QTest.keyClick(strings, Qt.Key.Key_Backspace)
    assert window.document.piece.overrides == ()


def test_the_pointer_over_a_pluck_says_what_it_is(qtbot, window) -> None:
    """Finger, string, fret, note and degree; a problem is told there too."""
    canvas = window.view.result
    at = QPoint(round(canvas.axis.columns[0].middle), round(canvas.rows().y(6)))
    assert canvas.words_at(at) == "Thumb on string 6 fret 3 (fret 5 on the neck): A, the root."
    help_event = QHelpEvent(QEvent.Type.ToolTip, at, canvas.mapToGlobal(at))
    assert canvas.event(help_event)
    show(qtbot, window, make_piece("| C{x32010} |", "4/4 x1: p/6 i . ."))
    assert "gives nothing" in canvas.words_at(at)
    assert canvas.words_at(QPoint(5000, 10)) == ""


def test_cards_are_chosen_by_click_and_scrolled_by_wheel(qtbot, window) -> None:
    """The card under the pointer; the chosen one is brought into sight."""
    show(qtbot, window, make_piece("| G | C | D | Em | Am | F | Dm | E |"))
    cards = window.view.cards
    QTest.mouseClick(cards, LEFT, pos=cards.card_rect(3).center().toPoint())
    assert window.shown.span_index() == 3 and "Em" in window.view.strings_title.text()
    window.shown.select_span(7)
    assert cards.card_rect(7).right() <= cards.width() and cards.card_rect(0).left() < 0
    assert cards.accessibleDescription() == "E, 4 beats, thumb 6 then 4"


def test_the_wheel_scrolls_both_pictures_together(qtbot, window) -> None:
    """One scroll for the columns that they share."""
    show(qtbot, window, make_piece("| G | C | D | Em | Am | F | Dm | E |"))
    window.view.pattern.scrolled.emit(120.0)
    assert window.view.result.offset == window.view.pattern.offset == 120.0
    window.build.show_playhead(8, 0.5)
    x = window.view.result.playhead - window.view.result.offset
    assert 0 <= x <= window.view.result.width()


def test_a_pick_up_is_counted_as_the_end_of_a_bar() -> None:
    """In the events, and in the columns; a place that lasts over a bar line keeps its width."""
    result = fit(make_piece("(1/4 D) | G |", "4/4 x2: p i m i p i m i"))
    assert [event.count for event in result.bars[0].events] == ["4", "4&"]
    axis = Axis(result, 30.0)
    assert [(c.syllable, c.on_beat) for c in axis.columns[:3]] == [("4", True), ("4&", False), ("1", True)]
    assert not any(column.own for column in axis.columns[:2])


def test_an_export_can_be_stopped(qtbot, window, tmp_path: Path, monkeypatch) -> None:
    """Progress is shown, Stop leaves nothing behind, and the next export works."""
    going = threading.Event()

    def slow(_piece, tick, _choice) -> bytes:
        while tick(0.5):
            going.set()
        return b"never written"

    monkeypatch.setitem(exports.WRITERS, ".wav", slow)
    window.files.export_to(tmp_path / "slow.wav")
    assert going.wait(5)
    qtbot.waitUntil(lambda: window.files.export_bar.progress.value() == 50)
    assert window.statusBar().isVisible() and window.files.exporter.busy
    with qtbot.waitSignal(window.files.exporter.stopped):
        window.actions_by_id["stop-export"].trigger()
    assert list(tmp_path.glob("*slow*")) == [] and not window.files.export_bar.isVisible()
    assert "was stopped; nothing was written" in window.statusBar().currentMessage()
    with qtbot.waitSignal(window.files.exporter.done):
        window.files.export_to(tmp_path / "part.txt")
    assert "Verse" in (tmp_path / "part.txt").read_text()


def test_a_fault_in_painting_takes_nothing_down(window, monkeypatch, capsys) -> None:
    """The painter is ended, and the next picture is painted as ever."""
    canvas = window.view.result
    whole = type(canvas).paint_marks

    def faulty(self, *arguments) -> None:
        whole(self, *arguments)
        raise RuntimeError("planted")

    monkeypatch.setattr(type(canvas), "paint_marks", faulty)
    canvas.repaint_still()
    with pytest.raises(RuntimeError):
        canvas._bring_up_to_date()
    monkeypatch.setattr(type(canvas), "paint_marks", whole)
    canvas.repaint_still()
    assert not canvas.grab().isNull()


def test_dragging_outside_the_picture_does_nothing(window) -> None:
    """A press beyond the last bar or with another button is no edit."""
    for canvas in (window.view.pattern, window.view.result):
        QTest.mouseClick(canvas, Qt.MouseButton.RightButton, pos=QPoint(20, 60))
        canvas.set_offset(canvas.axis.width - 10)
        QTest.mouseClick(canvas, LEFT, pos=QPointF(canvas.width() - 2.0, 60).toPoint())
    assert window.document.stack.count() == 0


def test_a_chord_and_a_section_get_thumbs_of_their_own(qtbot, window) -> None:
    """In the strings' title and in the set-up; listed as an exception, and back again."""
    show(qtbot, window, make_piece("| C{x32010} | G{320003} |", "4/4 x1: p p p p"))
    box = window.view.chord_thumb
    with qtbot.waitSignal(window.shown.settled):
        box.activated.emit(box.findData("root-fifth"))
    thumbs = [[e.string for e in bar.events] for bar in window.shown.result.bars]
    assert thumbs == [[5, 6, 5, 6], [6, 4, 6, 4]] and box.currentData() == "root-fifth"
    assert "hops over" in window.view.reasons.words.text()
    assert window.view.strings.assignment.fret(6) == 3
    window.shown.select_span(1)
    assert box.currentData() == ""
    row = window.view.setup.plucking
    row.scope.setCurrentIndex(row.scope.findData("section"))
    row.scope.activated.emit(row.scope.currentIndex())
    here = row.boxes["thumb"]
    with qtbot.waitSignal(window.shown.settled):
        here.setCurrentIndex(here.findData("root"))
        here.activated.emit(here.currentIndex())
    assert [e.string for e in window.shown.result.bars[1].events] == [6, 6, 6, 6]
    window.shown.select_span(0)
    with qtbot.waitSignal(window.shown.settled):
        box.activated.emit(0)
    assert window.document.piece.overrides == ()
