"""A player's own pattern as an open file: JSON with a name and the shorthand, one pattern a file."""

from __future__ import annotations

import re
from functools import lru_cache
from pathlib import Path

import msgspec

from gingham.core.errors import FileError, GinghamError
from gingham.core.formats.atomic import read_bytes, why_not, write_atomically
from gingham.core.patterns.pattern import Pattern
from gingham.core.patterns.shorthand import parse_pattern, print_pattern

FORMAT = "gingham-pattern"
VERSION = 1
PATTERN_SUFFIX = ".gingham-pattern"
_MOST_BYTES = 200_000
_MOST_FILES = 2_000


class PatternFile(msgspec.Struct):
    """The whole file: `line` is the shorthand, variants on lines of their own."""

    format: str
    version: int
    name: str
    line: str


class Shelf(msgspec.Struct, frozen=True, gc=False):
    """The patterns of a folder as (name, pattern, file), and the files that could not be read."""

    patterns: tuple[tuple[str, Pattern, Path], ...]
    faults: tuple[FileError, ...]


def load_pattern(path: Path) -> tuple[str, Pattern]:
    """Read a pattern file; FileError if it is missing, too large, no pattern file or damaged."""
    data = read_bytes(path, 1)
    if len(data) > _MOST_BYTES:
        raise FileError("pattern-file-large", path=str(path), most=_MOST_BYTES // 1000)
    try:
        record = msgspec.json.decode(data, type=PatternFile)
    except (msgspec.DecodeError, UnicodeError, RecursionError, ValueError) as error:
        raise FileError("pattern-file-format", path=str(path)) from error
    if record.format != FORMAT:
        raise FileError("pattern-file-format", path=str(path))
    if record.version > VERSION:
        raise FileError("file-newer", path=str(path), version=record.version, known=VERSION)
    try:
        return record.name, parse_pattern(record.line)
    except GinghamError as error:
        raise FileError("file-damaged", path=str(path), place="line", why=error) from error


def save_pattern(folder: Path, name: str, pattern: Pattern) -> Path:
    """Write a pattern under its name, in place of an older one of that name; FileError if it cannot be."""
    record = PatternFile(FORMAT, VERSION, name, print_pattern(pattern))
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise FileError("file-write", path=str(folder), why=why_not(error)) from error
    path = next((file for own, _, file in shelf(folder).patterns if own == name), None) or _free(folder, name)
    write_atomically(path, msgspec.json.format(msgspec.json.encode(record), indent=2) + b"\n")
    return path


def _free(folder: Path, name: str) -> Path:
    """A file name that says the pattern's name and is not taken."""
    plain = re.sub(r"[^\w-]+", "-", name.lower()).strip("-")[:60] or "pattern"
    path, number = folder / f"{plain}{PATTERN_SUFFIX}", 2
    while path.exists():
        path, number = folder / f"{plain}-{number}{PATTERN_SUFFIX}", number + 1
    return path


def shelf(folder: Path) -> Shelf:
    """All pattern files of a folder, in order of their names; a damaged one spoils none of the others."""
    found: list[tuple[str, Pattern, Path]] = []
    faults: list[FileError] = []
    files = sorted(folder.glob(f"*{PATTERN_SUFFIX}"))[:_MOST_FILES] if folder.is_dir() else []
    for path in files:
        try:
            found.append((*_known(path, _stamp(path)), path))
        except FileError as error:
            faults.append(error)
    return Shelf(tuple(sorted(found, key=lambda row: row[0])), tuple(faults))


def _stamp(path: Path) -> tuple[int, int]:
    """What changes when a file does: its time and its size."""
    try:
        stat = path.stat()
    except OSError:
        return 0, 0  # gone, or not to be looked at: reading says why
    return stat.st_mtime_ns, stat.st_size


@lru_cache(maxsize=2 * _MOST_FILES)
def _known(path: Path, stamp: tuple[int, int]) -> tuple[str, Pattern]:
    """What was read from a file the last time, unless it has changed since."""
    return load_pattern(path)


def remove_pattern(path: Path) -> None:
    """Delete a pattern file; FileError if it cannot be."""
    try:
        path.unlink()
    except OSError as error:
        raise FileError("file-write", path=str(path), why=why_not(error)) from error
