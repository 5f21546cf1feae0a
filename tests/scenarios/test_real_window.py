"""What needs a process, or a real window, of its own: the demo on a virtual display, faults of our own."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path

import pytest
from PySide6.QtGui import QImage

from gingham.app.look.theme import LINEN
from gingham.core.formats.piece_file import load_piece

ROOT = Path(__file__).parents[2]


@pytest.fixture
def display() -> Iterator[str]:
    """A virtual display that chooses its own number."""
    if shutil.which("Xvfb") is None:
        pytest.skip("Xvfb is not installed; ./scripts/test installs it")
    reader, writer = os.pipe()
    command = ["Xvfb", "-displayfd", str(writer), "-screen", "0", "1280x800x24", "-nolisten", "tcp"]
    with subprocess.Popen(command, pass_fds=[writer], stderr=subprocess.DEVNULL) as server:
        os.close(writer)
        with os.fdopen(reader) as pipe:
            number = pipe.readline().strip()
        yield f":{number}"
        server.terminate()


def environment(home: Path, **more: str) -> dict[str, str]:
    """A player who has never started Gingham."""
    kinds = ("config", "data", "state")
    folders = {f"XDG_{kind.upper()}_HOME": str(home / kind) for kind in kinds}
    return {**os.environ, "HOME": str(home), **folders, **more}


@pytest.mark.real_window
def test_the_demo_opens_in_a_real_window_and_saves_its_picture(display: str, tmp_path: Path) -> None:
    """The picture is of the whole window, with the thumb's and the fingers' dyes in it."""
    picture = tmp_path / "demo.png"
    command = [sys.executable, "-m", "gingham", "--demo", "--picture", str(picture)]
    run = subprocess.run(
        command,
        env=environment(tmp_path, DISPLAY=display, QT_QPA_PLATFORM="xcb"),
        capture_output=True,
        text=True,
        timeout=120,
        check=False,
    )
    assert run.returncode == 0, run.stderr
    image = QImage(str(picture))
    assert (image.width(), image.height()) == (1280, 800)
    seen = {image.pixelColor(x, y).name() for x in range(310, 980, 2) for y in range(280, 660, 2)}
    assert {LINEN.finger(finger).name() for finger in "pim"} <= seen
    assert (tmp_path / "state" / "gingham" / "window.ini").exists(), "where the window stood"


_FAULT = """
import sys
from pathlib import Path
from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QApplication
from gingham.app.shell import crash
from gingham.app.look import theme
from gingham.app.look.settings import Settings
from gingham.app.shell.start import fill
from gingham.app.shell.window import MainWindow
home = Path(sys.argv[1])
app = QApplication([])
window = MainWindow(Settings(home / "settings.ini"))
crash.install(window, home / "rescued")
fill(window, [], demo=True)
window.show()
def fault():
    window.playing.change_tempo(4)
    QTimer.singleShot(300, lambda: app.exit(7))
    raise RuntimeError("planted in a slot")
QTimer.singleShot(300, fault)
sys.exit(app.exec())
"""


def test_a_fault_in_a_slot_saves_the_work_and_the_window_goes_on(tmp_path: Path) -> None:
    """The copy holds the edit, the fault is told, and the program still ends as it was asked to."""
    run = subprocess.run(
        [sys.executable, "-c", _FAULT, str(tmp_path)],
        env=environment(tmp_path, QT_QPA_PLATFORM="offscreen"),
        capture_output=True,
        text=True,
        timeout=120,
        check=False,
    )
    assert "planted in a slot" in run.stderr and run.returncode == 7
    (copy,) = (tmp_path / "rescued").iterdir()
    assert load_piece(copy).tempo == 76


def test_a_piece_file_on_the_command_line_is_opened_and_a_wrong_one_said_in_one_line(tmp_path: Path) -> None:
    """No window for what is not there: one line, status 2."""
    run = subprocess.run(
        [sys.executable, "-m", "gingham", "nowhere.gingham"],
        env=environment(tmp_path, QT_QPA_PLATFORM="offscreen"),
        capture_output=True,
        text=True,
        timeout=60,
        check=False,
    )
    assert run.returncode == 2 and run.stdout == ""
    assert run.stderr.count("\n") == 1 and "nowhere.gingham" in run.stderr


def test_the_scripts_are_sound_shell_and_name_what_exists() -> None:
    """Every script parses, and what the README tells a player to run is there and may be run."""
    for script in (*(ROOT / "scripts").iterdir(), ROOT / ".ci" / "run"):
        if script.is_file() and script.suffix != ".py":
            subprocess.run(["bash", "-n", str(script)], check=True)
    for name in ("demo", "test", "screenshots", "lock"):
        assert os.access(ROOT / "scripts" / name, os.X_OK)
    readme = (ROOT / "README.md").read_text()
    for picture in (ROOT / "docs" / "screenshots").glob("*.png"):
        assert f"docs/screenshots/{picture.name}" in readme
