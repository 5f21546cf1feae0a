"""What of a piece is written to a file of another format."""

from __future__ import annotations

from gingham.core.errors import FileError
from gingham.core.fitting.performance import Performance, perform
from gingham.core.pieces.piece import Piece


def to_write(piece: Piece) -> Performance:
    """The performance of a piece; FileError if there is nothing in it to write."""
    performance = perform(piece)
    if not performance.results:
        raise FileError("export-empty")
    return performance
