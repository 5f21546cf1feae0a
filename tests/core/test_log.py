"""The record of practising on disk: whatever happens to the file, nothing that was kept is lost."""

from __future__ import annotations

import csv
import errno
import io
import sqlite3
from contextlib import closing
from pathlib import Path

import msgspec
import pytest
from hypothesis import given
from hypothesis import strategies as st

from gingham.core.errors import FileError
from gingham.core.practice.attempt import Attempt, Figures, Spot
from gingham.core.practice.entries import KnownPiece, Note, Session, Tick
from gingham.core.practice.log import VERSION, Log
from gingham.core.practice.record_text import COLUMNS, RecordAnswer, attempts_csv, record_json
from gingham.core.practice.waiting import drop_waiting, keep_waiting, old_ticks, read_waiting, waiting_path
from gingham.core.values import replace
from gingham.words.errors import say

TRY = Attempt(
    "2026-11-30T18:00:00+01:00", "lanterns", "Verse · change-C-G/B", "a1b2", 68, False, source="heard",
    section="Verse", pattern="Hearth", change="C > G/B", rounds=5, seconds=21.5, errors=("change", "uneven"),
    spots=(Spot("Verse", 6, "1/2", "change", "C > G/B", 140.0),), figures=Figures(spread_ms=12.5, held=31, total=32),
)  # fmt: skip
TICK = Tick("2026-11-30T17:58:00+01:00", "tuned", "lanterns", {"6": -1.5})
NOTE = Note("2026-12-01T18:20:00+01:00", "hand", "ring finger tired")


def a_log(path: Path) -> Log:
    """A record with one of everything."""
    log = Log(path)
    log.know_piece(KnownPiece("lanterns", "Forty Lanterns", "/home/x/lanterns.gingham"))
    log.add([TRY, TICK, NOTE])
    log.put_session(Session("2026-11-30T17:55:00+01:00", 20))
    return log


def test_everything_comes_back_as_it_was_kept(tmp_path: Path) -> None:
    """After closing and opening; a session is written again when it ends."""
    log = a_log(tmp_path / "p.sqlite")
    first = log.read().sessions[0]
    log.put_session(replace(first, ended="2026-11-30T18:15:00+01:00", ended_by="done", barre_s=30.5))
    log.close()
    again = Log(tmp_path / "p.sqlite")
    found = again.read()
    assert (found.attempts, found.ticks, found.notes) == ((TRY,), (TICK,), (NOTE,))
    assert found.sessions[0].ended_by == "done" and found.sessions[0].id == first.id == 1
    assert again.read("2026-12-01").attempts == () and again.read("2026-12-01").notes == (NOTE,)
    again.close()


texts = st.text(max_size=30)


@given(st.lists(st.builds(replace, st.just(TRY), stage=texts, tempo=st.integers(20, 320), clean=st.booleans(),
                          seconds=st.floats(0, 4000), errors=st.just(()), change=texts), max_size=8))  # fmt: skip
def test_any_attempt_survives_disk_and_csv(tmp_path_factory, attempts: list[Attempt]) -> None:
    """Whatever stages are called: lines, quotes and signs of other scripts."""
    path = tmp_path_factory.mktemp("log") / "p.sqlite"
    log = Log(path)
    log.add(attempts)
    read = log.read()
    log.close()
    assert list(read.attempts) == attempts
    rows = list(csv.reader(io.StringIO(attempts_csv(read))))
    assert tuple(rows[0]) == COLUMNS and len(rows) == 1 + len(attempts)
    assert all(not cell.startswith(("=", "+", "@")) for row in rows[1:] for cell in row)
    assert msgspec.json.decode(record_json(read), type=RecordAnswer).attempts == attempts


def test_a_piece_keeps_its_record_under_another_name(tmp_path: Path) -> None:
    """Saved elsewhere, called otherwise, or given an identity at last: its attempts are its own."""
    log = a_log(tmp_path / "p.sqlite")
    log.know_piece(KnownPiece("7f3a", "Lanterns, slow", "/home/x/slow.gingham"), before="lanterns")
    found = log.read()
    assert [a.piece for a in found.attempts] == ["7f3a"] and [t.piece for t in found.ticks] == ["7f3a"]
    assert [(p.id, p.title) for p in found.pieces] == [("7f3a", "Lanterns, slow")]
    log.close()


@pytest.mark.parametrize(
    ("begin", "end", "piece", "left"),
    [
        ("2026-11-30", "2026-11-30", None, (0, 0, 0, 1)),
        ("2026-11-29", "2026-12-31", "lanterns", (1, 0, 0, 1)),
        ("0000", "9999", None, (0, 0, 0, 0)),
        ("2026-12-02", "2026-12-31", None, (1, 1, 1, 1)),
    ],
)
def test_a_range_is_deleted(
    tmp_path: Path, begin: str, end: str, piece: str | None, left: tuple[int, ...]
) -> None:
    """Of all pieces or of one; what is deleted is not left in the file."""
    log = a_log(tmp_path / "p.sqlite")
    log.delete(begin, end, piece)
    found = log.read()
    assert (len(found.sessions), len(found.attempts), len(found.ticks), len(found.notes)) == left
    log.close()
    assert (b"change-C-G/B" in (tmp_path / "p.sqlite").read_bytes()) == bool(left[1])


