"""The form's arithmetic: bars, minutes, changes a minute, plucks a second, what meets at the seam."""

from __future__ import annotations

from fractions import Fraction
from itertools import pairwise

import msgspec

from gingham.core.fitting.performance import Performance
from gingham.core.fitting.result import Result
from gingham.core.judging.changes import Change, change_between
from gingham.core.music.meter import seconds


class ChordStay(msgspec.Struct, frozen=True, gc=False):
    """How long a chord stays where it enters: in bars and in passages of the pattern."""

    chord: str
    bar: int
    bars: Fraction
    cells: Fraction


class Seam(msgspec.Struct, frozen=True, gc=False):
    """Where a section comes round to itself, or the piece to its beginning.

    `chord` is the chord that both ends share (None if they differ), `cells` how many passages of the pattern
    then follow one another on it.
    """

    section: str
    chord: str | None
    cells: Fraction


class FormSum(msgspec.Struct, frozen=True, gc=False):
    """Sums over the whole form. `seconds` at the piece's tempo; rates per minute and per second."""

    bars: int
    seconds: float
    changes: int
    changes_per_minute: float
    thumb_per_s: float
    fingers_per_s: float
    seams: tuple[Seam, ...]


def stays(result: Result) -> tuple[ChordStay, ...]:
    """Every chord of a section with how long it stays."""
    piece = result.piece
    return tuple(
        ChordStay(
            fitted.span.chord.text,
            fitted.span.bar,
            fitted.span.length / piece.meter.bar,
            fitted.span.length / result.pattern.length,
        )
        for fitted in result.spans
        if fitted.span.chord is not None
    )


def form_sum(performance: Performance) -> FormSum:
    """Add up a form; all zero where nothing is played."""
    if not performance.results:
        return FormSum(0, 0.0, 0, 0.0, 0.0, 0.0, ())
    piece = performance.results[0].piece
    lasts_s = seconds(performance.length, piece.meter, piece.tempo)
    plays = [r for r, times in zip(performance.results, performance.times, strict=True) for _ in range(times)]
    changes = sum(_changes_inside(result) for result in plays)
    changes += sum(_end(one) != _begin(other) for one, other in pairwise(plays))
    changes += performance.looping and _end(plays[-1]) != _begin(plays[0])
    thumb, fingers = (sum(_plucks(r, who) for r in plays) for who in (True, False))
    return FormSum(
        performance.bars,
        round(lasts_s, 2),
        changes,
        round(60 * changes / lasts_s, 1),
        round(thumb / lasts_s, 2),
        round(fingers / lasts_s, 2),
        _seams(performance),
    )


def _changes_inside(result: Result) -> int:
    return sum(one.span.chord != other.span.chord for one, other in pairwise(result.spans))


def _begin(result: Result) -> object:
    return result.spans[0].span.chord


def _end(result: Result) -> object:
    return result.spans[-1].span.chord


def _plucks(result: Result, thumb: bool) -> int:
    return sum(
        event.plucked and not event.silent and (event.finger == "p") == thumb
        for bar in result.bars
        for event in bar.events
    )


def _seams(performance: Performance) -> tuple[Seam, ...]:
    """Each section that is repeated, and the whole form where it loops."""
    out = []
    for result, times in zip(performance.results, performance.times, strict=True):
        if times > 1:
            seam = _seam(result, result, result.piece.sections[result.section].name)
            if seam not in out:
                out.append(seam)
    if performance.looping:
        out.append(_seam(performance.results[-1], performance.results[0], ""))
    return tuple(out)


class FormChange(msgspec.Struct, frozen=True, gc=False):
    """The change from the end of one section into the start of another, or of the same one."""

    before: str
    after: str
    change: Change


def form_changes(performance: Performance) -> tuple[FormChange, ...]:
    """The changes where sections meet in the order of the form, each once; the real loop last."""
    out: dict[tuple[int, int], FormChange] = {}
    pairs = [(r, r) for r, times in zip(performance.results, performance.times, strict=True) if times > 1]
    pairs += list(pairwise(performance.results))
    if performance.looping and performance.results:
        pairs.append((performance.results[-1], performance.results[0]))
    for one, other in pairs:
        change = change_between(one, other)
        if change is not None:
            names = (one.piece.sections[one.section].name, other.piece.sections[other.section].name)
            out.setdefault((one.section, other.section), FormChange(*names, change))
    return tuple(out.values())


def _seam(one: Result, other: Result, name: str) -> Seam:
    last, first = one.spans[-1].span, other.spans[0].span
    if last.chord is None or last.chord != first.chord:
        return Seam(name, None, Fraction(0))
    cells = last.length / one.pattern.length + first.length / other.pattern.length
    if len(one.spans) == 1 and one is other:
        cells = last.length / one.pattern.length
    return Seam(name, last.chord.text, cells)
