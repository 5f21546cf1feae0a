"""Cautions for the hands, in one place."""

from __future__ import annotations

from gingham.words.actions import key_of

_CARD = (
    "<p>Stop at pain, numbness or tingling. Rest, and see a clinician if it lasts.</p>"
    "<p>Sit upright, the wrist straight and relaxed, fingers close to the strings. Warm up, and take a break "
    "about every 20 to 25 minutes, sooner where there is much barre: a shape that saves the thumb is a good "
    "choice, not a lesser one.</p><p>Begin slowly and quietly; the sound is set to a safe loudness. Never tune a "
    "string above its normal pitch. Your teacher’s word goes before the program’s.</p>"
)


CAUTION = (
    "Sit upright, the wrist straight and relaxed. Stop at pain, numbness or tingling; take a break every 20 to 25 "
    "minutes. Your teacher’s word goes before this sheet’s."
)
"""The short form, for a sheet."""


def card(played_s: float, barre_beats: float) -> str:
    """The set-up card, with the minutes since the last break and the beats of barre, where there are any."""
    so_far = []
    if played_s >= 60:
        so_far.append(f"{played_s / 60:.0f} minutes played since the last break")
    if barre_beats:
        so_far.append(f"{barre_beats:.0f} beats of barre in this session")
    return _CARD + (f"<p>So far: {', '.join(so_far)}.</p>" if so_far else "")


def first_notice() -> str:
    """Before the very first play, in one line: nothing waits for it."""
    return f"Sit upright, wrist straight and relaxed; begin slowly, stop at pain. {key_of('hand')} says more."


def break_notice() -> str:
    """A break is due."""
    return "Time for a break: put the instrument down for a few minutes. (Help, Remind me of breaks)"


def barre_notice(beats: float) -> str:
    """Much barre has been played."""
    return f"{beats:.0f} beats of barre so far: rest the thumb. F9 shows shapes without a barre, F6 a capo instead."
