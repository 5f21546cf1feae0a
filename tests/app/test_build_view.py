"""The Build view by geometry: what is clicked, dragged and keyed is what changes; only the visible is painted."""

from __future__ import annotations

import pytest
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtGui import QColor, QFont, QImage, QTextDocument
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QAbstractButton, QComboBox, QLineEdit, QSpinBox

from gingham.app.views.builder.result_canvas import ResultCanvas
from gingham.app.widgets.geometry import Axis, Rows
from gingham.core.fitting.fit import fit
from gingham.core.patterns.pattern import Pluck
from gingham.core.pieces.piece import ChordOverride, HereOverride
from gingham.core.values import replace
from tests.conftest import make_piece

LEFT = Qt.MouseButton.LeftButton


@pytest.fixture
def act(qtbot, window):
    """Do something and wait until its result is on the screen."""

    def run(what) -> None:
        with qtbot.waitSignal(window.shown.settled):
            what()

    return run


def cell(window, column: int, finger: str) -> QPoint:
    """The middle of a cell of the pattern, in widget pixels."""
    canvas = window.view.pattern
    place = canvas.axis.columns[column]
    return QPointF(place.middle - canvas.offset, canvas.lanes().y(finger)).toPoint()


def pluck_at(window, column: int, string: int) -> QPoint:
    """The middle of a cell of the result, in widget pixels."""
    canvas = window.view.result
    place = canvas.axis.columns[column]
    return QPointF(place.middle - canvas.offset, canvas.rows().y(string)).toPoint()


def fingers_in(window, slot: int) -> str:
    """The fingers in a slot of the pattern."""
    slots = window.document.piece.patterns[0].pattern.slots
    return "".join(s.finger for s in slots[slot] if isinstance(s, Pluck))


def test_a_click_toggles_a_pluck_in_any_repeat(window, act) -> None:
    """A click in the second bar edits the pattern's own bar; a second click takes it back."""
    act(lambda: QTest.mouseClick(window.view.pattern, LEFT, pos=cell(window, 9, "a")))
    assert fingers_in(window, 1) == "a"
    act(lambda: QTest.mouseClick(window.view.pattern, LEFT, pos=cell(window, 1, "a")))
    assert fingers_in(window, 1) == ""
    assert window.document.stack.count() == 2


def test_a_drag_moves_a_pluck_in_time_or_to_another_finger(window, act) -> None:
    """One gesture, one undo step; Escape in the middle changes nothing."""
    canvas = window.view.pattern
    QTest.mousePress(canvas, LEFT, pos=cell(window, 3, "i"))
    QTest.mouseMove(canvas, cell(window, 1, "a"))
    act(lambda: QTest.mouseRelease(canvas, LEFT, pos=cell(window, 1, "a")))
    assert (fingers_in(window, 1), fingers_in(window, 3)) == ("a", "")
    assert window.document.stack.count() == 1
    QTest.mousePress(canvas, LEFT, pos=cell(window, 1, "a"))
    QTest.mouseMove(canvas, cell(window, 2, "a"))
    QTest.keyClick(canvas, Qt.Key.Key_Escape)
    QTest.mouseRelease(canvas, LEFT, pos=cell(window, 2, "a"))
    assert window.document.stack.count() == 1


@pytest.mark.parametrize(
    ("keys", "slot", "expected"),
    [
        ("a", 0, "p+m+a"), ("P", 0, "m"), ("1", 0, "p1+m"), ("22", 0, "p+m"), ("!", 0, "p!+m!"), (".", 0, "."),
        ("!!!", 0, "p+m"), ("c", 0, "p+m+c"),
    ],
)  # fmt: skip
def test_keys_edit_the_slot_under_the_cursor(window, qtbot, keys: str, slot: int, expected: str) -> None:
    """P I M A C, 1 2 3, ! and . at the cursor, in either picture."""
    from gingham.core.patterns.shorthand import print_slot

    for canvas in (window.view.pattern, window.view.result):
        before = window.document.stack.index()
        for key in keys:
            with qtbot.waitSignal(window.shown.settled):
                QTest.keyClicks(canvas, key)
        assert print_slot(window.document.piece.patterns[0].pattern.slots[slot]) == expected
        while window.document.stack.index() > before:
            with qtbot.waitSignal(window.shown.settled):
                window.document.stack.undo()


