"""Figure fitting: the ways in which a figure of n strokes can sit on the beat grid of a meter.

A figure is an order without beats. Each way is a whole pattern; `rounds` says after how many bars figure and
bar line meet again: n places against a bar of T places come round after lcm(n, T) / T bars.
"""

from __future__ import annotations

from fractions import Fraction
from math import lcm

import msgspec

from gingham.core.errors import PatternError
from gingham.core.music.meter import SLOT_COUNTS, Meter, count_at, meter, slot_lengths
from gingham.core.patterns.pattern import Align, Pattern, Pluck, Slot
from gingham.core.reasons import Reason, Value

MOST_STROKES = 64
_METERS = tuple(meter(*m) for m in ((2, 4), (3, 4), (4, 4), (5, 4), (5, 8), (6, 8), (7, 8), (9, 8), (12, 8)))

Figure = tuple[Slot, ...]


class Way(msgspec.Struct, frozen=True, gc=False):
    """One way to sit a figure: why it fits (`reason`), the pattern, how it is laid on bars, and `rounds`."""

    reason: Reason
    pattern: Pattern
    align: Align = "bar"
    rounds: int = 1


def plain_figure(count: int) -> Figure:
    """A figure of `count` strokes: thumb, then the fingers up and back; PatternError if too many."""
    if not 1 <= count <= MOST_STROKES:
        raise PatternError("figure-strokes", given=count, most=MOST_STROKES)
    rest = [("i", "m", "a", "m")[index % 4] for index in range(count - 1)]
    return tuple((Pluck(finger),) for finger in ("p", *rest))


def ways(figure: Figure, meter: Meter) -> tuple[Way, ...]:
    """Every sensible way to sit `figure` in `meter`, the plainest first.

    Raises
    ------
    PatternError
        If the figure is empty or has more than MOST_STROKES places.
    """
    if not 1 <= len(figure) <= MOST_STROKES:
        raise PatternError("figure-strokes", given=len(figure), most=MOST_STROKES)
    found = [
        *_even(figure, meter),
        *_rested(figure, meter),
        *_cut_and_rolling(figure, meter),
        *_meters(figure, meter),
    ]
    known: dict[object, Way] = {}
    for way in found:
        known.setdefault((way.pattern, way.align), way)
    return tuple(known.values())


def _way(code: str, pattern: Pattern, align: Align = "bar", rounds: int = 1, **values: Value) -> Way:
    return Way(Reason.of(code, **values), pattern, align, rounds)


def grids(meter: Meter) -> tuple[tuple[int, ...], ...]:
    """Usual grids of a meter, coarse to fine; where the beats differ, its eighths and their halves."""
    if len(set(meter.groups)) == 1:
        return tuple((count,) for count in SLOT_COUNTS)
    return (meter.groups, tuple(2 * group for group in meter.groups))


def usual_grid(meter: Meter) -> tuple[int, ...]:
    """The grid that a meter is counted in: eighths."""
    if meter.unit == 8:
        return meter.groups if len(set(meter.groups)) > 1 else (meter.groups[0],)
    return (2,) if meter.unit == 4 else (4,)


def places(meter: Meter, per_beat: tuple[int, ...]) -> int:
    """How many places of a grid a bar has."""
    return len(slot_lengths(meter, per_beat))


