"""The one registry of export formats, by file suffix."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from gingham.core.errors import FileError
from gingham.core.fitting.whole import fit_piece
from gingham.core.formats.atomic import write_atomically
from gingham.core.formats.tab import piece_tab
from gingham.core.formats.wav import piece_wav
from gingham.core.pieces.piece import Piece


def _text(piece: Piece) -> bytes:
    return piece_tab(fit_piece(piece)).encode()


WRITERS: dict[str, Callable[[Piece], bytes]] = {".txt": _text, ".wav": piece_wav}


def export(piece: Piece, out: Path) -> int:
    """Write `piece` in the format of the suffix of `out`; the number of bytes written.

    Raises
    ------
    FileError
        `export-suffix` for a format that is not there, `file-write` if the disk refuses.
    """
    writer = WRITERS.get(out.suffix.lower())
    if writer is None:
        raise FileError("export-suffix", path=str(out), known=tuple(WRITERS))
    data = writer(piece)
    write_atomically(out, data)
    return len(data)
