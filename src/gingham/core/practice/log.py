"""The record of practising: one SQLite file, never sent anywhere.

A connection belongs to the thread that opened it. Every write is one transaction that is on the disk when it
returns. What a file of a newer Gingham holds is not touched; a damaged one is put aside and what can be read
of it is taken over. Times are ISO texts with their offset; order is that of writing, so that a clock that is
set back loses nothing.
"""

from __future__ import annotations

import errno
import fcntl
import sqlite3
import tempfile
from collections.abc import Callable, Iterable, Iterator, Sequence
from contextlib import closing, contextmanager, suppress
from datetime import datetime
from pathlib import Path

import msgspec

from gingham.core.errors import FileError
from gingham.core.practice.attempt import Attempt, Error, Figures, Spot
from gingham.core.practice.entries import KnownPiece, Note, Record, Session, Tick
from gingham.core.values import replace

VERSION = 1
_MOST_ROWS = 200_000
_LEAST_ROW_BYTES = 32
_Rows = Callable[[sqlite3.Connection, str, Sequence[str], str], Iterator[tuple[object, ...]]]
_WAIT_S = 2.0
_TABLES = """
CREATE TABLE piece (id TEXT PRIMARY KEY, title TEXT NOT NULL, path TEXT NOT NULL);
CREATE TABLE session (id INTEGER PRIMARY KEY, began TEXT NOT NULL, entry TEXT NOT NULL);
CREATE TABLE attempt (
    id INTEGER PRIMARY KEY, made TEXT NOT NULL, piece TEXT NOT NULL, session INTEGER NOT NULL,
    kind TEXT NOT NULL, source TEXT NOT NULL, section TEXT NOT NULL, pattern TEXT NOT NULL,
    stage TEXT NOT NULL, mark TEXT NOT NULL, change TEXT NOT NULL, tempo INTEGER NOT NULL,
    beat TEXT NOT NULL, rounds INTEGER NOT NULL, seconds REAL NOT NULL, clean INTEGER NOT NULL,
    errors TEXT NOT NULL, spots TEXT NOT NULL, figures TEXT NOT NULL
);
CREATE INDEX attempt_of_piece ON attempt (piece);
CREATE TABLE tick (id INTEGER PRIMARY KEY, made TEXT NOT NULL, piece TEXT NOT NULL, entry TEXT NOT NULL);
CREATE TABLE note (id INTEGER PRIMARY KEY, made TEXT NOT NULL, piece TEXT NOT NULL, entry TEXT NOT NULL);
"""
_ATTEMPT = (
    "made", "piece", "session", "kind", "source", "section", "pattern", "stage", "mark", "change", "tempo",
    "beat", "rounds", "seconds", "clean", "errors", "spots", "figures",
)  # fmt: skip
_DATED = {"session": "began", "attempt": "made", "tick": "made", "note": "made"}
_MIGRATIONS: dict[int, Callable[[sqlite3.Connection], None]] = {}
"""From each older version to the next."""


