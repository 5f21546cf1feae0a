"""What was tuned and how shapes rang, kept for the record: one line of JSON each, never sent anywhere."""

from __future__ import annotations

from pathlib import Path
from typing import Literal

import msgspec

from gingham.core.errors import FileError
from gingham.core.formats.atomic import why_not


class Tick(msgspec.Struct, frozen=True, omit_defaults=True):
    """Something that was checked: when (ISO, local time), what, and what came of it string by string.

    `found` is cents for `tuned`, a state for `rang`; `shape` is the one that rang, with its symbol.
    """

    made: str
    kind: Literal["tuned", "rang"]
    piece: str
    found: dict[str, float | str]
    symbol: str = ""
    shape: str = ""


def keep_tick(path: Path, tick: Tick) -> None:
    """Write a tick behind those that are there.

    Raises
    ------
    FileError
        If it cannot be written.
    """
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        with path.open("ab") as file:
            file.write(msgspec.json.encode(tick) + b"\n")
    except OSError as error:
        raise FileError("file-write", path=str(path), why=why_not(error)) from error


def ticks(path: Path) -> list[Tick]:
    """Every tick that can be read, oldest first; a torn line is passed over."""
    out = []
    try:
        lines = path.read_bytes().splitlines()
    except OSError:
        return []
    for line in lines:
        try:
            out.append(msgspec.json.decode(line, type=Tick))
        except msgspec.DecodeError:
            continue
    return out
