"""Muddy basses: two low notes of the thumb that ring together roughly, where the shape offers a clearer pair.

Roughness after Sethares (Journal of the Acoustical Society of America 94, 1993): for every pair of the first
eight partials of both notes, amplitudes 0.88^k, the smaller amplitude times exp(-3.5 s d) - exp(-5.75 s d),
where d is the distance in Hz and s = 0.24 / (0.0207 f + 18.96), f the lower frequency. It depends on pitch,
not on names: the same pair is clearer higher up.
"""

from __future__ import annotations

from functools import lru_cache
from itertools import combinations, pairwise
from math import exp

from gingham.core.fitting.held import Held
from gingham.core.fitting.result import Assignment, Event, Result
from gingham.core.fitting.thumb import second_range
from gingham.core.music.pitch import hz
from gingham.core.reasons import Problem

_PARTIALS, _FALL = 8, 0.88
_CLEARER = 0.2  # how much less rough another pair must be to be worth naming


@lru_cache(maxsize=4096)
def roughness(midi: int, other: int) -> float:
    """Roughness of two notes sounding together (MIDI numbers); 0 is smooth, above 1.3 is muddy."""
    partials = [(hz(note) * (k + 1), _FALL**k) for note in (midi, other) for k in range(_PARTIALS)]
    total = 0.0
    for (one, loud), (two, louder) in combinations(partials, 2):
        scale = 0.24 / (0.0207 * min(one, two) + 18.96) * abs(one - two)
        total += min(loud, louder) * (exp(-3.5 * scale) - exp(-5.75 * scale))
    return total


def muddy_pairs(result: Result) -> list[tuple[int, Problem]]:
    """Bar number and problem for every chord whose basses are muddy although a clearer pair is there.

    Empty when the piece does not want to be warned.
    """
    if result.piece.rules.muddy == "off":
        return []
    found = [muddy_on(result, index) for index in range(len(result.spans))]
    return [
        (result.spans[index].span.bar, problem) for index, problem in enumerate(found) if problem is not None
    ]


def muddy_on(result: Result, index: int) -> Problem | None:
    """The muddy pair of one chord, if it has one and the shape offers a clearer."""
    fitted = result.spans[index]
    on, rules = fitted.assignment, result.piece.rules
    if on is None or rules.muddy == "off":
        return None
    pairs = _thumb_pairs(result, index)
    worst = max(pairs, key=lambda pair: roughness(*_midis(pair)), default=None)
    if worst is None or roughness(*_midis(worst)) <= float(rules.muddy_above):
        return None
    clearer = _clearer(result, on, worst)
    if clearer is None:
        return None
    one, two = worst[0].string, worst[1].string
    return Problem.of("muddy", fitted.span.at, chord=on.chord.text, one=one, two=two, clearer=clearer)


def _thumb_pairs(result: Result, index: int) -> list[tuple[Event, Event]]:
    """The thumb's notes that follow each other on two strings while a chord lasts."""
    span = result.spans[index].span
    thumb: list[Event] = []
    for bar in result.bars:
        if index in bar.spans:
            thumb += [e for e in bar.events if e.finger == "p" and e.pitch is not None and not e.silent
                      and (bar.number, e.at) >= (span.bar, span.at)]  # fmt: skip
        if bar.number >= span.bar + 2:
            break
    return [(a, b) for a, b in pairwise(thumb) if a.string != b.string]


def _midis(pair: tuple[Event, Event]) -> tuple[int, int]:
    one, two = pair[0].pitch, pair[1].pitch
    assert one is not None and two is not None
    return one.midi, two.midi


def _clearer(result: Result, on: Assignment, pair: tuple[Event, Event]) -> int | None:
    """A thumb string of the shape that makes a clearer pair with the first bass; None if there is none."""
    piece = result.piece
    held = Held(on.chord, on.shape, piece.instrument, piece.capo)
    first = on.basses[0].string if on.basses else pair[0].string
    if not held.sounds(first):
        return None
    base = held.midi(first) + piece.capo
    rough = roughness(*_midis(pair))
    most = min(rough - _CLEARER, float(piece.rules.muddy_above))
    strings = second_range(piece.instrument)
    return next(
        (
            string
            for string in strings
            if string != first
            and held.sounds(string)
            and roughness(base, held.midi(string) + piece.capo) <= most
        ),
        None,
    )
