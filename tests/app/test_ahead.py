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
