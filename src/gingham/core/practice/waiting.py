"""Entries that could not be written into the record yet: one line of JSON each, in a file beside it."""

from __future__ import annotations

from collections.abc import Sequence
from contextlib import suppress
from pathlib import Path

import msgspec

from gingham.core.practice.attempt import Attempt
from gingham.core.practice.entries import Note, Tick

Entry = Attempt | Tick | Note
_KINDS: dict[str, type[Entry]] = {"attempt": Attempt, "tick": Tick, "note": Note}
_MOST_BYTES = 50_000_000


class _Line(msgspec.Struct):
    kind: str
    entry: msgspec.Raw


def waiting_path(log: Path) -> Path:
    """Where entries wait for a record."""
    return log.with_name(f"{log.stem}-waiting.jsonl")


def keep_waiting(log: Path, entries: Sequence[Entry]) -> None:
    """Write all entries that wait; OSError if even that cannot be done."""
    names = {kind: name for name, kind in _KINDS.items()}
    lines = [
        msgspec.json.encode(_Line(names[type(entry)], msgspec.Raw(msgspec.json.encode(entry))))
        for entry in entries
    ]
    path = waiting_path(log)
    path.parent.mkdir(parents=True, exist_ok=True)
    path.write_bytes(b"".join(line + b"\n" for line in lines))


def read_waiting(log: Path) -> list[Entry]:
    """What waits for a record; a torn line is passed over."""
    path, out = waiting_path(log), list[Entry]()
    try:
        if path.stat().st_size > _MOST_BYTES:
            return []
        lines = path.read_bytes().splitlines()
    except OSError:
        return []
    for line in lines:
        with suppress(msgspec.DecodeError, KeyError):
            read = msgspec.json.decode(line, type=_Line)
            out.append(msgspec.json.decode(read.entry, type=_KINDS[read.kind]))
    return out


def old_ticks(folder: Path) -> list[Tick]:
    """The ticks that were kept as lines before there was a record; their file is put aside."""
    path, out = folder / "ticks.jsonl", list[Tick]()
    try:
        lines = path.read_bytes().splitlines() if path.stat().st_size <= _MOST_BYTES else []
        path.rename(path.with_suffix(".taken"))
    except OSError:
        return []
    for line in lines:
        with suppress(msgspec.DecodeError):
            out.append(msgspec.json.decode(line, type=Tick))
    return out


def drop_waiting(log: Path) -> None:
    """Nothing waits any more."""
    with suppress(OSError):
        waiting_path(log).unlink(missing_ok=True)