def test_the_reasons_are_as_high_as_their_words(window, qtbot) -> None:
    """Whatever the width and the size of the letters: nothing of the longest reasons is cut."""
    words = window.view.reasons.words
    for width, points in ((300, 10), (420, 10), (300, 16)):
        window.view.drawer.setFixedWidth(width)
        font = QFont(words.font())
        font.setPointSize(points)
        words.setFont(font)
        words.setText("<p>Second bass: string 4 fret 2, E, the fifth.</p>" * 9)
        paper = QTextDocument()
        paper.setDefaultFont(font)
        paper.setDocumentMargin(0)
        paper.setHtml(words.text())
        qtbot.waitUntil(lambda: words.height() >= words.heightForWidth(words.width()))
        paper.setTextWidth(words.width())
        assert words.height() >= paper.size().height() > 9 * points


def test_arrows_move_both_cursors_and_select_the_chord(window) -> None:
    """The chord under the cursor is the one whose strings and reasons are shown."""
    canvas = window.view.pattern
    for _ in range(8):
        QTest.keyClick(canvas, Qt.Key.Key_Right)
    assert window.view.result.column == canvas.column == 8
    assert window.shown.span_index() == window.view.cards.current == 1
    assert "Am7" in window.view.strings_title.text() and "Am7" in window.view.reasons.words.text()
    QTest.keyClick(window.view.cards, Qt.Key.Key_Right)
    assert window.shown.span_index() == 2 and canvas.column == 16


def test_a_click_in_the_strings_moves_a_bass_for_this_chord_only(window, act) -> None:
    """An exception by symbol and shape, shown as such, with its way back."""
    strings = window.view.strings
    where = QPointF(strings.lane_x(1), strings.rows().y(5)).toPoint()
    act(lambda: QTest.mouseClick(strings, LEFT, pos=where))
    (override,) = window.document.piece.overrides
    assert isinstance(override, ChordOverride)
    assert (override.symbol, override.lane, override.string) == ("G", "p2", 5)
    assert window.shown.assignment().basses[1].overridden
    assert "Your choice (the rule says string 4)" in window.view.reasons.words.text()
    button = next(
        b for b in window.view.reasons.findChildren(QAbstractButton) if "Back to the rule" in b.text()
    )
    act(button.click)
    assert window.document.piece.overrides == ()


def test_choosing_what_the_rule_says_is_no_exception(window, act) -> None:
    """Moving away and back leaves no mark."""
    strings = window.view.strings
    act(lambda: strings.string_chosen.emit("i", 4))
    act(lambda: strings.string_chosen.emit("i", 3))
    assert window.document.piece.overrides == ()


@pytest.mark.parametrize("answer", ["o", "t", "e"])
def test_dragging_a_pluck_to_another_string_asks_how_far(window, act, qtbot, answer: str) -> None:
    """Only here, on this chord, everywhere: by key, inline, one undo step."""
    canvas = window.view.result
    QTest.mousePress(canvas, LEFT, pos=pluck_at(window, 0, 2))
    QTest.mouseMove(canvas, pluck_at(window, 0, 1))
    QTest.mouseRelease(canvas, LEFT, pos=pluck_at(window, 0, 1))
    assert window.view.ask.isVisible() and window.document.stack.count() == 0
    act(lambda: QTest.keyClicks(window.view.ask, answer))
    assert not window.view.ask.isVisible() and window.document.stack.count() == 1
    middle = [[e.string for e in bar.events if e.finger == "m"] for bar in window.shown.result.bars[:2]]
    assert middle == {"o": [[1, 2], [2, 2]], "t": [[1, 1], [2, 2]], "e": [[1, 2], [1, 2]]}[answer]
    if answer == "o":
        assert isinstance(window.document.piece.overrides[0], HereOverride)
    act(window.document.stack.undo)
    assert window.document.piece.overrides == ()


