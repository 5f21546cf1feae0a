"""All sections of a piece in the order in which they are played, and a section that has no chords yet."""

from __future__ import annotations

from fractions import Fraction

from gingham.core.fitting.cache import FitCache
from gingham.core.fitting.fit import fit
from gingham.core.fitting.result import FittedBar, FittedSpan, Result
from gingham.core.pieces.chordline import Span
from gingham.core.pieces.piece import Piece
from gingham.core.values import replace


def fit_piece(piece: Piece, cache: FitCache | None = None) -> list[Result]:
    """Every section fitted once, in order; repeats are played, not fitted again."""
    shared = cache if cache is not None else FitCache()
    return [fit(piece, index, shared) for index in range(len(piece.sections))]


def with_blank_bars(result: Result) -> Result:
    """`result`; where it has no bars the pattern's own bars in silence, so that the pattern can be seen."""
    if result.bars:
        return result
    bar, length = result.piece.meter.bar, result.pattern.length
    count = max(1, -(-length // bar))
    bars = tuple(
        FittedBar(n + 1, bar, (), (), (0,), ((Fraction(0), bar, n * bar % length),)) for n in range(count)
    )
    silence = Span(1, Fraction(0), count * bar, None, None, False)
    return replace(result, bars=bars, spans=(FittedSpan(silence, None, (), frozenset(), None),), plan=())
