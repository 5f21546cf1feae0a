"""At home on the desktop: addresses, wishes of the menu, pieces found again, logging out, faults at the start."""

from __future__ import annotations

import os
import subprocess
import sys
from pathlib import Path

import pytest
from PySide6.QtWidgets import QMessageBox

from gingham import __version__
from gingham.app.files.paths import path_or_url
from gingham.app.look.settings import Settings
from gingham.app.session.document import Document
from gingham.app.shell import failing
from gingham.app.shell.start import do_wishes, fill, save_before_logging_out, take
from gingham.core.formats.piece_file import save_piece
from gingham.core.pieces.edits import add_section
from gingham.standing_on import missing, wanted
from tests.conftest import make_piece


@pytest.mark.parametrize(
    ("text", "path"),
    [
        ("quay.gingham", "quay.gingham"),
        ("file:///home/ada/a%20b%23.gingham", "/home/ada/a b#.gingham"),
        ("file://localhost/home/ada/a.gingham", "/home/ada/a.gingham"),
        ("file:/home/ada/a.gingham", "/home/ada/a.gingham"),
        ("file:///home/%FF.gingham", "/home/\udcff.gingham"),
    ],
)
def test_files_are_named_by_path_or_address(text: str, path: str) -> None:
    """As file managers hand them over, bytes that are no text too."""
    assert path_or_url(text) == Path(path)


def test_the_menu_asks_for_a_new_piece_or_for_practising(qtbot, window, tmp_path: Path) -> None:
    """A second start brings files and wishes to the window that is open; an untouched piece is new enough."""
    save_piece(make_piece("| G | C |"), tmp_path / "quay.gingham")
    take(window, [tmp_path / "quay.gingham"], ["practise"])
    assert window.pages.current == "practise" and window.document.path == tmp_path / "quay.gingham"
    count = len(window.documents)
    do_wishes(window, ["new"])
    assert len(window.documents) == count + 1 and window.document.path is None
    do_wishes(window, ["new"])
    assert len(window.documents) == count + 1, "it is empty still"


def test_open_pieces_their_section_and_bar_are_found_again(qtbot, window, tmp_path: Path) -> None:
    """Those that have files and are still there, the shown one in front."""
    paths = [tmp_path / "one.gingham", tmp_path / "two.gingham", tmp_path / "gone.gingham"]
    for path in paths:
        save_piece(add_section(make_piece("| G | C | D | G |"), 0), path)
        window.files.open_file(path)
    with qtbot.waitSignal(window.shown.settled):
        window.view.pieces.setCurrentIndex([d.path for d in window.documents].index(paths[0]))
    with qtbot.waitSignal(window.shown.settled):
        window.shown.select_section(1)
    window.shown.bar_wanted.emit(3, 0)
    window.files.remember_open()
    paths[2].unlink()
    while len(window.documents) > 1:
        window.close_piece()
    fill(window, [], demo=False)
    assert [d.path for d in window.documents if d.path is not None] == paths[:2]
    assert window.document.path == paths[0] and window.shown.section == 1
    qtbot.waitUntil(lambda: window.shown.cursor_bar() == 3)


class Manager:
    """What a session manager is asked."""

    def __init__(self, *, may_ask: bool = True) -> None:
        self.may_ask, self.told = may_ask, list[str]()

    def allowsInteraction(self) -> bool:
        return self.may_ask

    def release(self) -> None:
        self.told.append("released")

    def cancel(self) -> None:
        self.told.append("cancelled")


def test_logging_out_asks_about_unsaved_work(window, monkeypatch) -> None:
    """Who stays keeps the session; without leave to ask nothing is asked, the copies are on disk."""
    window.add(Document(make_piece("| G |")))
    window.document.edit("Tempo", make_piece("| G |", tempo=99))
    answers = [QMessageBox.StandardButton.Cancel]
    monkeypatch.setattr(window, "ask_unsaved", lambda _document: answers[0])
    stays, goes, mute = Manager(), Manager(), Manager(may_ask=False)
    save_before_logging_out(window, stays)
    assert stays.told == ["released", "cancelled"]
    answers[0] = QMessageBox.StandardButton.Discard
    save_before_logging_out(window, goes)
    assert goes.told == ["released"]
    save_before_logging_out(window, mute)
    assert mute.told == []


