"""Patterns joined bar after bar: an order of the player's own, or one drawn with a seed that is told."""

from __future__ import annotations

from fractions import Fraction
from math import lcm
from random import Random

import msgspec

from gingham.core.errors import EditError
from gingham.core.music.meter import SLOT_COUNTS, Meter
from gingham.core.patterns.grid import MOST_SLOTS, regridded
from gingham.core.patterns.pattern import Pattern, Pluck, Slot, order
from gingham.core.values import replace

MOST_BARS = 32


class Mix(msgspec.Struct, frozen=True, gc=False):
    """A pattern of several bars and the names of the patterns that its bars were taken from.

    With `by_place`, those that places were taken from where there was something to choose.
    """

    pattern: Pattern
    used: tuple[str, ...]
    seed: int | None = None
    by_place: bool = False


def in_order(named: dict[str, Pattern], names: tuple[str, ...]) -> Mix:
    """The bars of `named` patterns in an order of names; each takes a pattern's first bar.

    Raises
    ------
    EditError
        Unknown name, more than MOST_BARS bars, different meters, or grids that no common one can hold.
    """
    if not 0 < len(names) <= MOST_BARS:
        raise EditError("mix-bars", given=len(names), most=MOST_BARS)
    for name in names:
        if name not in named:
            raise EditError("no-pattern", name=name)
    used = [named[name] for name in names]
    grid = _common([pattern.per_beat for pattern in used], used[0].meter)
    if any(pattern.meter != used[0].meter for pattern in used):
        raise EditError("mix-meters")
    bars: list[Slot] = []
    for pattern in used:
        bars += _first_bar(regridded(replace(pattern, breaks=(), variants=()), grid).pattern)
    if len(bars) > MOST_SLOTS:
        raise EditError("pattern-full", most=MOST_SLOTS)
    return Mix(Pattern(used[0].meter, grid, tuple(bars)), names)


def shuffled(named: dict[str, Pattern], bars: int, seed: int) -> Mix:
    """`bars` bars drawn from `named` with `seed`, never one three times running if there are others."""
    names, draw = sorted(named), Random(seed)
    drawn: list[str] = []
    for _ in range(bars):
        stuck = drawn[-1] if len(drawn) > 1 and drawn[-1] == drawn[-2] else None
        drawn.append(draw.choice([name for name in names if name != stuck or len(names) == 1]))
    return replace(in_order(named, tuple(drawn)), seed=seed)


def drawn_places(named: dict[str, Pattern], bars: int, seed: int) -> Mix:
    """`bars` bars whose every place is drawn with `seed` from what the `named` patterns have there.

    No finger plucks twice running where another choice avoids it. Raises as `in_order` does.
    """
    names, draw = sorted(named), Random(seed)
    rows = in_order(named, tuple(names)).pattern
    width = len(rows.slots) // len(names)
    if bars * width > MOST_SLOTS:
        raise EditError("pattern-full", most=MOST_SLOTS)
    choices: list[dict[Slot, str]] = [{} for _ in range(width)]
    for index, slot in enumerate(rows.slots):
        choices[index % width].setdefault(slot, names[index // width])
    slots: list[Slot] = []
    used: list[str] = []
    for place in range(bars * width):
        choice = choices[place % width]
        fresh = [slot for slot in choice if not slots or not _fingers(slots[-1]) & _fingers(slot)]
        slots.append(draw.choice(fresh or list(choice)))
        used += [choice[slots[-1]]] if len(choice) > 1 else []
    return Mix(replace(rows, slots=tuple(slots)), tuple(used), seed, by_place=True)


def _fingers(slot: Slot) -> set[str]:
    """The fingers that pluck in a place; the thumb may pluck twice running."""
    return {s.finger for s in slot if isinstance(s, Pluck) and s.finger != "p"}


def with_thumb(mix: Mix, thumb: Pattern) -> Mix:
    """A mix whose every bar has the thumb of the first bar of `thumb`; the fingers stay as they are.

    Raises
    ------
    EditError
        If no common grid holds both.
    """
    pattern = mix.pattern
    grid = _common([pattern.per_beat, thumb.per_beat], pattern.meter)
    whole = regridded(pattern, grid).pattern
    bar = _first_bar(regridded(replace(thumb, breaks=(), variants=()), grid).pattern)
    slots = tuple(
        order((*_thumb(bar[index % len(bar)], True), *_thumb(slot, False)))
        for index, slot in enumerate(whole.slots)
    )
    return replace(mix, pattern=replace(whole, slots=slots))


def _thumb(slot: Slot, wanted: bool) -> Slot:
    """The thumb's strokes of a place, or all others."""
    return tuple(s for s in slot if (isinstance(s, Pluck) and s.finger == "p") == wanted)


def _common(grids: list[tuple[int, ...]], meter: Meter) -> tuple[int, ...]:
    """The coarsest grid that holds the places of all of them."""
    beats = len(meter.groups)
    wide = [grid * beats if len(grid) == 1 else grid for grid in grids]
    counts = tuple(lcm(*column) for column in zip(*wide, strict=True))
    if any(count not in SLOT_COUNTS for count in counts):
        raise EditError("mix-grid", grids=tuple(",".join(map(str, grid)) for grid in dict.fromkeys(grids)))
    return counts[:1] if len(set(counts)) == 1 else counts


def _first_bar(pattern: Pattern) -> tuple[Slot, ...]:
    """The places of the pattern's first bar; a shorter one is repeated."""
    whole = pattern
    while whole.length < pattern.meter.bar:
        whole = replace(whole, slots=whole.slots + pattern.slots)
    return tuple(s for at, s in zip(whole.starts, whole.slots, strict=False) if at < pattern.meter.bar)


def drawn_strings(pattern: Pattern, finger: str, strings: tuple[int, ...], bars: int, seed: int) -> Mix:
    """`pattern` over `bars` bars with every pluck of `finger` on one of `strings`, drawn with `seed`."""
    draw = Random(seed)
    whole = in_order({"": pattern}, ("",) * bars).pattern

    def lay(slot: Slot) -> Slot:
        return tuple(
            replace(s, shift=0, strings=(draw.choice(strings),))
            if isinstance(s, Pluck) and s.finger == finger
            else s
            for s in slot
        )

    slots = tuple(lay(slot) for slot in whole.slots)
    used = tuple(
        str(s.strings[0]) for slot in slots for s in slot if isinstance(s, Pluck) and s.finger == finger
    )
    return Mix(replace(whole, slots=slots), used, seed)


def by_turns(pattern: Pattern, finger: str, strings: tuple[int, ...]) -> Pattern:
    """Every pluck of `finger` on `strings` by turns; on its own string again if `strings` is empty."""

    def lay(slot: Slot) -> Slot:
        return tuple(
            replace(s, shift=0, strings=strings) if isinstance(s, Pluck) and s.finger == finger else s
            for s in slot
        )

    return replace(pattern, slots=tuple(lay(slot) for slot in pattern.slots))


def bars_of(pattern: Pattern) -> Fraction:
    """The pattern's length in bars."""
    return pattern.length / pattern.meter.bar
