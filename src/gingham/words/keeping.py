"""What was found again after an end that nobody wished, in words."""

from __future__ import annotations

from typing import Protocol

from gingham.core.pieces.piece import Piece
from gingham.words.errors import printable

NOTHING_SENT = "Gingham sends nothing anywhere; the log is a file of yours."


class _Kept(Protocol):
    @property
    def piece(self) -> Piece: ...
    @property
    def older(self) -> bool: ...


class _Left(Protocol):
    @property
    def found(self) -> tuple[_Kept, ...]: ...
    @property
    def broken(self) -> tuple[str, ...]: ...


def found_text(left: _Left) -> str:
    """What was found, what is older than its file, what could not be read; empty if nothing was left."""
    newer = [f"“{kept.piece.title}”" for kept in left.found if not kept.older]
    older = [f"“{kept.piece.title}”" for kept in left.found if kept.older]
    parts = []
    if newer:
        parts.append(f"Found again, not saved when Gingham ended: {', '.join(newer)}. Save or close.")
    if older:
        parts.append(
            f"An unsaved copy of {', '.join(older)} is older than its file: it is open beside it, without a file."
        )
    if left.broken:
        names = ", ".join(map(printable, left.broken))
        parts.append(f"Unsaved work that cannot be read was set aside: {names}.")
    return " ".join(parts)
