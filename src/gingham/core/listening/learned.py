"""The hand learned: gaps between plucks that a player really manages, from takes that held.

What is comfortable is 85 % of the speed that was managed, never the edge. A gap that was never tried at the
guessed speed keeps the guess: slow takes say nothing about how fast a hand can go.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence

import msgspec

from gingham.core.hands.motor import Motor, learned_level, motor_of
from gingham.core.listening.score import Mark
from gingham.core.values import replace

COMFORT = 0.85
LEAST_TAKES = 5
_HELD, _EVEN_MS = 0.95, 20.0
_LEAST_GAPS = 4
_SHORT = 0.25  # the shortest quarter of the gaps: those that a take is about
_KEEPS = 6  # takes that say how fast: the fastest ones


class Gaps(msgspec.Struct, frozen=True, omit_defaults=True):
    """The shortest gaps of a take in seconds, by what moves; 0 where that was not played often enough.

    `same` is a finger's next pluck on its string, `thumb` the thumb's, `any` from one finger to another.
    `held` says whether the take was even and on its strings.
    """

    same: float = 0.0
    thumb: float = 0.0
    any: float = 0.0
    held: bool = False


class Learned(msgspec.Struct, frozen=True):
    """A hand, and from how many takes it was learned."""

    motor: Motor
    takes: int

    @property
    def level(self) -> str:
        """The level of a piece that is judged by this hand."""
        return learned_level(self.motor, self.takes)


def gaps_of(marks: Sequence[Mark], spread_ms: float, base: Motor) -> Gaps:
    """What a take shows of a hand: `marks` in order of time, spread in milliseconds around the beat.

    Jumps count with what a jump costs the `base` hand taken off.
    """
    same, thumb, other = list[float](), list[float](), list[float]()
    last: dict[str, Mark] = {}
    before: Mark | None = None
    judged = [m for m in marks if m.state in ("right", "wrong", "missed")]
    for mark in judged:
        if mark.finger is None or mark.state != "right":
            before = None
            continue
        own = last.get(mark.finger)
        if own is not None and own.bar <= mark.bar:
            gap = mark.t_s - own.t_s - base.per_string_s * abs(mark.string - own.string)
            (thumb if mark.finger == "p" else same).append(gap)
        if before is not None and before.finger != mark.finger and mark.time > before.time:
            other.append(mark.t_s - before.t_s)
        last[mark.finger], before = mark, mark
    right = sum(mark.state == "right" for mark in judged)
    held = bool(judged) and right >= _HELD * len(judged) and spread_ms <= _EVEN_MS
    return Gaps(_shortest(same), _shortest(thumb), _shortest(other), held)


def _shortest(gaps: list[float]) -> float:
    """The middle of the shortest quarter; 0 for too few."""
    real = sorted(gap for gap in gaps if gap > 0.02)
    if len(real) < _LEAST_GAPS:
        return 0.0
    short = real[: max(_LEAST_GAPS, int(_SHORT * len(real)))]
    return round(short[len(short) // 2], 4)


def learned(takes: Iterable[Gaps], base: str = "growing") -> Learned | None:
    """The hand that the takes show; None for fewer than LEAST_TAKES that held."""
    known = list(takes)
    held = [each for each in known if each.held]
    if len(held) < LEAST_TAKES:
        return None
    guess = motor_of(base)
    return Learned(
        replace(
            guess,
            same_finger_s=_comfortable([g.same for g in held], [g.same for g in known], guess.same_finger_s),
            thumb_s=_comfortable([g.thumb for g in held], [g.thumb for g in known], guess.thumb_s),
            any_s=_comfortable([g.any for g in held], [g.any for g in known], guess.any_s),
        ),
        len(held),
    )


def _comfortable(held: list[float], tried: list[float], guess: float) -> float:
    """The gap at 85 % of the speed that was managed; the guess where nobody has tried to be faster."""
    managed = sorted(gap for gap in held if gap)[:_KEEPS]
    if not managed:
        return guess
    gap = round(managed[len(managed) // 2] / COMFORT, 3)
    failed = any(0.0 < each < guess for each in tried) if gap > guess else False
    return gap if gap < guess or failed else guess
