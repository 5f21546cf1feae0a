"""The thumb plans as players say them."""

from __future__ import annotations

import msgspec

from gingham.core.pieces.rules import FirstRule, OwnRules, ThumbPlan
from gingham.language import tr
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
    "root": PlanWords(tr("stays on the bass"), tr("One bass string"), tr("the thumb on the first bass")),
    "pair": PlanWords(
        tr("alternating bass (6-4, 5-4, 4-3)"),
        tr("The bass and its partner"),
        tr("the thumb on the bass and its partner"),
    ),
    "string-4": PlanWords(
        tr("bass, then string 4"), tr("Always string 4"), tr("the thumb on the bass, then string 4")
    ),
    "root-fifth": PlanWords(tr("root and fifth"), "", tr("the thumb on root and fifth")),
    "up-and-back": PlanWords(tr("up the strings and back"), "6 5 4 5", tr("the thumb up and back")),
    "rise": PlanWords(tr("three rising strings"), "6 4 3", tr("the thumb on three rising strings")),
    "tour": PlanWords(tr("tour of the chord"), "", tr("the thumb on a tour of the chord")),
    "named": PlanWords(tr("strings of my own"), tr("Type them"), tr("the thumb on strings of its own")),
}
THUMB_NAMES = {plan: words.name for plan, words in PLAN_WORDS.items()}


def explained(what: str, because: str) -> str:
    """An exception with the player's own reason for it: `D: middle on string 1 – the tune is there`."""
    return tr("{what} – {because}", what=what, because=because) if because else what


def own_text(own: OwnRules) -> str:
    """What a section or a chord has of its own: `thumb root and fifth, fingers stay at home`."""
    parts = []
    if own.thumb is not None:
        parts.append(tr("thumb {plan_name}", plan_name=plan_name(own.thumb)))
    if own.fingers is not None:
        parts.append(tr("fingers {kind}", kind=POLICY_NAMES[own.fingers.kind]))
    if own.first is not None:
        parts.append(tr("first bass {first_name}", first_name=first_name(own.first)))
    if own.four_string is not None:
        parts.append(tr("with four strings {four_string}", four_string=FOUR_STRING_NAMES[own.four_string]))
    if own.hand is not None:
        parts.append(HAND_NAMES[own.hand])
    if own.hold is not None:
        parts.append(tr("holding {hold}", hold=HOLD_NAMES[own.hold]))
    if own.accents is not None:
        parts.append(tr("accents {accents}", accents=ACCENT_NAMES[own.accents]))
    return ", ".join(parts)


def first_name(first: FirstRule) -> str:
    """A rule for the first bass in words: `root`, `on string 5`."""
    return tr("on string {string}", string=first.string) if first.kind == "named" else FIRST_NAMES[first.kind]


def plan_name(plan: ThumbPlan) -> str:
    """A thumb plan in words: `root and fifth`, `on strings 6, 4`."""
    walk = tr(", going on over the bars") if plan.each_bar else ""
    walk += tr(", walking out") if plan.walk else ""
    if plan.kind == "named":
        return tr("on strings {strings}{walk}", strings=", ".join(map(str, plan.strings)), walk=walk)
    return THUMB_NAMES[plan.kind] + walk