def test_faults_of_the_start_are_shown_where_nobody_sees_a_terminal(qapp, monkeypatch, capsys) -> None:
    """In a box with the whole report; in a terminal as one line."""
    boxes: list[QMessageBox] = []
    monkeypatch.setattr(QMessageBox, "exec", lambda box: boxes.append(box))
    monkeypatch.setattr(failing, "seen", lambda: False)
    with pytest.raises(SystemExit) as ended:
        failing.WindowParser(prog="gingham").read(["--nonsense"])
    assert ended.value.code == 2 and "--nonsense" in boxes[0].informativeText()
    failing.tell("Gingham could not start.", failing.report_text(ValueError("no lanterns")))
    report = boxes[1].detailedText()
    assert f"Gingham {__version__}" in report and "What I did" in report and "no lanterns" in report
    monkeypatch.setattr(failing, "seen", lambda: True)
    with pytest.raises(SystemExit):
        failing.WindowParser(prog="gingham").read(["--nonsense"])
    assert len(boxes) == 2 and "gingham: unrecognized arguments: --nonsense" in capsys.readouterr().err


def test_missing_libraries_are_named_with_their_packages() -> None:
    """X needs more than Wayland; what can be loaded is not named."""

    def load(library: str) -> None:
        if "xcb" in library or "EGL" in library:
            raise OSError(library)

    assert missing("wayland", load) == ["libegl1"] and len(missing("", load)) > 6
    assert set(wanted("offscreen")) < set(wanted("xcb"))


def test_the_version_stands_in_one_place() -> None:
    """The command line tells it without loading a window."""
    code = "import sys; from gingham.__main__ import main; sys.argv[1:] = ['--version']; main(); print('PySide6' in sys.modules)"
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True)
    assert done.stdout == f"Gingham {__version__}\nFalse\n"


@pytest.mark.parametrize(
    ("where", "env", "read"),
    [
        ("pipe", {"DISPLAY": ":0", "QT_QPA_PLATFORM": ""}, True),
        ("file", {"DISPLAY": ":0", "QT_QPA_PLATFORM": ""}, False),
        ("file", {"DISPLAY": "", "WAYLAND_DISPLAY": "", "QT_QPA_PLATFORM": ""}, True),
        ("file", {"DISPLAY": ":0", "QT_QPA_PLATFORM": "offscreen"}, True),
    ],
)
def test_no_box_waits_where_a_program_reads(
    where: str, env: dict[str, str], read: bool, tmp_path, monkeypatch
) -> None:
    """A script that calls Gingham gets its line and goes on; a desktop's log file is read by nobody."""
    for name, value in env.items():
        monkeypatch.setenv(name, value)
    ends = os.pipe() if where == "pipe" else None
    with open(ends[1], "w") if ends else (tmp_path / "log").open("w") as err:  # noqa: PTH123  # a descriptor
        with monkeypatch.context() as patch:  # back before the file is closed: others may write there
            patch.setattr(sys, "stderr", err)
            found = failing.seen()
        assert found is read
    if ends:
        os.close(ends[0])


def test_where_things_stood_is_apart_from_choices(tmp_path: Path) -> None:
    """What an older Gingham kept among the choices is found, and moves when it changes."""
    old = Settings(tmp_path / "config" / "settings.ini")
    old.set_text("page", "form")
    old.set_text("theme", "night cloth")
    now = Settings(tmp_path / "config" / "settings.ini", tmp_path / "state" / "window.ini")
    assert now.text("page", "build") == "form" and now.text("theme", "") == "night cloth"
    now.set_text("page", "log")
    now.set_text("folder-pieces", "/quay")
    choices, state = (
        path.read_text() for path in (tmp_path / "config" / "settings.ini", tmp_path / "state" / "window.ini")
    )
    assert "page=log" in state and "folder-pieces" in state and "page" not in choices and "theme" in choices
    assert (
        Settings(tmp_path / "config" / "settings.ini", tmp_path / "state" / "window.ini").text("page", "")
        == "log"
    )


def test_ways_of_a_newer_gingham_are_put_aside_not_written_over(window, tmp_path: Path) -> None:
    """Said when they are needed; the file has another name once this Gingham keeps its own."""
    path = tmp_path / "config" / "gingham" / "ways.json"
    path.parent.mkdir(parents=True, exist_ok=True)
    path.write_text('{"format": "gingham-ways", "version": 99, "ways": []}')
    window.ways.read()
    assert "newer Gingham" in window.statusBar().currentMessage()
    window.ways.rename("Evenings")
    assert '"version": 99' in path.with_suffix(".newer").read_text() and "Evenings" in path.read_text()
