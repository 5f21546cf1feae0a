"""Nothing lost in the window: recovery, full disks, odd starts, deleted files, a second start, the monkey."""

from __future__ import annotations

import errno
import os
import subprocess
import sys
from contextlib import suppress
from pathlib import Path

import pytest
from benchmarks.attack import disks, kills, monkey
from PySide6.QtGui import QDesktopServices
from PySide6.QtWidgets import QMessageBox

from gingham.app.files import keeping
from gingham.app.files.keeping import SUFFIX, left_behind, write_copies
from gingham.app.files.paths import path_of, path_text
from gingham.app.look.settings import Settings
from gingham.app.shell.instance import Listener, hand_over
from gingham.app.shell.logfile import LogFile
from gingham.app.shell.window import MainWindow
from gingham.app.sound.devices import SilentOutput
from gingham.app.sound.transport import Transport
from gingham.app.views.shapes.panel import heard_piece
from gingham.core.errors import FileError
from gingham.core.fitting.fit import fit
from gingham.core.formats.piece_file import load_piece, save_piece
from gingham.core.music.chords import parse_chord
from gingham.core.pieces.edits import set_tempo
from gingham.core.pieces.form_edits import add_fill
from gingham.core.shapes.search import shapes_for
from gingham.folders import Folders
from tests.conftest import make_piece


@pytest.fixture
def make_window(qtbot, settings: Settings, tmp_path: Path, monkeypatch):
    """Windows that keep copies in one folder."""
    made: list[MainWindow] = []
    monkeypatch.setattr(MainWindow, "ask_unsaved", lambda *_a: QMessageBox.StandardButton.Discard)

    def make() -> MainWindow:
        window = MainWindow(settings, Transport(output=SilentOutput()), unsaved=tmp_path / "unsaved")
        qtbot.addWidget(window)
        made.append(window)
        return window

    yield make
    for window in made:
        window.close()


def left(folder: Path, tempo: int, own: Path | None = None) -> Path:
    """A copy of unsaved work that a program which has ended left behind."""
    copy = folder / "unsaved" / f"a{SUFFIX}"
    task = keeping._Copy("" if own is None else path_text(own), "", "")
    assert write_copies([(copy, task, make_piece("| G |", tempo=tempo))]) is None
    return copy


def test_kills_at_every_operation_of_a_recovery_lose_nothing(qapp) -> None:
    """A seeded part of the campaign: in a process of its own, because it forks."""
    code = "from benchmarks.attack import kills; out = kills.kill_recovery(6); assert out.pop('kills') == 6 == 6 + out.total(), out"
    run = subprocess.run(
        [sys.executable, "-c", code], cwd=Path(__file__).parents[2], capture_output=True, check=False
    )
    assert run.returncode == 0, run.stderr.decode()
    assert kills.LOST_AFTER_S == 1.5


def test_a_found_copy_stays_until_a_newer_one_is_safe(
    qtbot, make_window, tmp_path: Path, monkeypatch
) -> None:
    """The disk is full at the start: the only copy is not touched, and the player is told where it stays."""
    left(tmp_path, 99)
    with disks.disk_that_says(errno.ENOSPC):
        window = make_window()
        assert window.files.recover() == 1 and window.document.piece.tempo == 99
        qtbot.waitUntil(lambda: "no space left" in window.standing.text())
        monkeypatch.setattr(keeping, "is_running", lambda _program: False)
        assert [kept.piece.tempo for kept in left_behind(tmp_path / "unsaved").found] == [99]
    window.files.keeper.keep()
    qtbot.waitUntil(lambda: window.standing.text() == "")
    assert "kept again" in window.statusBar().currentMessage()


def test_an_older_copy_never_goes_over_its_file(make_window, tmp_path: Path) -> None:
    """Killed between a save and the copy's end: beside the file, without a file, and said so."""
    path = tmp_path / "quay.gingham"
    os.utime(left(tmp_path, 99, path), (1_000, 1_000))
    save_piece(make_piece("| G |", tempo=60), path)
    window = make_window()
    assert window.files.recover() == 1
    assert window.document.path is None and window.document.piece.tempo == 99
    assert "is older than its file" in window.statusBar().currentMessage() and load_piece(path).tempo == 60


def test_a_copy_that_says_what_its_file_says_is_no_news(make_window, tmp_path: Path) -> None:
    """It was saved, and killed before the copy went."""
    path = tmp_path / "quay.gingham"
    copy = left(tmp_path, 99, path)
    save_piece(make_piece("| G |", tempo=99), path)
    assert make_window().files.recover() == 0 and not copy.exists()


def test_paths_are_bytes() -> None:
    """Line breaks, bytes that are no text, and what cannot be a path."""
    for path in (Path("/a\nb%/ü x"), Path(os.fsdecode(b"/\xff\xfe"))):
        assert path_of(path_text(path)) == path and path_text(path).isascii()
    assert path_of("a%00b") is path_of("") is None


