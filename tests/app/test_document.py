"""The document: undo, merged typing, files, rescue after a fault of our own."""

from __future__ import annotations

import threading
from datetime import datetime
from pathlib import Path

import pytest
from PySide6.QtCore import Signal

from gingham.app.session.document import Document
from gingham.app.shell import crash
from gingham.app.shell.logfile import LogFile
from gingham.app.work.worker import Job, NewestWorker
from gingham.core.errors import EditError, FileError, MeterError
from gingham.core.formats.piece_file import load_piece
from gingham.core.music.meter import meter
from gingham.core.patterns.shorthand import parse_pattern
from gingham.core.pieces import edits
from gingham.core.pieces.piece import ChordOverride, HereOverride, NamedPattern, Piece
from gingham.core.shapes.shape import parse_shape
from gingham.core.values import replace
from tests.conftest import make_piece


def titled(piece: Piece, title: str) -> Piece:
    """The piece under another title."""
    return replace(piece, title=title)


def test_every_edit_can_be_undone_and_done_again(qapp, piece: Piece) -> None:
    """edit ∘ undo is the identity; "modified" is the stack's clean state."""
    document = Document(piece)
    for title in ("One", "Two", "Three"):
        document.edit("Title", titled(document.piece, title))
    assert document.modified and document.stack.count() == 3
    for _ in range(3):
        document.stack.undo()
    assert document.piece is piece and not document.modified
    document.stack.redo()
    assert document.piece.title == "One"


def test_typing_is_one_step_until_it_is_over(qapp, piece: Piece) -> None:
    """Edits under one merge key join; after the gesture's end a new step begins."""
    document = Document(piece)
    for title in ("O", "On", "One"):
        document.edit("Title", titled(piece, title), merge="title")
    document.end_gesture()
    document.edit("Title", titled(piece, "Two"), merge="title")
    assert document.stack.count() == 2
    document.stack.undo()
    assert document.piece.title == "One"
    document.edit("Title", titled(piece, "One"))
    assert document.stack.count() == 2, "an edit that changes nothing is no step"


def test_saving_makes_clean_and_a_failure_keeps_everything(qapp, piece: Piece, tmp_path: Path) -> None:
    """An unwritable folder: the piece stays open, modified, and its file name unchanged."""
    document = Document(piece)
    document.edit("Title", titled(piece, "Harbour"))
    document.save(tmp_path / "harbour.gingham")
    assert not document.modified and load_piece(tmp_path / "harbour.gingham").title == "Harbour"
    document.edit("Title", titled(document.piece, "Quay"))
    with pytest.raises(FileError):
        document.save(tmp_path / "no such folder" / "x.gingham")
    assert document.modified and document.path == tmp_path / "harbour.gingham"


def test_a_fault_of_our_own_saves_the_work_first(window, tmp_path: Path, capsys) -> None:
    """The hook writes a copy of every modified piece and says where; clean ones are left alone."""
    folder = tmp_path / "rescued"
    log = LogFile(tmp_path / "state")
    hook = crash.Hook(window, folder, log, lambda: datetime(2026, 11, 24, 12, 0))
    hook.report(EditError("last-section"))
    assert "needs one section" in window.statusBar().currentMessage() and not log.path.exists()
    hook.report(ValueError("planted"))
    assert not folder.exists()
    window.document.edit("Title", titled(window.document.piece, "Lantern rescue"))
    hook.report(ValueError("planted"))
    hook.report(ValueError("planted in the same second"))
    saved = sorted(folder.iterdir())
    assert [load_piece(path).title for path in saved] == ["Lantern rescue"] * 2
    assert "planted" in capsys.readouterr().err and "planted in the same" in log.path.read_text()
    assert str(folder) in window.statusBar().currentMessage()
    log.close()


