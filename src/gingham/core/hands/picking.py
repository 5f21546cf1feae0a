"""Strings in, fingers out: which finger plucks each string of a line, found by dynamic programming.

The state after a place is, for every finger, where it plucked last and when: what happened longer ago than
the slowest gap that a finger needs no longer matters. From each state every set of fingers that lies on the
strings without crossing is tried; equal states keep the cheapest way (Bellman 1957), and of very many states
the cheapest `_WIDTH` go on.
A flat pick has no fingers: its strokes go down on the numbered part of the grid and up between.

Costs are in "fingers displaced": 1.0 is a finger one string from its home.
"""

from __future__ import annotations

from itertools import combinations, pairwise

import msgspec

from gingham.core.hands.motor import Motor
from gingham.core.instruments.instrument import Instrument

_WIDTH = 24
_THUMB_UP = 1.6  # the thumb on a string above its own ones, for each string beyond
_THUMB_OTHER = 0.3  # the thumb on a string that is none of the chord's basses
_BELOW = 1.3  # a finger on a string of the thumb's, for each string beyond its home
_AGAIN = 6.0  # the same finger with no time at all; less as its gap comes near to what it needs
_CROSSED = 2.5  # a finger that passes over another one which plucked just now
_TRAVEL = 0.25  # for each string between a finger's last pluck and this one
_SPREAD = 0.4  # neighbouring fingers of a pinch, for each string beyond the next


class Placed(msgspec.Struct, frozen=True, gc=False):
    """One place of a line: when (seconds), the strings plucked at once, and fingers that are busy there."""

    at_s: float
    strings: tuple[int, ...]
    taken: tuple[str, ...] = ()


class Hand(msgspec.Struct, frozen=True, gc=False):
    """A picking hand over its strings: homes of the fingers, the thumb's basses and own strings."""

    homes: tuple[tuple[str, int], ...]
    basses: tuple[int, ...]
    thumb_strings: tuple[int, ...]

    @property
    def fingers(self) -> tuple[str, ...]:
        """All of its fingers, thumb first."""
        return ("p", *(finger for finger, _ in self.homes))


class Fingering(msgspec.Struct, frozen=True, gc=False):
    """For each place the finger of each of its strings (`None` where the hand has too few), and the cost."""

    fingers: tuple[tuple[str | None, ...], ...]
    cost: float

    @property
    def impossible(self) -> tuple[int, ...]:
        """Places at which strings had to be left out."""
        return tuple(i for i, names in enumerate(self.fingers) if None in names)


_Sets = list[tuple[tuple[str, ...], float]]
_Last = tuple[str, int, float]
"""A finger's last pluck: the finger, the string, when (seconds)."""
_Memory = tuple[_Last | None, ...]
"""The last pluck of each finger of the hand, thumb first; None where it is too long ago to matter."""


class _Way(msgspec.Struct, frozen=True, gc=False):
    cost: float
    chosen: tuple[str | None, ...]
    before: _Way | None


def hand_on(instrument: Instrument, names: str) -> Hand:
    """A hand at home: i 3, m 2, a 1 with three fingers; i 3, m 2 with two; i 2 with one.

    On four strings i 2 and m 1. A little finger shares string 1 with the ring finger.
    """
    fingers = [f for f in names if f != "p"]
    top = min(3 if instrument.strings > 4 or len(fingers) > 2 else 2, max(1, instrument.strings - 1))
    if len(fingers) == 1:
        top = min(2, top)
    homes = tuple((finger, max(1, top - index)) for index, finger in enumerate(fingers))
    return Hand(homes, instrument.thumb_strings, instrument.thumb_strings)


def fingers_for(line: tuple[Placed, ...], hand: Hand, motor: Motor) -> Fingering:
    """The cheapest fingering of a line, played through once. For a flat pick see `pick_strokes`."""
    scale = _Scale(hand, motor)
    states: dict[_Memory, _Way] = {(None,) * len(hand.fingers): _Way(0.0, (), None)}
    for place in line:
        states = _step(states, place, scale)
    end = min(states.values(), key=lambda way: way.cost)
    out: list[tuple[str | None, ...]] = []
    way: _Way | None = end
    while way is not None and way.before is not None:
        out.append(way.chosen)
        way = way.before
    return Fingering(tuple(reversed(out)), end.cost)


def pick_strokes(positions: tuple[bool, ...]) -> tuple[str, ...]:
    """`down` on every place that is a numbered part of the grid (True), `up` between."""
    return tuple("down" if strong else "up" for strong in positions)


