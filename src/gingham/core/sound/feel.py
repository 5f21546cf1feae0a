"""Feel: how loud each stroke is, by accent profile, finger and place in the bar.

Gains are shares of the loudest stroke (0–1). Profiles are our own tables: `thumb` has the thumb above the
fingers and the first of the bar above all; `even` makes them equal; `march` lifts every counted beat; `lilt`
lightens what lies off the beat; `follow-x` lets one finger follow through, louder and brighter.
"""

from __future__ import annotations

from fractions import Fraction

import msgspec

from gingham.core.fitting.result import Event

_ACCENTS = (1.0, 1.3, 1.6)
_FRETTING_HAND = 0.35
_BRUSH = 0.4


class Feel(msgspec.Struct, frozen=True, gc=False):
    """Gains of a profile: of the thumb, of the fingers, of one finger that follows through, and factors
    for the first of the bar, for every counted beat, and for what lies between."""

    thumb: float = 0.6
    fingers: float = 0.5
    follows: str = ""
    downbeat: float = 1.0
    beats: float = 1.0
    between: float = 1.0


FEELS = {
    "thumb": Feel(0.62, 0.48, downbeat=1.22),
    "even": Feel(0.56, 0.56),
    "march": Feel(0.56, 0.5, downbeat=1.3, beats=1.18, between=0.88),
    "lilt": Feel(0.58, 0.52, downbeat=1.15, beats=1.06, between=0.68),
    "follow-i": Feel(0.55, 0.44, "i"),
    "follow-m": Feel(0.55, 0.44, "m"),
    "follow-a": Feel(0.55, 0.44, "a"),
}
FOLLOW_THROUGH = 1.55


def gain(event: Event, profile: str, at: Fraction, beats: frozenset[Fraction]) -> float:
    """The loudness of an event at `at` (from the bar's start, straight); `beats` are the counted ones."""
    if event.kind in ("hammer", "pull", "slide"):
        return _FRETTING_HAND
    feel = FEELS[profile]
    base = feel.thumb if event.finger == "p" else feel.fingers
    if event.kind.startswith("brush"):
        base *= _BRUSH / feel.fingers
    if feel.follows and event.finger == feel.follows:
        base *= FOLLOW_THROUGH
    place = feel.beats if at in beats else feel.between
    if at == 0 and (event.finger == "p" or profile in ("march", "lilt")):
        place = feel.downbeat
    return min(1.0, base * place * _ACCENTS[min(event.accent, 2)])


def bright(event: Event, profile: str) -> bool:
    """Whether a finger follows through here: its stroke is longer, so it sounds brighter too."""
    return bool(FEELS[profile].follows) and event.finger == FEELS[profile].follows
