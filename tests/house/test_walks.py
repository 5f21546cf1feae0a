"""The walks of CONTRIBUTING, performed word for word in a copy of the program: each leads where it says."""

from __future__ import annotations

import json
import os
import shutil
import subprocess
import sys
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[2]


class Copy:
    """A copy of the program that can be changed and run."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        shutil.copytree(
            ROOT / "src" / "gingham", folder / "gingham", ignore=shutil.ignore_patterns("__pycache__")
        )

    def write(self, path: str, text: str) -> None:
        """A new file."""
        file = self.folder / "gingham" / path
        file.parent.mkdir(parents=True, exist_ok=True)
        file.write_text(text)

    def change(self, path: str, old: str, new: str) -> None:
        """One place of a file, which must be there once."""
        file = self.folder / "gingham" / path
        text = file.read_text()
        assert text.count(old) == 1, f"{path}: {old}"
        file.write_text(text.replace(old, new))

    def run(self, *words: str) -> str:
        """What Python says with these words."""
        env = {
            **os.environ,
            "PYTHONPATH": str(self.folder),
            "QT_QPA_PLATFORM": "offscreen",
            "PYTHONDONTWRITEBYTECODE": "1",
        }
        done = subprocess.run(
            [sys.executable, *words], capture_output=True, text=True, env=env, cwd=self.folder, check=False
        )
        assert done.returncode == 0, done.stderr
        return done.stdout

    def window(self, then: str) -> str:
        """Run `then` with the window of the demo piece in `w`."""
        return self.run("-c", _WINDOW + then + _END)


_WINDOW = """
import os, pathlib, tempfile
from PySide6.QtWidgets import QApplication
app = QApplication([])
from gingham.app.session.document import Document
from gingham.app.look.settings import Settings
from gingham.app.sound.transport import Transport
from gingham.app.shell.window import MainWindow
from gingham.core.formats.piece_file import load_piece
from gingham.app.sound.devices import SilentOutput
from gingham.data import FOLDER
w = MainWindow(Settings(pathlib.Path(tempfile.mkdtemp()) / "s.ini"), Transport(output=SilentOutput()))
w.add(Document(load_piece(FOLDER / "demo" / "forty-lanterns.gingham")))
w.show()
app.processEvents()
"""
_END = "\nimport sys; sys.stdout.flush(); w.pages.end(); os._exit(0)"  # unsaved work would be asked about


@pytest.fixture
def copy(tmp_path: Path) -> Copy:
    """A fresh copy."""
    return Copy(tmp_path)


def _add_plan(copy: Copy) -> None:
    copy.change(
        "core/pieces/plans.py",
        "    PlanTraits(NAMED, hops=True, wants=True),\n",
        '    PlanTraits("top-down", most=3, turns=True),\n    PlanTraits(NAMED, hops=True, wants=True),\n',
    )
    copy.change(
        "core/fitting/thumb.py",
        '    "tour": _tour,\n',
        '    "tour": _tour,\n    "top-down": lambda held, first, thumb: _rise(held, first, thumb)[::-1],\n',
    )
    copy.change(
        "words/plans.py",
        '    "named": PlanWords(',
        '    "top-down": PlanWords("down from the top", "", "the thumb from the top"),\n    "named": PlanWords(',
    )


def test_a_thumb_plan_is_added_by_the_walk(copy: Copy) -> None:
    # G{320003}: rise takes 6, then 4 and 3 (5 is left out); turned round 6 3 4, there and back 6 3 4 3
    _add_plan(copy)
    said = copy.run(
        *("-m", "gingham", "fit", "--chords", "| G{320003} |", "--pattern", "4/4 x2: p p p p p p p p"),
        *("--thumb", "top-down", "--json"),
    )
    plucks = [event["string"] for event in json.loads(said)["events"]]
    assert plucks == [6, 3, 4, 3, 6, 3, 4, 3]
    shown = copy.window(
        "w.actions_by_id['thumb-top-down'].trigger()\n"
        "print(w.shown.piece.rules.thumb, w.actions_by_id['thumb-top-down'].text(), w.view.thumb.currentText())"
    )
    assert shown.split("\n")[0].split(" ", 1) == ["top-down", "Thumb: down from the top down from the top"]


_PAGE = """
from PySide6.QtWidgets import QLabel


