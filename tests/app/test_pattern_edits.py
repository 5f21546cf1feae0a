"""Editing the grid in the main window: keys, ranges, clipboard, signs, drags, versions; each one undo step."""

from __future__ import annotations

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from gingham.core.patterns.shorthand import print_pattern
from tests.conftest import HEARTH, make_piece

LEFT, SHIFT, CONTROL = (
    Qt.MouseButton.LeftButton,
    Qt.KeyboardModifier.ShiftModifier,
    Qt.KeyboardModifier.ControlModifier,
)
NONE = Qt.KeyboardModifier.NoModifier
KEY = Qt.Key


def words(window) -> str:
    """The section's pattern."""
    piece = window.document.piece
    return print_pattern(piece.pattern(piece.sections[0].pattern))


def press(qtbot, window, *keys) -> None:
    """Keys in the pattern, one after the other, each shown before the next; (key, modifiers) or a character."""
    canvas = window.view.pattern
    canvas.setFocus()
    for key in keys:
        before = window.document.piece
        if isinstance(key, str):
            QTest.keyClicks(canvas, key)
        else:
            QTest.keyClick(canvas, *key)
        if window.document.piece is not before:
            qtbot.waitSignal(window.shown.settled).wait()  # the words come after the picture


def act(qtbot, window, name: str) -> None:
    """An action of the menu."""
    before = window.document.piece
    window.actions_by_id[name].trigger()
    if window.document.piece is not before:
        qtbot.waitSignal(window.shown.settled).wait()  # the words come after the picture


def spot(window, column: int, finger: str) -> QPoint:
    """Where a finger's row and a column meet."""
    canvas = window.view.pattern
    return QPoint(round(canvas.axis.columns[column].middle - canvas.offset), round(canvas.lanes().y(finger)))


@pytest.mark.parametrize(
    ("action", "after"),
    [
        ("later", "4/4 x2: i p+m . p ; i p m p"),
        ("earlier", "4/4 x2: . p i p ; m p i p+m"),
        ("turn-round", "4/4 x2: i p m p ; i p . p+m"),
        ("half-again", "4/4 x2: p+m . p i ; p+m . p i"),
        ("swap-halves", "4/4 x2: p m p i ; p+m . p i"),
        ("twice", "4/4 x2: p+m . p i ; p m p i | p+m . p i ; p m p i"),
        ("insert-places", "4/4 x2: . p+m . p i ; p m p | i"),
        ("delete-places", "4/4 x2: . p i ; p m p i"),
        ("places-4", "4/4 x4: p+m . . . p . i . ; p . m . p . i ."),
        ("places-1", "4/4 x1: p+m p+i ; p+m p+i"),
        ("brush", "4/4 x2: p+d . p i ; p m p i"),
        ("up-brush", "4/4 x2: p+u . p i ; p m p i"),
        ("thumb-brush", "4/4 x2: p~ . p i ; p m p i"),
        ("chuck", "4/4 x2: k . p i ; p m p i"),
        ("accent-places", "4/4 x2: p!+m! . p i ; p m p i"),
        ("hammer", "4/4 x2: p^+m . p i ; p m p i"),
        ("pull", "4/4 x2: p_+m . p i ; p m p i"),
        ("slide", "4/4 x2: p>5+m . p i ; p m p i"),
        ("version", "4/4 x2: p+m . p i ; p m p i\nwhen 6: p+m . p i p m p i"),
    ],
)
def test_every_edit_is_one_undo_step(qtbot, window, action: str, after: str) -> None:
    """From the menu, at the first place; undone it is the old pattern again."""
    window.build.set_column(0)
    act(qtbot, window, action)
    assert words(window) == after
    assert window.document.stack.count() == 1
    act(qtbot, window, "undo")
    assert words(window) == HEARTH


