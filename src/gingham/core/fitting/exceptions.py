"""The player's exceptions laid over a fitted section: single plucks moved or left out, and what is asleep."""

from __future__ import annotations

from fractions import Fraction

from gingham.core.fitting.cache import Played
from gingham.core.fitting.result import Assignment, Event, FittedBar
from gingham.core.fitting.strokes import pitch_on
from gingham.core.pieces.chordline import Span
from gingham.core.pieces.piece import HereOverride, Override, Piece
from gingham.core.reasons import Problem
from gingham.core.values import replace

_OF_ONE_STROKE = ("muted-string", "same-string", "cuts-note")


def span_at(bar: FittedBar, at: Fraction, spans: tuple[Span, ...]) -> int:
    """Index of the span that sounds at a place of a bar."""
    time = (bar.number, at)
    return max(i for i in bar.spans if (spans[i].bar, spans[i].at) <= time)


def with_exceptions(
    piece: Piece, section: int, spans: tuple[Span, ...], bars: list[FittedBar], played: list[Played | None]
) -> tuple[Override, ...]:
    """Apply the "only here" overrides to `bars`, in place; every override that found nothing to change."""
    if not piece.overrides:
        return ()
    asleep: list[Override] = []
    name = piece.sections[section].name
    at = {bar.number: index for index, bar in enumerate(bars)}
    pairs = {(on.assignment.chord.text, on.assignment.shape) for on in played if on is not None}
    for override in piece.overrides:
        if not isinstance(override, HereOverride):
            if (override.symbol, override.shape) not in pairs:
                asleep.append(override)
        elif override.section == name:
            index = at.get(override.bar)
            changed = None if index is None else _changed(piece, spans, bars[index], override, played)
            if index is None or changed is None:
                asleep.append(override)
            else:
                bars[index] = changed
    return tuple(asleep)


def _changed(
    piece: Piece, spans: tuple[Span, ...], bar: FittedBar, override: HereOverride, played: list[Played | None]
) -> FittedBar | None:
    for index, event in enumerate(bar.events):
        if event.at == override.at and event.finger == override.finger and event.kind == "pluck":
            on = played[span_at(bar, override.at, spans)]
            if on is None:
                return None
            changed = _moved(piece, event, override.string, on.assignment)
            problems = tuple(p for p in bar.problems if not (p.at == event.at and p.code in _OF_ONE_STROKE))
            if changed.fret is None:
                chord, string = on.assignment.chord.text, changed.string
                muted = Problem.of(
                    "muted-string", event.at, chord=chord, string=string, finger=override.finger
                )
                problems += (muted,)
            events = (*bar.events[:index], changed, *bar.events[index + 1 :])
            return replace(bar, events=events, problems=problems)
    return None


def _moved(piece: Piece, event: Event, string: int | None, assignment: Assignment) -> Event:
    if string is None or string > piece.instrument.strings:
        return replace(event, overridden=True, silent=True)
    fret = assignment.fret(string)
    pitch, degree = pitch_on(assignment, piece.instrument, piece.capo, string, fret)
    return replace(event, string=string, fret=fret, pitch=pitch, degree=degree, overridden=True)