def test_a_backup_is_a_whole_record(tmp_path: Path) -> None:
    """It opens as one."""
    log = a_log(tmp_path / "p.sqlite")
    log.back_up(tmp_path / "copy.sqlite")
    log.close()
    copy = Log(tmp_path / "copy.sqlite")
    assert copy.read().attempts == (TRY,)
    copy.close()
    with pytest.raises(FileError, match="log-write"):
        Log(tmp_path / "q.sqlite").back_up(tmp_path / "no folder" / "copy.sqlite")


def test_a_newer_record_is_not_touched(tmp_path: Path) -> None:
    """One message that says which version; the bytes stay."""
    path = tmp_path / "p.sqlite"
    a_log(path).close()
    with closing(sqlite3.connect(path)) as db:
        db.execute(f"PRAGMA user_version = {VERSION + 1}")
    before = path.read_bytes()
    with pytest.raises(FileError, match="log-newer") as caught:
        Log(path)
    assert path.read_bytes() == before and f"version {VERSION + 1}" in say(caught.value)


def test_a_record_in_use_says_so_and_loses_nothing(tmp_path: Path, monkeypatch) -> None:
    """Another program writes: after a wait it is refused, and written once the other is done."""
    monkeypatch.setattr("gingham.core.practice.log._WAIT_S", 0.05)
    path = tmp_path / "p.sqlite"
    log = a_log(path)
    with closing(sqlite3.connect(path, isolation_level=None)) as other:
        other.execute("BEGIN EXCLUSIVE")
        with pytest.raises(FileError, match="log-locked"):
            log.add([TRY])
    log.add([TRY])
    assert len(log.read().attempts) == 2
    log.close()


@pytest.mark.parametrize("damage", ["cut", "noise", "text", "middle", "empty"])
def test_a_damaged_record_is_put_aside_and_read_as_far_as_it_goes(tmp_path: Path, damage: str) -> None:
    """A new one works at once; the old file stays; what can be read of it is taken over."""
    path = tmp_path / "p.sqlite"
    log = Log(path)
    log.add([replace(TRY, tempo=40 + n, stage=f"stage {n} " + "x" * 200) for n in range(60)])
    log.close()
    data = path.read_bytes()
    middle = len(data) // 2
    path.write_bytes(
        {
            "cut": data[:middle], "noise": bytes(range(256)) * 40, "text": b"what I practised\n" * 50,
            "middle": data[:middle] + b"\xff" * 4096 + data[middle + 4096 :], "empty": b"",
        }[damage]
    )  # fmt: skip
    log = Log(path)
    log.add([TRY])
    found = log.read().attempts
    log.close()
    assert found[-1] == TRY and len(found) == log.rescued + 1
    if damage == "empty":
        assert log.put_aside is None, "an empty file is a new record"
    else:
        assert log.put_aside is not None and log.put_aside.exists()
    if damage == "middle":
        assert 0 < log.rescued < 60


def test_a_disk_that_is_full_or_read_only_is_told(tmp_path: Path) -> None:
    """Nothing is half written: the record reads as before."""
    path = tmp_path / "p.sqlite"
    log = a_log(path)
    log._db.execute("PRAGMA max_page_count = 1")
    with pytest.raises(FileError, match="log-write") as caught:
        log.add([replace(TRY, stage="y" * 200_000)])
    assert "full" in say(caught.value) and log.read().attempts == (TRY,)
    log._db.execute("PRAGMA query_only = ON")
    with pytest.raises(FileError, match="log-write"):
        log.add([TRY])
    log.close()
    with pytest.raises(FileError, match="log-open"):
        Log(Path("/proc/nowhere/p.sqlite"))


def test_what_could_not_be_written_waits_in_lines(tmp_path: Path) -> None:
    """All of it comes back; a torn last line is passed over."""
    log = tmp_path / "p.sqlite"
    keep_waiting(log, [TRY, TICK, NOTE])
    assert read_waiting(log) == [TRY, TICK, NOTE]
    path = waiting_path(log)
    path.write_bytes(path.read_bytes()[:-20])
    assert read_waiting(log) == [TRY, TICK]
    drop_waiting(log)
    assert read_waiting(log) == []


def test_ticks_of_earlier_days_are_taken_over_once(tmp_path: Path) -> None:
    """They were lines before there was a record: a torn one is passed over, the file is put aside."""
    lines = msgspec.json.encode(TICK) + b'\n{"made": "2026-\n' + msgspec.json.encode(TICK) + b"\n"
    (tmp_path / "ticks.jsonl").write_bytes(lines)
    assert old_ticks(tmp_path) == [TICK, TICK] and old_ticks(tmp_path) == []
    assert (tmp_path / "ticks.taken").read_bytes() == lines


def test_a_folder_without_locks_keeps_a_record(tmp_path: Path, monkeypatch) -> None:
    """Some network folders give none: SQLite alone would call the record in use for ever."""

    def refused(_file: object, _how: int) -> None:
        raise OSError(errno.ENOLCK, "No locks available")

    opened: list[str] = []
    connect = sqlite3.connect
    monkeypatch.setattr("gingham.core.practice.log.fcntl.lockf", refused)
    monkeypatch.setattr(
        "gingham.core.practice.log.sqlite3.connect",
        lambda path, **more: opened.append(str(path)) or connect(path, **more),
    )
    path = tmp_path / "a folder?" / "practice.sqlite"
    for _ in range(2):
        log = Log(path)
        log.add([Note("2026-11-30T10:00:00+00:00", "note", "the pinch is even now")])
        log.close()
    log = Log(path)
    assert len(log.read().notes) == 2 and path.exists()
    log.close()
    assert all(each.endswith("?vfs=unix-none") for each in opened)