def test_chosen_places_are_copied_pasted_cleared_and_accented(qtbot, window) -> None:
    """Shift and arrows choose; the clipboard holds shorthand; an edit takes all chosen places."""
    right = (KEY.Key_Right, SHIFT)
    press(qtbot, window, (KEY.Key_Home, NONE), right, right, right, (KEY.Key_C, CONTROL))
    assert QApplication.clipboard().text() == "p+m . p i"
    window.build.set_column(4)
    assert window.view.pattern.anchor is None, "another place ends the choice"
    press(qtbot, window, (KEY.Key_V, CONTROL))
    assert words(window) == "4/4 x2: p+m . p i ; p+m . p i"
    press(qtbot, window, (KEY.Key_Left, SHIFT), "!")
    assert words(window) == "4/4 x2: p+m . p i! ; p!+m! . p i"
    press(qtbot, window, (KEY.Key_X, CONTROL))
    assert words(window) == "4/4 x2: p+m . p . ; . . p i" and QApplication.clipboard().text() == "i! p!+m!"
    press(qtbot, window, (KEY.Key_Escape, NONE))
    assert window.view.pattern.anchor is None
    QApplication.clipboard().setText("p nonsense")
    press(qtbot, window, (KEY.Key_V, CONTROL))
    assert "nonsense" in window.statusBar().currentMessage() and words(window).endswith("; . . p i")
    press(qtbot, window, (KEY.Key_A, CONTROL), (KEY.Key_Delete, NONE))
    assert words(window) == "4/4 x2: . . . . ; . . . ."


def test_signs_of_the_shorthand_are_keys(qtbot, window) -> None:
    """Brush, chuck, ornaments, break point, strings over; each sign again takes it out."""
    window.build.set_column(3)
    window.view.pattern.finger = "i"
    press(qtbot, window, "^")
    assert words(window) == "4/4 x2: p+m . p i^ ; p m p i"
    press(qtbot, window, "^", (KEY.Key_Up, SHIFT))
    assert words(window) == "4/4 x2: p+m . p i' ; p m p i"
    press(qtbot, window, (KEY.Key_Down, SHIFT), ";")
    assert words(window) == "4/4 x2: p+m . p ; i ; p m p i"
    press(qtbot, window, ";", "k", (KEY.Key_Up, SHIFT), (KEY.Key_Up, SHIFT))
    assert words(window) == "4/4 x2: p+m . p k6-1 ; p m p i"
    press(qtbot, window, (KEY.Key_Down, SHIFT))
    assert words(window) == "4/4 x2: p+m . p k6-2 ; p m p i"
    press(qtbot, window, "k", (KEY.Key_Insert, NONE), (KEY.Key_Delete, SHIFT))
    assert words(window) == "4/4 x2: p+m . p . ; p m p i"
    window.view.pattern.finger = "c"
    press(qtbot, window, "_")
    assert window.statusBar().currentMessage() == "There is no pluck at this place."


def test_a_drag_moves_chooses_or_is_given_up(qtbot, window) -> None:
    """A pluck or brush moves in time; from an empty place places are chosen; Escape restores."""
    canvas = window.view.pattern
    QTest.mousePress(canvas, LEFT, pos=spot(window, 1, "a"))
    QTest.mouseMove(canvas, spot(window, 3, "a"))
    QTest.mouseRelease(canvas, LEFT, pos=spot(window, 3, "a"))
    assert list(canvas.chosen()) == [1, 2, 3] and words(window) == HEARTH
    QTest.mousePress(canvas, LEFT, pos=spot(window, 3, "i"))
    QTest.mouseMove(canvas, spot(window, 1, "i"))
    QTest.keyClick(canvas, KEY.Key_Escape)
    QTest.mouseRelease(canvas, LEFT, pos=spot(window, 1, "i"))
    assert words(window) == HEARTH and window.document.stack.count() == 0
    QTest.mousePress(canvas, LEFT, pos=spot(window, 3, "i"))
    QTest.mouseMove(canvas, spot(window, 1, "a"))
    QTest.mouseRelease(canvas, LEFT, pos=spot(window, 1, "a"))
    assert words(window) == "4/4 x2: p+m a p . ; p m p i" and window.document.stack.count() == 1
    qtbot.waitUntil(lambda: window.shown.result.piece is window.document.piece)
    window.build.set_column(6)
    press(qtbot, window, "d")
    assert words(window) == "4/4 x2: p+m a p . ; p m p+d i"
    QTest.mousePress(canvas, LEFT, pos=spot(window, 6, "i"))
    QTest.mouseMove(canvas, spot(window, 3, "i"))
    QTest.mouseRelease(canvas, LEFT, pos=spot(window, 3, "i"))
    assert words(window) == "4/4 x2: p+m a p d ; p m p i"


