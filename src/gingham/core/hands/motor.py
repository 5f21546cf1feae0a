"""How fast a picking hand can go: the shortest gaps between strokes, by level.

These are Gingham's own starting values, chosen so that an alternating-thumb pattern in eighths comes out
near 100 beats a minute for a growing player. A hand that was learned from a player's own takes is a level
too: its text holds its numbers, so that a piece means the same wherever it is opened.
"""

from __future__ import annotations

from functools import lru_cache

import msgspec

from gingham.core.numbers import whole


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
_LEARNED, _MOST_MS, _MOST_TAKES = "learned", 5_000, 99_999


def learned_level(motor: Motor, takes: int) -> str:
    """A hand as a level: `learned:330-310-35-115-350-90-40:12`, milliseconds in Motor's order and takes."""
    return f"{_LEARNED}:{'-'.join(str(round(1000 * s)) for s in msgspec.structs.astuple(motor))}:{takes}"


@lru_cache(maxsize=256)
def motor_of(level: str) -> Motor:
    """The hand of a level.

    Raises
    ------
    ValueError
        If it is neither a known one nor the text of a learned one.
    """
    return MOTORS[level] if level in MOTORS else _read(level)[0]


def takes_of(level: str) -> int:
    """From how many takes a hand was learned; 0 for one that was not."""
    return 0 if level in MOTORS else _read(level)[1]


def _read(level: str) -> tuple[Motor, int]:
    kind, _, rest = level.partition(":")
    gaps, _, takes = rest.partition(":")
    values = gaps.split("-")
    if kind != _LEARNED or len(values) != len(Motor.__struct_fields__):
        raise ValueError(level)
    motor = Motor(*(whole(value, 1, _MOST_MS) / 1000.0 for value in values))
    return motor, whole(takes, 1, _MOST_TAKES)
