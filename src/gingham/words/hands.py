"""Cautions for the hands, in one place."""

from __future__ import annotations

from gingham.words.actions import key_of

CAUTION = (
    "Sit upright, the wrist straight and relaxed. Stop at pain, numbness or tingling; take a break every 20 to 25 "
    "minutes. Your teacher’s word goes before this sheet’s."
)
"""The short form, for a sheet."""
AFTER_PAIN = (
    "Put the instrument down and let the hand rest. Numbness, tingling, or pain that lasts: see a doctor. "
    "Your teacher’s and your doctor’s word go before the program’s."
)
"""After it hurt."""


def so_far(played_s: float, barre_beats: float) -> str:
    """The minutes since the last break and the beats of barre, where there are any; else nothing."""
    parts = []
    if played_s >= 60:
        parts.append(f"{played_s / 60:.0f} minutes played since the last break")
    if barre_beats:
        parts.append(f"{barre_beats:.0f} beats of barre in this session")
    return f"So far: {', '.join(parts)}." if parts else ""


def first_notice() -> str:
    """Before the very first play, in one line: nothing waits for it."""
    return f"Sit upright, wrist straight and relaxed; begin slowly, stop at pain. {key_of('hand')} says more."


def break_notice() -> str:
    """A break is due."""
    return "Time for a break: put the instrument down for a few minutes. (Help, Remind me of breaks)"


def stretch_notice(seconds: int) -> str:
    """A barre has been held for so long without a break."""
    return f"{seconds} seconds of barre without a break: let go, shake the hand out, then go on."


def posture_notice(*, nails: bool) -> str:
    """The player's own reminder."""
    more = " Nails smooth?" if nails else ""
    return f"Upright, shoulders low, wrist straight, small distance to the strings.{more}"


def barre_notice(beats: float) -> str:
    """Much barre has been played."""
    return f"{beats:.0f} beats of barre so far: rest the thumb. F9 shows shapes without a barre, F6 a capo instead."
