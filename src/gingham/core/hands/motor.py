"""How fast a picking hand can go: the shortest gaps between strokes, by level.

These are Gingham's own starting values, chosen so that an alternating-thumb pattern in eighths comes out
near 100 beats a minute for a growing player; they are a table so that a player's own takes can replace
them later.
"""

from __future__ import annotations

import msgspec


class Motor(msgspec.Struct, frozen=True, gc=False):
    """Shortest comfortable gaps in seconds.

    `same_finger_s` from one pluck of a finger to its next, `thumb_s` the same for the thumb,
    `per_string_s` added for each string that the finger travels, `any_s` between two strokes of
    different fingers, `hop_s` for a fretting finger that hops to another string, `cross_s` added where a
    finger passes over the one before it, `stretch_s` added to a pinch for each string beyond the next one
    between two of its fingers.
    """

    same_finger_s: float
    thumb_s: float
    per_string_s: float
    any_s: float
    hop_s: float
    cross_s: float
    stretch_s: float

    def gap_s(self, thumb: bool, strings: int) -> float:
        """The gap one finger needs between two plucks `strings` apart."""
        return (self.thumb_s if thumb else self.same_finger_s) + self.per_string_s * strings


MOTORS = {
    "starting": Motor(
        same_finger_s=0.46,
        thumb_s=0.44,
        per_string_s=0.05,
        any_s=0.17,
        hop_s=0.5,
        cross_s=0.14,
        stretch_s=0.06,
    ),
    "growing": Motor(
        same_finger_s=0.33,
        thumb_s=0.31,
        per_string_s=0.035,
        any_s=0.115,
        hop_s=0.35,
        cross_s=0.09,
        stretch_s=0.04,
    ),
    "fluent": Motor(
        same_finger_s=0.22,
        thumb_s=0.21,
        per_string_s=0.02,
        any_s=0.07,
        hop_s=0.22,
        cross_s=0.05,
        stretch_s=0.02,
    ),
}
