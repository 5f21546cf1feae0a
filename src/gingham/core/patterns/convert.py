"""A pattern in another meter: strokes keep their order and, as far as they can, their place in the bar."""

from __future__ import annotations

from fractions import Fraction

import msgspec

from gingham.core.music.meter import Meter
from gingham.core.patterns.figures import places, usual_grid
from gingham.core.patterns.pattern import Pattern, Pluck, Slot
from gingham.core.values import replace

_THUMB_WORTH, _FINGER_WORTH, _SWEEP_WORTH = 6.0, 7.0, 9.0
_ON_BEAT = 9.0  # what a thumb stroke on a counted beat is worth beyond itself
_ACCENT = 2.0
_SHIFT = 14.0  # what it costs to come a whole bar earlier or later
_FIRST = 100.0  # what begins the bar begins it in any meter


class Converted(msgspec.Struct, frozen=True, gc=False):
    """The pattern in its new meter, and the places of `source` (whole bars) that found no room."""

    pattern: Pattern
    source: Pattern
    left_out: tuple[int, ...]


def convert(pattern: Pattern, meter: Meter) -> Converted:
    """`pattern` in the meter `meter`, bar by bar, in that meter's eighths.

    A part of a bar is repeated to a whole one first. For each bar the strokes are matched in order to the new
    places so that thumb strokes stay on counted beats and as little as possible is left out (an alignment
    found by dynamic programming, after Needleman and Wunsch 1970). Variants stay behind.
    """
    source = _whole_bars(pattern)
    grid = usual_grid(meter)
    room = places(meter, grid)
    slots: list[Slot] = []
    left_out: list[int] = []
    for begin in _bars(source):
        inside = [i for i in range(len(source.slots)) if begin <= source.starts[i] < begin + source.meter.bar]
        shares = [(source.starts[i] - begin) / source.meter.bar for i in inside]
        matched = _match([source.slots[i] for i in inside], shares, _strong(source.meter), meter, grid)
        laid: list[Slot] = [()] * room
        for at, target in zip(inside, matched, strict=True):
            if target is not None:
                laid[target] = source.slots[at]
            elif source.slots[at]:
                left_out.append(at)
        slots += laid
    return Converted(Pattern(meter, grid, tuple(slots)), source, tuple(left_out))


def _whole_bars(pattern: Pattern) -> Pattern:
    """The pattern repeated until it fills whole bars, without variants and breaks."""
    plain = replace(pattern, breaks=(), variants=())
    times = 1
    while (plain.length * times) % plain.meter.bar and times < 12:
        times += 1
    return replace(plain, slots=plain.slots * times)


def _bars(pattern: Pattern) -> list[Fraction]:
    count = -(-pattern.length // pattern.meter.bar)
    return [number * pattern.meter.bar for number in range(count)]


def _strong(meter: Meter) -> frozenset[Fraction]:
    """Where counted beats begin, as shares of the bar."""
    return frozenset(at / meter.bar for at in meter.beat_starts)


def _match(
    slots: list[Slot],
    shares: list[Fraction],
    was_strong: frozenset[Fraction],
    meter: Meter,
    grid: tuple[int, ...],
) -> list[int | None]:
    """For each old place its new one, in order; None where it is left out."""
    bare = Pattern(meter, grid, ((),) * places(meter, grid))
    ends = [at / meter.bar for at in bare.starts[:-1]]
    strong = _strong(meter)
    best: list[list[float]] = [[0.0] * (len(ends) + 1) for _ in range(len(slots) + 1)]
    for i in range(len(slots) - 1, -1, -1):
        for j in range(len(ends) - 1, -1, -1):
            met = _worth(slots[i], shares[i], ends[j], ends[j] in strong) + best[i + 1][j + 1]
            best[i][j] = max(met if slots[i] else 0.0, best[i + 1][j], best[i][j + 1])
    out: list[int | None] = []
    j = 0
    for i, slot in enumerate(slots):
        while j < len(ends) and best[i][j] == best[i][j + 1] and best[i][j] != best[i + 1][j]:
            j += 1
        if not slot or j == len(ends) or best[i][j] == best[i + 1][j]:
            out.append(None)
        else:
            out.append(j)
            j += 1
    return out


def _worth(slot: Slot, share: Fraction, end: Fraction, on_beat: bool) -> float:
    """What it is worth to have the strokes of a slot at `end` (shares of the bar)."""
    value = 0.0
    for stroke in slot:
        thumb = isinstance(stroke, Pluck) and stroke.finger == "p"
        own = _THUMB_WORTH if thumb else _FINGER_WORTH if isinstance(stroke, Pluck) else _SWEEP_WORTH
        value += own + _ACCENT * stroke.accent + (_ON_BEAT if thumb and on_beat else 0.0)
    if share == end == 0:
        value += _FIRST
    return value - _SHIFT * abs(float(share - end))