class Log:
    """The open record. Every method may raise FileError, and nothing has been changed then."""

    def __init__(self, path: Path) -> None:
        """Open the record, or make one.

        Raises
        ------
        FileError
            `log-newer`, `log-locked`, or `log-open` if it cannot be opened or made.
        """
        self.path = path
        self.put_aside: Path | None = None
        """Where a damaged file has been put."""
        self.rescued = 0
        """Entries that were taken over from it."""
        try:
            path.parent.mkdir(parents=True, exist_ok=True)
        except OSError as error:
            raise FileError("log-open", path=str(path), why=error.strerror or str(error)) from error
        try:
            self._open()
        except sqlite3.DatabaseError as error:
            if not _is_damage(error):
                raise self._fault(error) from error
            self._start_again()

    def _open(self) -> None:
        self._db = _connect(self.path)
        try:
            version = int(self._db.execute("PRAGMA user_version").fetchone()[0])
            if version > VERSION:
                raise FileError("log-newer", path=str(self.path), version=version, known=VERSION)
            self._db.execute("PRAGMA synchronous = FULL")
            found = self._db.execute("PRAGMA quick_check(1)").fetchone()[0]
            if found != "ok":
                raise sqlite3.DatabaseError(f"malformed: {found}")
            if version < VERSION:
                self._bring_up(version)
            self._db.execute("SELECT count(*) FROM attempt").fetchone()
        except BaseException:
            self._db.close()
            raise

    def _bring_up(self, version: int) -> None:
        """Make the tables, or bring an older file up to this version, in one transaction."""
        with self._transaction():
            if not version:
                for statement in filter(str.strip, _TABLES.split(";")):
                    self._db.execute(statement)
            else:
                for step in range(version, VERSION):
                    _MIGRATIONS[step](self._db)
            self._db.execute(f"PRAGMA user_version = {VERSION}")

    def _start_again(self) -> None:
        """Put a damaged file aside, begin a new one, and take over what can be read."""
        stamp = datetime.now().astimezone().strftime("%Y%m%d-%H%M%S")
        aside = self.path.with_name(f"{self.path.stem}-damaged-{stamp}{self.path.suffix}")
        try:
            for end in ("-journal", "-wal", "-shm"):
                with suppress(FileNotFoundError):
                    self.path.with_name(self.path.name + end).rename(aside.with_name(aside.name + end))
            self.path.rename(aside)
            self._open()
        except (OSError, sqlite3.DatabaseError) as error:
            raise FileError("log-open", path=str(self.path), why=str(error)) from error
        self.put_aside = aside
        self.rescued = _rescue(aside, self)

    # Writing.

    @contextmanager
    def _transaction(self) -> Iterator[sqlite3.Connection]:
        """All or nothing; on the disk when it ends."""
        try:
            self._db.execute("BEGIN IMMEDIATE")
            try:
                yield self._db
            except BaseException:
                if self._db.in_transaction:  # a full disk has ended it already
                    self._db.execute("ROLLBACK")
                raise
            self._db.execute("COMMIT")
        except sqlite3.Error as error:
            if self._db.in_transaction:
                with suppress(sqlite3.Error):
                    self._db.execute("ROLLBACK")
            raise self._fault(error) from error

    def _fault(self, error: sqlite3.Error) -> FileError:
        name = getattr(error, "sqlite_errorname", "")
        if name.startswith(("SQLITE_BUSY", "SQLITE_LOCKED")):
            return FileError("log-locked", path=str(self.path))
        if name.startswith("SQLITE_FULL"):
            return FileError("log-write", path=str(self.path), why="the disk is full")
        if name.startswith("SQLITE_READONLY"):
            return FileError("log-write", path=str(self.path), why="it is read-only")
        code = "log-open" if name.startswith("SQLITE_CANTOPEN") else "log-write"
        return FileError(code, path=str(self.path), why=str(error))

    def add(self, entries: Iterable[Attempt | Tick | Note]) -> None:
        """Write entries behind those that are there."""
        with self._transaction() as db:
            for entry in entries:
                _insert(db, entry)

    def put_session(self, session: Session) -> Session:
        """Write a session, or what it has become; the same with its number."""
        with self._transaction() as db:
            entry = msgspec.json.encode(replace(session, id=0)).decode()
            if session.id:
                db.execute("UPDATE session SET entry = ? WHERE id = ?", (entry, session.id))
                return session
            made = db.execute("INSERT INTO session (began, entry) VALUES (?, ?)", (session.began, entry))
            return replace(session, id=int(made.lastrowid or 0))

    def know_piece(self, piece: KnownPiece, before: str = "") -> None:
        """A piece as it is now called; what was kept under the identity `before` becomes its own."""
        with self._transaction() as db:
            if before and before != piece.id:
                for table in ("attempt", "tick", "note"):
                    db.execute(f"UPDATE {table} SET piece = ? WHERE piece = ?", (piece.id, before))
                db.execute("DELETE FROM piece WHERE id = ?", (before,))
            db.execute("INSERT OR REPLACE INTO piece VALUES (?, ?, ?)", (piece.id, piece.title, piece.path))

    def delete(self, begin: str, end: str, piece: str | None = None) -> int:
        """Delete what was made from one day to another (ISO, both included); how much it was.

        With a `piece` only what belongs to it.
        """
        count = 0
        with self._transaction() as db:
            for table, dated in _DATED.items():
                if piece is not None and table == "session":
                    continue
                where, values = f"substr({dated}, 1, 10) BETWEEN ? AND ?", [begin, end]
                if piece is not None:
                    where, values = f"{where} AND piece = ?", [*values, piece]
                count += db.execute(f"DELETE FROM {table} WHERE {where}", values).rowcount
        with suppress(sqlite3.Error):  # what was deleted is not to be found in the file either
            self._db.execute("VACUUM")
        return count

    def back_up(self, path: Path) -> None:
        """A whole copy of the record in another file."""
        try:
            with closing(sqlite3.connect(path)) as other:
                self._db.backup(other)
        except sqlite3.Error as error:
            raise FileError("log-write", path=str(path), why=str(error)) from error

    # Reading.

    def read(self, since: str = "") -> Record:
        """Everything from a day on (ISO; empty: all); entries that cannot be read are left out."""
        try:
            return _record(self._db, _rows, since)
        except sqlite3.Error as error:
            raise self._fault(error) from error

    def close(self) -> None:
        """Let go of the file."""
        self._db.close()