def test_a_bar_in_which_no_place_begins_is_shown(qtbot, window) -> None:
    """A short pick-up under a pattern of whole beats: nothing falls into it, and the picture is there all the same."""
    with qtbot.waitSignal(window.shown.settled):
        window.document.edit("Other", make_piece("(1/8 G) | C | G |", "4/4 x1: p i m i"))
    assert [box.last - box.first + 1 for box in window.build.axis.bars] == [0, 4, 4]


def test_one_beat_can_be_divided_otherwise(qtbot, window) -> None:
    """While places are chosen, places per beat change in the cursor's beat alone; what had to move is said."""
    window.view.pattern.choose(2, 3)
    act(qtbot, window, "places-3")
    assert words(window).startswith("4/4 x2,3,2,2: p+m . p i . ; p m p i")
    assert "moved to the place before" in window.statusBar().currentMessage()
    assert window.view.per_beat.currentIndex() == -1


def test_a_version_for_a_bass_string_is_made_edited_and_taken_back(qtbot, window) -> None:
    """Chords with the bass on string 4 get strokes of their own; the others keep theirs."""
    window.shown.select_span(3)
    act(qtbot, window, "version")
    assert "string 4" in window.view.lane_names.note
    column = window.build.column
    with qtbot.waitSignal(window.shown.settled):
        window.view.pattern.finger_toggled.emit(column, "a")
    assert words(window).split("\n")[1].startswith("when 4: p+m . p i p+a m p i")
    assert words(window).split("\n")[0] == HEARTH
    window.build.set_column(column)
    act(qtbot, window, "version")
    assert words(window) == HEARTH and window.view.lane_names.note == ""


def test_the_bottleneck_is_marked_and_mended_with_one_key(qtbot, window) -> None:
    """The place that sets the top speed is marked; the button says what would raise it; the menu's key does it."""
    window.document.edit("Other", make_piece("| C{x32010} | G{320003} |", "4/4 x2: p m m i ; p m i m"))
    canvas, reasons = window.view.pattern, window.view.reasons
    qtbot.waitUntil(
        lambda: canvas.slow_slot in (1, 2) and "Give beat" in reasons.fix.text() and reasons.fix.isVisible()
    )
    window.fitter.limited.emit(window.shown.result, window.shown.limit)  # on a busy machine it may come last
    assert reasons.fix.isVisible()
    before = window.shown.limit.tempo
    window.actions_by_id["faster-hand"].trigger()
    qtbot.waitUntil(lambda: window.shown.limit is not None and window.shown.limit.tempo > before)
    reached = f"→\N{NO-BREAK SPACE}{window.shown.limit.tempo}"
    qtbot.waitUntil(lambda: reached not in reasons.fix.text())


def test_what_cannot_be_played_is_marked_in_the_pattern(qtbot, window) -> None:
    """A bass that the thumb does not have: a sign at its place, and the words with the fix."""
    with qtbot.waitSignal(window.shown.settled):
        window.document.edit("Other", make_piece("| G{320003} |", "4/4 x1: p1 i p3 i/1+m/3"))
    canvas = window.view.pattern

    def codes() -> list[list[str]]:
        return [[p.code for p in canvas.faults(column)] for column in canvas.axis.columns]

    qtbot.waitUntil(lambda: codes() == [[], [], ["bass-missing"], ["crossed"]])
    fault = canvas.theme.fault.lower()

    def marked() -> set[int]:
        canvas.show_slow(None)  # where the judgement came first, its bracket has the same colour
        image, seen = canvas.grab().toImage(), set()
        for column in (0, 2, 3):
            x = round(canvas.axis.columns[column].middle + 13)
            if any(image.pixelColor(x + dx, y).name() == fault for dx in range(-6, 7) for y in range(2, 16)):
                seen.add(column)
        return seen

    qtbot.waitUntil(lambda: marked() == {2, 3})


