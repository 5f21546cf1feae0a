"""The Practise view: stages by key, marked as done, followed from the music stand."""

from __future__ import annotations

import pytest
from PySide6.QtCore import Qt
from PySide6.QtGui import QColor
from PySide6.QtTest import QTest

from gingham.app.views.practice.follow import Moment
from tests.conftest import make_piece, play


@pytest.fixture
def practise(window):
    """The Practise page over the sketch's chords."""
    window.actions_by_id["practise"].trigger()
    return window.pages.practise


def test_a_stage_is_played_with_one_key_at_its_own_tempo(practise, window) -> None:
    """Its layers only, its stretch only; stopping brings the piece's own layers back."""
    stages = practise.view.stages
    assert stages.hasFocus() and stages.count() == len(practise.stages) > 6
    QTest.keyClick(stages, Qt.Key.Key_Space)
    assert window.transport.playing and window.transport.options.muted == practise.stages[0].muted
    assert window.transport._line.length == 1.0 and practise.view.play.text().startswith("Stop")
    QTest.keyClick(stages, Qt.Key.Key_Space)
    assert not window.transport.playing and window.transport.options.muted == frozenset()
    row = next(i for i, stage in enumerate(practise.stages) if stage.around is not None)
    stages.setCurrentRow(row)
    practise.view.play.click()
    assert len(window.transport._line.places) == 2
    practise.view.play.click()


def test_stages_are_marked_as_done_and_undone(qtbot, practise, window) -> None:
    """D marks and goes on; it is part of the piece, so undo takes it back and the file keeps it."""
    stages = practise.view.stages
    with qtbot.waitSignal(window.shown.settled):
        QTest.keyClick(stages, Qt.Key.Key_D)
    assert window.document.piece.done == (practise.stages[0].id,) and stages.currentRow() == 1
    assert stages.item(0).text().startswith("✓") and practise.view.status.text().startswith("1 of")
    with qtbot.waitSignal(window.shown.settled):
        window.actions_by_id["undo"].trigger()
    assert window.document.piece.done == () and not stages.item(0).text().startswith("✓")


def test_a_stage_that_is_done_in_one_section_is_not_done_in_another(qtbot, practise, window) -> None:
    """Two sections with the same chords have the same stages, each marked for itself."""
    with qtbot.waitSignal(window.shown.settled):
        window.add_section()
    with qtbot.waitSignal(window.shown.settled):
        window.shown.select_section(0)
    practise.view.stages.setCurrentRow(0)
    with qtbot.waitSignal(window.shown.settled):
        practise.toggle_done()
    assert practise.view.stages.item(0).text().startswith("✓")
    with qtbot.waitSignal(window.shown.settled):
        window.shown.select_section(1)
    assert len(practise.stages) > 6 and not practise.view.stages.item(0).text().startswith("✓")


def test_an_edit_does_not_take_a_playing_stage_away(qtbot, practise, window) -> None:
    """Marked as done while it plays: the stage goes on at its own tempo, not the piece at its."""
    practise.play_or_stop()
    line = window.transport._line
    with qtbot.waitSignal(window.shown.settled):
        practise.toggle_done()
    assert window.transport.playing and window.transport._line is line
    window.transport.stop()
    play(qtbot, window)
    piece_line = window.transport._line
    practise.toggle_done()
    qtbot.waitUntil(lambda: window.transport._line is not piece_line)
    window.playing.stop()


def test_the_order_of_learning_is_chosen_and_remembered(practise, window, settings) -> None:
    """Chords first begins with a change."""
    order = practise.view.order
    order.setCurrentIndex(order.findData("chords"))
    order.activated.emit(order.currentIndex())
    assert practise.stages[0].around is not None and settings.text("learning-order", "") == "chords"


def test_the_picture_follows_and_calls_the_next_chord(qtbot, practise, window) -> None:
    """Bar and round on top, the coming chord from a pattern ahead; the count-in is shown too."""
    follow = practise.view.follow
    practise.view.stages.setCurrentRow(len(practise.stages) - 1)
    window.transport.set_count_in("")
    practise.play_or_stop()
    qtbot.waitUntil(lambda: follow.moment.bar == 1)
    qtbot.waitUntil(lambda: follow.coming == 1)
    window.transport.stop()
    assert follow.moment == Moment() and follow.coming is None
    practise._counting(3)
    assert follow.moment.counting == 3


def test_what_matters_is_large_and_the_empty_state_says_what_to_do(qtbot, practise, window) -> None:
    """The count of a moment is over sixty pixels high; without chords the picture says where to begin."""
    follow = practise.view.follow
    follow.show_moment(Moment(1, 0.0))
    image = follow.grab().toImage()
    ink = QColor(follow.theme.ink)
    third = range(16, follow.width() // 3)
    rows = [y for y in range(60, follow.height() // 2) if any(image.pixelColor(x, y) == ink for x in third)]
    assert max(rows) - min(rows) > 60
    with qtbot.waitSignal(window.shown.settled):
        window.document.edit("Other", make_piece("| N.C. |"))
    assert practise.stages == () and practise.view.status.text() == "No chords yet."
    practise.play_or_stop()
    practise.toggle_done()
    assert not window.transport.playing


def test_pages_change_by_key_and_tab(practise, window) -> None:
    """Build comes back with the cursor in the picture; Practise keeps its stage."""
    practise.view.stages.setCurrentRow(2)
    window.actions_by_id["practise"].trigger()
    assert window.pages.stack.currentWidget() is window.view
    window.pages.tabs.setCurrentIndex(1)
    assert window.pages.stack.currentWidget() is practise.view and practise.view.stages.currentRow() == 2
    window.actions_by_id["mirror"].trigger()
    assert practise.view.follow.appearance.mirrored
    window.actions_by_id["night"].trigger()
    assert practise.view.follow.theme.name == "night"