def test_a_fault_in_another_thread_comes_through_the_interface_thread(
    qtbot, window, tmp_path: Path, monkeypatch, capsys
) -> None:
    """No widget is touched from there, the worker lives on, and the waiting view hears of the end."""
    hook = crash.Hook(window, tmp_path / "rescued")
    monkeypatch.setattr(threading, "excepthook", hook.in_another_thread)
    said: list[object] = []
    monkeypatch.setattr(window, "notify", lambda text: said.append((text, threading.current_thread())))

    class Falls(NewestWorker[int]):
        """Falls over its first item."""

        worked = Signal(int)

        def work_on(self, item: int) -> None:
            """Once wrong, then right."""
            if item == 1:
                raise ValueError("planted")
            self.worked.emit(item)

    worker, job = Falls("falls"), Job("falls")
    worker.request(1)
    qtbot.waitUntil(lambda: len(said) == 1)
    with qtbot.waitSignal(worker.worked):
        worker.request(2)
    with qtbot.waitSignal(job.failed) as ended:
        job.start(lambda _tick: 1 // 0)
    qtbot.waitUntil(lambda: len(said) == 2)
    assert all(thread is threading.main_thread() for _, thread in said) and ended.args[0].code == "bug"
    worker.close()
    job.close()


def test_a_job_ends_once_and_only_the_newest_is_heard(qtbot) -> None:
    """Done, failed and stopped each come once; a job that was given up says nothing more."""
    job, ends, go = Job("job"), [], threading.Event()
    for name in ("done", "failed"):
        getattr(job, name).connect(lambda value, name=name: ends.append((name, value)))
    job.stopped.connect(lambda: ends.append(("stopped", None)))
    job.start(lambda _tick: go.wait(20) and "old")
    job.start(lambda _tick: "new")
    qtbot.waitUntil(lambda: ends == [("done", "new")])
    go.set()

    def until_told(tick) -> None:
        while tick(0.5):
            pass
        raise FileError("reading-stopped")

    job.start(until_told)
    job.stop()
    qtbot.waitUntil(lambda: len(ends) == 2)
    fault = EditError("last-section")

    def fails(_tick) -> None:
        raise fault

    job.start(fails)
    qtbot.waitUntil(lambda: len(ends) == 3)
    assert ends[1:] == [("stopped", None), ("failed", fault)] and not job.busy
    job.close()


def test_a_rescue_into_nowhere_does_not_fail(qapp, piece: Piece, tmp_path: Path) -> None:
    """The hook never raises, whatever the disk does."""
    document = Document(piece)
    document.edit("Title", titled(piece, "X"))
    (tmp_path / "file").write_text("")
    assert crash.rescue([document], tmp_path / "file" / "folder", datetime(2026, 11, 24)) == []


def test_edits_of_sections_carry_their_exceptions(piece: Piece) -> None:
    """Renaming takes them along, removing takes them away, names stay told apart."""
    marked = edits.add_override(piece, HereOverride("Verse", 1, piece.meter.bar / 4, "p", 5))
    two = edits.add_section(marked, 0)
    assert [s.name for s in two.sections] == ["Verse", "Verse 2"]
    assert [s.name for s in edits.add_section(two, 1).sections] == ["Verse", "Verse 2", "Verse 3"]
    renamed = edits.rename_section(two, 0, "Quay")
    assert renamed.overrides[0].section == "Quay"
    assert edits.remove_section(renamed, 0).overrides == ()
    with pytest.raises(EditError):
        edits.remove_section(piece, 0)
    for name in ("", "Verse 2"):
        with pytest.raises(EditError):
            edits.rename_section(two, 0, name)


def test_an_exception_with_the_same_address_replaces_the_old_one(piece: Piece) -> None:
    """One place, one exception; each can be taken back."""
    shape = parse_shape("xx0232")
    once = edits.add_override(piece, ChordOverride("D", shape, "m", 2))
    twice = edits.add_override(once, ChordOverride("D", shape, "m", 3))
    assert [o.string for o in twice.overrides] == [3]
    assert edits.remove_override(twice, twice.overrides[0]).overrides == ()
    assert edits.clear_chord_overrides(twice, "D").overrides == ()
    assert edits.remove_override(piece, twice.overrides[0]) == piece, "pressed twice quickly"


def test_meter_instrument_and_pattern_edits_stay_valid() -> None:
    """A pattern of another meter is refused; a new meter brings one that fits; a short neck drops the capo."""
    piece = make_piece("| G | C |", capo=9)
    waltz = NamedPattern("Ferry", parse_pattern("3/4 x1: p i i"))
    for edit in (
        lambda: edits.set_pattern(piece, "Mine", waltz.pattern),
        lambda: edits.choose_pattern(piece, 0, waltz),
        lambda: edits.set_meter(piece, meter(6, 8), waltz),
    ):
        with pytest.raises(MeterError):
            edit()
    turned = edits.set_meter(piece, meter(3, 4), waltz)
    assert turned.sections[0].pattern == "Ferry" and edits.set_tempo(turned, 90).tempo == 90
    from gingham.core.instruments.instrument import instrument

    assert edits.set_instrument(piece, instrument("ukulele")).capo == 9
    assert edits.set_instrument(replace(piece, capo=14), instrument("ukulele")).capo == 0


def test_undo_and_redo_are_offered_at_every_step(qtbot, window) -> None:
    """The names are those of the steps that would be taken; redo is there after one undo among several edits."""
    undo, redo = window.actions_by_id["undo"], window.actions_by_id["redo"]
    pieces = [window.document.piece]
    for capo in (1, 3, 4):
        window.document.edit(f"Capo {capo}", replace(window.document.piece, capo=capo))
        pieces.append(window.document.piece)
        assert undo.text() == f"Undo Capo {capo}" and not redo.isEnabled()
    undo.trigger()
    assert (undo.text(), redo.text(), redo.isEnabled()) == ("Undo Capo 3", "Redo Capo 4", True)
    undo.trigger()
    redo.trigger()
    redo.trigger()
    assert window.document.piece == pieces[-1] and not redo.isEnabled()
    for _ in range(3):
        undo.trigger()
    assert window.document.piece == pieces[0] and not undo.isEnabled()