def _even(figure: Figure, meter: Meter) -> list[Way]:
    """Spread evenly over the bar, two bars, or a part of it that comes several times."""
    count, out = len(figure), []
    for bars in (1, 2) if count >= 2 * len(meter.groups) else (1,):
        grid = _even_grid(count, bars, meter)
        if grid is not None:
            rests: Figure = ((),) * (bars * places(meter, grid) // count - 1)
            slots = tuple(slot for stroke in figure for slot in (stroke, *rests))
            out.append(_way("way-even", Pattern(meter, grid, slots), bars=bars))
    for beats in _parts(meter):
        if count % beats == 0 and count // beats in SLOT_COUNTS:
            out.append(_way("way-even-in", Pattern(meter, (count // beats,), figure), beats=beats))
    return out


def _even_grid(count: int, bars: int, meter: Meter) -> tuple[int, ...] | None:
    """The coarsest grid on which `count` strokes are equally far apart over some bars; None without one."""
    if len(set(meter.groups)) > 1:
        return meter.groups if bars * places(meter, meter.groups) == count else None
    return next((grid for grid in grids(meter) if bars * places(meter, grid) % count == 0), None)


def _parts(meter: Meter) -> list[int]:
    """Numbers of counted beats that fill a bar several times over."""
    beats = len(meter.groups)
    if len(set(meter.groups)) > 1:
        return []
    return [part for part in range(beats - 1, 0, -1) if beats % part == 0]


def _rested(figure: Figure, meter: Meter) -> list[Way]:
    """With rests: in the smallest grid with room, of the bar and of the parts of it."""
    out: list[Way] = []
    for beats in (len(meter.groups), *_parts(meter)):
        roomy = [grid for grid in grids(meter) if len(figure) < _room(meter, grid, beats) < 2 * len(figure)]
        for grid in _roomiest(roomy) if len(figure) > 1 else ():
            room = _room(meter, grid, beats)
            for code, slots in _with_rests(figure, room):
                pattern = Pattern(meter, grid, slots)
                whole = beats == len(meter.groups)
                out.append(
                    _way(code, pattern, rests=room - len(figure), places=room, beats=0 if whole else beats)
                )
    return out


def _roomiest(grids: list[tuple[int, ...]]) -> list[tuple[int, ...]]:
    """The coarsest grid with room, and the next one that halves the beat where that one does not."""
    halving = [grid for grid in grids[1:] if grid[0] % 2 == 0 and grids[0][0] % 2]
    return [*grids[:1], *halving[:1]]


def _room(meter: Meter, grid: tuple[int, ...], beats: int) -> int:
    return places(meter, grid) if beats == len(meter.groups) else grid[0] * beats


def _with_rests(figure: Figure, room: int) -> list[tuple[str, Figure]]:
    """The rests at the end, after the first stroke, and spread as evenly as the grid allows."""
    rests: Figure = ((),) * (room - len(figure))
    spread: list[Slot] = [()] * room
    for index, slot in enumerate(figure):
        spread[index * room // len(figure)] = slot
    return [
        ("way-rest-end", (*figure, *rests)),
        ("way-rest-second", (figure[0], *rests, *figure[1:])),
        ("way-spread", tuple(spread)),
    ]


def _cut_and_rolling(figure: Figure, meter: Meter) -> list[Way]:
    """Repeated and cut short by the bar (3+3+2), and rolling on across the bar line."""
    grid, count = usual_grid(meter), len(figure)
    whole = places(meter, grid)
    out: list[Way] = []
    if count < whole:
        times, rest = divmod(whole, count)
        groups = (count,) * times + ((rest,) if rest else ())
        filled = (figure * (times + 1))[:whole]
        if rest:
            out.append(_way("way-cut", Pattern(meter, grid, filled), groups=groups))
        elif len(set(meter.groups)) > 1:
            out.append(_way("way-groups", Pattern(meter, grid, filled), groups=groups))
    if len(set(meter.groups)) == 1 and whole % count:
        rounds = lcm(count, whole) // whole
        pattern = Pattern(meter, grid, figure)
        out.append(_way("way-roll", pattern, "run", rounds, strokes=count, bars=rounds))
    return out


def _meters(figure: Figure, meter: Meter) -> list[Way]:
    """Other meters in which the figure fills a bar of eighths."""
    return [
        _way("way-meter", Pattern(other, usual_grid(other), figure), meter=str(other))
        for other in _METERS
        if other != meter and places(other, usual_grid(other)) == len(figure)
    ]


def counts_of(pattern: Pattern) -> tuple[tuple[str, bool], ...]:
    """For each place of the pattern what is said there, and whether it is plucked."""
    bar = pattern.meter.bar
    return tuple(
        (count_at(pattern.meter, at % bar), bool(slot))
        for at, slot in zip(pattern.starts[:-1], pattern.slots, strict=True)
    )


def even_fault(count: int, meter: Meter) -> Reason | None:
    """Why `count` strokes cannot be spread over a bar so that they can be counted; None if they can."""
    if _even_grid(count, 1, meter) is not None:
        return None
    shares = Fraction(count, len(meter.groups))
    return Reason.of("way-uncountable", strokes=count, beats=len(meter.groups), share=str(shares))
