"""Saving: all or nothing at every file operation, links and modes kept, the reason said when it cannot be."""

from __future__ import annotations

import os
import stat
from pathlib import Path

import pytest
from benchmarks.attack import kills

from gingham.core.errors import FileError
from gingham.core.formats import atomic
from gingham.core.formats.atomic import clear_parts, write_atomically
from gingham.core.formats.piece_file import load, load_piece, save_piece
from gingham.core.programs import program_id
from gingham.words.errors import say
from tests.conftest import make_piece


def test_a_kill_at_every_operation_leaves_old_or_new() -> None:
    """New file, plain file, symlink, hard link; copies; the log."""
    out = kills.kill_saves() + kills.kill_copies() + kills.kill_logs()
    assert out.pop("kills") > 25 and out.total() == 0, out


def test_a_symlink_stays_one_and_a_mode_is_kept(tmp_path: Path) -> None:
    """The target changes; a dangling link makes its target."""
    real, link = tmp_path / "real.gingham", tmp_path / "link.gingham"
    real.write_bytes(b"old")
    real.chmod(0o640)
    link.symlink_to("real.gingham")
    write_atomically(link, b"new")
    assert link.is_symlink() and real.read_bytes() == b"new" and stat.S_IMODE(real.stat().st_mode) == 0o640
    real.unlink()
    write_atomically(link, b"anew")
    assert link.is_symlink() and real.read_bytes() == b"anew"


def test_hard_links_see_the_new_text_and_an_interrupted_one_is_read_from_beside(tmp_path: Path) -> None:
    """Both names; and the whole text that lies beside a half-written file is found."""
    one, other = tmp_path / "one.gingham", tmp_path / "other.gingham"
    save_piece(make_piece("| G |"), one)
    other.hardlink_to(one)
    new = make_piece("| C |", tempo=99)
    save_piece(new, one)
    assert load_piece(other) == new and one.stat().st_nlink == 2
    assert sorted(p.name for p in tmp_path.iterdir()) == ["one.gingham", "other.gingham"]
    whole = one.read_bytes()
    (tmp_path / atomic._beside(one, ".whole")).write_bytes(whole)
    one.write_bytes(whole[:40])
    read = load(one)
    assert read.piece == new and [r.code for r in read.repairs] == ["repair-interrupted"]


@pytest.mark.parametrize("length", [241, 248, 255])
def test_long_names_are_saved(tmp_path: Path, length: int) -> None:
    """A name may use all of its bytes."""
    path = tmp_path / ("l" * (length - 8) + ".gingham")
    save_piece(make_piece("| G |"), path)
    assert load_piece(path).tempo == 80


def laid(folder: Path) -> dict[str, Path]:
    """Places where nothing can be saved, by the words that say why."""
    (folder / "file").write_bytes(b"")
    (folder / "folder").mkdir()
    return {
        "what should be its folder is a file": folder / "file" / "x.gingham",
        "there is a folder of that name": folder / "folder",
        "its folder is not there": folder / "nowhere" / "x.gingham",
        "its name is too long": folder / ("x" * 300),
        "no file can have that name": folder / "a\0b",
        "it is a device, not a file": Path("/dev/null"),
    }


def test_why_it_cannot_be_saved_is_said(tmp_path: Path) -> None:
    """In the player's words, with the path."""
    for words, path in laid(tmp_path).items():
        with pytest.raises(FileError) as caught:
            write_atomically(path, b"new")
        assert words in say(caught.value)
    assert stat.S_ISCHR(Path("/dev/null").stat().st_mode)


def test_cleaning_up_never_hides_what_went_wrong(tmp_path: Path, monkeypatch) -> None:
    """The disk is full, and then what was begun cannot be removed either."""

    def full(_descriptor: int) -> None:
        raise OSError(28, "No space left on device")

    def refuses(_self: Path, missing_ok: bool = False) -> None:
        raise PermissionError(13, "Permission denied")

    monkeypatch.setattr(atomic.os, "fsync", full)
    monkeypatch.setattr(Path, "unlink", refuses)
    with pytest.raises(FileError) as caught:
        write_atomically(tmp_path / "x.gingham", b"new")
    assert "no space left" in say(caught.value)


def test_a_write_protected_file_is_asked_about(tmp_path: Path) -> None:
    """Root may write everything, and is asked all the same."""
    path = tmp_path / "quay.gingham"
    path.write_bytes(b"old")
    path.chmod(0o444)
    with pytest.raises(FileError, match="file-protected"):
        write_atomically(path, b"new")
    assert path.read_bytes() == b"old"
    write_atomically(path, b"new", over_protected=True)
    assert path.read_bytes() == b"new" and stat.S_IMODE(path.stat().st_mode) == 0o444


def test_parts_of_programs_that_have_ended_are_cleared(tmp_path: Path) -> None:
    """One's own, and everybody else's files, stay."""
    own, dead, other = (
        tmp_path / atomic._beside(tmp_path / "x", ".part"),
        tmp_path / f".gingham-abc-{2**22 + 1}-77-ff.part",
        tmp_path / ".other.part",
    )
    for path in (own, dead, other):
        path.write_bytes(b"half")
    assert clear_parts(tmp_path) == 1 and not dead.exists() and own.exists() and other.exists()
    assert program_id().replace(":", "-") in own.name
    assert clear_parts(tmp_path / "nowhere") == 0 and os.path.lexists(own)
