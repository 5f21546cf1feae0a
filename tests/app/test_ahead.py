"""What is loaded before Qt: enough of it, and nothing of Qt."""

from __future__ import annotations

import os
import subprocess
import sys

import pytest

_CODE = """
import sys
import gingham.app.shell.ahead
early = set(sys.modules)
import gingham.app.shell.start
late = [m for m in set(sys.modules) - early if m.startswith(("gingham.core", "gingham.words"))]
print(any(m.startswith("PySide6") for m in early), len([m for m in early if m.startswith("gingham.")]), len(late))
"""


def test_the_core_is_loaded_before_qt() -> None:
    """No Qt among it, and of the modules of core and words that a window needs nine of ten."""
    done = subprocess.run([sys.executable, "-c", _CODE], capture_output=True, text=True, check=True)
    qt, early, late = done.stdout.split()
    assert qt == "False" and int(early) > 80 and int(late) <= int(early) / 9


_LEAN = """
import sys
from gingham.app.shell import lean
lean.load_msgspec()
print("msgspec" in sys.modules, "typing_extensions" in sys.modules)
lean.load_qt()
import inspect
read = []
inspect.getsource = lambda module: read.append(module.__name__) or ""
import gingham.app.shell.start
from gingham.app.look.theme import LINEN
print([name for name in read if name.startswith("gingham")], LINEN.ink)
import typing_extensions
"""


def test_a_start_reads_and_loads_no_more_than_it_needs() -> None:
    """No package that msgspec can do without, which is there for others; no source of ours read again by PySide."""
    done = subprocess.run([sys.executable, "-c", _LEAN], capture_output=True, text=True, check=True)
    first, second = done.stdout.splitlines()
    assert first == "True False"
    assert second.startswith("[] #")


_COMMAND = """
import sys
sys.argv = ["gingham", "log", "--help"]
from gingham.__main__ import main
assert "numpy" not in sys.modules
try:
    main()
except SystemExit:
    pass
import os
print(os.environ["OPENBLAS_NUM_THREADS"])
"""


@pytest.mark.parametrize(("before", "after"), [(None, "1"), ("4", "4")])
def test_sums_leave_a_core_to_others(before: str | None, after: str) -> None:
    """One thread for them, in a command too, before NumPy is loaded; unless the system says otherwise."""
    there = {name: value for name, value in os.environ.items() if name != "OPENBLAS_NUM_THREADS"}
    own = {} if before is None else {"OPENBLAS_NUM_THREADS": before}
    done = subprocess.run(
        [sys.executable, "-c", _COMMAND], capture_output=True, text=True, check=True, env=there | own
    )
    assert done.stdout.splitlines()[-1] == after


_TWICE = """
import builtins, sys
from pathlib import Path
real, compiled = compile, []
def count(source, name, *rest, **named):
    compiled.append(str(name))
    return real(source, name, *rest, **named)
builtins.compile = count
from gingham.app.shell import lean
from gingham.app.shell.compiled import compiled_once
with compiled_once(Path(sys.argv[1])):
    lean.load_qt()
print(sum("shibokensupport" in name for name in compiled), builtins.__import__.__name__)
from PySide6.QtWidgets import QApplication, QPushButton
QApplication([])
try:
    QPushButton(1, 2, 3)
except TypeError as error:
    print("QPushButton" in str(error) and "Supported signatures" in str(error))
"""


def test_pyside_is_compiled_at_the_first_start_only(tmp_path) -> None:
    """Then nothing of it; its messages about wrong calls, which need what was kept, are as ever."""
    seen = []
    for _ in range(2):
        command = [sys.executable, "-c", _TWICE, str(tmp_path)]
        first, messages = subprocess.run(
            command, capture_output=True, text=True, check=True
        ).stdout.splitlines()
        assert messages == "True"
        seen.append(first.split())
    assert int(seen[0][0]) > 10 and seen[1][0] == "0"
    assert seen[1][1] != "__feature_import__"
