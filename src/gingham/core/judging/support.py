"""Whether what the plucking hand leans on is in the way of what it plucks."""

from __future__ import annotations

from gingham.core.fitting.result import Result
from gingham.core.reasons import Problem


def support_clash(result: Result, index: int) -> Problem | None:
    """The pluck of a chord that a hand leaning on its little finger cannot make as it leans; None if none.

    A little finger that plucks cannot stand on the top, and a chuck brings the whole hand down.
    """
    fitted = result.spans[index]
    assignment = fitted.assignment
    if assignment is None or result.piece.rules.support != "little-finger":
        return None
    own = list(result.events_on(index))
    chord, at = assignment.chord.text, fitted.span.at
    if any(event.finger == "c" for event in own):
        return Problem.of("support-finger", at, chord=chord)
    if any(event.kind == "chuck" for event in own):
        return Problem.of("support-chuck", at, chord=chord)
    return None
