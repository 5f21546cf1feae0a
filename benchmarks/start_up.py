"""From a fresh process to a painted window, against a bare PySide6 + NumPy window in the same run.

Run: `.venv/bin/python -m benchmarks.start_up`. Budget: 1.5 times the bare window.
"""

from __future__ import annotations

import os
import statistics
import subprocess
import sys
import tempfile
import time

ROUNDS = 9
_BARE = """
import numpy
from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QApplication, QMainWindow
app = QApplication([])
window = QMainWindow()
window.resize(1280, 800)
window.show()
window.grab()
print("up", flush=True)
"""
_GINGHAM = """
import gc
import sys
gc.disable()
from gingham.cores import leave_a_core
leave_a_core()
from gingham.app.shell import lean
lean.load_msgspec()
import gingham.app.shell.ahead
from pathlib import Path
from gingham.app.shell.compiled import compiled_once
with compiled_once(Path(sys.argv[1])):
    lean.load_qt()
from PySide6.QtWidgets import QApplication
from gingham.app.look import theme
from gingham.app.look.settings import Settings
from gingham.app.shell.start import fill
from gingham.app.shell.window import MainWindow
app = QApplication(["gingham", *theme.STYLE])
theme.load_fonts()
theme.colour(theme.LINEN, app)
window = MainWindow(Settings(Path(sys.argv[1]) / "settings.ini"))
theme.style(theme.LINEN, app)
fill(window, [], demo=False)
window.show()
window.grab()
print("up", flush=True)
import os
os._exit(0)
"""


def seconds_until_up(code: str, folder: str) -> float:
    """How long a process needs until it says that its window is painted."""
    environment = {**os.environ, "QT_QPA_PLATFORM": "offscreen"}
    environment.pop("PYTHONDONTWRITEBYTECODE", None)  # a player's second start finds compiled modules
    began = time.perf_counter()
    with subprocess.Popen(
        [sys.executable, "-c", code, folder], stdout=subprocess.PIPE, env=environment
    ) as process:
        assert process.stdout is not None
        if process.stdout.readline().strip() != b"up":
            raise SystemExit("the window did not come up")
        return time.perf_counter() - began


def main() -> None:
    """Print both medians and their ratio; the rounds alternate, so that a busy moment hits both."""
    bare: list[float] = []
    ours: list[float] = []
    with tempfile.TemporaryDirectory() as folder:
        for code in (_BARE, _GINGHAM):
            seconds_until_up(code, folder)
        for _ in range(ROUNDS):
            bare.append(seconds_until_up(_BARE, folder))
            ours.append(seconds_until_up(_GINGHAM, folder))
    one, other = statistics.median(bare), statistics.median(ours)
    print(f"bare PySide6 + NumPy window  {1000 * one:6.0f} ms")
    print(f"Gingham, an empty piece     {1000 * other:6.0f} ms   ratio {other / one:.2f} (budget 1.5)")


if __name__ == "__main__":
    main()
