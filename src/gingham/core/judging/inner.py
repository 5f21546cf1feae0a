"""A note that moves inside a held shape: which string, from where to where, and when it is first heard."""

from __future__ import annotations

from fractions import Fraction
from itertools import pairwise

import msgspec

from gingham.core.fitting.result import Result


class InnerMove(msgspec.Struct, frozen=True, gc=False):
    """Between two chords only `string` changes its fret.

    `heard_bar` and `heard_at` are where it is first plucked while the new chord lasts; None if it never is.
    """

    before: str
    after: str
    bar: int
    string: int
    from_fret: int
    to_fret: int
    heard_bar: int | None
    heard_at: Fraction


def inner_moves(result: Result) -> tuple[InnerMove, ...]:
    """Every change in which one string moves and all others are held as they were."""
    out = []
    for index, (one, other) in enumerate(pairwise(result.spans), 1):
        if one.assignment is None or other.assignment is None:
            continue
        old, new = one.assignment.shape, other.assignment.shape
        moved = [s for s in range(1, len(old.frets) + 1) if old.fret(s) != new.fret(s)]
        if len(moved) != 1 or old.fret(moved[0]) is None or new.fret(moved[0]) is None:
            continue
        string = moved[0]
        bar, at = _first_pluck(result, index, string)
        out.append(
            InnerMove(
                one.assignment.chord.text,
                other.assignment.chord.text,
                other.span.bar,
                string,
                old.fret(string) or 0,
                new.fret(string) or 0,
                bar,
                at,
            )
        )
    return tuple(out)


def _first_pluck(result: Result, index: int, string: int) -> tuple[int | None, Fraction]:
    span = result.spans[index].span
    bar_length = result.piece.meter.bar
    end = (span.bar - 1) * bar_length + span.at + span.length
    for bar in result.bars_of(index):
        for event in sorted(bar.events, key=lambda e: e.at):
            now = (bar.number - 1) * bar_length + event.at
            inside = (bar.number > span.bar or event.at >= span.at) and now < end
            if inside and event.string == string and not event.silent:
                return bar.number, event.at
    return None, Fraction(0)