def test_a_version_is_typed_where_the_pattern_is_typed(qtbot, window) -> None:
    """`when D: …` beside the pattern or alone changes that version only; the line shows the chord's own."""
    first = window.document.piece
    with qtbot.waitSignal(window.shown.settled):
        window.document.edit("Other", make_piece("| G{320003} | D{xx0232} |", "4/4 x1: p i m i"))
    line = window.view.bar.words

    def typed(text: str) -> str:
        line.setFocus()
        line.selectAll()
        with qtbot.waitSignal(window.shown.settled):
            QTest.keyClicks(line, text)
        window.shown.end_gesture()
        return print_pattern(window.document.piece.patterns[0].pattern)

    assert typed("4/4 x1: p i m a when D: p m i m") == "4/4 x1: p i m a\nwhen D: p m i m"
    assert [e.finger for e in window.shown.result.bars[1].events] == ["p", "m", "i", "m"]
    window.view.result.setFocus()
    window.shown.select_span(1)
    assert line.text() == "when D: p m i m"
    line.setFocus()
    line.selectAll()
    with qtbot.waitSignal(window.shown.settled):
        QTest.keyClicks(line, "when D:  p  a i m")
    assert line.text() == "when D:  p  a i m", "the player's own spaces stay while the keyboard is there"
    assert typed("when D: p a i a") == "4/4 x1: p i m a\nwhen D: p a i a"
    line.selectAll()
    QTest.keyClicks(line, "when D: p a")
    assert line.fault is not None and "4" in window.view.words_message.text()
    window.view.result.setFocus()
    window.shown.select_span(0)
    assert line.text() == "4/4 x1: p i m a"
    for _ in range(window.document.stack.count()):
        window.document.stack.undo()
    assert window.document.piece == first


def test_the_pattern_line_reads_what_is_said(qtbot, window) -> None:
    """Words of a school, then Enter: the likeliest reading becomes the pattern, said, and can be undone."""
    line = window.view.bar.words
    before = window.document.piece
    line.setFocus()
    line.selectAll()
    QTest.keyClicks(line, "thumb pinch thumb index thumb middle")
    assert line.fault is not None and window.document.piece == before
    with qtbot.waitSignal(window.shown.settled):
        QTest.keyClick(line, Qt.Key.Key_Return)
    assert line.text() == "4/4 x2: p . p+m . p i p m" and line.fault is None
    assert "Read as 4/4 x2" in window.statusBar().currentMessage()
    window.document.stack.undo()
    assert window.document.piece == before


@pytest.mark.parametrize(
    ("text", "marked", "words"),
    [
        ("thumb elbow", (6, 11), "“elbow” means nothing here"),
        ("thumb indx", (6, 10), "Did you mean index?"),
        ("4/4 x2: p q", (10, 11), "q"),  # shorthand keeps its own fault
    ],
)
def test_what_means_nothing_stays_marked(qtbot, window, text, marked, words) -> None:
    """Among words the one that is none is marked and named, and nothing is changed."""
    line, before = window.view.bar.words, window.document.piece
    line.setFocus()
    line.selectAll()
    QTest.keyClicks(line, text)
    QTest.keyClick(line, Qt.Key.Key_Return)
    assert line.fault == marked and line.text() == text
    assert words in window.view.words_message.text()
    assert (window.document.piece == before) is (":" not in text)  # shorthand is followed as it is typed


def test_a_half_beat_on_a_button_is_read_as_typed(qtbot, window) -> None:
    """“beat 4&” is no key of the button: the sign is shown, and the name for screen readers has it once."""
    with qtbot.waitSignal(window.shown.settled):
        window.document.edit("Other", make_piece("| G | Em7 |", "4/4 x2: p+m i m i p m i m", tempo=80))
    fix = window.view.reasons.fix
    qtbot.waitUntil(lambda: "beat 4&" in fix.accessibleName())
    assert "4&&" in fix.text() and "&&" not in fix.accessibleName()
