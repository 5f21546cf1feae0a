"""Which fretting finger goes where, and what it costs the hand.

The costs are Gingham's own small table, in "fingers": 1.0 is the work of setting one more finger.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from itertools import combinations, pairwise

from gingham.core.shapes.shape import Shape

FINGER = 1.0
_BARRE = 0.8
_BARRE_WIDTH = 0.08  # for each further string under the barre
_BARRE_FROM = 4  # held strings from which a barre is worth it
_STRETCH = 0.4  # a fret more than the fingers lie apart
_CROWD = 0.2  # a fret less than the fingers lie apart, beyond the one that is free
_LITTLE_FINGER = 0.12


@dataclass(frozen=True, slots=True)
class Barre:
    """Finger 1 across `fret`, from the higher string number to the lower."""

    fret: int
    from_string: int
    to_string: int


@dataclass(frozen=True, slots=True)
class Fretting:
    """Fretting fingers in shape order (0 = none), the barre if there is one, and the cost."""

    fingers: tuple[int, ...]
    barre: Barre | None
    cost: float


@lru_cache(maxsize=8192)
def fretting(shape: Shape) -> Fretting | None:
    """The easiest way to hold `shape` with four fingers, None if there is none."""
    count = len(shape.frets)
    held = [(fret, count - i) for i, fret in enumerate(shape.frets) if fret]
    options = [_without_barre(shape, held), _with_barre(shape, held)]
    return min((option for option in options if option), key=lambda option: option.cost, default=None)


def _without_barre(shape: Shape, held: list[tuple[int, int]]) -> Fretting | None:
    if len(held) > 4:
        return None
    if not held:
        return Fretting((0,) * len(shape.frets), None, 0.0)
    fingers, stretch = _place(held, (1, 2, 3, 4))
    return _build(shape, fingers, None, FINGER * len(held) + stretch)


def _with_barre(shape: Shape, held: list[tuple[int, int]]) -> Fretting | None:
    if len(held) < _BARRE_FROM:
        return None
    fret = min(held)[0]
    under = [string for f, string in held if f == fret]
    high, low = max(under), min(under)
    if len(under) < 2 or any(shape.fret(string) == 0 for string in range(low, high + 1)):
        return None
    rest = [place for place in held if place[0] != fret]
    if len(rest) > 3:
        return None
    fingers, stretch = _place(rest, (2, 3, 4), base=fret) if rest else ({}, 0.0)
    fingers |= dict.fromkeys(under, 1)
    cost = FINGER * (1 + len(rest)) + _BARRE + _BARRE_WIDTH * (high - low) + stretch
    return _build(shape, fingers, Barre(fret, high, low), cost)


def _place(
    held: list[tuple[int, int]], available: tuple[int, ...], base: int | None = None
) -> tuple[dict[int, int], float]:
    """Fingers by string for the held (fret, string) places, and the stretch.

    Along one fret the lower finger takes the higher string number, as the hand lies by itself.
    """
    order = sorted(held, key=lambda place: (place[0], -place[1]))

    def strain(fingers: tuple[int, ...]) -> float:
        places = [(fret, finger) for (fret, _), finger in zip(order, fingers, strict=True)]
        if base is not None:
            places.insert(0, (base, 1))
        return sum(_apart(*pair) for pair in pairwise(places)) + _LITTLE_FINGER * (4 in fingers)

    best = min(combinations(available, len(order)), key=lambda fingers: (round(strain(fingers), 6), fingers))
    return {string: finger for (_, string), finger in zip(order, best, strict=True)}, strain(best)


def _apart(lower: tuple[int, int], upper: tuple[int, int]) -> float:
    """Strain between two neighbouring (fret, finger) places."""
    beyond = (upper[0] - lower[0]) - (upper[1] - lower[1])
    return _STRETCH * beyond if beyond > 0 else _CROWD * max(0, -beyond - 1)


def _build(shape: Shape, fingers: dict[int, int], barre: Barre | None, cost: float) -> Fretting:
    count = len(shape.frets)
    return Fretting(tuple(fingers.get(count - i, 0) for i in range(count)), barre, round(cost, 3))
