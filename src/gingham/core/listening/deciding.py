"""What became of the plucks of one moment: heard, another string instead, unclear, or missed.

The limits were set on takes with known truth, see `docs/decisions.md`.
"""

from __future__ import annotations

from collections.abc import Mapping

import msgspec

from gingham.core.listening.plan import SOFT, SWEPT, TakePlan
from gingham.core.listening.strings import Shares

_SIGN = 0.12  # of a string's usual weight: of 322 strings that were left out 320 have less

_COVERED = (0, 12, 19, 24)  # semitones up to the first, second, third and fourth partial


class Seen(msgspec.Struct, frozen=True):
    """What is known of a moment.

    `struck` is whether an onset was found for it, `sounding` the pitches of the strings that can sound,
    `usual` the usual weight of a pluck on each string (0 for all strings).
    """

    plan: TakePlan
    moment: int
    struck: bool
    sounding: dict[int, int]
    shares: Shares
    usual: Mapping[int, float]

    @property
    def planned(self) -> tuple[int, ...]:
        """The plucks of the moment."""
        return self.plan.moments[self.moment]

    @property
    def not_planned(self) -> list[int]:
        """The strings that can sound and should not."""
        own = {self.plan.plucks[i].string for i in self.planned}
        return [string for string in self.shares.share if string not in own]

    def relative(self, string: int) -> float:
        """A string's weight in its usual weights."""
        return self.shares.weight[string] / (self.usual.get(string, self.usual.get(0, 1.0)) + 1e-12)


class Decided(msgspec.Struct, frozen=True):
    """The plucks that were heard (pluck, string, how sure), those that were missed, and the unclear ones."""

    heard: list[tuple[int, int, float]]
    missed: list[int]
    unclear: list[int]


def decide(seen: Seen) -> Decided:
    """Judge each pluck of a moment."""
    out, free = Decided([], [], []), seen.not_planned
    absent = []
    for i in seen.planned:
        string = seen.plan.plucks[i].string
        if not _sounds(seen, string):
            absent.append(i)
        elif _outshone(seen, string):
            out.unclear.append(i)
        else:
            out.heard.append((i, string, _sure(seen, string)))
    for i in absent:
        string = seen.plan.plucks[i].string
        instead = _instead(seen, string, free)
        if instead is not None and _absent(seen, string):
            free.remove(instead)
            out.heard.append((i, instead, _sure(seen, instead)))
        elif instead is not None or _is_unclear(seen, i, free) or _is_covered(seen, i, out):
            out.unclear.append(i)
        else:
            out.missed.append(i)
    return out


def _sounds(seen: Seen, string: int) -> bool:
    share, evidence = seen.shares.share[string], seen.shares.evidence[string]
    relative = seen.relative(string)
    if not seen.struck:
        return relative > 0.25 and share > 0.3 and evidence > 0.1
    return (
        (share > 0.15 and relative > 0.12 and evidence > 0.02)
        or (relative > 0.3 and share > 0.1 and evidence > 0.015)
        or (share > 0.5 and relative > 0.1)
    )


def _is_covered(seen: Seen, pluck: int, out: Decided) -> bool:
    """Whether all partials of a pluck are also another's that sounds: the same pitch, octaves, a twelfth."""
    midi = seen.plan.plucks[pluck].midi
    return any(midi - seen.sounding[string] in _COVERED for _, string, _ in out.heard)


def _is_unclear(seen: Seen, pluck: int, free: list[int]) -> bool:
    """A weak sign of it or of another string; and notes of the fretting hand, which begin softly."""
    planned = seen.plan.plucks[pluck]
    if planned.kind in SOFT:
        return True
    if planned.kind in SWEPT and seen.struck:
        return True  # one string of a brush cannot be told from the next
    share, evidence = seen.shares.share[planned.string], seen.shares.evidence[planned.string]
    if seen.relative(planned.string) > _SIGN:
        return True  # too weak to be called heard, but a string that is not plucked is stiller
    if not seen.struck:
        return (share > 0.6 and evidence > 0.25) or _other(seen, free, 0.8, 0.2, 0.5)
    beside = [string for string in free if len(seen.planned) > 1 or abs(string - planned.string) == 1]
    return _other(seen, beside, 0.0, 0.05, 0.16)


def _other(seen: Seen, free: list[int], share: float, evidence: float, relative: float) -> bool:
    """Whether a string that was not planned may be the one that was struck."""
    return any(
        seen.shares.share[string] >= share
        and seen.shares.evidence[string] >= evidence
        and seen.relative(string) >= relative
        for string in free
    )


def _outshone(seen: Seen, string: int) -> bool:
    """Whether a string that was not planned is so much louder that the planned one may be its shadow."""
    return _other(seen, seen.not_planned, max(0.4, 1.5 * seen.shares.share[string]), 1.0, 0.8)


def _absent(seen: Seen, string: int) -> bool:
    """Whether the planned string is so still that another one was struck in its place."""
    return seen.shares.share[string] < 0.05 or seen.relative(string) < 0.07


def _instead(seen: Seen, string: int, free: list[int]) -> int | None:
    """The neighbour that sounds in place of a string that does not."""
    if not seen.struck or not free:
        return None
    evidence = seen.shares.evidence
    best = max(free, key=lambda s: evidence[s] if abs(s - string) == 1 else 0.3 * evidence[s])
    clear = seen.shares.share[best] > 0.2 and evidence[best] > 0.15 and seen.relative(best) > 0.2
    apart = seen.sounding[best] - seen.sounding[string]
    near = abs(best - string) == 1 or (abs(best - string) == 2 and evidence[best] > 0.6 and apart % 12)
    return best if clear and near else None


def _sure(seen: Seen, string: int) -> float:
    share, evidence = seen.shares.share[string], seen.shares.evidence[string]
    return round(float(min(1.0, 0.3 + share + 0.5 * min(1.0, evidence))), 2)
