"""A start: what the window comes without, and what is loaded behind it."""

from __future__ import annotations

import subprocess
import sys


def test_what_the_first_play_needs_is_loaded_behind_the_window(tmp_path) -> None:
    """In a fresh process: the window comes without it, the loader brings it and clears what a save left behind."""
    code = (
        "import sys, threading\n"
        "from gingham.app.shell.start import load_the_rest\n"
        "late = {'gingham.app.sound.stream', 'gingham.core.sound.player', 'numpy'}\n"
        "assert not late & sys.modules.keys(), late & sys.modules.keys()\n"
        "class Log:\n"
        "    def open(self): pass\n"
        "load_the_rest(Log(), set())\n"
        "for thread in threading.enumerate():\n"
        "    if thread.name == 'loader':\n"
        "        thread.join()\n"
        "assert late <= sys.modules.keys(), late - sys.modules.keys()\n"
    )
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=False)
    assert done.returncode == 0, done.stderr
