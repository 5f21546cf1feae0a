"""Muddy basses: two low notes of the thumb that ring roughly together where a clearer pair is there.

Nothing is said of what the player asked for.
"""

from __future__ import annotations

from itertools import pairwise

from gingham.core.fitting.held import Held
from gingham.core.fitting.result import Assignment, Event, Result
from gingham.core.fitting.thumb import second_range
from gingham.core.music.roughness import roughness
from gingham.core.pieces.plans import PLANS
from gingham.core.reasons import Problem

_CLEARER = 0.2  # how much less rough another pair must be to be worth naming


def muddy_on(result: Result, index: int) -> Problem | None:
    """The muddy pair of one chord, if it has one and the shape offers a clearer."""
    fitted = result.spans[index]
    assignment, rules = fitted.assignment, result.piece.rules
    if assignment is None or rules.muddy == "off":
        return None
    pairs = [pair for pair in _thumb_pairs(result, index) if not _wished(assignment, pair)]
    worst = max(pairs, key=lambda pair: roughness(*_midis(pair)), default=None)
    if worst is None or roughness(*_midis(worst)) < float(rules.muddy_above):
        return None
    clearer = _clearer(result, assignment, worst)
    if clearer is None:
        return None
    one, two = worst[0].string, worst[1].string
    return Problem.of("muddy", fitted.span.at, chord=assignment.chord.text, one=one, two=two, clearer=clearer)


def _thumb_pairs(result: Result, index: int) -> list[tuple[Event, Event]]:
    """The thumb's notes that follow each other on two strings while a chord lasts; a brush is one sound."""
    span = result.spans[index].span
    thumb: list[Event] = []
    for bar in result.bars_of(index):
        plucks = [e for e in bar.events if e.finger == "p" and e.plucked and not e.silent]
        thumb += [e for e in plucks if e.pitch is not None and result.span_at(bar, e.at) == index]
        if bar.number >= span.bar + 2:
            break  # it repeats itself from here on
    return [(a, b) for a, b in pairwise(thumb) if a.string != b.string]


def _wished(assignment: Assignment, pair: tuple[Event, Event]) -> bool:
    """Whether the player asked for this very pair.

    By naming its strings in order, setting one by hand, a walk, or wanting the fifth beside the bass.
    """
    strings = {event.string for event in pair}
    set_by_hand = any(choice.overridden and choice.string in strings for choice in assignment.basses)
    plan_asks = PLANS[assignment.plan.kind].wants and strings <= {
        choice.string for choice in assignment.basses
    }
    return plan_asks or set_by_hand or any(event.kind == "walk" for event in pair)


def _midis(pair: tuple[Event, Event]) -> tuple[int, int]:
    one, two = pair[0].pitch, pair[1].pitch
    assert one is not None and two is not None
    return one.midi, two.midi


def _clearer(result: Result, assignment: Assignment, pair: tuple[Event, Event]) -> int | None:
    """A thumb string of the shape that makes a clearer pair with the first bass; None if there is none."""
    piece = result.piece
    held = Held(assignment.chord, assignment.shape, piece.instrument, piece.capo)
    first = assignment.basses[0].string if assignment.basses else pair[0].string
    if not held.sounds(first):
        return None
    base = held.midi(first) + piece.capo
    limit, most = float(piece.rules.muddy_above), roughness(*_midis(pair)) - _CLEARER
    strings = second_range(piece.instrument)
    return next(
        (
            string
            for string in strings
            if string not in (first, pair[0].string, pair[1].string)
            and held.sounds(string)
            and limit > roughness(base, held.midi(string) + piece.capo) <= most
        ),
        None,
    )
