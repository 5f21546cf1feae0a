"""Kills at every file operation of saving, copying, recovering and logging, and at random moments of work.

The operation is intercepted, not the clock: Python tells of every open, rename and removal (audit events),
and `fsync` and the middle of a write are wrapped. The child dies by SIGKILL before operation number N; the
parent looks at what lies on disk. Children are forked from a process that has imported everything.
"""

from __future__ import annotations

import os
import signal
import subprocess
import sys
import tempfile
import time
from collections import Counter
from collections.abc import Callable
from contextlib import suppress
from functools import partial
from pathlib import Path

from gingham.app.files.keeping import SUFFIX, left_behind, write_copies
from gingham.app.shell.logfile import LogFile
from gingham.core.errors import GinghamError
from gingham.core.formats import atomic
from gingham.core.formats.piece_file import load_piece, save_piece
from gingham.core.pieces.edits import set_tempo
from gingham.core.pieces.piece import Piece
from gingham.data import FOLDER

_EVENTS = frozenset({"open", "os.rename", "os.remove", "os.mkdir", "os.chmod", "os.chown", "os.truncate"})
LOST_AFTER_S = 1.5


def demo_piece(tempo: int = 72) -> Piece:
    """A piece to be saved."""
    return set_tempo(load_piece(FOLDER / "demo" / "forty-lanterns.gingham"), tempo)


class Executioner:
    """Kills its own process before file operation number `at` inside `folder` (from 0)."""

    def __init__(self, folder: Path, at: int) -> None:
        self.folder, self.left = os.fspath(folder), at

    def arm(self) -> None:
        """From now on."""
        sys.addaudithook(self._audit)
        sync, opened = os.fsync, os.fdopen

        def fsync(descriptor: int) -> None:
            self.count()
            sync(descriptor)

        def fdopen(descriptor: int, mode: str) -> object:
            return _Torn(opened(descriptor, mode), self)

        atomic.os.fsync, atomic.os.fdopen = fsync, fdopen  # type: ignore[assignment]

    def _audit(self, event: str, arguments: tuple[object, ...]) -> None:
        about = arguments[0] if event in _EVENTS and arguments else None
        if isinstance(about, str | bytes | os.PathLike) and os.fsdecode(about).startswith(self.folder):
            self.count()

    def count(self) -> None:
        """One operation more."""
        if self.left == 0:
            os.kill(os.getpid(), signal.SIGKILL)
        self.left -= 1


