"""The Practise view: stages by key, marked as done, followed from the music stand."""

from __future__ import annotations

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from gingham.app.views.practice.follow import Moment
from gingham.core.patterns.shorthand import parse_pattern
from gingham.core.pieces.chordline import parse_chord_line
from gingham.core.pieces.edits import reshape_pattern, set_chords, set_tempo
from gingham.core.pieces.form import done_entry
from tests.conftest import make_piece, play


@pytest.fixture
def practise(window):
    """The Practise page over the sketch's chords, the thumb alone chosen."""
    window.actions_by_id["practise"].trigger()
    page = window.pages.practise
    page.choose_stage("Verse · alone-p-G")
    return page


def row_of(practise, code: str) -> int:
    """The index of the first stage of a kind."""
    return next(i for i, stage in enumerate(practise.stages) if stage.reason.code == f"stage-{code}")


def test_a_stage_is_played_with_one_key_at_its_own_tempo(practise, window) -> None:
    """Its layers only, its stretch only; the piece's own layers are left alone."""
    stages = practise.view.stages
    assert stages.hasFocus() and stages.count() == len(practise.stages) > 6
    QTest.keyClick(stages, Qt.Key.Key_Space)
    line = window.transport._line
    assert window.transport.playing and {note.finger for note in line.notes if note.gain} == {"p"}
    assert line.length == 1.0 and practise.view.play.text().startswith("Stop")
    QTest.keyClick(stages, Qt.Key.Key_Space)
    assert not window.transport.playing and window.transport.options.muted == frozenset()
    stages.choose(row_of(practise, "change"))
    practise.view.play.click()
    assert len(window.transport._line.places) == 2
    practise.view.play.click()


def test_a_beat_before_the_change_the_thumb_is_told_its_string(practise, window) -> None:
    """Not two beats before, not in a stage without the thumb, and not where it stays."""
    stages, follow = practise.view.stages, practise.view.follow
    stages.choose(row_of(practise, "whole"))
    beat = 0.25
    follow.show_moment(Moment(0, 1, 4 * beat - beat))
    assert follow.seen().ahead == (4, 5)
    follow.show_moment(Moment(0, 1, 4 * beat - 2 * beat))
    assert follow.seen().ahead is None


def test_stages_are_marked_as_done_and_undone(qtbot, practise, window) -> None:
    """D marks and goes on; it is part of the piece, so undo takes it back and the file keeps it."""
    stages = practise.view.stages
    with qtbot.waitSignal(window.shown.settled):
        QTest.keyClick(stages, Qt.Key.Key_D)
    thumb = practise.stages[1]
    assert window.document.piece.done == (done_entry(thumb.id, thumb.mark, 72),) and stages.currentRow() == 2
    assert stages.dots(1) == "✓" and practise.view.status.text().startswith("1 of")
    with qtbot.waitSignal(window.shown.settled):
        window.actions_by_id["undo"].trigger()
    assert window.document.piece.done == () and not stages.dots(1)


@pytest.mark.parametrize(
    "edit",
    [
        lambda piece: set_tempo(piece, 90),
        lambda piece: reshape_pattern(piece, "Mine", parse_pattern("4/4 x2: p . p i ; p m p i")),
        lambda piece: set_chords(
            piece, 0, parse_chord_line("| G{3x0003} | Am7 | Dsus4 D | Em7{022030} |", piece.meter)
        ),
    ],
)
def test_nothing_stays_done_that_has_become_another_stage(qtbot, practise, window, edit) -> None:
    """A faster goal, other plucks, another shape: it was done, it is not; undone it is again."""
    practise.choose_stage("Verse · with-m-G")
    with qtbot.waitSignal(window.shown.settled):
        practise.toggle_done()
    assert practise.is_done(practise.plan.stage("Verse · with-m-G"))
    with qtbot.waitSignal(window.shown.settled):
        window.document.edit("Other", edit(window.document.piece))
    assert not practise.is_done(practise.plan.stage("Verse · with-m-G"))
    assert any(practise.view.stages.item(r).text() == "○ With the middle on G" for r in range(8))
    with qtbot.waitSignal(window.shown.settled):
        window.actions_by_id["undo"].trigger()
    assert practise.is_done(practise.plan.stage("Verse · with-m-G"))


def test_a_stage_that_is_done_in_one_section_is_not_done_in_another(qtbot, practise, window) -> None:
    """Two sections with the same chords have the same changes, each marked for itself."""
    with qtbot.waitSignal(window.shown.settled):
        window.add_section()
    with qtbot.waitSignal(window.shown.settled):
        window.shown.select_section(0)
    practise.view.stages.choose(row_of(practise, "change"))
    with qtbot.waitSignal(window.shown.settled):
        practise.toggle_done()
    stages = practise.view.stages
    marked = [row for row in range(stages.count()) if stages.dots(row) == "✓"]
    assert len(marked) == 1 and len(window.document.piece.done) == 1


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
    assert practise.stages[0].reason.code == "stage-strum" and settings.text("learning-order", "") == "chords"


