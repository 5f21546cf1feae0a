"""The one registry of readers, by file suffix: parts (notes) and charts (chords and words)."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from gingham.core.errors import FileError
from gingham.core.finding.part import Part
from gingham.core.formats.atomic import read_bytes
from gingham.core.formats.chart import Chart, read_chart
from gingham.core.formats.progress import Tick
from gingham.core.music.meter import Meter

MOST_MB = 16


def _musicxml(data: bytes, name: str, tick: Tick | None) -> Part:
    from gingham.core.formats.musicxml_in import part_from_musicxml

    return part_from_musicxml(data, name, tick)


def _midi(data: bytes, name: str, tick: Tick | None) -> Part:
    from gingham.core.formats.midi_in import part_from_midi

    return part_from_midi(data, name, tick)


def _tab(data: bytes, name: str, tick: Tick | None) -> Part:
    from gingham.core.formats.tab_in import part_from_tab

    return part_from_tab(text_of(data, name), name, tick)


READERS: dict[str, Callable[[bytes, str, Tick | None], Part]] = {
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


def read_part(path: Path, tick: Tick | None = None) -> Part:
    """The part in a file, by its suffix. `tick` is told the share that is done, and stops it by False.

    Raises
    ------
    FileError
        `import-suffix` for a format that is not read, `reading-stopped` if `tick` said stop, else what the
        reader finds wrong, with the place.
    """
    suffix = path.suffix.lower()
    if suffix not in READERS:
        raise FileError("import-suffix", path=str(path), known=tuple(READERS))
    return READERS[suffix](read_bytes(path, MOST_MB), str(path), tick)


def read_part_or_chart(path: Path, meter: Meter, tick: Tick | None = None) -> Part | Chart:
    """Like `read_part`; a text without tablature is read as a chord chart in meter `meter`."""
    try:
        return read_part(path, tick)
    except FileError as error:
        if error.code != "tab-none":
            raise
    return read_chart(text_of(read_bytes(path, MOST_MB), str(path)), meter, str(path))