class _Torn:
    """A file in whose every write the process may die half-way."""

    def __init__(self, file: object, executioner: Executioner) -> None:
        self._file, self._executioner = file, executioner

    def __getattr__(self, name: str) -> object:
        return getattr(self._file, name)

    def __enter__(self) -> _Torn:
        return self

    def __exit__(self, *_error: object) -> None:
        self._file.close()  # type: ignore[attr-defined]

    def write(self, data: bytes) -> None:
        """Half, a chance to die, the rest."""
        self._file.write(data[: len(data) // 2])  # type: ignore[attr-defined]
        self._file.flush()  # type: ignore[attr-defined]
        self._executioner.count()
        self._file.write(data[len(data) // 2 :])  # type: ignore[attr-defined]


def killed(folder: Path, at: int, work: Callable[[], object]) -> bool:
    """Do `work` in a child that is killed before operation `at`; false if it lived to its end."""
    child = os.fork()
    if child == 0:
        with suppress(BaseException):
            Executioner(folder, at).arm()
            work()
        os._exit(0)
    _, status = os.waitpid(child, 0)
    return os.WIFSIGNALED(status)


def kill_saves(kinds: tuple[str, ...] = ("plain", "new", "symlink", "hard link")) -> Counter[str]:
    """At every operation of a save: the file is the old one or the new one, whole."""
    out: Counter[str] = Counter()
    for kind in kinds:
        at = 0
        while True:
            with tempfile.TemporaryDirectory() as name:
                folder = Path(name)
                path = _laid_out(folder, kind)
                died = killed(folder, at, partial(save_piece, demo_piece(99), path))
                out["kills"] += died
                out.update(_state_of(path, kind))
                atomic.clear_parts(folder)
                left = [p.name for p in folder.iterdir() if p.name.endswith(".part")]
                out["parts left"] += len(left)
            at += 1
            if not died:
                break
    return out


def _laid_out(folder: Path, kind: str) -> Path:
    path = folder / "quay.gingham"
    if kind != "new":
        save_piece(demo_piece(), path)
    if kind == "symlink":
        (folder / "link.gingham").symlink_to(path)
        return folder / "link.gingham"
    if kind == "hard link":
        (folder / "other.gingham").hardlink_to(path)
    return path


def _state_of(path: Path, kind: str) -> list[str]:
    try:
        tempo = load_piece(path).tempo
    except GinghamError as error:
        return [] if kind == "new" and error.code == "file-missing" else ["unreadable"]
    if kind == "symlink" and not path.is_symlink():
        return ["link lost"]
    return [] if tempo in (72, 99) else ["neither old nor new"]


def kill_copies() -> Counter[str]:
    """At every operation of keeping a copy over an older one: there is always a whole copy."""
    out: Counter[str] = Counter()
    at = 0
    while True:
        with tempfile.TemporaryDirectory() as name:
            folder = Path(name)
            copy = folder / f"a{SUFFIX}"
            write_copies([_task(copy, 72, program="")])
            died = killed(folder, at, lambda copy=copy: write_copies([_task(copy, 99, program="")]))
            left = left_behind(folder)
            out["kills"] += died
            out["unreadable"] += bool(left.broken)
            out["recovery lost"] += [k.piece.tempo in (72, 99) for k in left.found] != [True]
        at += 1
        if not died:
            return out


def _task(copy: Path, tempo: int, program: str, own: str = "") -> tuple[Path, object, Piece]:
    from gingham.app.files.keeping import _Copy

    return copy, _Copy(own, program, ""), demo_piece(tempo)


def kill_recovery(times: int) -> Counter[str]:
    """At every operation of a start that finds unsaved work, over and over: the work is still found."""
    out: Counter[str] = Counter()
    at = 0
    while out["kills"] < times:
        with tempfile.TemporaryDirectory() as name:
            folder = Path(name)
            own = folder / "quay.gingham"
            save_piece(demo_piece(72), own)
            os.utime(own, (1, 1))  # an older file
            unsaved = folder / "unsaved"
            unsaved.mkdir()
            write_copies([_task(unsaved / f"a{SUFFIX}", 99, "", str(own))])
            died = killed(folder, at, partial(_recover, folder))
            out["kills"] += died
            tempos = [kept.piece.tempo for kept in left_behind(unsaved).found]
            out["recovery lost"] += 99 not in tempos
            out["unreadable"] += load_piece(own).tempo != 72
        at = at + 1 if died else 0
    return out


def _recover(folder: Path) -> None:
    """What a start does: find the work, open it, keep it anew."""
    os.environ["QT_QPA_PLATFORM"] = "offscreen"
    from PySide6.QtWidgets import QApplication

    from gingham.app.look.settings import Settings
    from gingham.app.shell.window import MainWindow
    from gingham.app.sound.devices import SilentOutput
    from gingham.app.sound.transport import Transport

    app = QApplication.instance() or QApplication([])
    window = MainWindow(
        Settings(folder / "settings.ini"), Transport(output=SilentOutput()), unsaved=folder / "unsaved"
    )
    window.files.recover()
    assert window.files.keeper is not None
    window.files.keeper._writer.close()  # what was asked for is written
    window.files.keeper._writer.work_on(window.files.keeper._tasks())
    del app


def kill_logs() -> Counter[str]:
    """At every operation of opening and writing the log: the next start opens it again."""
    out: Counter[str] = Counter()
    at = 0
    while True:
        with tempfile.TemporaryDirectory() as name:
            folder = Path(name)
            died = killed(folder, at, lambda folder=folder: LogFile(folder).note("a line"))
            out["kills"] += died
            log = LogFile(folder)
            log.note("another line")
            log.close()
            out["unreadable"] += "another line" not in log.path.read_text()
        at += 1
        if not died:
            return out


_WORKER = """
import sys, time
from pathlib import Path
from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QApplication
from gingham.app.look import theme
from gingham.app.sound.devices import SilentOutput
from gingham.app.session.document import Document
from gingham.app.look.settings import Settings
from gingham.app.sound.transport import Transport
from gingham.app.shell.window import MainWindow
from gingham.core.pieces.edits import set_tempo
app = QApplication(sys.argv)
theme.load_fonts()
folder = Path(sys.argv[1])
window = MainWindow(Settings(folder / "s.ini"), Transport(output=SilentOutput()), unsaved=folder / "unsaved")
window.add(Document.load(folder / "quay.gingham"))
steps = [0]
def edit():
    steps[0] += 1
    window.document.edit("Tempo", set_tempo(window.document.piece, 100 + steps[0] % 200))
    print(steps[0], time.monotonic(), flush=True)
    if steps[0] % 40 == 0:
        window.files.save()
        print("saved", time.monotonic(), flush=True)
timer = QTimer(interval=20)
timer.timeout.connect(edit)
timer.start()
window.show()
app.exec()
"""


def kill_at_random(times: int, seed: int = 7) -> Counter[str]:
    """While somebody edits without a pause and saves now and then: what is lost is younger than 1.5 s."""
    import random

    random_, out = random.Random(seed), Counter[str]()
    with tempfile.TemporaryDirectory() as name:
        for _ in range(times):
            folder = Path(tempfile.mkdtemp(dir=name))
            path = folder / "quay.gingham"
            save_piece(demo_piece(100), path)
            child = subprocess.Popen(
                [sys.executable, "-c", _WORKER, str(folder)],
                stdout=subprocess.PIPE, stderr=subprocess.DEVNULL,
                env={**os.environ, "QT_QPA_PLATFORM": "offscreen"},
            )  # fmt: skip
            assert child.stdout is not None
            first = child.stdout.readline()
            time.sleep(random_.uniform(0.0, 5.0))
            when = time.monotonic()
            child.send_signal(signal.SIGKILL)
            lines = [first, *child.stdout.read().splitlines()]
            child.wait()
            out["kills"] += 1
            out.update(_judged(path, folder / "unsaved", [line.decode().split() for line in lines], when))
    return out


def _judged(path: Path, unsaved: Path, lines: list[list[str]], when: float) -> list[str]:
    """What is wrong after a kill at `when`."""
    try:
        tempos = {load_piece(path).tempo}
    except GinghamError:
        return ["unreadable"]
    tempos |= {kept.piece.tempo for kept in left_behind(unsaved).found}
    steps = [(int(line[0]), float(line[1])) for line in lines if len(line) == 2 and line[0] != "saved"]
    due = [step for step, at in steps if at < when - LOST_AFTER_S - 0.3]  # 0.3 s to write on a busy machine
    if not due:
        return []
    last = due[-1]
    wanted = {100 + step % 200 for step in range(last, last + 200)}
    return [] if tempos & wanted else ["work lost"]


def main(kills: int) -> Counter[str]:
    """Every kind, then the rest at random; what went wrong, by kind."""
    out = kill_saves() + kill_copies() + kill_logs()
    recovery = kill_recovery(max(60, kills // 5))
    print(f"  saving, copying, logging: {dict(out)}; recovery: {dict(recovery)}")
    out += recovery
    random_ = kill_at_random(max(0, min(120, kills - out["kills"])))
    out += random_
    print(f"  at random: {dict(random_)}")
    while out["kills"] < kills:
        out += kill_saves()
    return out
