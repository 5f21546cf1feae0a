"""Unsaved work outlives a kill; recent files; files that another program changes."""

from __future__ import annotations

import os
import signal
import subprocess
import sys
import time
from pathlib import Path

import pytest
from PySide6.QtWidgets import QMenu, QMessageBox

from gingham.app.files.keeping import SET_ASIDE, SUFFIX, Keeper, LeftBehind, left_behind
from gingham.app.look import theme
from gingham.app.session.document import Document
from gingham.app.shell.window import MainWindow
from gingham.app.sound.devices import SilentOutput
from gingham.app.sound.transport import Transport
from gingham.core.formats.piece_file import load_piece, save_piece
from gingham.core.pieces.edits import set_tempo
from gingham.core.programs import is_running, program_id, program_of
from gingham.core.values import replace
from tests.conftest import make_piece


@pytest.fixture
def unsaved(tmp_path: Path) -> Path:
    """The folder for copies."""
    return tmp_path / "unsaved"


def kept_in(folder: Path) -> list[Path]:
    """The copies that are there."""
    return sorted(folder.glob(f"*{SUFFIX}")) if folder.exists() else []


def test_a_changed_piece_is_kept_until_it_is_saved(qtbot, unsaved: Path, tmp_path: Path) -> None:
    """The copy appears after a change, says which file it belongs to, and goes with the save."""
    path = tmp_path / "quay.gingham"
    save_piece(make_piece("| G |"), path)
    document, keeper = Document.load(path), Keeper(unsaved)
    keeper.add(document)
    document.edit("Tempo", set_tempo(document.piece, 99))
    keeper.keep()
    qtbot.waitUntil(lambda: len(kept_in(unsaved)) == 1)
    assert left_behind(unsaved) == LeftBehind(), "this program is alive: it is no one's loss yet"
    document.save()
    qtbot.waitUntil(lambda: not kept_in(unsaved))
    keeper.close(forget=False)


class Alarm:
    """A timer that counts how often it is set, and never goes off by itself."""

    def __init__(self) -> None:
        self.starts = 0

    def isActive(self) -> bool:
        """Whether it has been set."""
        return self.starts > 0

    def start(self) -> None:
        """Set it."""
        self.starts += 1

    def stop(self) -> None:
        """It has gone off."""
        self.starts = 0


def test_one_who_never_pauses_is_kept_as_well(qtbot, unsaved: Path) -> None:
    """The delay runs from the first change: later ones do not put it off."""
    document, keeper = Document(make_piece("| G |")), Keeper(unsaved)
    keeper._later = alarm = Alarm()
    keeper.add(document)
    for tempo in (90, 91, 92):
        document.edit("Tempo", set_tempo(document.piece, tempo))
    assert alarm.starts == 1
    keeper.keep()
    qtbot.waitUntil(lambda: len(kept_in(unsaved)) == 1)
    document.edit("Tempo", set_tempo(document.piece, 93))
    assert alarm.starts == 1, "the next change sets it again"
    keeper.close(forget=True)
    assert kept_in(unsaved) == []


CHILD = """
import sys, time
from pathlib import Path
from PySide6.QtWidgets import QApplication
from PySide6.QtCore import QTimer
from gingham.app.look import theme
from gingham.app.sound.devices import SilentOutput
from gingham.app.look.settings import Settings
from gingham.app.sound.transport import Transport
from gingham.app.shell.window import MainWindow
from gingham.app.session.document import Document
from gingham.core.pieces.edits import set_tempo
from gingham.core.programs import is_running, program_id, program_of
app = QApplication(sys.argv)
theme.load_fonts()
folder = Path(sys.argv[1])
window = MainWindow(Settings(folder / "s.ini"), Transport(output=SilentOutput()), unsaved=folder / "unsaved")
window.add(Document.load(folder / "quay.gingham"))
window.files.keeper._later.setInterval(1)
tempo = [100]
def edit():
    tempo[0] = 100 + (tempo[0] - 99) % 100
    window.document.edit("Tempo", set_tempo(window.document.piece, tempo[0]))
    print(tempo[0], flush=True)
timer = QTimer(interval=3)
timer.timeout.connect(edit)
timer.start()
window.show()
app.exec()
"""


@pytest.mark.parametrize("after_s", [0.05, 0.11, 0.2])
def test_a_kill_at_any_moment_loses_next_to_nothing(
    qtbot, tmp_path: Path, settings, qapp, after_s: float
) -> None:
    """The program is killed while it edits without a pause; the next start opens what was kept, as unsaved."""
    path = tmp_path / "quay.gingham"
    save_piece(make_piece("| G | C |"), path)
    child = subprocess.Popen(
        [sys.executable, "-c", CHILD, str(tmp_path)],
        stdout=subprocess.PIPE,
        stderr=subprocess.DEVNULL,
        env={**os.environ, "QT_QPA_PLATFORM": "offscreen"},
    )
    assert child.stdout is not None
    first = child.stdout.readline()
    deadline = time.monotonic() + 20
    while not kept_in(tmp_path / "unsaved") and time.monotonic() < deadline:
        time.sleep(0.01)
    time.sleep(after_s)
    child.send_signal(signal.SIGKILL)
    rest = child.stdout.read().split()
    child.stdout.close()
    child.wait()
    theme.load_fonts()
    window = MainWindow(settings, Transport(output=SilentOutput()), unsaved=tmp_path / "unsaved")
    qtbot.addWidget(window)
    assert window.files.recover() == 1
    document = window.document
    assert document.modified and document.path == path
    edited = {int(line) for line in (first, *rest)}
    assert document.piece.tempo in edited | {tempo + 1 for tempo in edited}, (
        "the last one may not be told yet"
    )
    document.stack.undo()
    assert document.piece == load_piece(path), "undo goes back to the file"
    document.stack.setClean()
    window.close()
    assert not kept_in(tmp_path / "unsaved")


