"""What PySide compiles at every start, kept: taken again where it is whole, made anew where it is not."""

from __future__ import annotations

import builtins
import os
from pathlib import Path

import pytest

from gingham.app.shell.compiled import compiled_once

SOURCE, OTHER = b"answer = 6 * 7", b"answer = 6 * 8"


def _compiled(folder: Path, *sources: bytes, monkeypatch: pytest.MonkeyPatch) -> tuple[list[int], int]:
    """The answers of `sources`, and how often Python itself had to compile."""
    counted, real = [], compile

    def count(*given: object, **named: object) -> object:
        counted.append(given)
        return real(*given, **named)  # type: ignore[call-overload]

    answers = []
    with monkeypatch.context() as patch:
        patch.setattr(builtins, "compile", count)
        with compiled_once(folder):
            for source in sources:
                room: dict[str, int] = {}
                exec(compile(source, "sum.py", "exec"), room)  # as PySide does
                answers.append(room["answer"])
        assert builtins.compile is count  # given back
    return answers, len(counted)


def test_the_second_start_compiles_nothing(tmp_path, monkeypatch) -> None:
    """What the first has compiled; a source that changed is compiled, and kept in its place."""
    folder = tmp_path / "not yet" / "there"
    assert _compiled(folder, SOURCE, monkeypatch=monkeypatch) == ([42], 1)
    assert _compiled(folder, SOURCE, monkeypatch=monkeypatch) == ([42], 0)
    assert _compiled(folder, OTHER, monkeypatch=monkeypatch) == ([48], 1)
    assert _compiled(folder, OTHER, monkeypatch=monkeypatch) == ([48], 0)
    assert len(list(folder.iterdir())) == 1


@pytest.mark.parametrize("damage", ["empty", "short", "flipped", "other"])
def test_damaged_code_is_never_run(tmp_path, monkeypatch, damage) -> None:
    """An empty file, one cut off, one with a bit changed, one that someone else wrote: compiled anew, and mended."""
    _compiled(tmp_path, SOURCE, monkeypatch=monkeypatch)
    (path,) = tmp_path.iterdir()
    whole = path.read_bytes()
    if damage == "other":
        monkeypatch.setattr(os, "getuid", lambda: path.stat().st_uid + 1)
    else:
        changed = whole[:-20] + bytes([whole[-20] ^ 1]) + whole[-19:]
        path.write_bytes({"empty": b"", "short": whole[:40], "flipped": changed}[damage])
    assert _compiled(tmp_path, SOURCE, monkeypatch=monkeypatch) == ([42], 1)
    assert path.read_bytes() == whole


def test_a_place_that_takes_nothing_costs_only_time(tmp_path, monkeypatch) -> None:
    """A file where the folder should be: compiled at every start, no message."""
    folder = tmp_path / "file"
    folder.write_text("here first")
    for _ in range(2):
        assert _compiled(folder, SOURCE, monkeypatch=monkeypatch) == ([42], 1)
    assert folder.read_text() == "here first"


def test_what_is_wrong_and_what_is_no_module_pass_through(tmp_path) -> None:
    """A fault in a source is told as ever; expressions and texts are compiled and not kept."""
    with pytest.raises(SyntaxError), compiled_once(tmp_path):
        compile(b"answer =", "sum.py", "exec")
    with compiled_once(tmp_path):
        assert eval(compile("6 * 7", "sum", "eval")) == 42
        compile("answer = 1", "sum.py", "exec")
    assert not list(tmp_path.iterdir())