def test_recent_files_of_any_name_are_remembered(make_window, tmp_path: Path) -> None:
    """In the list after a restart, and opened from it."""
    paths = [tmp_path / "two\nlines & more.gingham", tmp_path / os.fsdecode(b"\xff\xfe.gingham")]
    window = make_window()
    for path in paths:
        save_piece(make_piece("| G |"), path)
        assert window.files.open_file(path)
    window.recent_menu.aboutToShow.emit()
    assert window.files.recent.paths() == paths[::-1]
    before = len(window.documents)
    window.recent_menu.actions()[1].trigger()
    assert len(window.documents) == before + 1 and window.document.path == paths[0]
    assert window.files.save() and "two" in window.statusBar().currentMessage()


@pytest.mark.parametrize("number", [errno.ENOSPC, errno.EROFS])
def test_a_disk_that_refuses_is_told_once(qapp, tmp_path: Path, monkeypatch, number: int) -> None:
    """Edits and saves while it refuses, and when it takes again: the campaign's own run."""
    monkeypatch.setattr(QMessageBox, "exec", lambda _self: QMessageBox.StandardButton.Cancel)
    assert disks.full_while_editing(tmp_path, number) == []


STARTS = dict(disks.odd_starts())


@pytest.mark.parametrize("what", STARTS)
def test_it_starts_whatever_stands_in_its_folders(qapp, tmp_path: Path, what: str) -> None:
    """Settings of another world, files for folders, copies that are none."""
    STARTS[what](tmp_path)
    assert disks.start_in(tmp_path) == []
    for path in tmp_path.glob("data/gingham/unsaved/*.unsaved"):
        assert not path.is_file(), "what cannot be read has been set aside"


def test_switches_outlive_a_kill(window, settings: Settings, tmp_path: Path) -> None:
    """What is switched is on disk at once, and a read-only settings file is known to be one."""
    window.actions_by_id["click"].trigger()
    again = Settings(tmp_path / "config" / "settings.ini")
    assert again.flag("click", False) is True and again.kept
    (tmp_path / "file").write_bytes(b"")
    nowhere = Settings(tmp_path / "file" / "settings.ini")
    nowhere.set_flag("click", True)
    assert nowhere.flag("click", False) and not nowhere.kept


def test_saving_goes_elsewhere_and_asks_about_protection(window, tmp_path: Path, monkeypatch) -> None:
    """The dialog says what is wrong and offers another place; a protected file is asked about."""
    said: list[str] = []
    (tmp_path / "file").write_bytes(b"")
    other = tmp_path / "other.gingham"

    def elsewhere(box: QMessageBox) -> QMessageBox.StandardButton:
        said.append(box.text())
        return QMessageBox.StandardButton.Save

    monkeypatch.setattr(QMessageBox, "exec", elsewhere)
    monkeypatch.setattr("PySide6.QtWidgets.QFileDialog.getSaveFileName", lambda *_a: (str(other), ""))
    assert window.files._save_to(tmp_path / "file" / "x.gingham")
    assert "what should be its folder is a file" in said[0] and window.document.path == other
    other.chmod(0o444)
    for answer, tempo in ((QMessageBox.StandardButton.Cancel, 72), (QMessageBox.StandardButton.Save, 61)):
        window.document.edit("Tempo", set_tempo(window.document.piece, 61))
        monkeypatch.setattr(QMessageBox, "question", lambda *_a, answer=answer: answer)
        assert window.files.save() is (tempo == 61) and load_piece(other).tempo == tempo


def test_a_deleted_file_is_noticed(qtbot, window, tmp_path: Path) -> None:
    """The piece counts as not saved, once told; saving writes it anew."""
    path = tmp_path / "quay.gingham"
    save_piece(make_piece("| G |"), path)
    window.files.open_file(path)
    path.unlink()
    qtbot.waitUntil(lambda: "has been deleted" in window.statusBar().currentMessage())
    assert window.document.modified and window.files.save() and path.exists() and not window.document.modified


def test_repairs_of_a_file_are_told(qtbot, window, tmp_path: Path, monkeypatch) -> None:
    """Opening says what was put right; the file is as it was."""
    told: list[str] = []
    monkeypatch.setattr(window, "tell", lambda _title, text: told.append(text))
    path = tmp_path / "quay.gingham"
    save_piece(make_piece("| G |"), path)
    path.write_text(path.read_text().replace('"repeats": 1', '"repeats": 1000'))
    assert window.files.open_file(path)
    assert "was to be played 1000 times; it is now 99" in told[0] and '"repeats": 1000' in path.read_text()


