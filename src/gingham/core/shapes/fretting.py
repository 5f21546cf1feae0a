"""Which fretting finger goes where, and what it costs the hand.

The costs are Gingham's own small table, in "fingers": 1.0 is the work of setting one more finger.
"""

from __future__ import annotations

from functools import lru_cache
from itertools import combinations, pairwise
from operator import itemgetter

import msgspec

from gingham.core.shapes.shape import Shape

FINGER = 1.0
_BARRE = 0.8
_BARRE_WIDTH = 0.08  # for each further string under the barre
_BARRE_FROM = 4  # held strings from which a barre is worth it
_UPPER_FROM, _UPPER = 3, 0.7  # strings from which another finger lies across, and what that costs
_STRETCH = 0.4  # a fret more than the fingers lie apart
_CROWD = 0.2  # a fret less than the fingers lie apart, beyond the one that is free
_LITTLE_FINGER = 0.12
_SKIP, _LATE_START = 0.3, 0.2  # a finger left out between two others; beginning with finger 2 or 3
_THUMB_OVER = 1.9  # bringing the thumb over the neck
_WORTH_TRYING = 1.2  # other ways to hold a shape may cost so much more than the easiest
_MOST_WAYS = 4


Fingers = tuple[int, ...]
"""Fretting fingers in shape order: 0 for none, 1 to 4, THUMB; one on several strings is a barre."""


class Barre(msgspec.Struct, frozen=True, gc=False):
    """A finger across `fret`, from the higher string number to the lower."""

    fret: int
    from_string: int
    to_string: int
    finger: int = 1


class Fretting(msgspec.Struct, frozen=True, gc=False):
    """Fretting fingers in shape order, the barres by finger, and the cost."""

    fingers: Fingers
    barres: tuple[Barre, ...]
    cost: float

    @property
    def barre(self) -> Barre | None:
        """The barre of the lowest finger, if there is any."""
        return self.barres[0] if self.barres else None


THUMB = 5
"""The fretting hand's thumb over the neck, as a finger number."""


def fretting(shape: Shape) -> Fretting | None:
    """The easiest way to hold `shape`, None if there is none."""
    ways = frettings(shape)
    return ways[0] if ways else None


@lru_cache(maxsize=8192)
def frettings(shape: Shape) -> tuple[Fretting, ...]:
    """The ways to hold `shape` with four fingers, or with the thumb over the neck, easiest first."""
    count = len(shape.frets)
    held = [(fret, count - i) for i, fret in enumerate(shape.frets) if fret]
    if not held:
        return (Fretting((0,) * count, (), 0.0),)
    ways = [*_without_barre(held), *_with_barre(shape, held), *_with_upper_barre(shape, held)]
    if _thumb_may(shape, held):
        ways += _thumb_over(shape, held)
    ways.sort(key=itemgetter(0))
    worth = [way for way in ways[:_MOST_WAYS] if way[0] <= ways[0][0] + _WORTH_TRYING]
    return tuple(_build(shape, *way) for way in worth)


def held_with(shape: Shape, fingers: Fingers) -> Fretting:
    """`shape` held with the fingers that the player wishes, which must suit it (see shapes.fingers)."""
    count = len(shape.frets)
    places: dict[int, list[tuple[int, int]]] = {}
    for index, (finger, fret) in enumerate(zip(fingers, shape.frets, strict=True)):
        if finger and fret:
            places.setdefault(finger, []).append((fret, count - index))
    barres = tuple(
        Barre(own[0][0], own[0][1], own[-1][1], finger)
        for finger, own in sorted(places.items())
        if len(own) > 1
    )
    return Fretting(fingers, barres, round(_cost_of(places, barres), 3))


def _cost_of(places: dict[int, list[tuple[int, int]]], barres: tuple[Barre, ...]) -> float:
    own = sorted((finger, held[0][0]) for finger, held in places.items() if finger != THUMB)
    apart = sum(_apart((low[1], low[0]), (high[1], high[0])) for low, high in pairwise(own))
    across = sum(_BARRE + _BARRE_WIDTH * (barre.from_string - barre.to_string) for barre in barres)
    return FINGER * len(own) + apart + across + _THUMB_OVER * (THUMB in places)


_Way = tuple[float, dict[int, int], tuple[Barre, ...]]
"""Cost, finger by string, barres: a way to hold a shape before it is built."""


def _without_barre(held: list[tuple[int, int]]) -> list[_Way]:
    if len(held) > 4:
        return []
    base = FINGER * len(held)
    return [(base + strain, fingers, ()) for fingers, strain in _places(held, (1, 2, 3, 4))]


def _with_barre(shape: Shape, held: list[tuple[int, int]], least: int = _BARRE_FROM) -> list[_Way]:
    if len(held) < least:
        return []
    fret = min(held)[0]
    under = [string for f, string in held if f == fret]
    high, low = max(under), min(under)
    if len(under) < 2 or any(shape.fret(string) == 0 for string in range(low, high + 1)):
        return []
    rest = [place for place in held if place[0] != fret]
    if len(rest) > 3:
        return []
    base = FINGER * (1 + len(rest)) + _BARRE + _BARRE_WIDTH * (high - low)
    barre, index = Barre(fret, high, low), dict.fromkeys(under, 1)
    found = _places(rest, (2, 3, 4), base=fret) if rest else [({}, 0.0)]
    return [(base + strain, fingers | index, (barre,)) for fingers, strain in found]


