"""The thumb plans as players say them."""

from __future__ import annotations

import msgspec

from gingham.core.pieces.rules import FirstRule, OwnRules, ThumbPlan
from gingham.words.names import (
    ACCENT_NAMES,
    FIRST_NAMES,
    FOUR_STRING_NAMES,
    HAND_NAMES,
    HOLD_NAMES,
    POLICY_NAMES,
)


class PlanWords(msgspec.Struct, frozen=True):
    """A plan's `name` in a list, its `tip` (what it does, short, or nothing), and how a guess tells it."""

    name: str
    tip: str
    told: str


PLAN_WORDS = {
    "root": PlanWords("stays on the bass", "One bass string", "the thumb on the first bass"),
    "pair": PlanWords(
        "alternating bass (6-4, 5-4, 4-3)",
        "The bass and its partner",
        "the thumb on the bass and its partner",
    ),
    "string-4": PlanWords("bass, then string 4", "Always string 4", "the thumb on the bass, then string 4"),
    "root-fifth": PlanWords("root and fifth", "", "the thumb on root and fifth"),
    "up-and-back": PlanWords("up the strings and back", "6 5 4 5", "the thumb up and back"),
    "rise": PlanWords("three rising strings", "6 4 3", "the thumb on three rising strings"),
    "tour": PlanWords("tour of the chord", "", "the thumb on a tour of the chord"),
    "named": PlanWords("strings of my own", "Type them", "the thumb on strings of its own"),
}
THUMB_NAMES = {plan: words.name for plan, words in PLAN_WORDS.items()}


def own_text(own: OwnRules) -> str:
    """What a section or a chord has of its own: `thumb root and fifth, fingers stay at home`."""
    parts = []
    if own.thumb is not None:
        parts.append(f"thumb {plan_name(own.thumb)}")
    if own.fingers is not None:
        parts.append(f"fingers {POLICY_NAMES[own.fingers.kind]}")
    if own.first is not None:
        parts.append(f"first bass {first_name(own.first)}")
    if own.four_string is not None:
        parts.append(f"with four strings {FOUR_STRING_NAMES[own.four_string]}")
    if own.hand is not None:
        parts.append(HAND_NAMES[own.hand])
    if own.hold is not None:
        parts.append(f"holding {HOLD_NAMES[own.hold]}")
    if own.accents is not None:
        parts.append(f"accents {ACCENT_NAMES[own.accents]}")
    return ", ".join(parts)


def first_name(first: FirstRule) -> str:
    """A rule for the first bass in words: `root`, `on string 5`."""
    return f"on string {first.string}" if first.kind == "named" else FIRST_NAMES[first.kind]


def plan_name(plan: ThumbPlan) -> str:
    """A thumb plan in words: `root and fifth`, `on strings 6, 4`."""
    walk = ", going on over the bars" if plan.each_bar else ""
    walk += ", walking out" if plan.walk else ""
    if plan.kind == "named":
        return f"on strings {', '.join(map(str, plan.strings))}{walk}"
    return THUMB_NAMES[plan.kind] + walk
