"""A pattern said aloud in finger words, rests included."""

from __future__ import annotations

from gingham.core.patterns.pattern import Pattern, Pluck, Slot, StringStroke, Sweep
from gingham.words.names import FINGER_NAMES

_SWEEPS = {"brush-down": "brush", "brush-up": "up-brush", "thumb-brush": "thumb-brush", "chuck": "chuck"}


def finger_words(pattern: Pattern) -> str:
    """`pinch — thumb index`: one word a place, a dash for each rest, commas between beats kept out."""
    return " ".join(_slot_word(slot) for slot in pattern.slots)


def _slot_word(slot: Slot) -> str:
    if not slot:
        return "—"
    if len(slot) > 1:
        return "pinch"
    stroke = slot[0]
    if isinstance(stroke, Sweep):
        return _SWEEPS[stroke.kind]
    if isinstance(stroke, StringStroke):
        return str(stroke.string)
    assert isinstance(stroke, Pluck)
    return FINGER_NAMES[stroke.finger]