def _step(states: dict[_Memory, _Way], place: Placed, scale: _Scale) -> dict[_Memory, _Way]:
    strings = tuple(sorted(set(place.strings), reverse=True))
    kept, sets = scale.sets(strings, place.taken)
    oldest = place.at_s - scale.memory_s
    came: dict[_Last, list[float]] = {}  # for each last pluck, what coming from it costs each set
    ways: list[tuple[float, int, int]] = []
    before = [
        ([last if last is not None and last[2] > oldest else None for last in memory], way)
        for memory, way in states.items()
    ]
    for number, (recent, way) in enumerate(before):
        costs = [way.cost + own for _, own in sets]
        for last in recent:
            if last is not None:
                if last not in came:
                    came[last] = [scale.coming(last, fingers, kept, place.at_s) for fingers, _ in sets]
                costs = [cost + more for cost, more in zip(costs, came[last], strict=True)]
        ways += [(cost, number, index) for index, cost in enumerate(costs)]
    ways.sort()
    out: dict[_Memory, _Way] = {}
    for cost, number, index in ways:  # the cheapest first: an equal memory that comes later costs more
        recent, way = before[number]
        now, fingers = recent.copy(), sets[index][0]
        for finger, string in zip(fingers, kept, strict=True):
            now[scale.index[finger]] = (finger, string, place.at_s)
        key = tuple(now)
        if key not in out:
            names = dict(zip(kept, fingers, strict=True))
            out[key] = _Way(cost, tuple(names.get(s) for s in place.strings), way)
            if len(out) == _WIDTH:
                break
    return out


class _Scale:
    """What things cost this hand on this instrument."""

    def __init__(self, hand: Hand, motor: Motor) -> None:
        self._hand = hand
        self._home = dict(hand.homes)
        self._thumb = min((*hand.thumb_strings, *hand.basses))
        self._motor = motor
        self.memory_s = motor.gap_s(False, 5)
        self.index = {finger: index for index, finger in enumerate(hand.fingers)}
        self._known: dict[tuple[tuple[int, ...], tuple[str, ...]], tuple[tuple[int, ...], _Sets]] = {}

    def sets(self, strings: tuple[int, ...], taken: tuple[str, ...]) -> tuple[tuple[int, ...], _Sets]:
        """The strings that can be plucked, and every uncrossed set of free fingers with its cost.

        Of more strings than fingers the lowest and the highest ones stay: bass and tune.
        """
        if (strings, taken) not in self._known:
            free = [finger for finger in self._hand.fingers if finger not in taken]
            count = len(free)
            kept = strings
            if len(strings) > count:
                kept = (*strings[:1], *strings[len(strings) - count + 1 :])[:count]
            sets = [(fingers, self._own(fingers, kept)) for fingers in combinations(free, len(kept))]
            self._known[strings, taken] = (kept, sets)
        return self._known[strings, taken]

    def _own(self, fingers: tuple[str, ...], strings: tuple[int, ...]) -> float:
        pairs = list(zip(fingers, strings, strict=True))
        cost = sum(self._alone(finger, string) for finger, string in pairs)
        for (one, high), (other, low) in pairwise(pairs):
            between = "pimac".index(other) - "pimac".index(one)
            cost += _SPREAD * max(0, high - low - between) if one != "p" else 0.0
        return cost

    def _alone(self, finger: str, string: int) -> float:
        """The cost of one finger on one string."""
        if finger == "p":
            if string in self._hand.basses:
                return 0.0
            return _THUMB_OTHER + _THUMB_UP * max(0, self._thumb - string)
        away = string - self._home[finger]
        return _BELOW * away if away > 0 and string in self._hand.thumb_strings else float(abs(away))

    def coming(self, last: _Last, fingers: tuple[str, ...], strings: tuple[int, ...], at_s: float) -> float:
        """The cost of plucking `strings` with `fingers` after what one finger plucked lately."""
        other, was, when = last
        pairs = zip(fingers, strings, strict=True)
        return sum(self._pair(finger, string, other, was, at_s - when) for finger, string in pairs)

    def _pair(self, finger: str, string: int, other: str, last: int, gap_s: float) -> float:
        """What `finger` on `string` costs `gap_s` after `other` plucked `last`."""
        if other == finger:
            travel = _TRAVEL * abs(string - last) if finger != "p" else 0.0
            needed = self._motor.gap_s(finger == "p", abs(string - last))
            return travel + _AGAIN * max(0.0, 1.0 - gap_s / needed)
        quick = gap_s < self._motor.same_finger_s
        return _CROSSED if quick and _crosses(finger, string, other, last) else 0.0


def _crosses(finger: str, string: int, other: str, last: int) -> bool:
    """Whether `finger` on `string` passes over `other` on `last`: fingers lie in order from the thumb on.

    Two fingers may follow each other on one string, thumb and finger may not.
    """
    if string == last:
        return "p" in (finger, other)
    return (string < last) == ("pimac".index(finger) < "pimac".index(other))
