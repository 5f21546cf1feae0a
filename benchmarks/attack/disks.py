"""Full and read-only disks, folders that are files, odd settings: work is kept, and the start starts."""

from __future__ import annotations

import errno
import os
import sys
import tempfile
import threading
from collections import Counter
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from functools import partial
from pathlib import Path

from benchmarks.attack.kills import demo_piece
from PySide6.QtCore import QCoreApplication, QDeadlineTimer, QEventLoop
from PySide6.QtWidgets import QApplication, QMessageBox

from gingham.app.session.document import Document
from gingham.app.shell.logfile import LogFile
from gingham.app.shell.start import fill, open_window
from gingham.app.shell.window import MainWindow
from gingham.core.formats import atomic
from gingham.core.formats.piece_file import load_piece, save_piece
from gingham.core.pieces.edits import set_tempo
from gingham.folders import Folders


@contextmanager
def started(folder: Path) -> Iterator[tuple[MainWindow, LogFile]]:
    """The window as a start makes it, in folders of its own; the hooks for faults are given back."""
    hooks = (sys.excepthook, threading.excepthook)
    window, log = open_window(_app(), _folders(folder))
    try:
        yield window, log
    finally:
        window.close()
        log.close()
        sys.excepthook, threading.excepthook = hooks


@contextmanager
def disk_that_says(number: int) -> Iterator[None]:
    """Every `fsync` fails: the disk is full, can only be read, or is broken."""
    sync = os.fsync

    def refuses(_descriptor: int) -> None:
        raise OSError(number, os.strerror(number))

    atomic.os.fsync = refuses  # type: ignore[assignment]
    try:
        yield
    finally:
        atomic.os.fsync = sync


def full_while_editing(folder: Path, number: int) -> list[str]:
    """The disk refuses, then takes again: told once, told when it is over, nothing lost."""
    with started(folder) as (window, _log):
        return _refused(window, folder, number)


def _refused(window: MainWindow, folder: Path, number: int) -> list[str]:
    faults: list[str] = []
    path = folder / "quay.gingham"
    save_piece(demo_piece(72), path)
    window.add(Document.load(path))
    keeper = window.files.keeper
    assert keeper is not None
    told: list[str] = []
    keeper.stopped.connect(lambda _error: told.append("stopped"))
    keeper.going_on.connect(lambda: told.append("going on"))
    window.files.ask_elsewhere = lambda _error: False  # type: ignore[method-assign]
    with disk_that_says(number):
        for tempo in (90, 91, 92):
            window.document.edit("Tempo", set_tempo(window.document.piece, tempo))
            keeper.keep()
            _until(lambda: keeper.failing)
        if window.files.save() or load_piece(path).tempo != 72 or not window.document.modified:
            faults.append("a failed save changed something")
        if "stopped" not in window.standing.text():
            faults.append("nobody was told")
    keeper.keep()
    _until(lambda: not keeper.failing)
    if told != ["stopped", "going on"] or window.standing.text():
        faults.append(f"told {told}")
    if not window.files.save() or load_piece(path).tempo != 92:
        faults.append("not saved afterwards")
    return faults


ODD_SETTINGS = (
    b"[General]\ntheme=plaid\nnames-fingers=toes\nrecent=\\x0\nrecent-files=%00%ff\\n%zz\\n\n",
    b"\xff\xfe\0\0 not an ini file [[[[",
    b"[General]\ngeometry=@ByteArray(nonsense)\ndevice=" + b"x" * 9_000,
    b"[General]\nlearning-order=\nsheet-kind=none\nfolder=/nowhere/\\x1\n",
)


def odd_starts() -> list[tuple[str, Callable[[Path], None]]]:
    """Things that may stand where Gingham looks: how each is laid out."""
    out: list[tuple[str, Callable[[Path], None]]] = [
        (f"settings {number}", partial(_write, "config/gingham/settings.ini", data))
        for number, data in enumerate(ODD_SETTINGS)
    ]
    out.append(("config is a file", partial(_write, "config", b"")))
    out.append(("data is a file", partial(_write, "data", b"")))
    out.append(("state is a file", partial(_write, "state", b"")))
    copies: dict[str, bytes] = {
        "empty": b"", "half": b"{half", "deep": b"[" * 100_000, "number": b"7",
        "nul": b'{"path":"a%00b","program":"","piece":"{}"}',
        "no piece": b'{"path":"","program":"1:1","piece":"' + b"x" * 1_000 + b'"}',
    }  # fmt: skip
    out += [
        (f"unsaved {name}", partial(_write, f"data/gingham/unsaved/{name}.unsaved", data))
        for name, data in copies.items()
    ]
    out.append(("a folder as a copy", lambda f: (f / "data/gingham/unsaved/x.unsaved").mkdir(parents=True)))
    out.append(("a pipe as a copy", _pipe))
    return out


def _write(name: str, data: bytes, folder: Path) -> None:
    path = folder / name
    path.parent.mkdir(parents=True, exist_ok=True)
    path.write_bytes(data)


def _pipe(folder: Path) -> None:
    (folder / "data/gingham/unsaved").mkdir(parents=True)
    os.mkfifo(folder / "data/gingham/unsaved/x.unsaved")


def start_in(folder: Path) -> list[str]:
    """Start there: what is wrong with the window that comes."""
    with started(folder) as (window, log):
        fill(window, [], demo=False)
        log.note("started")
        return [] if window.documents else ["no piece is open"]


def _folders(folder: Path) -> Folders:
    return Folders(*(folder / name / "gingham" for name in ("config", "data", "state", "runtime")))


def _app() -> QApplication:
    app = QApplication.instance() or QApplication(sys.argv[:1])
    assert isinstance(app, QApplication)
    QMessageBox.exec = lambda _self: QMessageBox.StandardButton.Cancel  # type: ignore[method-assign,assignment]
    return app


def _until(done: Callable[[], bool], seconds: int = 30) -> None:
    deadline = QDeadlineTimer(1000 * seconds)
    while not done() and not deadline.hasExpired():
        QCoreApplication.processEvents(QEventLoop.ProcessEventsFlag.AllEvents, 20)


def main() -> Counter[str]:
    """Every disk and every start; what went wrong."""
    out: Counter[str] = Counter()
    for number in (errno.ENOSPC, errno.EROFS, errno.EIO):
        with tempfile.TemporaryDirectory() as name:
            faults = full_while_editing(Path(name), number)
        out["disks"] += 1
        out["faults"] += len(faults)
        print(f"  {os.strerror(number)}: {faults or 'nothing lost, told once, and again when it went on'}")
    for what, lay in odd_starts():
        with tempfile.TemporaryDirectory() as name:
            lay(Path(name))
            faults = start_in(Path(name))
        out["starts"] += 1
        out["faults"] += len(faults)
        if faults:
            print(f"  {what}: {faults}")
    return out
