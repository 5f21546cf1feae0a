"""The orders of learning, and those in which fingers join; apart from what makes stages of them."""

from __future__ import annotations

import msgspec

ORDERS = ("picking", "chords", "mixed", "sections")
"""The picking hand first, the chords first, both by turns, section by section."""
JOINS = ("pimac", "imacp", "pamic")
"""The orders in which fingers join: the thumb first, the fingers first, from the outside in."""
OPENINGS = ("free", "count")
"""How a pattern is begun: at one's own pace with pauses, or to a slow count at once."""
SINGING = ("hum", "words")
"""The voice at last and humming first, or the words as soon as the hand goes."""


class Learning(msgspec.Struct, frozen=True):
    """How a player learns: one of ORDERS, of JOINS, of OPENINGS and of SINGING."""

    order: str = ORDERS[0]
    joins: str = JOINS[0]
    opening: str = OPENINGS[0]
    sing: str = SINGING[0]
