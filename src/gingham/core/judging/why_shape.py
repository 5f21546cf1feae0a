"""Why a chord is held as it is: the player's choice, the easiest shape, its neighbours, what is plucked."""

from __future__ import annotations

from gingham.core.fitting.result import Assignment, FittedSpan, Result
from gingham.core.judging.changes import change_into
from gingham.core.reasons import Reason
from gingham.core.shapes.search import shapes_for

_SAME = 0.05  # fingers of effort that nobody feels


def why_shape(result: Result, index: int) -> tuple[Reason, ...]:
    """The reasons for shape and fingers of a chord, the weightiest first; none in silence."""
    fitted = result.spans[index]
    on = fitted.assignment
    if on is None:
        return ()
    return (*_chosen(result, fitted, on), *_kept_fingers(result, index))


def _chosen(result: Result, fitted: FittedSpan, on: Assignment) -> list[Reason]:
    span, piece = fitted.span, result.piece
    if span.shape == on.shape:
        yours = [Reason.of("shape-yours")]
        return [*yours, Reason.of("fingers-yours")] if span.fingers is not None else yours
    found = shapes_for(on.chord, piece.instrument, piece.capo)
    mine = next((ranked for ranked in found if ranked.shape == on.shape), None)
    if mine is None or len(found) < 2:
        return [Reason.of("shape-only")]
    best = found[0]
    less = mine.effort - best.effort
    if best.shape == on.shape or less < _SAME:
        return [Reason.of("shape-easiest", count=len(found))]
    if any(best.shape.fret(string) is None for string in fitted.strings):
        return [Reason.of("shape-plucked", other=str(best.shape))]
    return [Reason.of("shape-suits", other=str(best.shape), less=f"{less:.1f}")]


def _kept_fingers(result: Result, index: int) -> list[Reason]:
    """Fingers that stay, or slide, into the next chord."""
    after = (index + 1) % len(result.spans)
    change = change_into(result, after) if len(result.spans) > 1 else None
    if change is None:
        return []
    out = []
    for kind, code in (("stays", "fingers-stay"), ("slides", "fingers-slide")):
        fingers = tuple(move.finger for move in change.fingers if move.kind == kind)
        if fingers:
            out.append(Reason.of(code, chord=change.after, fingers=fingers))
    return out