def _connect(path: Path) -> sqlite3.Connection:
    """A connection; without locks where the folder has none to give, as some network folders.

    There SQLite would call the record in use for ever. The window keeps out a second one by itself; two
    machines that have one home could write at once, and a record that was damaged is put aside.
    """
    if _has_locks(path.parent):
        return sqlite3.connect(path, timeout=_WAIT_S, isolation_level=None)
    return sqlite3.connect(
        f"{path.resolve().as_uri()}?vfs=unix-none", timeout=_WAIT_S, isolation_level=None, uri=True
    )


def _has_locks(folder: Path) -> bool:
    """Whether files of a folder can be locked; tried on another file: closing one lets go its locks."""
    try:
        with tempfile.TemporaryFile(dir=folder) as file:
            fcntl.lockf(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError as error:
        return error.errno not in (errno.ENOLCK, errno.ENOTSUP, errno.ENOSYS)
    return True


def _is_damage(error: sqlite3.DatabaseError) -> bool:
    name = getattr(error, "sqlite_errorname", "")
    return name.startswith(("SQLITE_CORRUPT", "SQLITE_NOTADB")) or "malformed" in str(error)


def _insert(db: sqlite3.Connection, entry: Attempt | Tick | Note) -> None:
    if not isinstance(entry, Attempt):
        table = "tick" if isinstance(entry, Tick) else "note"
        db.execute(
            f"INSERT INTO {table} (made, piece, entry) VALUES (?, ?, ?)",
            (entry.made, entry.piece, msgspec.json.encode(entry).decode()),
        )
        return
    values = [
        msgspec.json.encode(getattr(entry, name)).decode()
        if name in ("errors", "spots", "figures")
        else getattr(entry, name)
        for name in _ATTEMPT
    ]
    marks = ", ".join("?" * len(values))
    db.execute(f"INSERT INTO attempt ({', '.join(_ATTEMPT)}) VALUES ({marks})", values)


def _rows(
    db: sqlite3.Connection, table: str, columns: Sequence[str], since: str
) -> Iterator[tuple[object, ...]]:
    query = f"SELECT {', '.join(columns)} FROM {table}"
    if since:
        query += f" WHERE substr({_DATED[table]}, 1, 10) >= ?"
    yield from db.execute(f"{query} ORDER BY id", (since,) if since else ())


def _most_rows(db: sqlite3.Connection) -> int:
    """How many rows a record of its size may hold: what is looked for by number has to end."""
    file = db.execute("PRAGMA database_list").fetchone()[2]
    return Path(file).stat().st_size // _LEAST_ROW_BYTES


def _whole_rows(
    db: sqlite3.Connection, table: str, columns: Sequence[str], _since: str
) -> Iterator[tuple[object, ...]]:
    """Row by row by its number: a page that is damaged takes only the rows with it that lie on it."""
    try:
        last = int(db.execute(f"SELECT max(id) FROM {table}").fetchone()[0] or 0)
    except sqlite3.OperationalError:
        return  # the table itself cannot be found
    except sqlite3.DatabaseError as error:
        if error.sqlite_errorname == "SQLITE_NOTADB":
            return
        last = _most_rows(db)
    query = f"SELECT {', '.join(columns)} FROM {table} WHERE id = ?"
    for number in range(1, min(last, _MOST_ROWS) + 1):
        with suppress(sqlite3.Error):
            row = db.execute(query, (number,)).fetchone()
            if row is not None:
                yield tuple(row)


def _sessions(rows: Iterator[tuple[object, ...]]) -> Iterator[Session]:
    for number, entry in rows:
        with suppress(msgspec.DecodeError):
            yield replace(msgspec.json.decode(str(entry), type=Session), id=int(str(number)))


def _attempts(rows: Iterator[tuple[object, ...]]) -> Iterator[Attempt]:
    errors, spots = msgspec.json.Decoder(tuple[Error, ...]), msgspec.json.Decoder(tuple[Spot, ...])
    figures = msgspec.json.Decoder(Figures)
    for row in rows:
        values = dict(zip(_ATTEMPT, row, strict=True))
        with suppress(msgspec.DecodeError, msgspec.ValidationError, TypeError):
            values["clean"] = bool(values["clean"])
            values["errors"] = errors.decode(str(values["errors"]))
            values["spots"] = spots.decode(str(values["spots"]))
            values["figures"] = figures.decode(str(values["figures"]))
            yield Attempt(**values)  # type: ignore[arg-type]  # a row of our own table


def _ticks(rows: Iterator[tuple[object, ...]]) -> Iterator[Tick]:
    for piece, entry in rows:
        with suppress(msgspec.DecodeError):
            yield replace(msgspec.json.decode(str(entry), type=Tick), piece=str(piece))


def _notes(rows: Iterator[tuple[object, ...]]) -> Iterator[Note]:
    for piece, entry in rows:
        with suppress(msgspec.DecodeError):
            yield replace(msgspec.json.decode(str(entry), type=Note), piece=str(piece))


def _record(db: sqlite3.Connection, rows: _Rows, since: str) -> Record:
    """Everything, read by `rows`; the piece of an entry is its row's: it may be called otherwise now."""
    pieces: list[KnownPiece] = []
    with suppress(sqlite3.DatabaseError):
        pieces = [KnownPiece(*row) for row in db.execute("SELECT id, title, path FROM piece")]
    return Record(
        tuple(pieces),
        tuple(_sessions(rows(db, "session", ("id", "entry"), since))),
        tuple(_attempts(rows(db, "attempt", _ATTEMPT, since))),
        tuple(_ticks(rows(db, "tick", ("piece", "entry"), since))),
        tuple(_notes(rows(db, "note", ("piece", "entry"), since))),
    )


def _rescue(path: Path, log: Log) -> int:
    """Take over what can be read of a damaged record, row by row."""
    found = Record((), (), (), (), ())
    with suppress(sqlite3.Error), closing(sqlite3.connect(path)) as db:
        found = _record(db, _whole_rows, "")
    for piece in found.pieces:
        log.know_piece(piece)
    for session in found.sessions:
        log.put_session(replace(session, id=0))
    log.add([*found.attempts, *found.ticks, *found.notes])
    return sum(map(len, (found.sessions, found.attempts, found.ticks, found.notes)))
