"""A second start hands its files to the window that is open: over a socket that only this user can reach.

If nobody answers in time, each program goes its own way; their copies of unsaved work know whose they are.
"""

from __future__ import annotations

import fcntl
import os
import socket
from collections.abc import Callable
from contextlib import suppress
from pathlib import Path

import msgspec
from PySide6.QtCore import QObject, QSocketNotifier

_NAME, _LOCK = "window.sock", "window.lock"
_MOST_BYTES = 200_000
_PATIENCE_S = 2.0


class _Request(msgspec.Struct):
    """Files to open, as bytes in latin-1: a path need not be a text; and what else is wanted."""

    files: list[str]
    wishes: list[str] = []


def hand_over(folder: Path, files: list[Path], wishes: list[str] | None = None) -> bool:
    """Ask the window that is open to show these files; whether it said that it does."""
    names = [os.fsencode(path.absolute()).decode("latin-1") for path in files]
    text = msgspec.json.encode(_Request(names, wishes or []))
    try:
        with socket.socket(socket.AF_UNIX, socket.SOCK_STREAM) as line:
            line.settimeout(_PATIENCE_S)
            line.connect(str(folder / _NAME))
            line.sendall(text + b"\n")
            return line.recv(16) == b"ok\n"
    except (OSError, ValueError):  # nobody there, or a path too long for a socket
        return False


class Listener(QObject):
    """Takes the files of later starts. Where it cannot listen, later starts go their own way."""

    def __init__(
        self, folder: Path, take: Callable[[list[Path], list[str]], None], parent: QObject | None = None
    ) -> None:
        super().__init__(parent)
        self._take = take
        self._path = folder / _NAME
        self._socket: socket.socket | None = None
        self._lock: int | None = None
        with suppress(OSError, ValueError):
            self._listen(folder)

    @property
    def listening(self) -> bool:
        """Whether later starts are heard."""
        return self._socket is not None

    def _listen(self, folder: Path) -> None:
        folder.mkdir(parents=True, exist_ok=True, mode=0o700)
        lock = os.open(folder / _LOCK, os.O_RDWR | os.O_CREAT | os.O_CLOEXEC, 0o600)
        try:
            fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)  # goes with the process, however that ends
            self._path.unlink(missing_ok=True)
            line = socket.socket(socket.AF_UNIX, socket.SOCK_STREAM)
            line.setblocking(False)
            line.bind(str(self._path))
            self._path.chmod(0o600)
            line.listen(8)
        except OSError:
            os.close(lock)
            raise
        self._lock, self._socket = lock, line
        notifier = QSocketNotifier(line.fileno(), QSocketNotifier.Type.Read, self)
        notifier.activated.connect(self._accept)

    def _accept(self) -> None:
        if self._socket is None:
            return
        with suppress(OSError):
            line, _ = self._socket.accept()
            with line:
                line.settimeout(0.2)  # the other side has written before it waits
                asked = _read(line)
                if asked is not None:
                    line.sendall(b"ok\n")
            if asked is not None:
                self._take(*asked)

    def close(self) -> None:
        """Listen no more."""
        if self._socket is not None:
            self._socket.close()
            self._socket = None
            with suppress(OSError):
                self._path.unlink()
        if self._lock is not None:
            os.close(self._lock)
            self._lock = None


def _read(line: socket.socket) -> tuple[list[Path], list[str]] | None:
    """The files and wishes of a request; None for what is none."""
    data = b""
    while not data.endswith(b"\n") and len(data) < _MOST_BYTES:
        part = line.recv(65_536)
        if not part:
            return None
        data += part
    try:
        request = msgspec.json.decode(data, type=_Request)
        return [Path(os.fsdecode(name.encode("latin-1"))) for name in request.files], request.wishes
    except (msgspec.MsgspecError, ValueError):
        return None