def test_the_question_can_be_left(window) -> None:
    """Escape leaves everything as it was, and the focus goes back to the picture."""
    window.activateWindow()
    window.view.result.setFocus()
    window.view.result.string = 2
    QTest.keyClick(window.view.result, Qt.Key.Key_Down, Qt.KeyboardModifier.ShiftModifier)
    assert window.view.ask.isVisible()
    QTest.keyClick(window.view.ask, Qt.Key.Key_Escape)
    assert not window.view.ask.isVisible() and window.document.stack.count() == 0


def test_leaving_out_a_pluck_here_keeps_it_in_sight(window, act) -> None:
    """Delete asks; the silent pluck is still an event that can be brought back."""
    window.view.result.string = 2
    QTest.keyClick(window.view.result, Qt.Key.Key_Delete)
    act(lambda: QTest.keyClicks(window.view.ask, "o"))
    event = window.shown.result.bars[0].events[1]
    assert event.silent and event.finger == "m"


def test_a_wrong_chord_is_underlined_where_it_stands_and_the_last_good_state_kept(window) -> None:
    """One message, the token marked, nothing edited; taking it back takes the mark away."""
    line, good = window.view.chords, window.document.piece
    for text, token in (("| G | Hm |", "Hm"), ("| G C D |", "G C D"), ("| G{x3q} |", "x3q")):
        line.setText(text)
        line.textEdited.emit(text)
        assert text[slice(*line.fault)] == token
        assert window.view.chords_message.isVisible() and window.view.chords_message.text()
        assert window.document.piece is good
        assert line.fault_rect().width() >= 8 and line.rect().contains(line.fault_rect().toRect())
    line.setText("| G |")
    line.textEdited.emit("| G |")
    assert line.fault is None and not window.view.chords_message.isVisible()


def test_a_pinned_shape_of_the_wrong_length_is_said_at_its_chord(window, qtbot) -> None:
    """Found by the fit: the shape is marked in the line, another is held, and the rest works on."""
    line = window.view.chords
    with qtbot.waitSignal(window.shown.settled):
        line.setText("| Am | G{0003} |")
        line.textEdited.emit("| Am | G{0003} |")
    assert "6 strings" in window.view.chords_message.text()
    assert line.text()[slice(*line.fault)] == "{0003}"
    assert [str(span.assignment.shape) for span in window.shown.result.spans] == ["x02210", "320003"]
    line.setText("| Am | Hx |")
    line.textEdited.emit("| Am | Hx |")
    assert "Hx" in window.view.chords_message.text()
    line.given_up.emit()  # Esc: what stands in the piece comes back, and with it what is wrong there
    assert line.text()[slice(*line.fault)] == "{0003}" and "6 strings" in window.view.chords_message.text()
    with qtbot.waitSignal(window.shown.settled):
        line.setText("| Am | G |")
        line.textEdited.emit("| Am | G |")
    assert line.fault is None and not window.view.chords_message.isVisible()


def test_a_wrong_pattern_word_is_underlined(window) -> None:
    """The same for the pattern line; another meter is refused with what to do."""
    words = window.view.bar.words
    for text, token in (("4/4 x2: p zz i", "zz"), ("3/4 x2: p i m i m i", "3/4")):
        words.setText(text)
        words.textEdited.emit(text)
        assert text[slice(*words.fault)] == token and window.view.words_message.text()
    assert window.document.stack.count() == 0


def test_set_up_edits_and_refuses_in_place(window, act) -> None:
    """Capo, meter and tuning are undo steps; an impossible tuning is said in the row."""
    setup = window.view.setup
    window.actions_by_id["setup"].trigger()
    act(lambda: setup.capo.setValue(5))
    assert window.document.piece.capo == 5
    setup.tuning.setText("E2 A2")
    setup.tuning.left.emit()
    assert "3 to 10 strings" in setup.message.text() and setup.message.isVisible()
    setup.tuning.setText("C#2 G1 D3 G3 B3 A4")
    act(lambda: setup.tuning.left.emit())
    assert "String 1 far above" in setup.message.text() and "String 5 far below" in setup.message.text()
    setup.tuning.setText("D2 A2 D3 G3 B3 E4")
    act(lambda: setup.tuning.left.emit())
    assert not setup.message.isVisible()
    assert "D A D G B E" in window.view.about.toolTip()
    setup.meter.setText("2/4")
    act(lambda: setup.meter.left.emit())
    assert str(window.document.piece.meter) == "2/4"
    for _ in range(4):
        act(window.document.stack.undo)
    assert window.document.piece.capo == 2


