"""Shapes and fretting fingers of a progression chosen together: least effort of shapes plus changes.

Each symbol offers the shapes that players know and a few easy ones, each in the few easiest ways to hold it
(or what the player pinned), and keeps one of them through the whole piece. A finger that stays where it is
counts for the change, one that slides is cheap.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Sequence
from functools import lru_cache

import msgspec

from gingham.core.instruments.instrument import Instrument
from gingham.core.music.chords import Chord
from gingham.core.shapes.fretting import Fingers, Fretting, frettings, held_with
from gingham.core.shapes.known import known_shapes
from gingham.core.shapes.search import effort_as_known, shapes_for
from gingham.core.shapes.shape import Shape

_SHAPES, _WAYS = 3, 3  # how many shapes of a chord, and ways to hold each, are looked at
_CHANGE = 0.55  # what a change weighs against the effort of the shapes
_STAYS, _SLIDE, _LAND, _MOVE = -0.55, 0.2, 0.45, 0.5
_PER_STRING, _PER_FRET, _HAND = 0.08, 0.12, 0.22  # travel of a finger, and of the whole hand along the neck
_BLOCK = 0.5  # a grip that moves as it is, a string over or along the neck
_SAME = -1.5  # keeping the very same grip
_UNKNOWN = 5.0  # what a shape that players do not know has to gain
_MOST_ROUNDS, _LEAST_GAIN = 12, 1e-9


class Grip(msgspec.Struct, frozen=True, gc=False):
    """A shape and a way to hold it; `fretting` is None for a pinned shape that no hand can hold."""

    shape: Shape
    fretting: Fretting | None


class _State(msgspec.Struct, frozen=True, eq=False, gc=False):
    grip: Grip
    effort: float
    places: dict[int, tuple[int, int]]
    lowest: int


class Wish(msgspec.Struct, frozen=True, gc=False):
    """A chord to be held, with the shape and the fingers that the player has pinned, or None for each."""

    chord: Chord
    shape: Shape | None = None
    fingers: Fingers | None = None

    @property
    def key(self) -> Key:
        """Wishes with the same key get the same grip all through a piece."""
        return (self.chord.text, self.shape, self.fingers)


Key = tuple[str, Shape | None, Fingers | None]


def grips_for(
    progressions: Iterable[Sequence[Wish]], instrument: Instrument, capo: int = 0
) -> dict[Key, Grip | None]:
    """The grip of every different wish of some progressions; None where no hand can hold the chord.

    A symbol keeps one grip throughout, that with the least total of shapes and changes; every progression
    comes round. A pinned shape is kept, and pinned fingers are; what is free is chosen.
    """
    states: dict[Key, tuple[_State, ...]] = {}
    times: Counter[Key] = Counter()
    pairs: Counter[tuple[Key, Key]] = Counter()
    for progression in progressions:
        keys = [wish.key for wish in progression]
        for wish, key in zip(progression, keys, strict=True):
            if key not in states:
                states[key] = _states(wish, instrument, capo)
        times.update(keys)
        sounding = [key for key in keys if states[key]]
        pairs.update((a, b) for a, b in zip(sounding, [*sounding[1:], *sounding[:1]], strict=True) if a != b)
    choice = _Choice({key: own for key, own in states.items() if own}, times, pairs)
    chosen = choice.cheapest()
    return {key: chosen[key].grip if key in chosen else None for key in states}


@lru_cache(maxsize=2048)
def _states(wish: Wish, instrument: Instrument, capo: int) -> tuple[_State, ...]:
    """What one chord offers. Shapes that players do not know in this tuning have to gain much."""
    if wish.shape is not None:
        ways = ways_to_hold(wish.shape, wish.fingers)
        return tuple(_state(wish.shape, way, way.cost) for way in ways) or (_state(wish.shape, None, 0.0),)
    known = set(known_shapes(wish.chord, instrument))
    found = shapes_for(wish.chord, instrument, capo)[:_SHAPES]
    efforts = [
        effort_as_known(each) if each.shape in known else each.effort + _UNKNOWN * bool(known)
        for each in found
    ]
    return tuple(
        _state(ranked.shape, way, effort - ranked.fretting.cost + way.cost)
        for ranked, effort in zip(found, efforts, strict=True)
        for way in frettings(ranked.shape)[:_WAYS]
    )


def ways_to_hold(shape: Shape, fingers: Fingers | None) -> tuple[Fretting, ...]:
    """The ways to hold a shape: the one that is wished, else the few easiest."""
    return frettings(shape)[:_WAYS] if fingers is None else (held_with(shape, fingers),)


def _state(shape: Shape, way: Fretting | None, effort: float) -> _State:
    grip = Grip(shape, way)
    return _State(grip, effort, _places(grip), _lowest(shape))


class _Choice:
    """One state for each wish, so that no change of one, or of two neighbours, lowers the total."""

    def __init__(
        self, states: dict[Key, tuple[_State, ...]], times: Counter[Key], pairs: Counter[tuple[Key, Key]]
    ) -> None:
        self._states, self._times = states, times
        self._near: dict[Key, list[tuple[Key, int, bool]]] = {key: [] for key in states}
        for (before, after), count in pairs.items():
            self._near[before].append((after, count, True))
            self._near[after].append((before, count, False))
        self._linked = sorted({frozenset(pair) for pair in pairs}, key=lambda pair: sorted(map(str, pair)))
        self._known: dict[tuple[int, int], float] = {}

    def cheapest(self) -> dict[Key, _State]:
        """From the easiest state of each on, one and two at a time, until nothing is gained any more."""
        now = {key: min(own, key=lambda state: state.effort) for key, own in self._states.items()}
        for _round in range(_MOST_ROUNDS):
            before = dict(now)
            for key in now:
                now[key] = min(self._states[key], key=lambda state, key=key: self._total(key, state, now))  # type: ignore[misc]
            for one, other in map(tuple, self._linked):
                self._together(one, other, now)
            if now == before:
                break
        return now

    def _together(self, one: Key, other: Key, now: dict[Key, _State]) -> None:
        """The best states of two neighbours at once: what neither of them would do alone."""
        ways = [(count, forward) for near, count, forward in self._near[one] if near == other]

        def total(mine: tuple[float, _State], theirs: tuple[float, _State]) -> float:
            between = sum(count * self._change(mine[1], theirs[1], forward) for count, forward in ways)
            return mine[0] + theirs[0] + between

        ones = [(self._total(one, state, now, other), state) for state in self._states[one]]
        others = [(self._total(other, state, now, one), state) for state in self._states[other]]
        pair = (now[one], now[other])
        best = total(
            (self._total(one, pair[0], now, other), pair[0]), (self._total(other, pair[1], now, one), pair[1])
        )
        for mine in ones:
            for theirs in others:
                if (cost := total(mine, theirs)) < best - _LEAST_GAIN:
                    best, pair = cost, (mine[1], theirs[1])
        now[one], now[other] = pair

    def _total(self, key: Key, state: _State, now: dict[Key, _State], without: Key | None = None) -> float:
        """What a state costs, itself and with its neighbours as they are now, `without` one of them."""
        changes = sum(
            count * self._change(state, now[near], forward)
            for near, count, forward in self._near[key]
            if near != without
        )
        return self._times[key] * state.effort + changes

    def _change(self, state: _State, near: _State, forward: bool) -> float:
        before, after = (state, near) if forward else (near, state)
        key = (
            id(before),
            id(after),
        )  # kept alive here; hashing whole grips would cost more
        if key not in self._known:
            self._known[key] = _CHANGE * _cost(before, after)
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
