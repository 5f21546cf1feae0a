"""Cautions for the hands, in one place."""

from __future__ import annotations

from gingham.language import tr
from gingham.words.actions import key_of

CAUTION = tr(
    "Sit upright, the wrist straight and relaxed. Stop at pain, numbness or tingling; take a break every 20 to 25 "
    "minutes. Your teacher’s word goes before this sheet’s."
)
"""The short form, for a sheet."""
AFTER_PAIN = tr(
    "Put the instrument down and let the hand rest. Numbness, tingling, or pain that lasts: see a doctor. "
    "Your teacher’s and your doctor’s word go before the program’s."
)
"""After it hurt."""


def so_far(played_s: float, barre_beats: float) -> str:
    """The minutes since the last break and the beats of barre, where there are any; else nothing."""
    parts = []
    if played_s >= 60:
        parts.append(tr("{played_s:.0f} minutes played since the last break", played_s=played_s / 60))
    if barre_beats:
        parts.append(tr("{barre_beats:.0f} beats of barre in this session", barre_beats=barre_beats))
    return tr("So far: {parts}.", parts=", ".join(parts)) if parts else ""


def first_notice() -> str:
    """Before the very first play, in one line: nothing waits for it."""
    return tr(
        "Sit upright, wrist straight and relaxed; begin slowly, stop at pain. {shortcut} says more.",
        shortcut=key_of("hand"),
    )


def break_notice() -> str:
    """A break is due."""
    return tr("Time for a break: put the instrument down for a few minutes. (Help, Remind me of breaks)")


def stretch_notice(seconds: int) -> str:
    """A barre has been held for so long without a break."""
    return tr(
        "{seconds} seconds of barre without a break: let go, shake the hand out, then go on.", seconds=seconds
    )


def posture_notice(*, nails: bool) -> str:
    """The player's own reminder."""
    more = tr(" Nails smooth?") if nails else ""
    return tr("Upright, shoulders low, wrist straight, small distance to the strings.{more}", more=more)


def barre_notice(beats: float) -> str:
    """Much barre has been played."""
    return tr(
        "{beats:.0f} beats of barre so far: rest the thumb. F9 shows shapes without a barre, "
        "F6 a capo instead.",
        beats=beats,
    )
