"""A pattern tapped in time: fingers and moments become places of the grid that fits them best.

A player taps a little early or late all through: the median distance from the grid is taken off first. The
grid is the coarsest whose remaining distances are not much larger than those of a finer one.
"""

from __future__ import annotations

from fractions import Fraction
from statistics import median

import msgspec

from gingham.core.errors import PatternError
from gingham.core.music.meter import Meter, count_at, seconds
from gingham.core.patterns.figures import places
from gingham.core.patterns.pattern import FINGERS, Pattern, Slot, order
from gingham.core.patterns.shorthand import read_slot
from gingham.core.reasons import Reason

GRIDS = (1, 2, 3, 4)
TAP_KEYS = (*FINGERS, "d", "u", "k")
MOST_TAPS = 400
_FINER = 0.6  # a finer grid must bring the distances down to this share of the coarser one's
_TOLD_MS = 45  # a tap moved by more than this is told
_CLOSE = 0.08  # a grid whose taps lie within this share of a place fits well enough


class Tap(msgspec.Struct, frozen=True, gc=False):
    """A finger (or d, u, k for a brush or chuck) and when, in whole notes from the music's first bar line."""

    at: float
    finger: str


class Tapped(msgspec.Struct, frozen=True, gc=False):
    """The pattern, and what was guessed on the way to it."""

    pattern: Pattern
    guesses: tuple[Reason, ...]


def quantised(taps: tuple[Tap, ...], meter: Meter, tempo_bpm: float, per_beat: int | None = None) -> Tapped:
    """The pattern of whole bars that the taps mean; `per_beat` fixes the grid.

    Raises
    ------
    PatternError
        If nothing was tapped, or more than MOST_TAPS.
    """
    if not 0 < len(taps) <= MOST_TAPS:
        raise PatternError("tap-none" if not taps else "tap-many", most=MOST_TAPS)
    beat = float(meter.tempo_beat)
    counts = (per_beat,) if per_beat else (3, 6, 1) if meter.unit == 8 and set(meter.groups) == {3} else GRIDS
    tried = [(_distances(taps, beat / count), count) for count in counts]
    best = tried[0]
    for distances, count in tried[1:]:
        off, now = _off(distances, beat / count), _off(best[0], beat / best[1])
        if now > _CLOSE and off * beat / count < _FINER * now * beat / best[1]:
            best = (distances, count)
    return _laid(taps, best[1], meter, tempo_bpm)


def _distances(taps: tuple[Tap, ...], place: float) -> list[float]:
    """How far each tap is from the nearest place, the common lateness taken off."""
    raw = [_from_grid(tap.at, place) for tap in taps]
    late = median(raw)
    return [_from_grid(tap.at - late, place) for tap in taps]


def _from_grid(at: float, place: float) -> float:
    return at - round(at / place) * place


def _off(distances: list[float], place: float) -> float:
    """The mean distance as a share of a place."""
    return sum(map(abs, distances)) / len(distances) / place


def _laid(taps: tuple[Tap, ...], count: int, meter: Meter, tempo_bpm: float) -> Tapped:
    beat = float(meter.tempo_beat)
    place = beat / count
    late = median(_from_grid(tap.at, place) for tap in taps)
    grid = meter.groups if len(set(meter.groups)) > 1 else (count,)
    whole = places(meter, grid)
    indices = [max(0, round((tap.at - late) / place)) for tap in taps]
    bars = max(indices) // whole + 1
    slots: list[Slot] = [()] * (bars * whole)
    guesses: list[Reason] = []
    second = seconds(Fraction(1), meter, tempo_bpm)  # how long a whole note lasts
    for tap, index in zip(taps, indices, strict=True):
        away_ms = round((tap.at - late - index * place) * second * 1000)
        said = count_at(meter, Fraction(index % whole) * meter.bar / whole)
        if abs(away_ms) > _TOLD_MS:
            side = "late" if away_ms > 0 else "early"
            guesses.append(Reason.of("tap-moved", count=said, ms=abs(away_ms), side=side))
        (stroke,) = read_slot(tap.finger)
        if stroke in slots[index]:
            continue
        if slots[index]:
            guesses.append(Reason.of("tap-joined", count=said, ms=round(place * second * 1000)))
        slots[index] = order((*slots[index], stroke))
    mean = sum(abs(tap.at - late - i * place) for tap, i in zip(taps, indices, strict=True)) / len(taps)
    told = Reason.of("tap-grid", count=count, ms=round(mean * second * 1000))
    return Tapped(Pattern(meter, grid, tuple(slots)), (told, Reason.of("tap-bars", bars=bars), *guesses))