def test_a_second_start_hands_its_files_to_the_first(qtbot, tmp_path: Path) -> None:
    """The one that listens opens them; when it has ended, nobody answers and each goes its own way."""
    taken: list[list[Path]] = []
    paths = [tmp_path / "a\nb.gingham", tmp_path / os.fsdecode(b"\xff.gingham")]
    listener = Listener(tmp_path / "run", lambda files, wishes: taken.append(files))
    assert (
        listener.listening
        and not Listener(tmp_path / "run", lambda files, wishes: taken.append(files)).listening
    )
    code = f"""
import sys
from pathlib import Path
from gingham.app.shell.instance import hand_over
sys.exit(0 if hand_over(Path({str(tmp_path / "run")!r}), [Path(p) for p in {[str(p) for p in paths]!r}]) else 1)
"""
    with subprocess.Popen([sys.executable, "-c", code]) as child:
        qtbot.waitUntil(lambda: taken == [paths])
    assert child.returncode == 0
    listener.close()
    assert not hand_over(tmp_path / "run", paths)
    again = Listener(tmp_path / "run", lambda files, wishes: taken.append(files))
    assert again.listening, "the place is free again"
    again.close()
    with suppress(OSError):
        (tmp_path / "file").write_bytes(b"")
    assert not Listener(tmp_path / "file", lambda files, wishes: taken.append(files)).listening


def test_a_shape_is_heard_beside_a_bar_of_its_own(window) -> None:
    """The bar's own pattern is no part of what is heard."""
    piece = add_fill(window.document.piece, 0, 1)
    ranked = shapes_for(parse_chord("G"), piece.instrument, piece.capo)[0]
    result = fit(heard_piece(piece, "G", ranked.shape))
    assert len(result.bars) == 1 and result.bars[0].events


def test_back_to_the_rule_pressed_twice(window) -> None:
    """A gesture on what is no longer there changes nothing."""
    window.build.set_column(0)
    window.build.gestures.toggle(0, "a")
    before = window.document.piece
    from gingham.core.pieces.piece import HereOverride

    window.build.back_to_rule(HereOverride("Verse", 9, before.swing, "p", 6))
    assert window.document.piece is before


def test_a_long_chart_is_read_off_the_interface_thread(qtbot, window) -> None:
    """It says so, and is shown when it is read; a newer text wins."""
    window.pages.show_chart()
    reading = window.pages.reading
    reading.text.setPlainText("| G | C | D | G |\n" * 600)
    reading.read_chart()
    assert reading.message.text() == "Reading…"
    qtbot.waitUntil(lambda: reading.table.rowCount() == 1)
    reading.text.setPlainText("nothing " * 1_000)
    reading.read_chart()
    qtbot.waitUntil(lambda: "no chord in it" in reading.message.text())
    reading.close()


def test_a_reading_that_fails_says_so(qtbot, window, tmp_path: Path, monkeypatch) -> None:
    """A fault of our own in the reader's thread ends "Reading…"; the next file is read."""
    monkeypatch.setattr("threading.excepthook", lambda _args: None)
    monkeypatch.setattr("gingham.core.formats.imports.read_part", lambda *_a: 1 // 0)
    (tmp_path / "x.mid").write_bytes(b"")
    window.pages.read_file(tmp_path / "x.mid")
    reading = window.pages.reading
    qtbot.waitUntil(lambda: reading.part.title.text() == "Nothing was read")
    assert "went wrong in Gingham itself" in reading.message.text()
    reading.close()


def test_the_log_is_a_file_of_the_player_s(window, tmp_path: Path, monkeypatch) -> None:
    """It has version and system, turns over when it is long, and is opened by an action."""
    window.log = log = LogFile(tmp_path / "state")
    opened: list[str] = []
    monkeypatch.setattr(QDesktopServices, "openUrl", lambda url: opened.append(url.toLocalFile()))
    window.actions_by_id["log"].trigger()
    assert opened == [str(log.path)] and "Gingham 0." in log.path.read_text()
    assert "sends nothing" in window.statusBar().currentMessage()
    for _ in range(9):
        log.note("x" * 100_000)
    assert len(list((tmp_path / "state").iterdir())) > 1
    log.close()


def test_folders_follow_the_environment(monkeypatch, tmp_path: Path) -> None:
    """XDG names, the usual places, and a relative path counts as none."""
    for name in ("CONFIG_HOME", "DATA_HOME", "STATE_HOME", "RUNTIME_DIR"):
        monkeypatch.setenv(f"XDG_{name}", str(tmp_path / name))
    folders = Folders.of_this_user()
    assert folders.unsaved == tmp_path / "DATA_HOME" / "gingham" / "unsaved"
    assert folders.runtime == tmp_path / "RUNTIME_DIR" / "gingham"
    monkeypatch.setenv("XDG_CONFIG_HOME", "relative")
    assert Folders.of_this_user().config == Path.home() / ".config" / "gingham"


@pytest.mark.qt_log_ignore("grabbing the keyboard", "not accepted by receiving", extend=True)
def test_a_monkey_breaks_nothing_and_is_undone(qapp, tmp_path: Path) -> None:
    """A seeded part of the campaign."""
    out, faults = monkey.run(250, 5, tmp_path)
    assert faults == [] and out["undo differences"] == 0 and out["events"] == 250


def test_errors_name_their_reason() -> None:
    """A copy that cannot be written says why, for the player."""
    with disks.disk_that_says(errno.EROFS):
        error = write_copies([(Path("/tmp/x.unsaved"), keeping._Copy("", "", ""), make_piece("| G |"))])
    assert isinstance(error, FileError) and error.code == "file-write"
