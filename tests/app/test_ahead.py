"""What is loaded before Qt: enough of it, and nothing of Qt."""

from __future__ import annotations

import subprocess
import sys

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
lean.leave_sources_unread()
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