class Plain:
    def __init__(self, window):
        self.widget = QLabel("", window)
        self.shown = window.shown

    def refresh(self):
        self.widget.setText(self.shown.piece.title)

    def arrive(self):
        self.widget.setFocus()

    def end(self):
        pass
"""


def test_a_place_is_added_by_the_walk(copy: Copy) -> None:
    copy.write("app/views/plain/__init__.py", "")
    copy.write("app/views/plain/controller.py", _PAGE)
    copy.change(
        "app/shell/places.py",
        "PLACES = (\n",
        "def _plain(window):\n"
        "    from gingham.app.views.plain.controller import Plain\n\n"
        "    return Plain(window)\n\n\n"
        'PLACES = (\n    PlaceSpec("plain", "Plain", _plain),\n',
    )
    copy.change(
        "words/actions.py",
        '    "help": ActionWords(',
        '    "plain": ActionWords("Plain", "Ctrl+F12", "Only the title"),\n    "help": ActionWords(',
    )
    shown = copy.window(
        "w.actions_by_id['plain'].trigger()\n"
        "print(w.pages.tabs.tabText(w.pages.tabs.currentIndex()), w.pages.stack.currentWidget().text(),\n"
        "      w.actions_by_id['plain'].shortcut().toString())\n"
        "w.actions_by_id['sheet'].trigger(); print(w.pages.stack.currentWidget() is w.pages.sheet.view)"
    )
    assert shown.splitlines() == ["Plain Forty Lanterns Ctrl+F12", "True"]


def test_a_format_is_added_by_the_walk(copy: Copy, tmp_path: Path) -> None:
    copy.write(
        "core/formats/strings.py",
        "from gingham.core.formats.tab_in import part_from_tab\n"
        "from gingham.core.formats.tab import piece_tab\n\n\n"
        "def strings_bytes(performance):\n    return piece_tab(performance).encode()\n\n\n"
        "def part_from_strings(data, name, tick):\n    return part_from_tab(data.decode(), name, tick)\n",
    )
    copy.change(
        "core/formats/exports.py",
        "WRITERS: dict",
        "def _strings(piece, _tick, _choice):\n"
        "    from gingham.core.formats.strings import strings_bytes\n\n"
        "    return strings_bytes(to_write(piece))\n\n\nWRITERS: dict",
    )
    copy.change(
        "core/formats/exports.py", '    ".csv": _csv,\n', '    ".csv": _csv,\n    ".strings": _strings,\n'
    )
    copy.change(
        "core/formats/imports.py",
        "READERS: dict",
        "def _strings(data, name, tick):\n"
        "    from gingham.core.formats.strings import part_from_strings\n\n"
        "    return part_from_strings(data, name, tick)\n\n\nREADERS: dict",
    )
    copy.change(
        "core/formats/imports.py", '    ".tab": _tab,\n', '    ".tab": _tab,\n    ".strings": _strings,\n'
    )
    copy.change("words/formats.py", '    ".csv":', '    ".strings": "Strings",\n    ".csv":')
    piece, out = ROOT / "src/gingham/data/demo/netmenders-round.gingham", tmp_path / "out.strings"
    copy.run("-m", "gingham", "export", str(piece), str(out))
    assert "|" in out.read_text()
    assert "pattern" in copy.run("-m", "gingham", "read", str(out)).lower()
    asked = copy.window(
        "from PySide6.QtWidgets import QFileDialog\n"
        "QFileDialog.getSaveFileName = lambda *a: (print(a[3]), ('', ''))[1]\n"
        "QFileDialog.getOpenFileName = lambda *a: (print(a[3]), ('', ''))[1]\n"
        "w.actions_by_id['export'].trigger(); w.actions_by_id['read'].trigger()"
    )
    export, read = asked.splitlines()
    assert "Strings (*.strings)" in export and "*.strings" in read
