"""Minutes of play on the silent clock with edits all the while: memory, late blocks, threads left over."""

from __future__ import annotations

import os
import random
import sys
import tempfile
import threading
import time
from collections import Counter
from pathlib import Path

from PySide6.QtCore import QCoreApplication, QEventLoop
from PySide6.QtWidgets import QApplication, QMessageBox

from gingham.app.look import theme
from gingham.app.look.settings import Settings
from gingham.app.shell.start import demo_documents
from gingham.app.shell.window import MainWindow
from gingham.app.sound.devices import SilentOutput
from gingham.app.sound.transport import Transport
from gingham.core.pieces.edits import set_tempo

_PAGE_MB = os.sysconf("SC_PAGE_SIZE") / 1e6


def memory_mb() -> float:
    """What this process holds in memory now."""
    return int(Path("/proc/self/statm").read_text().split()[1]) * _PAGE_MB


def main(minutes: float, seed: int = 7) -> Counter[str]:
    """Play so long; growth is counted after the first third."""
    app = QApplication.instance() or QApplication(sys.argv[:1])
    theme.load_fonts()
    random_, before = random.Random(seed), set(threading.enumerate())
    out: Counter[str] = Counter()
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        window = MainWindow(
            Settings(folder / "s.ini"), Transport(output=SilentOutput()), unsaved=folder / "unsaved"
        )
        window.ask_unsaved = lambda _document: QMessageBox.StandardButton.Discard  # type: ignore[method-assign]
        for document in demo_documents():
            window.add(document, show=not window.documents)
        window.show()
        begin, settled, most_threads = time.monotonic(), 0.0, 0
        edit_at, late = begin + 1.0, 0
        while (now := time.monotonic()) < begin + 60 * minutes:
            QCoreApplication.processEvents(QEventLoop.ProcessEventsFlag.AllEvents, 20)
            if not settled and now > begin + 20 * minutes:
                settled = memory_mb()
            if now < edit_at:
                continue
            edit_at = now + random_.uniform(0.5, 2.0)
            out["edits"] += 1
            stream = window.transport._stream
            if stream is not None:
                late += stream.underruns
                stream.underruns = 0
            _do_something(window, random_)
            most_threads = max(most_threads, threading.active_count())
        out["late blocks"] = late
        out["growth MB"] = round(memory_mb() - settled)
        out["most threads"] = most_threads
        window.transport.stop()
        window.close()
        QApplication.processEvents()
    out["threads left"] = len(set(threading.enumerate()) - before)
    out["minutes"] = round(minutes)
    del app
    return out


def _do_something(window: MainWindow, random_: random.Random) -> None:
    build = window.build
    if not window.transport.playing or random_.random() < 0.05:
        window.actions_by_id["play"].trigger()
    draw = random_.random()
    if draw < 0.5 and build.axis is not None and build.axis.columns:
        build.set_column(random_.randrange(len(build.axis.columns)))
        build.gestures.toggle(build.column, random_.choice("pima"))
    elif draw < 0.7:
        window.document.edit("Tempo", set_tempo(window.document.piece, random_.randint(60, 140)))
    elif draw < 0.8:
        window.document.stack.undo()
    elif draw < 0.85:
        window.view.pieces.setCurrentIndex(random_.randrange(window.view.pieces.count()))
    else:
        window.actions_by_id[
            random_.choice(("click", "cue", "thumb-alone", "next-section", "night"))
        ].trigger()