def test_choices_of_thumb_fingers_and_pattern(window, act) -> None:
    """Boxes and menu actions make the same edits; named strings are typed beside the box."""
    act(window.actions_by_id["thumb-string-4"].trigger)
    assert window.view.thumb.currentData() == "string-4"
    act(window.actions_by_id["fingers-home"].trigger)
    assert str(window.document.piece.rules.fingers) == "home"
    window.view.thumb.setCurrentIndex(window.view.thumb.findData("named"))
    act(lambda: window.view.thumb.activated.emit(window.view.thumb.findData("named")))
    line = window.view.thumb_strings
    line.setText("5,3")
    act(lambda: line.left.emit())
    assert str(window.document.piece.rules.thumb) == "named:5,3"
    line.setText("5;3")
    line.left.emit()
    said = window.statusBar().currentMessage()
    assert line.fault is not None and "“5;3” names no strings" in said and "named:" not in said
    line.setText("6 4")
    act(lambda: line.left.emit())
    assert str(window.document.piece.rules.thumb) == "named:6,4" and line.fault is None
    act(window.actions_by_id["fingers-named"].trigger)
    window.view.finger_strings.setText("i=2 m=1")
    act(lambda: window.view.finger_strings.left.emit())
    assert str(window.document.piece.rules.fingers) == "named:i2,m1"
    act(window.actions_by_id["next-pattern"].trigger)
    assert window.document.piece.sections[0].pattern != "Mine"


# Geometry and painting.


def test_rows_of_strings_and_result_are_the_same(window) -> None:
    """One picture: string for string at the same height on the screen."""
    for size in ((1280, 800), (1024, 700)):
        window.resize(*size)
        QTest.qWait(1)
        left, right = window.view.strings, window.view.result
        for string in range(1, 7):
            y = left.mapTo(window, QPoint(0, 0)).y() + left.rows().y(string)
            assert y == right.mapTo(window, QPoint(0, 0)).y() + right.rows().y(string)
        assert right.rows().bottom <= right.height()
        assert window.view.pattern.mapTo(window, QPoint(0, 0)).x() == right.mapTo(window, QPoint(0, 0)).x()


@pytest.mark.parametrize(
    "pattern", ["4/4 x2: p i m a p i m a", "4/4 x2,3,2,4: p i p i m p i p i a m", "4/4 x1: p i m"]
)
def test_columns_tile_the_bars(pattern: str) -> None:
    """Every column lies where the one before ends, and is found by its x."""
    result = fit(make_piece("(1/4 D) | G | C D | G |", pattern))
    axis = Axis(result, 30.0)
    for before, after in zip(axis.columns, axis.columns[1:], strict=False):
        assert after.x == pytest.approx(before.x + before.width)
    for index, column in enumerate(axis.columns):
        assert axis.column_at(column.x + column.width / 2) == index
        assert axis.column_before(column.bar, column.at) == index
    assert axis.column_at(axis.width + 50) is None
    assert sum(column.own for column in axis.columns) >= len(result.pattern.slots) - 2


@pytest.mark.parametrize("flipped", [False, True])
@pytest.mark.parametrize(("strings", "height"), [(4, 300), (6, 152), (10, 240)])
def test_every_string_has_its_row(strings: int, height: int, flipped: bool) -> None:
    """The row under a string's line is that string; string 1 is on top, or lowest."""
    rows = Rows(strings, height, flipped)
    assert [rows.string_at(rows.y(s)) for s in range(1, strings + 1)] == list(range(1, strings + 1))
    top, low = (strings, 1) if flipped else (1, strings)
    assert (rows.string_at(-50), rows.string_at(5000)) == (top, low)
    assert rows.y(rows.below(2)) > rows.y(2) > rows.y(rows.below(2, -1))


