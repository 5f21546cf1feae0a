"""The orders of learning, and those in which fingers join; apart from what makes stages of them."""

from __future__ import annotations

ORDERS = ("picking", "chords", "mixed", "sections")
"""The picking hand first, the chords first, both by turns, section by section."""
JOINS = ("pimac", "imacp", "pamic")
"""The orders in which fingers join: the thumb first, the fingers first, from the outside in."""