def _with_upper_barre(shape: Shape, held: list[tuple[int, int]]) -> list[_Way]:
    """Finger 3 or 4 across the highest fret, the index below it on one string or across: x79997 as 013331."""
    top = max(held)[0]
    over = [string for fret, string in held if fret == top]
    rest = [place for place in held if place[0] != top]
    high, low = max(over), min(over)
    if len(over) < _UPPER_FROM or len(over) < high - low + 1:
        return []  # on neighbouring strings: the finger bends back from those beside them
    below = _index_alone(shape, rest)
    if below is None:
        return []
    index, own = below
    upper = _BARRE + _BARRE_WIDTH * (high - low) + _UPPER
    out: list[_Way] = []
    for finger in (3, 4):
        strain = _apart((rest[0][0], 1), (top, finger)) + _LITTLE_FINGER * (finger == 4)
        barres = (*own, Barre(top, high, low, finger))
        cost = (
            2 * FINGER
            + upper
            + strain
            + sum(_BARRE + _BARRE_WIDTH * (b.from_string - b.to_string) for b in own)
        )
        out.append((cost, index | dict.fromkeys(over, finger), barres))
    return out


def _index_alone(
    shape: Shape, rest: list[tuple[int, int]]
) -> tuple[dict[int, int], tuple[Barre, ...]] | None:
    """The index finger on all of `rest`, on one string or across one fret; None if it cannot."""
    if not rest or len({fret for fret, _ in rest}) > 1:
        return None
    strings = [string for _, string in rest]
    high, low = max(strings), min(strings)
    if high == low:
        return {high: 1}, ()
    if any(shape.fret(string) == 0 for string in range(low, high + 1)):
        return None
    return dict.fromkeys(strings, 1), (Barre(rest[0][0], high, low),)


def _thumb_may(shape: Shape, held: list[tuple[int, int]]) -> bool:
    """Whether the thumb can come over the neck: six strings, the lowest one near the other fingers' frets."""
    low = shape.frets[0]
    if len(shape.frets) != 6 or not low:
        return False
    others = [fret for fret, string in held if string != 6]
    return bool(others) and abs(min(others) - low) <= 1


def _thumb_over(shape: Shape, held: list[tuple[int, int]]) -> list[_Way]:
    rest = [place for place in held if place[1] != 6]
    ways = [*_without_barre(rest), *_with_barre(shape, rest, least=2)]
    return [(cost + _THUMB_OVER, fingers | {6: THUMB}, barres) for cost, fingers, barres in ways]


def _places(
    held: list[tuple[int, int]], available: tuple[int, ...], base: int | None = None
) -> list[tuple[dict[int, int], float]]:
    """Fingers by string for the held (fret, string) places, and the strain, easiest first.

    Along one fret the lower finger takes the higher string number, as the hand lies by itself.
    """
    order = sorted(held, key=lambda place: (place[0], -place[1]))
    strings = [string for _, string in order]
    ways = _strains(tuple(fret for fret, _ in order), available, base)
    return [(dict(zip(strings, fingers, strict=True)), cost) for cost, fingers in ways]


@lru_cache(maxsize=8192)
def _strains(
    frets: tuple[int, ...], available: tuple[int, ...], base: int | None
) -> tuple[tuple[float, tuple[int, ...]], ...]:
    """The strain of every way to lay fingers on ascending frets, the least first; strings do not matter."""

    def strain(fingers: tuple[int, ...]) -> float:
        places = list(zip(frets, fingers, strict=True))
        if base is not None:
            places.insert(0, (base, 1))
        elif len(places) == 1:  # one finger alone: the one that lies over its fret
            return _LATE_START * abs(fingers[0] - min(frets[0], 3))
        apart = sum(_apart(*pair) for pair in pairwise(places))
        return apart + _LITTLE_FINGER * (4 in fingers) + _unusual(places)

    ways = ((round(strain(fingers), 6), fingers) for fingers in combinations(available, len(frets)))
    return tuple(sorted(ways))


def _unusual(places: list[tuple[int, int]]) -> float:
    """What it costs to leave out a finger that has a fret to lie over, and not to begin with the first.

    `places` are (fret, finger) upward. Over an empty fret a finger is left out at no cost: index and ring
    finger lie two frets apart by themselves.
    """
    left_out = sum(max(0, high[1] - low[1] - max(1, high[0] - low[0])) for low, high in pairwise(places))
    return _SKIP * left_out + _LATE_START * (places[0][1] - 1)


def _apart(lower: tuple[int, int], upper: tuple[int, int]) -> float:
    """Strain between two neighbouring (fret, finger) places."""
    beyond = (upper[0] - lower[0]) - (upper[1] - lower[1])
    return _STRETCH * beyond if beyond > 0 else _CROWD * max(0, -beyond - 1)


def _build(shape: Shape, cost: float, fingers: dict[int, int], barres: tuple[Barre, ...]) -> Fretting:
    count = len(shape.frets)
    return Fretting(tuple(fingers.get(count - i, 0) for i in range(count)), barres, round(cost, 3))
