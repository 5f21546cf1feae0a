"""The Takes page: recorded, heard, laid over what was meant, drilled, taken again."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest
import soundfile
from PySide6.QtCore import QMimeData, QPointF, Qt, QUrl
from PySide6.QtGui import QDropEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QMessageBox

from gingham.app.shell.window import MainWindow
from gingham.app.sound.inputs import SIMULATED, CardInput, SimulatedInput
from gingham.app.sound.recorder import Recorder
from gingham.app.sound.transport import Owner
from gingham.app.views.takes.controller import TakesController, shelf_name
from gingham.core.errors import FileError, GinghamError, TakeError
from gingham.core.listening.asked import Asked, question
from gingham.core.listening.simulate import simulate
from gingham.core.pieces.piece import Piece
from tests.conftest import make_piece

PATTERN = "4/4 x2: p i m i ; p i m i"


@pytest.fixture
def piece() -> Piece:
    """Four bars, quick."""
    return make_piece("| G | Am7 | C | D |", PATTERN, tempo=120)


@pytest.fixture
def takes(window: MainWindow, tmp_path: Path, monkeypatch) -> TakesController:
    """The page, with a simulated player for whom no time passes."""
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "data"))
    window.settings.set_text("simulated-faults", "gallop=40 wrong=1 missed=1 jitter=4")
    window.actions_by_id["takes"].trigger()
    page = window.pages.takes
    assert page is not None
    page.taking.sleep = lambda _seconds: None
    page.view.source.setCurrentIndex(page.view.source.findData(SIMULATED))
    return page


def take_one(qtbot, page: TakesController) -> None:
    """Record with a key, until the take has been heard."""
    number = max((kept.number for kept in page.kept), default=0) + 1
    QTest.keyClick(page.view, Qt.Key.Key_R)
    qtbot.waitUntil(lambda: page.taken is not None and page.taken.kept.number == number)


def rows(page: TakesController) -> list[str]:
    """The sentences with their headings."""
    return [page.view.sentences.item(i).text() for i in range(page.view.sentences.count())]


def choose_sentence(page: TakesController, words: str) -> None:
    """The keyboard on the sentence that holds these words."""
    index = next(i for i, text in enumerate(rows(page)) if words in text)
    page.view.sentences.setCurrentRow(index)


def test_the_page_says_what_to_do_while_there_is_no_take(takes) -> None:
    assert "Press Record (R)" in takes.view.heard.empty and rows(takes) == []
    assert not takes.view.play.isEnabled() and not takes.view.delete.isEnabled()


def test_recorded_heard_drilled_and_taken_again_better(qtbot, window, takes) -> None:
    """The way of a player: a take with faults, the sentence and its bar, that bar looped, a better take."""
    take_one(qtbot, takes)
    assert [kept.facts.source for kept in takes.kept] == ["simulated"]
    states = [mark.state for mark in takes.view.heard.shown]
    assert states.count("wrong") == 1 and states.count("missed") == 1
    said = rows(takes)
    assert said[0] == "What held" and "Work on" in said
    assert any("The index is 4" in text or "The index is 3" in text for text in said)
    choose_sentence(takes, "on another string")
    QTest.keyClick(takes.view.sentences, Qt.Key.Key_Return)
    heard = takes.view.heard
    wrong = next(i for i, mark in enumerate(heard.shown) if mark.state == "wrong")
    assert heard.bar == heard.shown[wrong].bar and heard.hasFocus()
    QTest.keyClick(takes.view.sentences, Qt.Key.Key_D)
    bar = (heard.shown[wrong].bar - 1) % 4 + 1
    assert window.playing.bars == (bar, bar)
    assert takes.view.what.currentText() == f"Bar {bar}"
    window.settings.set_text("simulated-faults", "jitter=2")
    take_one(qtbot, takes)
    assert takes.taken.kept.facts.asked.bars == (bar, bar)
    assert {mark.state for mark in heard.shown} == {"right"}
    takes.view.compare.setChecked(True)
    assert any(text.startswith("More plucks on their strings") for text in rows(takes))


def test_every_sentence_is_traced_to_the_report_on_disk(qtbot, takes) -> None:
    import json

    take_one(qtbot, takes)
    report = json.loads(takes.shelf.report(takes.kept[0]).read_text())
    assert report["summary"][0]["text"] == rows(takes)[1]
    planned = [note for note in report["notes"] if note["planned"] is not None]
    told = len(planned) + len(report["missed"]) + len(report["unclear"])
    assert told == len(takes.view.heard.shown)
    facts = takes.kept[0].facts
    assert (facts.held, facts.total) == takes.taken.analysis.held and facts.mark


def test_the_keyboard_goes_through_the_picture(qtbot, takes) -> None:
    take_one(qtbot, takes)
    heard = takes.view.heard
    heard.choose(0)
    heard.setFocus()
    assert heard.words().startswith("bar 1, 1: thumb on string 6")
    QTest.keyClick(heard, Qt.Key.Key_Right)
    assert heard.current == 1 and takes.view.here.text() == heard.words()
    QTest.keyClick(heard, Qt.Key.Key_PageDown)
    assert heard.bar == 2
    QTest.keyClick(heard, Qt.Key.Key_End)
    assert heard.current == len(heard.shown) - 1
    QTest.keyClick(heard, Qt.Key.Key_B)
    place = (heard.bar, str(heard.shown[heard.current].at))
    assert takes.kept[0].facts.marked == (place,) and heard.hand_marked == {place}
    assert heard.words().endswith("marked by you")
    assert any(cell.here for cell in heard.cells())
    assert any("late" in words for words in takes.view.places.facts())
    assert takes.view.tempo.facts() and takes.view.loud.facts()


def test_a_take_is_listened_to_from_the_cursor(qtbot, window, takes) -> None:
    take_one(qtbot, takes)
    window.playing.stop()
    heard = takes.view.heard
    heard.choose_bar(3)
    QTest.keyClick(takes.view, Qt.Key.Key_3)
    assert takes.view.which.currentData() == "both"
    with qtbot.waitSignal(window.transport.taped) as second:
        window.actions_by_id["play"].trigger()
    assert window.transport.owner is Owner.TAKE and takes.view.play.text().startswith("Stop")
    third = next(mark for mark in heard.shown if mark.bar == 3)
    assert abs(second.args[0] - third.t_s) < 2.0 and heard.playhead is not None
    window.actions_by_id["play"].trigger()
    assert not window.transport.playing and heard.playhead is None


def test_takes_are_named_copied_and_deleted(qtbot, takes, tmp_path, monkeypatch) -> None:
    take_one(qtbot, takes)
    takes.view.name.setText("With the click")
    takes.view.name.editingFinished.emit()
    assert takes.view.takes.item(0).text().startswith("With the click\n")
    takes.save_copy(tmp_path / "copy")
    assert soundfile.info(tmp_path / "copy.flac").samplerate == 44100 and (tmp_path / "copy.json").exists()
    monkeypatch.setattr(QMessageBox, "question", lambda *_a: QMessageBox.StandardButton.No)
    takes.ask_delete()
    assert takes.kept
    monkeypatch.setattr(QMessageBox, "question", lambda *_a: QMessageBox.StandardButton.Yes)
    takes.ask_delete()
    assert not takes.kept and not list(takes.shelf.folder.iterdir()) and takes.taken is None


def test_a_file_is_dropped_on_the_page(qtbot, takes, piece, tmp_path) -> None:
    sound = simulate(piece, question(piece, Asked(120, "Verse")).plan, {"missed": 2})
    path = tmp_path / "from the phone.wav"
    soundfile.write(path, np.column_stack([sound.samples, sound.samples]), sound.rate)
    data = QMimeData()
    data.setUrls([QUrl.fromLocalFile(str(path))])
    drop = QDropEvent(
        QPointF(20, 20),
        Qt.DropAction.CopyAction,
        data,
        Qt.MouseButton.LeftButton,
        Qt.KeyboardModifier.NoModifier,
    )
    takes.view.dropEvent(drop)
    qtbot.waitUntil(lambda: takes.taken is not None)
    assert takes.kept[0].facts.name == "from the phone" and takes.kept[0].facts.source == "file"
    assert [mark.state for mark in takes.view.heard.shown].count("missed") == 2


@pytest.mark.parametrize(
    ("samples", "words"),
    [
        (np.zeros(44100, np.float32), "There is no sound in"),
        (np.random.default_rng(1).normal(0, 0.1, 8 * 44100).astype(np.float32), "This does not sound like the piece"),
    ],
)  # fmt: skip
def test_a_file_that_is_no_take_is_told(qtbot, window, takes, tmp_path, samples, words: str) -> None:
    """Silence is refused; other sound is kept, said to be another piece, and not judged."""
    path = tmp_path / "other.flac"
    soundfile.write(path, samples, 44100)
    takes.taking.take_file(path)
    said = lambda: f"{takes.view.status.text()} {takes.view.heard.empty}"  # noqa: E731
    qtbot.waitUntil(lambda: words in said())
    assert takes.taken is None and rows(takes) == [] and not takes.view.go.isEnabled()


def test_a_piece_that_has_changed_is_told(qtbot, window, takes) -> None:
    take_one(qtbot, takes)
    takes._heard.clear()
    with qtbot.waitSignal(window.shown.settled):
        window.document.edit("Other", make_piece("| G | Am7 | C | Em |", PATTERN, tempo=120))
    takes.load(0)
    qtbot.waitUntil(lambda: "has changed since" in takes.view.status.text())


def test_takes_follow_a_piece_that_gets_a_file(qtbot, window, takes, tmp_path) -> None:
    take_one(qtbot, takes)
    before = takes.shelf.folder
    window.document.save(tmp_path / "lantern.gingham")
    assert takes.shelf.folder.name == shelf_name(window.document) != before.name
    assert len(takes.kept) == 1 and not before.exists()


class _Broken:
    """An input that gives some blocks and is then gone."""

    latency_s = 0.0

    def __init__(self, blocks: int) -> None:
        self._blocks, self.lost = blocks, False

    def start(self, push) -> None:
        for _ in range(self._blocks):
            push(np.full(1024, 0.3, np.float32))
        self.lost = True

    def stop(self) -> None:
        """Gone already."""


def test_what_was_recorded_before_the_microphone_vanished_is_kept(qtbot, tmp_path) -> None:
    recorder, path = Recorder(), tmp_path / "part.flac"
    with qtbot.waitSignal(recorder.ended) as ended:
        recorder.start(_Broken(100), path)
    assert ended.args == [pytest.approx(100 * 1024 / 44100), None]
    assert soundfile.info(path).frames == 100 * 1024
    recorder.close()


def test_a_full_disk_ends_the_recording_and_says_so(qtbot, tmp_path, monkeypatch) -> None:
    def full(self, block) -> None:
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(soundfile.SoundFile, "write", full)
    recorder = Recorder()
    with qtbot.waitSignal(recorder.ended) as ended:
        recorder.start(
            SimulatedInput(np.full(44100, 0.2, np.float32), lambda _s: None), tmp_path / "part.flac"
        )
    assert isinstance(ended.args[1], FileError) and ended.args[0] == 0.0
    recorder.close()


def test_the_level_warns_of_clipping_and_of_silence(qtbot, tmp_path) -> None:
    recorder, seen = Recorder(), []
    recorder.level_changed.connect(lambda level: seen.append(level.fault))
    for number, loud in enumerate((1.0, 0.0)):
        with qtbot.waitSignal(recorder.ended):
            samples = np.full(6 * 44100, loud, np.float32)
            recorder.start(SimulatedInput(samples, lambda _s: None), tmp_path / f"{number}.flac")
    assert "clipped" in seen and seen[-1] == "quiet"
    recorder.close()


def test_without_a_microphone_it_says_what_to_do(qtbot, window, takes, monkeypatch) -> None:
    def refuse(self, push) -> None:
        raise TakeError("no-microphone", why="busy")

    monkeypatch.setattr(CardInput, "start", refuse)
    takes.view.source.setCurrentIndex(0)
    QTest.keyClick(takes.view, Qt.Key.Key_R)
    assert "No microphone can be had (busy)" in takes.view.status.text()
    assert takes.kept == [] and not list(takes.shelf.folder.iterdir())
    assert takes.view.record.text().startswith("Record")


def test_a_take_without_tempo_is_judged_by_order_and_strings(qtbot, window, takes) -> None:
    takes.view.free.setChecked(True)
    take_one(qtbot, takes)
    assert all(mark.late_ms is None for mark in takes.view.heard.shown)
    assert takes.view.takes.item(0).text().split("\n")[1].startswith("today ")
    assert "no tempo · 9" in takes.view.takes.item(0).text()
    assert takes.view.places.facts() == []


def test_five_hundred_takes(qtbot, window, takes) -> None:
    from gingham.core.listening.shelf import Facts

    facts = Facts("Round", "2026-11-01T10:00:00", Asked(120, "Verse"), 9.0, "file")
    for _ in range(500):
        takes.shelf.take_in(b"not really FLAC", facts)
    takes.load(0)
    assert takes.view.takes.count() == 500
    qtbot.waitUntil(lambda: "cannot be read as sound" in takes.view.heard.empty)
    assert isinstance(GinghamError("bug"), Exception) and takes.kept[0].facts.fault == "take-format"
