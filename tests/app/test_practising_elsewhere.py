"""What is practised while another piece comes to the front, or the piece itself becomes another one."""

from __future__ import annotations

from gingham.app.session.document import Document
from gingham.core.values import replace
from tests.app.test_practising import clock, key, play, practise  # noqa: F401  # the fixtures
from tests.conftest import make_piece


def test_rounds_of_another_piece_are_not_marked_here(qtbot, practise, window, clock) -> None:  # noqa: F811
    """Played, stopped, another piece with the same stage shown: C marks nothing; back there it does."""
    practise.choose_stage("Verse · with-m-G")
    play(qtbot, practise, 22, clock)
    window.transport.stop()
    window.add(Document(window.document.piece))
    qtbot.waitUntil(lambda: practise.plan.piece is window.shown.piece)
    key(practise, "C")
    assert not window.logbook.record.attempts
    window.view.pieces.setCurrentIndex(0)
    qtbot.waitUntil(lambda: practise.plan.piece is window.shown.piece)
    key(practise, "C")
    assert [each.piece for each in window.logbook.record.attempts] == [window.document.identity]


def test_rounds_of_a_stage_that_is_gone_are_not_marked(qtbot, practise, window, clock) -> None:  # noqa: F811
    """Its section was taken out after it had been played."""
    window.add_section()
    qtbot.waitUntil(lambda: any(stage.section == 1 for stage in practise.stages))
    practise.choose_stage(
        next(stage.id for stage in practise.stages if stage.section == 1 and stage.kind == "loop")
    )
    play(qtbot, practise, 22, clock)
    window.transport.stop()
    window.shown.edit("One section", replace(window.shown.piece, sections=window.shown.piece.sections[:1]))
    qtbot.waitUntil(lambda: practise.plan.piece is window.shown.piece)
    key(practise, "N")
    assert (
        not window.logbook.record.attempts and "Play the stage first" in window.statusBar().currentMessage()
    )


def test_a_run_belongs_to_the_piece_that_it_began_with(qtbot, practise, window, clock) -> None:  # noqa: F811
    """Another piece is turned to while it plays: what has been kept is the first one's."""
    mine = window.document.identity
    key(practise, "R")
    qtbot.waitUntil(lambda: practise.run._now is not None and practise.run._now.bar >= 1)
    clock.passed += 10
    practise.run._now.bar = 2
    practise.run.slip("N")
    window.add(Document(make_piece("| C |")))
    window.transport.stop()
    kept = window.logbook.record.attempts[-1]
    assert (kept.kind, kept.piece, kept.spots[0].section, kept.spots[0].bar) == ("run", mine, "Verse", 2)


def test_a_run_does_not_begin_on_another_piece(qtbot, practise, window, clock) -> None:  # noqa: F811
    """Turned to while the first one is still being put in time."""
    with qtbot.waitSignal(practise.run.liner.lined):
        key(practise, "R")
        window.add(Document(make_piece("| C |")))
    assert not practise.run.on and not window.transport.playing
