"""File formats as players say them."""

from __future__ import annotations

FORMAT_NAMES = {
    ".pdf": "Sheet, PDF",
    ".svg": "Sheet, SVG picture",
    ".png": "Sheet, PNG picture",
    ".musicxml": "MusicXML",
    ".mid": "MIDI",
    ".txt": "Tablature as text",
    ".csv": "Table of plucks, CSV",
    ".wav": "Sound, WAV",
    ".flac": "Sound, FLAC",
}


def format_name(suffix: str) -> str:
    """The name of the format that has this suffix; the suffix itself where it has no name yet."""
    return FORMAT_NAMES.get(suffix, suffix.lstrip(".").upper())
