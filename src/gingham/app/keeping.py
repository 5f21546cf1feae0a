"""Unsaved work outlives a kill at any moment: a copy of every changed piece is kept beside, and found again.

A copy is written a moment after a change, in a thread of its own, atomically. It goes when the piece is saved
or closed. What a program that has ended left behind is opened at the next start.
"""

from __future__ import annotations

import json
import os
import uuid
from dataclasses import dataclass, replace
from pathlib import Path

from PySide6.QtCore import QObject, QTimer

from gingham.app.document import Document
from gingham.app.worker import NewestWorker
from gingham.core.errors import FileError, GinghamError
from gingham.core.formats.atomic import write_atomically
from gingham.core.pieces.piece import Piece

SUFFIX = ".unsaved"
_DELAY_MS = 1500
_MOST_MB = 80


@dataclass(frozen=True, slots=True)
class _Copy:
    """A kept piece: where it belongs, which program wrote it, the piece file's text."""

    path: str
    program: str
    piece: str

    def to_bytes(self) -> bytes:
        """As it lies on disk."""
        return json.dumps({"path": self.path, "program": self.program, "piece": self.piece}).encode()


def _copy_of(data: bytes) -> _Copy:
    """A copy as it was written; ValueError, TypeError or KeyError if it is damaged."""
    plain = json.loads(data)
    path, program, piece = plain["path"], plain["program"], plain["piece"]
    if not all(isinstance(part, str) for part in (path, program, piece)):
        raise TypeError("not three texts")
    return _Copy(path, program, piece)


@dataclass(frozen=True, slots=True)
class Kept:
    """A piece that was found again, and its own file (None if it never had one)."""

    piece: Piece
    path: Path | None
    copy: Path


def program_id(pid: int | None = None) -> str:
    """This program, told apart from a later one with the same number; empty for one that has ended."""
    number = os.getpid() if pid is None else pid
    try:
        stat = Path(f"/proc/{number}/stat").read_text()
    except OSError:
        return ""
    return f"{number}:{stat.rpartition(')')[2].split()[19]}"


def left_behind(folder: Path) -> tuple[list[Kept], list[str]]:
    """What programs that have ended left in `folder`, and what cannot be read of it (file names)."""
    from gingham.core.formats.piece_file import piece_from_bytes  # loaded when a file is read or written

    found: list[Kept] = []
    broken: list[str] = []
    for path in sorted(folder.glob(f"*{SUFFIX}")):
        try:
            if path.stat().st_size > _MOST_MB * 1_000_000:
                raise FileError("file-large", path=str(path), most=_MOST_MB)
            copy = _copy_of(path.read_bytes())
            pid = copy.program.partition(":")[0]
            if pid.isdecimal() and program_id(int(pid)) == copy.program:
                continue  # a window that is open now keeps it
            piece = piece_from_bytes(copy.piece.encode(), path.name)
        except (OSError, ValueError, TypeError, KeyError, GinghamError):
            broken.append(path.name)
            continue
        found.append(Kept(piece, Path(copy.path) if copy.path else None, path))
    return found, broken


_Job = tuple[Path, _Copy | None, Piece | None]
"""A file, and what is to stand in it; None takes it away."""


class _Writer(NewestWorker[tuple[_Job, ...]]):
    """Writes copies and takes them away, the newest list only."""

    def work_on(self, item: tuple[_Job, ...]) -> None:
        """Bring the folder to what the list says."""
        from gingham.core.formats.piece_file import piece_to_bytes

        for path, copy, piece in item:
            try:
                if copy is None or piece is None:
                    path.unlink(missing_ok=True)
                    continue
                path.parent.mkdir(parents=True, exist_ok=True)
                write_atomically(path, replace(copy, piece=piece_to_bytes(piece).decode()).to_bytes())
            except (OSError, GinghamError):
                continue  # a full disk: the work itself is still in the window


class Keeper(QObject):
    """Keeps copies of the changed ones among the documents that it is told of."""

    def __init__(self, folder: Path, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.folder = folder
        self._program = program_id()
        self._copies: dict[Document, Path] = {}
        self._gone: set[Path] = set()
        self._writer = _Writer("keeper", self)
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.setInterval(_DELAY_MS)
        self._later.timeout.connect(self.keep)

    def add(self, document: Document) -> None:
        """Watch over a document."""
        self._copies[document] = self.folder / f"{uuid.uuid4().hex}{SUFFIX}"
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
        self._writer.request(self._jobs())

    def _jobs(self) -> tuple[_Job, ...]:
        jobs: list[_Job] = [(path, None, None) for path in self._gone]
        for document, path in self._copies.items():
            piece = document.piece
            if document.modified:
                jobs.append((path, _Copy(str(document.path or ""), self._program, ""), piece))
            else:
                jobs.append((path, None, None))
        return tuple(jobs)

    def close(self, *, forget: bool) -> None:
        """End the thread; `forget` takes every copy away, for an end that the player has agreed to."""
        self._later.stop()
        self._writer.close()
        paths = [*self._copies.values(), *self._gone]
        jobs = [(path, None, None) for path in paths] if forget else self._jobs()
        self._writer.work_on(tuple(jobs))
        self._copies.clear()
