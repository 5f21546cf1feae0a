"""File formats as players say them."""

from __future__ import annotations

from gingham.language import tr, tr_c

FORMAT_NAMES = {
    ".pdf": tr("Sheet, PDF"),
    ".svg": tr("Sheet, SVG picture"),
    ".png": tr("Sheet, PNG picture"),
    ".musicxml": tr_c("format names", "MusicXML"),
    ".mid": tr_c("format names", "MIDI"),
    ".txt": tr("Tablature as text"),
    ".csv": tr("Table of plucks, CSV"),
    ".wav": tr("Sound, WAV"),
    ".flac": tr("Sound, FLAC"),
}


def format_name(suffix: str) -> str:
    """The name of the format that has this suffix; the suffix itself where it has no name yet."""
    return FORMAT_NAMES.get(suffix, suffix.lstrip(".").upper())
