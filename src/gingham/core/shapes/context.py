"""Shapes and fretting fingers of a progression chosen together: least effort of shapes plus changes.

Each chord offers its few easiest shapes, each in the few easiest ways to hold it (or the one shape that the
player pinned). A walk over all of them (dynamic programming, the loop's seam included) finds the choice with
the least total. A finger that stays where it is counts for the change, one that slides is cheap.
"""

from __future__ import annotations

from collections.abc import Sequence
from functools import lru_cache
from operator import add

import msgspec

from gingham.core.instruments.instrument import Instrument
from gingham.core.music.chords import Chord
from gingham.core.shapes.fretting import Fretting, frettings
from gingham.core.shapes.search import shapes_for
from gingham.core.shapes.shape import Shape

_SHAPES, _WAYS = 3, 3  # how many shapes of a chord, and ways to hold each, are looked at
_CHANGE = 0.55  # what a change weighs against the effort of the shapes
_STAYS, _SLIDE, _LAND, _MOVE = -0.55, 0.2, 0.45, 0.5
_PER_STRING, _PER_FRET, _HAND = 0.08, 0.12, 0.22  # travel of a finger, and of the whole hand along the neck
_BLOCK = 0.5  # a grip that moves as it is, a string over or along the neck
_SAME = -1.5  # keeping the very same grip
_SEAM_STATES, _LONG = 4, 48  # starts for which the seam is closed, and the length from which it is not


class Grip(msgspec.Struct, frozen=True, gc=False):
    """A shape and a way to hold it; `fretting` is None for a pinned shape that no hand can hold."""

    shape: Shape
    fretting: Fretting | None


class _State(msgspec.Struct, frozen=True, eq=False, gc=False):
    grip: Grip
    effort: float
    places: dict[int, tuple[int, int]]
    lowest: int


def grips_for(
    chords: Sequence[tuple[Chord, Shape | None]], instrument: Instrument, capo: int = 0
) -> tuple[Grip | None, ...]:
    """The grip of each chord of a progression; None where no hand can hold the chord.

    A chord given with a shape keeps that shape (the player's pin); only its fingers are chosen.
    """
    known_states: dict[tuple[str, Shape | None], tuple[_State, ...]] = {}
    options = []
    for chord, pinned in chords:
        key = (chord.text, pinned)
        if key not in known_states:
            known_states[key] = _states(chord, pinned, instrument, capo)
        options.append(known_states[key])
    known = [index for index, states in enumerate(options) if states]
    chosen = _cheapest([options[index] for index in known]) if known else []
    out: list[Grip | None] = [None] * len(options)
    for index, state in zip(known, chosen, strict=True):
        out[index] = state.grip
    return tuple(out)


@lru_cache(maxsize=2048)
def _states(chord: Chord, pinned: Shape | None, instrument: Instrument, capo: int) -> tuple[_State, ...]:
    """What one chord offers."""
    if pinned is not None:
        ways = frettings(pinned)[:_WAYS]
        return tuple(_state(pinned, way, way.cost) for way in ways) or (_state(pinned, None, 0.0),)
    found = shapes_for(chord, instrument, capo)[:_SHAPES]
    return tuple(
        _state(ranked.shape, way, ranked.effort - ranked.fretting.cost + way.cost)
        for ranked in found
        for way in frettings(ranked.shape)[:_WAYS]
    )


def _state(shape: Shape, way: Fretting | None, effort: float) -> _State:
    grip = Grip(shape, way)
    return _State(grip, effort, _places(grip), _lowest(shape))


def _cheapest(options: list[tuple[_State, ...]]) -> list[_State]:
    """The choice with the least total.

    The seam is closed for each of the first chord's few best states; in a long piece it is one change among
    many and is left out.
    """
    if len(options) == 1:
        return [min(options[0], key=lambda state: state.effort)]
    walk = _Walk()
    if len(options) > _LONG:
        return walk.cheapest(options[0], options, None)[1]
    starts = sorted(options[0], key=lambda state: state.effort)[:_SEAM_STATES]
    runs = [walk.cheapest((start,), options, start) for start in starts]
    return min(runs, key=lambda run: run[0])[1]


