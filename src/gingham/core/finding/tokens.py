"""How a sounded note could be written in a pattern: every stroke that would give it on its chord.

The finder looks for the stroke that explains the notes of one place on as many chords as possible.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable
from fractions import Fraction
from typing import get_args

import msgspec

from gingham.core.finding.part import Sounded
from gingham.core.fitting.result import Assignment
from gingham.core.patterns.pattern import Ornament, OrnamentKind, Pluck, Slot, Stroke, Sweep, SweepKind, order
from gingham.core.pieces.plans import counted_on

_FINGERS = ("i", "m", "a", "c")
_SWEPT = ("brush-down", "brush-up", "chuck")
Ways = tuple[tuple[Stroke, int], ...]
"""Strokes with a rank: lower reads better."""


_ORNAMENTS = {kind: kind for kind in get_args(OrnamentKind)}
_SWEEPS: dict[str, SweepKind] = {"brush-down": "brush-down", "brush-up": "brush-up", "chuck": "chuck"}


class WrittenPlace(msgspec.Struct, frozen=True, gc=False):
    """What sounds at one place of one bar: for each note (or sweep) the ways to write it."""

    at: Fraction
    ways: tuple[Ways, ...]


def places(
    notes: tuple[Sounded, ...], on: dict[Fraction, Assignment], starts: Iterable[Fraction]
) -> list[WrittenPlace]:
    """Every place of a bar with its ways; `on` is the assignment that stands from each position on.

    `starts` are the positions at which the thumb's count begins again.
    """
    again = sorted(starts)
    out: list[WrittenPlace] = []
    count, passed = 0, -1
    for at in sorted({note.at for note in notes if not _ornamental(note)}):
        begun = sum(start <= at for start in again)
        if begun != passed:
            count, passed = 0, begun
        assignment = on[max(start for start in on if start <= at)]
        here = [n for n in notes if n.at == at and not _ornamental(n)]
        swept = [n for n in here if n.kind in _SWEPT]
        ways = [_ways(n, assignment, count, _ornament(n, notes, assignment)) for n in here if n not in swept]
        if swept:
            ways.append(_sweep_ways(swept, assignment))
        first = [way[0][0] for way in ways if way]
        thumb = next((s for s in first if isinstance(s, Pluck) and s.finger == "p"), None)
        if thumb is not None:
            count = counted_on(assignment.cycle, count, thumb.lane)
        out.append(WrittenPlace(at, tuple(ways)))
    return out


def _ornamental(note: Sounded) -> bool:
    return note.kind in get_args(OrnamentKind)


def _ornament(note: Sounded, notes: tuple[Sounded, ...], assignment: Assignment) -> Ornament | None:
    """What the fretting hand does on the note's string before it is plucked again."""
    later = [n for n in notes if n.string == note.string and n.at > note.at]
    follows = min(later, key=lambda n: n.at, default=None)
    if follows is None or not _ornamental(follows):
        return None
    own = assignment.shape.fret(follows.string or 1)
    if follows.kind == "hammer" and follows.fret == own and note.fret == 0:
        return Ornament("hammer")
    if follows.kind == "pull" and follows.fret == 0:
        return Ornament("pull")
    return Ornament(_ORNAMENTS[follows.kind], follows.fret)


def _ways(note: Sounded, assignment: Assignment, count: int, ornament: Ornament | None) -> Ways:
    string = note.string or 1
    out: list[tuple[Stroke, int]] = []
    if note.finger in ("", "p"):
        out += _thumb_ways(note, assignment, count, ornament)
    for finger in _FINGERS if note.finger == "" else (note.finger,):
        choice = assignment.finger(finger)
        if finger != "p" and choice is not None:
            shift = string - choice.string
            if abs(shift) <= 2:
                rank = (0 if not shift else 4) if note.finger else (1 if not shift else 6)
                out.append((_pluck(note, assignment, finger, ornament, shift=shift), rank))
    near = guessed_finger(string, assignment)
    for finger in (note.finger,) if note.finger else ("p", *_FINGERS):
        rank = 7 if finger in (note.finger, near) else 9
        out.append((_pluck(note, assignment, finger, ornament, strings=(string,)), rank))
    return tuple(sorted(out, key=lambda way: way[1]))


def _thumb_ways(
    note: Sounded, assignment: Assignment, count: int, ornament: Ornament | None
) -> list[tuple[Stroke, int]]:
    out: list[tuple[Stroke, int]] = []
    for index, bass in enumerate(assignment.basses):
        if bass.string == note.string:
            if assignment.cycle and assignment.cycle[count % len(assignment.cycle)] == index:
                out.append((_pluck(note, assignment, "p", ornament, bass=index), 0))
            out.append((_pluck(note, assignment, "p", ornament, lane=index + 1, bass=index), 2))
    return out


def _pluck(
    note: Sounded,
    assignment: Assignment,
    finger: str,
    ornament: Ornament | None,
    *,
    lane: int | None = None,
    shift: int = 0,
    strings: tuple[int, ...] = (),
    bass: int | None = None,
) -> Pluck:
    own = assignment.shape.fret(note.string or 1)
    if bass is not None and assignment.basses[bass].fret is not None:
        own = assignment.basses[bass].fret
    fret = None if note.fret == own or ornament == Ornament("hammer") else note.fret
    return Pluck(finger, lane, shift, strings, fret, ornament, note.accent)


def guessed_finger(string: int, assignment: Assignment) -> str:
    """Who plucks a string that is nobody's own: the thumb on the bass side, else the nearest finger."""
    homes = [(abs(c.string - string), f) for f, c in assignment.fingers]
    highest = max((c.string for _, c in assignment.fingers), default=0)
    return "p" if string > highest or not homes else min(homes)[1]


def _sweep_ways(swept: list[Sounded], assignment: Assignment) -> Ways:
    strings = [n.string or 1 for n in swept]
    kind, accent = _SWEEPS[swept[0].kind], swept[0].accent
    if kind == "brush-down" and swept[0].finger == "p":
        kind = "thumb-brush"
    low, high = min(strings), max(strings)
    span = (low, high) if kind == "brush-up" else (high, low)
    first = assignment.basses[0].string if assignment.basses else len(assignment.shape.frets) + 1
    free = {s for s in assignment.shape.sounding if s < first}
    ways: list[tuple[Stroke, int]] = [(Sweep(kind, span, accent), 2)]
    if set(strings) == free:
        ways.insert(0, (Sweep(kind, None, accent), 0))
    return tuple(ways)


def vote(found: list[tuple[Ways, ...]]) -> Slot:
    """The strokes that explain most of what sounds at one place over all its occurrences.

    A stroke is taken if it stands in more than half of them; each finger is taken once.
    """
    left = [list(ways) for ways in found]
    chosen: list[Stroke] = []
    while True:
        counted: Counter[Stroke] = Counter()
        ranks: dict[Stroke, int] = {}
        taken = {s.finger for s in chosen if isinstance(s, Pluck)}
        for notes in left:
            for stroke in {s for way in notes for s, _ in way}:
                if not (isinstance(stroke, Pluck) and stroke.finger in taken):
                    counted[stroke] += 1
            for way in notes:
                for stroke, rank in way:
                    ranks[stroke] = min(rank, ranks.get(stroke, rank))
        best = min(counted, key=lambda s: (-counted[s], ranks[s], str(s)), default=None)
        if best is None or 2 * counted[best] <= len(found):
            return order(tuple(chosen))
        chosen.append(best)
        for notes in left:
            explained = [way for way in notes if any(s == best for s, _ in way)][:1]
            for way in explained:
                notes.remove(way)
