"""The record of practising in the window: read once, kept in memory, written behind the player's back.

Whatever cannot be written waits in memory and in a file of lines beside the record, and is written as soon as
that can be done again: by this Gingham, or by the next one that starts.
"""

from __future__ import annotations

import queue
import threading
from collections.abc import Callable, Sequence
from contextlib import suppress
from datetime import datetime
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, QTimer, Signal

from gingham.app.session.document import Document
from gingham.app.work.worker import report_fault
from gingham.core.errors import FileError, GinghamError
from gingham.core.practice.attempt import Attempt
from gingham.core.practice.entries import KnownPiece, Note, Record, Session, Tick
from gingham.core.values import replace
from gingham.words.errors import say
from gingham.words.keeping import log_mended

if TYPE_CHECKING:
    from gingham.core.practice.log import Log

_AGAIN_MS = 20_000
_EMPTY = Record((), (), (), (), ())
Entry = Attempt | Tick | Note
_Task = Callable[["Log"], Callable[[], None] | None]


class Logbook(QObject):
    """What has been practised. `record` is whole once `loaded` has been told."""

    loaded = Signal()
    changed = Signal(object)
    """The entries that have been added; None where anything else has become another."""
    notice = Signal(str)
    _told = Signal(object)
    _refused = Signal(object)

    def __init__(
        self, path: Path, parent: QObject | None = None, clock: Callable[[], datetime] | None = None
    ) -> None:
        super().__init__(parent)
        self.path = path
        self.clock = clock if clock is not None else _now
        self.record = _EMPTY
        self.ready = False
        self._tasks: queue.SimpleQueue[_Task | None] = queue.SimpleQueue()
        self._added: list[Entry] = []
        """Everything that has been added in this run, in order; only the thread counts what is written."""
        self._written = 0
        self._left: list[Entry] | None = None
        """What an earlier run could not write, once it has been read."""
        self._said = ""
        self._thread: threading.Thread | None = None
        self._again = QTimer(self, singleShot=True, interval=_AGAIN_MS)
        self._again.timeout.connect(self._write_waiting)
        self._told.connect(lambda then: then())
        self._refused.connect(self._not_written)

    def load(self) -> None:
        """Read the record, unless that has been asked for."""
        if self._thread is None:
            self._thread = threading.Thread(target=self._work, name="logbook", daemon=True)
            self._thread.start()
            self._tasks.put(self._read)

    def today(self) -> str:
        """Now, as the record has it."""
        return self.clock().isoformat(timespec="seconds")

    # What is kept.

    def attempts(self, piece: str) -> list[Attempt]:
        """Every attempt at a piece, in order of writing."""
        return [attempt for attempt in self.record.attempts if attempt.piece == piece]

    def add(self, *entries: Entry) -> None:
        """Keep something: it is in `record` at once, and on the disk soon."""
        self._remember(entries)
        self._added += entries
        self._write_waiting()
        self.changed.emit(entries)

    def put_session(self, session: Session, then: Callable[[Session], None] | None = None) -> None:
        """Keep a session, or what it has become; `then` hears of its number."""
        self.load()

        def write(log: Log) -> Callable[[], None]:
            kept = log.put_session(session)

            def tell() -> None:
                others = tuple(each for each in self.record.sessions if each.id != kept.id)
                self.record = replace(self.record, sessions=(*others, kept))
                if then is not None:
                    then(kept)
                self.changed.emit(None)

            return tell

        self._tasks.put(write)

    def know(self, document: Document, before: str = "") -> None:
        """A piece as it is called now; `before` is the identity that it had in the record."""
        self.load()
        path = str(document.path.resolve()) if document.path is not None else ""
        piece = KnownPiece(document.identity, document.piece.title, path)
        if piece in self.record.pieces and not before:
            return

        def write(log: Log) -> Callable[[], None]:
            log.know_piece(piece, before)
            return self._read(log)

        self._tasks.put(write)

    def delete(self, begin: str, end: str, piece: str | None = None) -> None:
        """Delete what was made from one day to another, of one piece or all."""
        self.load()

        def write(log: Log) -> Callable[[], None]:
            self._write(log)
            log.delete(begin, end, piece)
            return self._read(log)

        self._tasks.put(write)

    def back_up(self, path: Path, then: Callable[[], None]) -> None:
        """A whole copy of the record in another file."""
        self.load()

        def write(log: Log) -> Callable[[], None]:
            log.back_up(path)
            return then

        self._tasks.put(write)

    def close(self) -> None:
        """Write what waits, end the thread."""
        self._again.stop()
        if self._thread is not None:
            self._tasks.put(None)
            self._thread.join()
            self._thread = None

    # In the interface thread.

    def _remember(self, entries: Sequence[Entry]) -> None:
        made = self.record
        self.record = replace(
            made,
            attempts=(*made.attempts, *(e for e in entries if isinstance(e, Attempt))),
            ticks=(*made.ticks, *(e for e in entries if isinstance(e, Tick))),
            notes=(*made.notes, *(e for e in entries if isinstance(e, Note))),
        )

    def _take(self, record: Record, written: int) -> None:
        """The record as it was read when so much had been written; what was added since is behind it."""
        self.record = record
        self._remember(self._added[written:])
        if not self.ready:
            self.ready = True
            self.loaded.emit()
        self.changed.emit(None)

    def _write_waiting(self) -> None:
        """Everything that waits goes to the disk in one write."""
        self.load()
        self._tasks.put(self._write)

    def _not_written(self, error: GinghamError) -> None:
        """Told once for each reason; tried again after a while."""
        if error.code != self._said:
            self._said = error.code
            self.notice.emit(say(error))
        if not self.ready:
            self._take(_EMPTY, 0)
            self._remember(self._left or ())
        self._again.start()

    # In the thread.

    def _work(self) -> None:
        log: Log | None = None
        while True:
            task = self._tasks.get()
            if task is None:
                break
            try:
                if log is None:
                    log = self._open()
                then = task(log)
                if then is not None:
                    self._told.emit(then)
            except FileError as error:
                self._keep_beside()
                self._refused.emit(error)
            except Exception:  # noqa: BLE001  # the next task must find the thread alive
                report_fault()
        if log is not None:
            log.close()

    def _open(self) -> Log:
        from gingham.core.practice.log import Log  # SQLite comes with the first page that needs it
        from gingham.core.practice.waiting import old_ticks, read_waiting

        if self._left is None:
            self._left = [*old_ticks(self.path.parent), *read_waiting(self.path)]
        log = Log(self.path)
        if log.put_aside is not None:
            words = log_mended(str(log.put_aside), log.rescued)
            self._told.emit(lambda: self.notice.emit(words))
        self._write(log)
        return log

    def _write(self, log: Log) -> Callable[[], None] | None:
        """Write what has not been written."""
        from gingham.core.practice.waiting import drop_waiting

        left, new = self._left or [], self._added[self._written :]
        if not left and not new:
            return None
        log.add([*left, *new])
        self._left = []
        self._written += len(new)
        drop_waiting(self.path)
        return self._all_written

    def _all_written(self) -> None:
        self._said = ""

    def _read(self, log: Log) -> Callable[[], None]:
        record, written = log.read(), self._written
        return lambda: self._take(record, written)

    def _keep_beside(self) -> None:
        """What waits is written as lines, so that it is there for the next start."""
        from gingham.core.practice.waiting import keep_waiting

        waiting = [*(self._left or ()), *self._added[self._written :]]
        if waiting:
            with suppress(OSError):
                keep_waiting(self.path, waiting)


def _now() -> datetime:
    return datetime.now().astimezone()