def test_the_lowest_string_can_be_on_top_everywhere(qtbot, window, settings) -> None:
    """One switch: the picture, the strings panel, the map; the Down key goes to the row below; remembered."""
    qtbot.waitUntil(lambda: window.view.map.map is not None)
    views = (window.view.result, window.view.strings, window.view.map)
    before = [view.grab().toImage() for view in views]
    window.actions_by_id["lowest-on-top"].trigger()
    assert all(view.grab().toImage() != image for view, image in zip(views, before, strict=True))
    assert settings.flag("lowest-on-top", False)
    window.view.result.string = 4
    QTest.keyClick(window.view.result, Qt.Key.Key_Down)
    assert window.view.result.string == 3
    window.appearance.set_lowest_on_top(False)
    assert not window.actions_by_id["lowest-on-top"].isChecked()
    assert window.view.strings.grab().toImage() == before[1]


def test_only_what_is_visible_is_painted(window, act, monkeypatch) -> None:
    """Of 200 bars a handful is drawn."""
    piece = replace(window.document.piece, sections=make_piece("| " + "G | Am7 | " * 100).sections)
    act(lambda: window.document.edit("Long", piece))
    drawn: list[int] = []
    plain = ResultCanvas._paint_column
    monkeypatch.setattr(
        ResultCanvas,
        "_paint_column",
        lambda self, p, i, rows: (drawn.append(self.axis.columns[i].box), plain(self, p, i, rows)),
    )
    window.view.result.repaint_still()  # it may have been painted before the counting began
    window.view.result.grab()
    assert 0 < len(set(drawn)) < 12
    window.view.sight.go(window.view.sight.most)
    drawn.clear()
    window.view.result.grab()
    assert max(drawn) == 199 and len(set(drawn)) < 12


def dye_share(image: QImage, dye: QColor) -> float:
    """The share of pixels of one colour."""
    wanted = dye.rgb()
    points = [(x, y) for x in range(0, image.width(), 3) for y in range(0, image.height(), 3)]
    return sum(image.pixel(x, y) == wanted for x, y in points) / len(points)


def test_marks_are_painted_in_their_finger_s_dye(window, act) -> None:
    """Taking the index out of the pattern takes its dye off the cloth; putting more in brings more."""
    red = window.appearance.theme.finger("i")
    before = dye_share(window.view.result.grab().toImage(), red)
    assert before > 0.002
    act(lambda: window.view.pattern.finger_toggled.emit(1, "i"))
    assert dye_share(window.view.result.grab().toImage(), red) > before * 1.2
    for column in (1, 3, 7):
        act(lambda column=column: window.view.pattern.finger_toggled.emit(column, "i"))
    assert dye_share(window.view.result.grab().toImage(), red) < before * 0.2


def test_night_cloth_changes_every_part_and_is_remembered(window, qtbot) -> None:
    """Dark ground in the pictures, and the next start has it."""
    light = window.view.result.grab().toImage().pixelColor(2, 120).lightness()
    with qtbot.waitSignal(window.shown.settled):
        window.actions_by_id["night"].trigger()
    assert window.view.result.theme.name == window.view.cards.theme.name == "night"
    assert window.view.result.grab().toImage().pixelColor(2, 120).lightness() < light - 100
    assert window.settings.text("theme", "") == "night"


def test_every_control_has_a_name(window) -> None:
    """Screen readers say something for each part that takes the focus."""
    parts = [
        p
        for kind in (QAbstractButton, QComboBox, QLineEdit, QSpinBox)
        for p in window.view.findChildren(kind)
    ]
    parts += [
        window.view.result,
        window.view.pattern,
        window.view.strings,
        window.view.cards,
        window.view.map,
        window.view.drawer.tabs,
    ]
    for part in parts:
        inner = part.objectName().startswith("qt_")
        assert inner or part.accessibleName() or (isinstance(part, QAbstractButton) and part.text()), part
