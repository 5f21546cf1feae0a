"""The thumb plans as players say them."""

from __future__ import annotations

import msgspec

from gingham.core.pieces.rules import ThumbPlan


class PlanWords(msgspec.Struct, frozen=True):
    """A plan's `name` in a list, its `tip` (what it does, short, or nothing), and how a guess tells it."""

    name: str
    tip: str
    told: str


PLAN_WORDS = {
    "root": PlanWords("stays on the bass", "One bass string", "the thumb on the first bass"),
    "pair": PlanWords(
        "bass and partner", "6 and 4, 5 and 4, 4 and 3", "the thumb on the bass and its partner"
    ),
    "string-4": PlanWords("bass, then string 4", "Always string 4", "the thumb on the bass, then string 4"),
    "root-fifth": PlanWords("root and fifth", "", "the thumb on root and fifth"),
    "up-and-back": PlanWords("up the strings and back", "6 5 4 5", "the thumb up and back"),
    "rise": PlanWords("three rising strings", "6 4 3", "the thumb on three rising strings"),
    "tour": PlanWords("tour of the chord", "", "the thumb on a tour of the chord"),
    "named": PlanWords("strings of my own", "Type them", "the thumb on strings of its own"),
}
THUMB_NAMES = {plan: words.name for plan, words in PLAN_WORDS.items()}


def plan_name(plan: ThumbPlan) -> str:
    """A thumb plan in words: `bass and partner`, `on strings 6, 4`."""
    walk = ", walking out" if plan.walk else ""
    if plan.kind == "named":
        return f"on strings {', '.join(map(str, plan.strings))}{walk}"
    return THUMB_NAMES[plan.kind] + walk
