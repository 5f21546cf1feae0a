"""The one registry of readers, by file suffix: parts (notes) and charts (chords and words)."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from gingham.core.errors import FileError
from gingham.core.finding.part import Part
from gingham.core.formats.chart import Chart, read_chart
from gingham.core.music.meter import Meter

_MOST_MB = 64


def _musicxml(data: bytes, name: str) -> Part:
    from gingham.core.formats.musicxml_in import part_from_musicxml

    return part_from_musicxml(data, name)


def _midi(data: bytes, name: str) -> Part:
    from gingham.core.formats.midi_in import part_from_midi

    return part_from_midi(data, name)


def _tab(data: bytes, name: str) -> Part:
    from gingham.core.formats.tab_in import part_from_tab

    return part_from_tab(text_of(data, name), name)


READERS: dict[str, Callable[[bytes, str], Part]] = {
    ".musicxml": _musicxml,
    ".xml": _musicxml,
    ".mxl": _musicxml,
    ".mid": _midi,
    ".midi": _midi,
    ".txt": _tab,
    ".tab": _tab,
}


def text_of(data: bytes, name: str) -> str:
    """Text of an unknown encoding: UTF-8 or UTF-16 if it can be, else Latin-1.

    Raises
    ------
    FileError
        `text-binary` for what is no text at all.
    """
    if data[:2] in (b"\xff\xfe", b"\xfe\xff"):
        try:
            return data.decode("utf-16")
        except UnicodeDecodeError as error:
            raise FileError("text-binary", path=name) from error
    if b"\0" in data[:4096]:
        raise FileError("text-binary", path=name)
    try:
        return data.decode("utf-8-sig")
    except UnicodeDecodeError:
        return data.decode("latin-1")


def read_bytes(path: Path) -> bytes:
    """The bytes of a file; FileError if it is missing, too large or cannot be read."""
    try:
        if path.stat().st_size > _MOST_MB * 1_000_000:
            raise FileError("file-large", path=str(path), most=_MOST_MB)
        return path.read_bytes()
    except FileNotFoundError as error:
        raise FileError("file-missing", path=str(path)) from error
    except OSError as error:
        raise FileError("file-open", path=str(path), why=error.strerror or str(error)) from error


def read_part(path: Path) -> Part:
    """The part in a file, by its suffix.

    Raises
    ------
    FileError
        `import-suffix` for a format that is not read, else what the reader finds wrong, with the place.
    """
    suffix = path.suffix.lower()
    if suffix not in READERS:
        raise FileError("import-suffix", path=str(path), known=tuple(READERS))
    return READERS[suffix](read_bytes(path), str(path))


def read_part_or_chart(path: Path, of: Meter) -> Part | Chart:
    """Like `read_part`; a text without tablature is read as a chord chart in meter `of`."""
    try:
        return read_part(path)
    except FileError as error:
        if error.code != "tab-none":
            raise
    return read_chart(text_of(read_bytes(path), str(path)), of, str(path))