class _Walk:
    """Walks over the rows of states; the costs of changes between two rows are worked out once."""

    def __init__(self) -> None:
        # By identity: the rows are kept alive by the caller, and hashing whole grips would cost more.
        self._known: dict[tuple[int, int], list[list[float]]] = {}
        self._kept: list[tuple[_State, ...]] = []

    def cheapest(
        self, first: tuple[_State, ...], options: list[tuple[_State, ...]], seam: _State | None
    ) -> tuple[float, list[_State]]:
        """Forward over all chords with the cheapest way to each state, then back along it."""
        totals, row = [state.effort for state in first], first
        steps: list[list[int]] = []
        for states in options[1:]:
            came, sums = [], []
            for state, column in zip(states, self._columns(row, states), strict=True):
                ways = list(map(add, totals, column))
                cost = min(ways)
                came.append(ways.index(cost))
                sums.append(cost + state.effort)
            steps.append(came)
            totals, row = sums, states
        if seam is not None:
            totals = list(map(add, totals, self._columns(row, (seam,))[0]))
        last = min(range(len(totals)), key=totals.__getitem__)
        path = [last]
        for came in reversed(steps):
            path.append(came[path[-1]])
        path.reverse()
        return totals[last], [(first, *options[1:])[k][index] for k, index in enumerate(path)]

    def _columns(self, row: tuple[_State, ...], states: tuple[_State, ...]) -> list[list[float]]:
        """For each state the cost of coming to it from every state of the row before."""
        key = (id(row), id(states))
        if key not in self._known:
            self._kept += [row, states]
            self._known[key] = [[_CHANGE * _cost(a, b) for a in row] for b in states]
        return self._known[key]


def change_cost(before: Grip, after: Grip) -> float:
    """What a change asks of the fretting hand, in fingers; negative where guide fingers make it easier."""
    return _cost(_state(before.shape, before.fretting, 0.0), _state(after.shape, after.fretting, 0.0))


def _cost(before: _State, after: _State) -> float:
    one, other = before.places, after.places
    if one == other and before.grip == after.grip:
        return _SAME
    total = _block_cost(one, other)
    if total is None:
        total = sum(_finger_cost(one.get(finger), place) for finger, place in other.items())
    if before.lowest and after.lowest:
        total += _HAND * abs(before.lowest - after.lowest)
    return total


def _block_cost(before: dict[int, tuple[int, int]], after: dict[int, tuple[int, int]]) -> float | None:
    """Two or more fingers that all go the same way move as one; None if they do not."""
    if len(after) < 2 or before.keys() != after.keys():
        return None
    ways = {(after[f][0] - before[f][0], after[f][1] - before[f][1]) for f in after}
    if len(ways) != 1 or ways == {(0, 0)}:
        return None
    strings, frets = ways.pop()
    return _BLOCK * (1 + 0.1 * len(after)) + _PER_STRING * abs(strings) + _PER_FRET * abs(frets)


def _finger_cost(before: tuple[int, int] | None, after: tuple[int, int]) -> float:
    """One finger's way from (string, fret) to (string, fret)."""
    if before is None:
        return _LAND
    if before == after:
        return _STAYS
    strings, frets = abs(before[0] - after[0]), abs(before[1] - after[1])
    return (_MOVE if strings else _SLIDE) + _PER_STRING * strings + _PER_FRET * frets


def _places(grip: Grip) -> dict[int, tuple[int, int]]:
    """Where each finger stands: (highest string number it holds, fret)."""
    out: dict[int, tuple[int, int]] = {}
    if grip.fretting is not None:
        count = len(grip.shape.frets)
        for index, (finger, fret) in enumerate(zip(grip.fretting.fingers, grip.shape.frets, strict=True)):
            if finger and fret:
                out.setdefault(finger, (count - index, fret))
    return out


def _lowest(shape: Shape) -> int:
    return min((fret for fret in shape.frets if fret), default=0)
