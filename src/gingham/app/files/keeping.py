"""Unsaved work outlives a kill at any moment: a copy of every changed piece is kept beside, and found again.

A copy is written a moment after a change, in a thread of its own, atomically. It goes when the piece is saved
or closed. What a program that has ended left behind is opened at the next start, and stays on disk until a
newer copy of it is safe there.
"""

from __future__ import annotations

import os
import stat
from collections.abc import Iterable
from contextlib import suppress
from pathlib import Path

import msgspec
from PySide6.QtCore import QObject, QTimer, Signal

from gingham.app.files.paths import path_of, path_text
from gingham.app.session.document import Document
from gingham.app.work.worker import NewestWorker
from gingham.core.errors import FileError, GinghamError
from gingham.core.pieces.piece import Piece
from gingham.core.programs import is_running, program_id

SUFFIX = ".unsaved"
SET_ASIDE = "set-aside"
_DELAY_MS = 1500
_AGAIN_MS = 10_000
_MOST_MB = 40


class _Copy(msgspec.Struct, frozen=True):
    """A kept piece: where it belongs (see `paths`), which program wrote it, the piece file's text.

    `identity` is what the record knows it by; the text has it too.
    """

    path: str
    program: str
    piece: str
    identity: str = ""


class Kept(msgspec.Struct, frozen=True):
    """A piece that was found again, its own file (None if it never had one), and the copy.

    `older` says that its file has been written since: the copy must not go over it unasked.
    """

    piece: Piece
    path: Path | None
    copy: Path
    older: bool = False
    identity: str = ""


class LeftBehind(msgspec.Struct, frozen=True):
    """What programs that have ended left: pieces, and files that could not be read (set aside, by name)."""

    found: tuple[Kept, ...] = ()
    broken: tuple[str, ...] = ()


def left_behind(folder: Path) -> LeftBehind:
    """What programs that have ended left in `folder`; whatever stands there, this does not fail."""
    found: list[Kept] = []
    broken: list[str] = []
    for path in _copies_in(folder):
        try:
            kept = _read_copy(path)
        except (GinghamError, msgspec.MsgspecError, RecursionError, ValueError, OSError):
            broken.append(_set_aside(path))
            continue
        if kept is not None:
            found.append(kept)
    return LeftBehind(tuple(found), tuple(broken))


def _copies_in(folder: Path) -> list[Path]:
    try:
        return sorted(folder.glob(f"*{SUFFIX}"))
    except OSError:
        return []


def _read_copy(path: Path) -> Kept | None:
    """A copy with its piece; None if a running program keeps it, or if its file says the same."""
    from gingham.core.formats.atomic import read_bytes  # loaded when a file is read or written
    from gingham.core.formats.piece_file import piece_to_bytes, read_piece

    copy = msgspec.json.decode(read_bytes(path, _MOST_MB), type=_Copy)
    if is_running(copy.program):
        return None  # a window that is open now keeps it
    read, own = read_piece(copy.piece.encode(), path.name), path_of(copy.path)
    piece, identity = read.piece, read.identity
    if own is None:
        return Kept(piece, None, path, identity=identity)
    with suppress(FileError, OSError, ValueError):
        if read_bytes(own, _MOST_MB) == piece_to_bytes(piece, identity):
            with suppress(OSError):  # saved, and killed before the copy went: nothing is lost
                path.unlink()
            return None
        older = own.stat().st_mtime_ns > path.stat().st_mtime_ns
        return Kept(piece, own, path, older, identity)
    return Kept(piece, own, path, identity=identity)


def _set_aside(path: Path) -> str:
    """Put a copy that cannot be read where no start stumbles over it; its name."""
    with suppress(OSError):
        if stat.S_ISREG(path.lstat().st_mode):
            aside = path.parent / SET_ASIDE
            aside.mkdir(exist_ok=True)
            path.rename(aside / f"{path.stem}-{os.urandom(2).hex()}{SUFFIX}")
    return path.name


_Task = tuple[Path, _Copy | None, Piece | None]
"""A file, and what is to stand in it; None takes it away."""


