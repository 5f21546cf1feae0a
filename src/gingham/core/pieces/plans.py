"""The thumb plans in one table; fitting.thumb has for each the function that picks its strings.

A new plan is a row here, a picker there, and its names in words.plans: everything else reads this table.
"""

from __future__ import annotations

import msgspec

NAMED = "named"


class PlanTraits(msgspec.Struct, frozen=True, gc=False):
    """What a thumb plan is apart from the strings that it picks.

    `most` is how many basses it picks on one chord at most; a player's own strings may be more. A plan that
    `turns` takes three or more basses there and back (1 2 3 2), any other one round (1 2 3 1). What a plan
    that `hops` picks depends on the tempo: whether the fretting hand has the time. A plan `restarts` from
    bass 1 at every bar line, or only where the chord changes. One that `stays_on_four` keeps the thumb to one
    string where there are four, so that all three fingers find a string. One that `wants` its notes is about
    just these, and not about whatever string comes next.
    """

    name: str
    most: int = 2
    turns: bool = False
    hops: bool = False
    restarts: bool = True
    stays_on_four: bool = False
    wants: bool = False


_ROWS = (
    PlanTraits("root", most=1, stays_on_four=True),
    PlanTraits("pair"),
    PlanTraits("string-4", stays_on_four=True),
    PlanTraits("root-fifth", hops=True, wants=True),
    PlanTraits("up-and-back", most=3, turns=True),
    PlanTraits("rise", most=3),
    PlanTraits("tour", most=3, turns=True, hops=True, restarts=False),
    PlanTraits(NAMED, hops=True, wants=True),
)
PLANS = {row.name: row for row in _ROWS}
PICKING_PLANS = tuple(name for name in PLANS if name != NAMED)
"""The plans that pick the strings themselves, in the order in which they are offered."""


def counted_on(cycle: tuple[int, ...], count: int, lane: int | None) -> int:
    """The thumb's count after a stroke; a written bass (`lane`, from 1) goes on from its own place.

    One that the plan lacks is its last bass, for the count too.
    """
    if not cycle or lane is None:
        return count + 1
    bass = min(lane - 1, max(cycle))
    return count + 1 if cycle[count % len(cycle)] == bass else cycle.index(bass) + 1


def cycle_of(plan: str, count: int) -> tuple[int, ...]:
    """The order in which bare thumb strokes take `count` basses of a plan (indices from 0)."""
    if PLANS[plan].turns and count > 2:
        return (*range(count), *range(count - 2, 0, -1))
    return tuple(range(count))
