"""Every format that Gingham writes, sheets included: the one door for the window and the command line."""

from __future__ import annotations

from pathlib import Path

from gingham.core.formats import exports
from gingham.core.formats.exports import WRITERS, Tick
from gingham.core.formats.sound_choice import EVERYTHING, SoundChoice
from gingham.core.pieces.piece import Piece
from gingham.paper.content import SheetOptions

SHEETS = (".pdf", ".svg", ".png")
SUFFIXES = (*SHEETS, *WRITERS)


def check_suffix(out: Path) -> str:
    """The suffix of `out` if it can be written; FileError `export-suffix` otherwise."""
    return exports.check_suffix(out, SHEETS)


def export(
    piece: Piece,
    out: Path,
    tick: Tick | None = None,
    choice: SoundChoice = EVERYTHING,
    sheet: SheetOptions | None = None,
) -> int:
    """Write `piece` in the format of the suffix of `out`; the number of bytes written.

    Raises
    ------
    FileError
        As the core's `export`; then nothing is written.
    """
    suffix = check_suffix(out)
    if suffix not in SHEETS:
        return exports.export(piece, out, tick, choice)
    from gingham.paper.output import sheet_bytes  # draws with Qt, which other formats never need

    return exports.write(out, lambda told: sheet_bytes(piece, suffix, sheet, told), tick)
