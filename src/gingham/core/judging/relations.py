"""Relations worth remembering: one grip up the neck or a string over, a finger that stays all through."""

from __future__ import annotations

import msgspec

from gingham.core.fitting.result import Assignment, Result
from gingham.core.shapes.shape import Shape


class Relation(msgspec.Struct, frozen=True, gc=False):
    """`kind` is `frets` (by `amount`, up is positive) or `strings` (toward string 1 is positive)."""

    kind: str
    one: str
    other: str
    amount: int


def relations(result: Result) -> tuple[Relation, ...]:
    """Each pair of the section's chords whose grips are one grip moved, in order of appearance."""
    on = _different(result)
    out: list[Relation] = []
    for index, one in enumerate(on):
        for other in on[index + 1 :]:
            frets = frets_apart(one.shape, other.shape)
            strings = strings_apart(one.shape, other.shape)
            if frets:
                out.append(Relation("frets", one.chord.text, other.chord.text, frets))
            elif strings:
                out.append(Relation("strings", one.chord.text, other.chord.text, strings))
    return tuple(out)


def staying_fingers(result: Result) -> tuple[tuple[int, int, int], ...]:
    """(finger, string, fret) of every fretting finger that never moves in the whole section."""
    on = _different(result)
    if len(on) < 2:
        return ()
    places = [_places(each) for each in on]
    return tuple(sorted(set.intersection(*places)))


def frets_apart(one: Shape, other: Shape) -> int:
    """How many frets the same grip has moved; 0 if it is not the same, or has open strings."""
    pairs = list(zip(one.frets, other.frets, strict=True))
    if any((a is None) != (b is None) or a == 0 or b == 0 for a, b in pairs):
        return 0
    moves = {b - a for a, b in pairs if a is not None and b is not None}
    return moves.pop() if len(moves) == 1 else 0


def strings_apart(one: Shape, other: Shape) -> int:
    """How many strings toward string 1 the same held places have moved; 0 if they are not the same."""
    held, moved = _held(one), _held(other)
    if len(held) < 2 or len(held) != len(moved):
        return 0
    ways = {(a[0] - b[0], b[1] - a[1]) for a, b in zip(held, moved, strict=True)}
    if len(ways) != 1:
        return 0
    strings, frets = ways.pop()
    return strings if frets == 0 else 0


def _held(shape: Shape) -> list[tuple[int, int]]:
    """(string, fret) of what is fretted, highest string number first."""
    count = len(shape.frets)
    return [(count - i, fret) for i, fret in enumerate(shape.frets) if fret]


def _different(result: Result) -> list[Assignment]:
    seen: dict[tuple[str, Shape], Assignment] = {}
    for fitted in result.spans:
        if fitted.assignment is not None:
            seen.setdefault((fitted.assignment.chord.text, fitted.assignment.shape), fitted.assignment)
    return list(seen.values())


def _places(assignment: Assignment) -> set[tuple[int, int, int]]:
    if assignment.fretting is None:
        return set()
    count = len(assignment.shape.frets)
    pairs = enumerate(zip(assignment.fretting.fingers, assignment.shape.frets, strict=True))
    return {(finger, count - i, fret) for i, (finger, fret) in pairs if finger and fret}