def test_a_copy_that_is_damaged_is_told_and_stays(qtbot, unsaved: Path, settings) -> None:
    """Nothing that might be work is thrown away."""
    unsaved.mkdir()
    (unsaved / f"x{SUFFIX}").write_bytes(b"{half")
    window = MainWindow(settings, Transport(output=SilentOutput()), unsaved=unsaved)
    qtbot.addWidget(window)
    assert window.files.recover() == 0
    assert "cannot be read was set aside: x.unsaved" in window.statusBar().currentMessage()
    assert kept_in(unsaved) == [] and [p.read_bytes() for p in (unsaved / SET_ASIDE).iterdir()] == [b"{half"]
    window.close()


def test_programs_are_told_apart_by_more_than_their_number() -> None:
    """A number is used again; the moment of the start is not."""
    assert program_id() == program_of(os.getpid()) and ":" in program_id()
    assert program_of(2**22 + 1) == "" and not is_running(f"{os.getpid()}:1") and is_running(program_id())


# Recent files.


def test_recent_files_are_remembered_and_opened(qtbot, window, tmp_path: Path) -> None:
    """The last one first, each once, what is gone left out."""
    paths = [tmp_path / f"{name}.gingham" for name in ("one", "two")]
    for path in paths:
        save_piece(make_piece("| G |"), path)
        assert window.files.open_file(path)
    assert window.files.recent.paths() == [paths[1], paths[0]]
    window.files.open_file(paths[0])
    assert window.files.recent.paths() == paths
    paths[1].unlink()
    window.recent_menu.aboutToShow.emit()
    shown = [action.text() for action in window.recent_menu.actions()]
    assert shown == ["&1  one.gingham"]
    count = len(window.documents)
    window.recent_menu.actions()[0].trigger()
    assert len(window.documents) == count + 1


def test_an_empty_list_says_so(window) -> None:
    """Before anything has been opened."""
    menu = QMenu()
    window.files.recent.fill(menu)
    assert menu.actions()[0].text().startswith("Nothing has been opened")
    assert not menu.actions()[0].isEnabled()


# Changes from outside.


@pytest.fixture
def opened(qtbot, window, tmp_path: Path):
    """A piece from a file."""
    path = tmp_path / "quay.gingham"
    save_piece(make_piece("| G |", tempo=80), path)
    window.files.open_file(path)
    return window.document


def change_outside(document: Document, tempo: int) -> None:
    """Another program writes the file."""
    save_piece(set_tempo(load_piece(document.path), tempo), document.path)


def test_an_unchanged_piece_follows_its_file(qtbot, window, opened) -> None:
    """It is read again, as one step that can be undone."""
    change_outside(opened, 120)
    qtbot.waitUntil(lambda: opened.piece.tempo == 120)
    assert not opened.modified and "read again" in window.statusBar().currentMessage()
    opened.stack.undo()
    assert opened.piece.tempo == 80


def test_a_changed_piece_is_never_overrun(qtbot, window, opened, monkeypatch) -> None:
    """The player is told; saving asks; taking the file is one undo step."""
    opened.edit("Tempo", set_tempo(opened.piece, 60))
    change_outside(opened, 120)
    qtbot.waitUntil(lambda: "was changed by another program" in window.statusBar().currentMessage())
    assert opened.piece.tempo == 60
    monkeypatch.setattr(QMessageBox, "question", lambda *_a: QMessageBox.StandardButton.Cancel)
    assert not window.files.save() and load_piece(opened.path).tempo == 120
    window.actions_by_id["reload"].trigger()
    assert opened.piece.tempo == 120
    opened.stack.undo()
    assert opened.piece.tempo == 60
    change_outside(opened, 130)
    monkeypatch.setattr(QMessageBox, "question", lambda *_a: QMessageBox.StandardButton.Save)
    assert window.files.save() and load_piece(opened.path).tempo == 60


def test_our_own_saves_are_no_change_from_outside(qtbot, window, opened) -> None:
    """Saving three times tells nothing."""
    told: list[object] = []
    window.files.watcher.changed.connect(told.append)
    for tempo in (70, 71, 72):
        opened.edit("Tempo", set_tempo(opened.piece, tempo))
        assert window.files.save()
    window.files.watcher.look()
    qtbot.wait(400)
    assert told == []


def test_a_file_that_is_damaged_outside_leaves_the_piece(qtbot, window, opened) -> None:
    """What is open is what is true."""
    opened.path.write_text("{")
    qtbot.waitUntil(lambda: "is not a Gingham piece" in window.statusBar().currentMessage())
    assert opened.piece.tempo == 80
    untitled = Document(replace(opened.piece, title="New"))
    window.add(untitled)
    window.files.reload()
    assert "has no file yet" in window.statusBar().currentMessage()