def test_the_picture_follows_the_light_and_says_what_comes(qtbot, practise, window) -> None:
    """Two bars stand while the light goes over them; then the next two; the count-in is shown too."""
    follow = practise.view.follow
    practise.view.stages.choose(row_of(practise, "whole"))
    window.transport.set_count_in("")
    practise.choose_tempo(300)
    practise.play_or_stop()
    qtbot.waitUntil(lambda: follow.moment.bar == 1)
    assert follow.seen().pair.first == 0 and follow.seen().light[0] == 0
    qtbot.waitUntil(lambda: follow.moment.bar == 2)
    assert follow.seen().pair.first == 0 and follow.seen().light[0] == 1
    qtbot.waitUntil(lambda: follow.moment.bar == 3)
    assert follow.seen().pair.first == 2
    window.transport.stop()
    assert follow.moment == Moment() and follow.seen().light is None
    practise._counting(3)
    assert follow.moment.counting == 3


def test_only_what_the_stage_asks_for_is_shown(practise, window) -> None:
    """Thumb alone on G: one bar, no chord comes, the thumb's next string is the loop's own."""
    follow = practise.view.follow
    assert practise.stage.reason.code == "stage-alone"
    assert len(follow.loop.bars) == 1 and follow.muted == practise.stage.muted
    follow.show_moment(Moment(0, 1, 0.75))
    seen = follow.seen()
    assert seen.coming.after is None and seen.thumb == (4, 6)
    assert "one chord" in follow.accessibleDescription()
    assert follow.title == f"Thumb alone on G  ·  {practise.stage.tempo} beats/min"


def test_a_stage_gets_slower_and_the_piece_keeps_its_tempo(qtbot, practise, window) -> None:
    """Slower by key and by the list's minus, while it plays; Build's tempo is as it was."""
    stage, tempo = practise.stage, practise.stage.tempo
    piece = window.document.piece
    window.actions_by_id["play"].trigger()
    assert window.transport.owner == "stage"
    window.actions_by_id["slower"].trigger()
    assert practise.tempo(stage) == tempo - 4
    QTest.keyClicks(practise.view.stages, "-")
    qtbot.waitUntil(lambda: window.transport._stream._player.tempo_bpm == tempo - 8)
    assert practise.tempo(stage) == tempo - 8 and practise.view.tempo.value() == tempo - 8
    assert window.document.piece is piece
    window.actions_by_id["play"].trigger()
    assert not window.transport.playing


def test_every_section_has_its_stages_under_its_name(qtbot, practise, window) -> None:
    """Two sections: two headings that cannot be chosen; a stage of the other one plays there."""
    with qtbot.waitSignal(window.shown.settled):
        window.add_section()
    window.shown.select_section(0)
    practise.refresh()
    sections = {stage.section for stage in practise.stages}
    assert sections == {0, 1}
    stages = practise.view.stages
    titles = [stages.item(row).text() for row in range(stages.count()) if not stages.item(row).flags()]
    assert stages.count() == len(practise.stages) + len(titles) and titles[:2] == ["Verse", "Verse 2"]
    first = next(i for i, stage in enumerate(practise.stages) if stage.section == 1)
    stages.choose(first)
    window.transport.set_count_in("")
    practise.play_or_stop()
    qtbot.waitUntil(lambda: practise.view.follow.moment.section == 1)
    window.transport.stop()


def test_the_strings_can_lie_as_on_the_knee(practise, window, settings) -> None:
    """String 6 on top; remembered; the picture is another one."""
    before = practise.view.follow.grab().toImage()
    window.actions_by_id["lowest-on-top"].trigger()
    assert practise.view.follow.grab().toImage() != before and settings.flag("lowest-on-top", False)


def test_without_chords_the_picture_says_where_to_begin(qtbot, practise, window) -> None:
    """No stages, and nothing that plays."""
    with qtbot.waitSignal(window.shown.settled):
        window.document.edit("Other", make_piece("| N.C. |"))
    assert practise.stages == () and practise.view.status.text() == "No chords yet."
    assert practise.view.follow.seen() is None
    practise.play_or_stop()
    practise.toggle_done()
    assert not window.transport.playing


def test_pages_change_by_key_and_tab(practise, window) -> None:
    """Build comes back with the cursor in the picture; Practise keeps its stage."""
    practise.view.stages.setCurrentRow(2)
    window.actions_by_id["practise"].trigger()
    assert window.pages.current == "build" and window.view.isVisible()
    window.pages.go("practise")
    assert window.pages.stack.currentWidget() is practise.view and practise.view.stages.currentRow() == 2
    window.actions_by_id["mirror"].trigger()
    assert practise.view.follow.appearance.mirrored
    window.actions_by_id["night"].trigger()
    assert practise.view.follow.theme.name == "night"
