"""Keys tapped in place of plucks: the same report of timing, without a microphone."""

from __future__ import annotations

from collections.abc import Sequence

import msgspec
import numpy as np

from gingham.core.errors import TakeError
from gingham.core.listening.aligning import Matched, Numbers, expected_times, interpolated, match
from gingham.core.listening.heard import Heard, Hearing
from gingham.core.listening.plan import SOFT, TakePlan

_TOGETHER_S = 0.045  # keys so close are one pinch
_RIGHT, _ANY, _WRONG = 2.0, 1.4, 0.3
_LEAST_SHARE, _LEAST = 0.5, 4
_TEMPI = tuple(1.05**step for step in range(-14, 15))
"""How much slower (or faster) than asked somebody may tap: a half to twice."""


class KeyTap(msgspec.Struct, frozen=True, gc=False):
    """A key and when, in seconds from the start; `finger` is empty for a key that names none."""

    t_s: float
    finger: str = ""


def hear_taps(taps: Sequence[KeyTap], plan: TakePlan, *, free: bool = False) -> Hearing:
    """Taps held against a plan.

    Raises
    ------
    TakeError
        `take-other` if fewer than half of them are where the plan has plucks.
    """
    struck = _together(taps)
    times = np.array([each[0].t_s for each in struck])
    fingers = [frozenset(plan.plucks[i].finger or "" for i in moment) for moment in plan.moments]
    worth = np.array([[_worth(each, wanted) for wanted in fingers] for each in struck]).reshape(
        len(struck), len(fingers)
    )
    found = _best(times, worth, plan, free=free)
    reach = found.reach
    matched = int((found.of >= 0).sum()) / max(1, len(reach))
    if len(reach) < min(_LEAST, len(plan.moments)) or matched < _LEAST_SHARE:
        raise TakeError("take-other")
    notes, missed = list[Heard](), list[int]()
    for k in reach:
        tapped = struck[found.of[k]] if found.of[k] >= 0 else ()
        _decide(plan, k, tapped, notes, missed)
    used = set(map(int, found.of[found.of >= 0]))
    inside = range(min(used), max(used) + 1)
    for j in inside:
        if j not in used:
            notes += [_extra(plan, tap, float(times[j]), found, times) for tap in struck[j]]
    notes.sort(key=lambda note: note.t_s)
    where = interpolated(times, found.of) if free else expected_times(plan, times, found.of)
    of_moment = {i: k for k, moment in enumerate(plan.moments) for i in moment}
    expected = tuple(float(where.beat[of_moment[i]]) for i in range(len(plan.plucks)))
    return Hearing(tuple(notes), tuple(missed), (), expected, reach, matched, 1.0, {})


def _together(taps: Sequence[KeyTap]) -> list[tuple[KeyTap, ...]]:
    """Keys that are pressed at once."""
    out: list[list[KeyTap]] = []
    for tap in sorted(taps, key=lambda each: each.t_s):
        if out and tap.t_s - out[-1][0].t_s < _TOGETHER_S and tap.finger not in {t.finger for t in out[-1]}:
            out[-1].append(tap)
        else:
            out.append([tap])
    return [tuple(each) for each in out]


def _worth(tapped: tuple[KeyTap, ...], wanted: frozenset[str]) -> float:
    """What speaks for some keys at a moment that wants these fingers."""
    named = [tap.finger for tap in tapped if tap.finger]
    if not named:
        return _ANY
    return _RIGHT if wanted.intersection(named) or wanted == {""} else _WRONG


def _best(times: Numbers, worth: Numbers, plan: TakePlan, *, free: bool) -> Matched:
    """The best match over the tempi that somebody may tap in."""
    score = np.asarray(plan.times)
    changes = np.array([plan.changes(k) for k in range(len(plan.moments))])
    if not len(times):
        return Matched(np.full(len(score), -1), 0.0)
    tempi = (1.0,) if free else _TEMPI
    return max(
        (match(times, worth, score * tempo, changes, free=free) for tempo in tempi), key=lambda m: m.worth
    )


def _decide(
    plan: TakePlan, moment: int, tapped: tuple[KeyTap, ...], notes: list[Heard], missed: list[int]
) -> None:
    """What became of each pluck of a moment: its finger's key, a key that names none, another finger's."""
    left = list(tapped)
    for i in plan.moments[moment]:
        pluck = plan.plucks[i]
        own = next((tap for tap in left if tap.finger and tap.finger == pluck.finger), None)
        own = own or next((tap for tap in left if not tap.finger or pluck.finger is None), None)
        other = left[0] if own is None and left and len(plan.moments[moment]) == 1 else None
        if own is not None:
            if own.finger and pluck.finger is not None:
                left.remove(own)  # one key without a name stands for a whole pinch
            notes.append(Heard(own.t_s, pluck.string, pluck.midi, 0.0, i, 1.0))
        elif other is not None and (there := _of_finger(plan, moment, other.finger)) is not None:
            string, midi = there
            notes.append(Heard(other.t_s, string, midi, 0.0, i, 1.0))
        elif pluck.kind not in SOFT:
            missed.append(i)


def _of_finger(plan: TakePlan, moment: int, finger: str) -> tuple[int, int] | None:
    """The string that a finger plucks nearest to a moment; None if it has nothing to do in the plan."""
    own = [
        (abs(k - moment), k) for k, m in enumerate(plan.moments) for i in m if plan.plucks[i].finger == finger
    ]
    if not own:
        return None
    k = min(own)[1]
    pluck = next(plan.plucks[i] for i in plan.moments[k] if plan.plucks[i].finger == finger)
    return pluck.string, plan.strings_at(moment).get(pluck.string, pluck.midi)


def _extra(plan: TakePlan, tap: KeyTap, t_s: float, found: Matched, times: Numbers) -> Heard:
    """A key that nobody planned, on the string that its finger plucks there."""
    known = [k for k in found.reach if found.of[k] >= 0]
    moment = min(known, key=lambda k: abs(times[found.of[k]] - t_s))
    first = plan.plucks[plan.moments[moment][0]]
    string, midi = _of_finger(plan, moment, tap.finger) or (first.string, first.midi)
    return Heard(tap.t_s, string, midi, 0.0, None, 1.0)


def struck_at(taps: Sequence[KeyTap]) -> tuple[float, ...]:
    """When keys were pressed, pinches once: what a recording of the taps sounds like."""
    return tuple(each[0].t_s for each in _together(taps))
