"""All sections of a piece in the order in which they are played."""

from __future__ import annotations

from gingham.core.fitting.fit import FitCache, fit
from gingham.core.fitting.result import Result
from gingham.core.pieces.piece import Piece


def fit_piece(piece: Piece, cache: FitCache | None = None) -> list[Result]:
    """Every section fitted once, in order; repeats are played, not fitted again."""
    shared = cache if cache is not None else FitCache()
    return [fit(piece, index, shared) for index in range(len(piece.sections))]