class _CopyWriter(NewestWorker[tuple[_Task, ...]]):
    """Writes copies and takes them away, the newest list only."""

    refused = Signal(object)
    """The FileError for which copies cannot be written."""
    wrote = Signal()
    """Every copy of a list is safe on disk."""

    def work_on(self, item: tuple[_Task, ...]) -> None:
        """Bring the folder to what the list says."""
        error = write_copies(item)
        if error is not None:
            self.refused.emit(error)
        else:
            self.wrote.emit()


def write_copies(tasks: Iterable[_Task]) -> GinghamError | None:
    """Write every copy that can be written, take away what is to go; the first fault of writing."""
    from gingham.core.formats.atomic import write_atomically
    from gingham.core.formats.piece_file import piece_to_bytes

    first: GinghamError | None = None
    for path, copy, piece in tasks:
        if copy is None or piece is None:
            with suppress(OSError):  # it stays, and is found to say the same as its file
                path.unlink(missing_ok=True)
            continue
        try:
            with suppress(OSError):  # the writing says what is wrong
                path.parent.mkdir(parents=True, exist_ok=True)
            text = piece_to_bytes(piece, copy.identity).decode()
            write_atomically(path, msgspec.json.encode(_Copy(copy.path, copy.program, text)))
        except GinghamError as error:
            first = first or error
    return first


class Keeper(QObject):
    """Keeps copies of the changed ones among the documents that it is told of."""

    stopped = Signal(object)
    """Copies can no longer be written (told once): the FileError."""
    going_on = Signal()
    """They can be written again."""

    def __init__(self, folder: Path, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.folder = folder
        self._program = program_id()
        self._copies: dict[Document, Path] = {}
        self._gone: set[Path] = set()
        self.failing = False
        self._writer = _CopyWriter("keeper", self)
        self._writer.refused.connect(self._refused)
        self._writer.wrote.connect(self._wrote)
        self._later = self._timer(_DELAY_MS)
        self._again = self._timer(_AGAIN_MS)

    def _timer(self, after_ms: int) -> QTimer:
        timer = QTimer(self)
        timer.setSingleShot(True)
        timer.setInterval(after_ms)
        timer.timeout.connect(self.keep)
        return timer

    def add(self, document: Document, copy: Path | None = None) -> None:
        """Watch over a document; `copy` is the file that holds it already, of a program that has ended."""
        own = self.folder / f"{os.urandom(16).hex()}{SUFFIX}"
        if copy is not None:
            try:
                copy.rename(own)  # of two programs that start together, one gets it
            except OSError:
                own = copy
        self._copies[document] = own
        document.changed.connect(self._soon)
        document.saved.connect(self.keep)

    def remove(self, document: Document) -> None:
        """The document is closed: its copy goes."""
        path = self._copies.pop(document, None)
        if path is not None:
            self._gone.add(path)
            self.keep()

    def _soon(self) -> None:
        if not self._later.isActive():  # so that one who never pauses is kept as well
            self._later.start()

    def keep(self) -> None:
        """Write copies of what is changed now, take away those of what is saved."""
        self._later.stop()
        self._writer.request(self._tasks())

    def _tasks(self) -> tuple[_Task, ...]:
        tasks: list[_Task] = [(path, None, None) for path in self._gone]
        for document, path in self._copies.items():
            piece = document.piece
            if document.modified:
                own = path_text(document.path) if document.path is not None else ""
                tasks.append((path, _Copy(own, self._program, "", document.identity), piece))
            else:
                tasks.append((path, None, None))
        return tuple(tasks)

    def _refused(self, error: GinghamError) -> None:
        self._again.start()
        if not self.failing:
            self.failing = True
            self.stopped.emit(error)

    def _wrote(self) -> None:
        if self.failing:
            self.failing = False
            self.going_on.emit()

    def close(self, *, forget: bool) -> None:
        """End the thread; `forget` takes every copy away, for an end that the player has agreed to."""
        self._later.stop()
        self._again.stop()
        self._writer.close()
        paths = [*self._copies.values(), *self._gone]
        write_copies([(path, None, None) for path in paths] if forget else self._tasks())
        self._copies.clear()
