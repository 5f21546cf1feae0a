"""Which part of the pattern lies under a chord, and how busy each finger is."""

from __future__ import annotations

from fractions import Fraction

import msgspec

from gingham.core.fitting.result import Result
from gingham.core.music.meter import count_at, seconds
from gingham.core.patterns.pattern import FINGERS


class PatternPart(msgspec.Struct, frozen=True, gc=False):
    """A part of the pattern: from the count of its first place to that of its last one.

    `root` and `third` say whether the chord's are heard in it; None for a third that the chord does not have.
    """

    first: str
    last: str
    strokes: int
    root: bool
    third: bool | None


class Rate(msgspec.Struct, frozen=True, gc=False):
    """How busy a finger is at the piece's tempo: strokes a second in its busiest bar, the shortest gap."""

    finger: str
    per_s: float
    gap_s: float | None


def part_under(result: Result, index: int) -> PatternPart | None:
    """The part of the pattern under a chord that is shorter than the pattern; None under a longer one."""
    fitted = result.spans[index]
    span, assignment, pattern = fitted.span, fitted.assignment, result.pattern
    if assignment is None or span.length >= pattern.length:
        return None
    bar = result.bar(span.bar)
    phases = bar.phases if bar is not None else ()
    phase = next((phase for at, _, phase in phases if at == span.at), None)
    if phase is None:
        return None
    starts, turn = pattern.starts, pattern.length
    inside = [i for i, at in enumerate(starts[:-1]) if (at - phase) % turn < span.length]
    if not inside:
        return None
    inside.sort(key=lambda i: (starts[i] - phase) % turn)
    first, last = (count_at(pattern.meter, starts[i] % pattern.meter.bar) for i in (inside[0], inside[-1]))
    third = next((str(d) for d in assignment.chord.degrees if d.number == 3), None)
    strokes = sum(bool(pattern.slots[i]) for i in inside)
    heard = fitted.heard
    return PatternPart(first, last, strokes, "1" in heard, None if third is None else third in heard)


def times_played(result: Result, index: int) -> Fraction:
    """How often the pattern comes while a chord lasts."""
    return result.spans[index].span.length / result.pattern.length


def resting_strings(result: Result, index: int) -> tuple[tuple[int, int, int], ...]:
    """Each chuck on a chord: the first and the last string it sweeps, and the one on which it comes to rest.

    The finger rests on the next string in the direction of the sweep; 0 where there is none.
    """
    out: dict[tuple[int, int, int], None] = {}
    strings = result.piece.instrument.strings
    for bar in result.bars_of(index):
        for at in dict.fromkeys(e.at for e in bar.events if e.kind == "chuck"):
            swept = [e.string for e in bar.events if e.kind == "chuck" and e.at == at]
            rest = swept[-1] + (1 if len(swept) > 1 and swept[-1] > swept[0] else -1)
            out[swept[0], swept[-1], rest if 1 <= rest <= strings else 0] = None
    return tuple(out)


def rates(result: Result) -> tuple[Rate, ...]:
    """Every finger that plucks, thumb first; a flat pick as one."""
    piece = result.piece
    most: dict[str, int] = {}
    gaps: dict[str, Fraction] = {}
    last: dict[str, Fraction] = {}
    seen: set[int] = set()
    for begin, bar in result.timed_bars():
        counted: dict[str, int] = {}
        for event in bar.events:
            if event.finger is None or not event.plucked or event.silent:
                continue
            now, finger = begin + event.at, "pick" if event.pick else event.finger
            counted[finger] = counted.get(finger, 0) + 1
            if finger in last and now > last[finger]:
                gaps[finger] = min(gaps.get(finger, now - last[finger]), now - last[finger])
            last[finger] = now
        for finger, count in counted.items():
            most[finger] = max(most.get(finger, 0), count)
        if id(bar.events) in seen and len(seen) * 2 < len(result.bars) and begin + bar.length > 8:
            break  # what comes now has been counted before
        seen.add(id(bar.events))
    bar_s = seconds(piece.meter.bar, piece.meter, piece.tempo)
    return tuple(
        Rate(
            finger,
            round(most[finger] / bar_s, 2),
            round(seconds(gaps[finger], piece.meter, piece.tempo), 3) if finger in gaps else None,
        )
        for finger in (*FINGERS, "pick")
        if finger in most
    )
