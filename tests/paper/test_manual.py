"""The manual: one source with the help, every picture made by script, every command run."""

from __future__ import annotations

import re
import shlex
import shutil
from pathlib import Path

import pytest
from scripts.make_manual import PICTURES, as_html, commands, pictures, whole, write
from scripts.make_screenshots import SHOTS

from gingham.cli.main import main
from gingham.data import FOLDER
from gingham.words.chapters import chapters


@pytest.fixture
def desk(tmp_path: Path, monkeypatch) -> Path:
    """A folder with the piece that the manual speaks of, and what its commands before have written."""
    shutil.copy(FOLDER / "demo" / "forty-lanterns.gingham", tmp_path / "lanterns.gingham")
    monkeypatch.chdir(tmp_path)
    return tmp_path


def test_every_command_in_the_manual_runs(qapp, desk: Path, capsys) -> None:
    """In the order in which they stand: what one writes the next may read."""
    lines = commands()
    assert len(lines) >= 6
    for line in lines:
        _, *arguments = shlex.split(line)
        assert main(arguments) == 0, (line, capsys.readouterr().err)
    assert {"lanterns.pdf", "lanterns.musicxml"} <= {path.name for path in desk.iterdir()}


def test_every_picture_is_made_by_the_script() -> None:
    """Of the demo pieces, each there and current in name."""
    made = {f"{shot.name}.png" for shot in SHOTS}
    assert len(pictures()) >= 8 and set(pictures()) <= made
    assert all((PICTURES / name).is_file() for name in pictures())


def test_the_window_has_the_same_chapters_without_pictures() -> None:
    """One source: what is left out is the pictures alone."""
    for here, there in zip(chapters(""), whole(), strict=True):
        assert here.title == there.title and "](" not in here.text
        assert here.title == "Every key" or re.sub(r"!\[.*\)\n\n", "", there.text) == here.text


def test_the_manual_is_one_file_and_some_fifteen_pages(qapp, tmp_path: Path) -> None:
    """Contents that lead to every chapter, pictures inside, a PDF that is one."""
    html, pdf, pages = write(tmp_path)
    text = html.read_text()
    assert text.count("data:image/png;base64,") == len(pictures()) and "<img src=" not in text
    assert all(f'href="#c{n}"' in text and f'id="c{n}"' in text for n in range(len(whole())))
    assert 12 <= pages <= 22 and pdf.read_bytes().startswith(b"%PDF")
    assert as_html() in text
