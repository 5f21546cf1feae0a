"""What a take says of a hand: numbers with units, each from plucks that were heard."""

from __future__ import annotations

from itertools import pairwise

import msgspec
import numpy as np
from numpy.typing import NDArray

from gingham.core.listening.hearing import Heard, Hearing
from gingham.core.listening.plan import TakePlan
from gingham.core.reasons import Reason

HESITATES_MS = 60.0
_GALLOP_MS, _UNEVEN_MS, _DRIFT = 12.0, 18.0, 3.0
_FEW = 4
_CLIPPED = 0.0005
_UNCLEAR = 0.03


class FingerReport(msgspec.Struct, frozen=True):
    """A finger over the take: plucks heard, how late it is (median) and its spread, loudness and its spread.

    Milliseconds against the player's own running beat, negative is early; dB against all plucks.
    """

    finger: str
    plucks: int
    late_ms: float
    spread_ms: float
    level_db: float
    spread_db: float


class ChangeReport(msgspec.Struct, frozen=True):
    """A chord change: the chord, its bar and place, and by how many milliseconds it holds the beat up."""

    chord: str
    bar: int
    at: str
    ms: float


class Report(msgspec.Struct, frozen=True):
    """A whole take: beats a minute as played, change of tempo from start to end, evenness, and sentences.

    `late_ms` is of each note of the hearing (None where it was not planned or the take has no tempo).
    """

    starts_s: float
    tempo: float
    drift_percent: float
    spread_ms: float
    late_ms: tuple[float | None, ...]
    fingers: tuple[FingerReport, ...]
    changes: tuple[ChangeReport, ...]
    summary: tuple[Reason, ...]


def report(hearing: Hearing, plan: TakePlan, *, clipped: float = 0.0, free: bool = False) -> Report:
    """What a hearing comes to. `free` takes have no tempo: nothing is said of time."""
    planned = [note for note in hearing.notes if note.planned is not None]
    late = tuple(None if free else _late(note, hearing) for note in hearing.notes)
    steps = [] if free else _changes(planned, plan)
    tempo, drift = (0.0, 0.0) if free else _tempo(planned, plan, steps)
    fingers = tuple(_fingers(hearing, plan, late))
    spread = _spread([ms for ms in late if ms is not None])
    starts = min((note.t_s for note in planned), default=0.0)
    made = Report(starts, tempo, drift, spread, late, fingers, tuple(steps), ())
    return msgspec.structs.replace(made, summary=tuple(_summary(hearing, plan, made, clipped, free=free)))


def _late(note: Heard, hearing: Hearing) -> float | None:
    if note.planned is None:
        return None
    return round(1000 * (note.t_s - hearing.expected[note.planned]), 2)


def _spread(values: list[float]) -> float:
    """A robust standard deviation: 1.4826 times the median deviation from the median."""
    if len(values) < 2:
        return 0.0
    away = np.abs(np.asarray(values) - np.median(values))
    return round(1.4826 * float(np.median(away)), 2)


def _fingers(hearing: Hearing, plan: TakePlan, late: tuple[float | None, ...]) -> list[FingerReport]:
    found: dict[str, list[tuple[float, float | None]]] = {}
    for note, ms in zip(hearing.notes, late, strict=True):
        finger = plan.plucks[note.planned].finger if note.planned is not None else None
        if finger is not None:
            found.setdefault(finger, []).append((note.level_db, ms))
    middle = float(np.median([level for each in found.values() for level, _ in each])) if found else 0.0
    out = []
    for finger in sorted(found, key=lambda f: "pimac".find(f)):
        levels = [level for level, _ in found[finger]]
        times = [ms for _, ms in found[finger] if ms is not None]
        out.append(
            FingerReport(
                finger, len(levels), round(float(np.median(times)), 2) if times else 0.0, _spread(times),
                round(float(np.median(levels)) - middle, 2), _spread(levels),
            )
        )  # fmt: skip
    return out


def _onsets(planned: list[Heard], plan: TakePlan) -> dict[int, float]:
    """When each moment began that was heard, in seconds of the file."""
    of = {i: k for k, moment in enumerate(plan.moments) for i in moment}
    out: dict[int, float] = {}
    for note in planned:
        assert note.planned is not None
        k = of[note.planned]
        out[k] = min(note.t_s, out.get(k, note.t_s))
    return out


def _changes(planned: list[Heard], plan: TakePlan) -> list[ChangeReport]:
    """How far every change holds the beat up: the first two moments after it against those before.

    Fitted together with tempo, drift and each finger's own lateness by robust least squares.
    """
    onsets = _onsets(planned, plan)
    entered = [k for k in range(1, len(plan.moments)) if plan.changes(k)]
    if len(onsets) < 8 or not entered:
        return []
    found = _fit(onsets, plan, entered)[1]
    out = []
    for k, step in zip(entered, found, strict=True):
        pluck = plan.plucks[plan.moments[k][0]]
        out.append(
            ChangeReport(plan.held[plan.over[k]].name, pluck.bar, str(pluck.at), round(1000 * float(step), 1))
        )
    return out


def _fit(
    onsets: dict[int, float], plan: TakePlan, entered: list[int]
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Offset, tempo and drift of the take, and a step in seconds at each change.

    Steps are held to zero unless the times ask for them: each is weighted down the smaller it comes out.
    """
    moments = np.array(sorted(onsets))
    score = np.array([plan.times[k] for k in moments])
    played = np.array([onsets[k] for k in moments])
    names = [plan.plucks[plan.moments[k][0]].finger or "" for k in moments]
    others = sorted(set(names))[1:]
    columns = [np.ones_like(score), score, score * score]
    columns += [np.array([float(name == other) for name in names]) for other in others]
    columns += [(moments >= k).astype(float) for k in entered]
    made = np.column_stack(columns)
    plain, weight, held = len(columns) - len(entered), np.ones(len(score)), np.ones(len(entered))
    found = np.zeros(made.shape[1])
    for _ in range(30):
        ridge = np.full(made.shape[1], 1e-9)
        ridge[plain:] = 0.3 * held
        found = np.linalg.solve(
            made.T @ (weight[:, None] * made) + np.diag(ridge), made.T @ (weight * played)
        )
        weight = 1.0 / np.maximum(np.abs(played - made @ found), 0.004)
        weight /= weight.max()
        held = np.minimum(30.0, 0.01 / np.maximum(np.abs(found[plain:]), 1e-4))
    return found[:3], found[plain:]


def _tempo(planned: list[Heard], plan: TakePlan, steps: list[ChangeReport]) -> tuple[float, float]:
    """Beats a minute in the middle of the take, and by how many percent it is faster at its end."""
    onsets = _onsets(planned, plan)
    if len(onsets) < 8:
        return plan.tempo, 0.0
    entered = [k for k in range(1, len(plan.moments)) if plan.changes(k)] if steps else []
    _, slope, bend = map(float, _fit(onsets, plan, entered)[0])
    heard = [plan.times[k] for k in onsets]
    first, last = min(heard), max(heard)
    begin, end = slope + 2 * bend * first, slope + 2 * bend * last
    middle = 0.5 * (begin + end)
    return round(plan.tempo / max(middle, 1e-3), 2), round(100 * (begin - end) / max(middle, 1e-3), 2)


def _summary(hearing: Hearing, plan: TakePlan, made: Report, clipped: float, *, free: bool) -> list[Reason]:
    """What held first, then what matters most; every value stands in the report."""
    total, heard = len(plan.plucks), [n for n in hearing.notes if n.planned is not None]
    wrong = [n for n in heard if n.string != plan.plucks[n.planned or 0].string]
    extra = [n for n in hearing.notes if n.planned is None]
    out = [Reason.of("take-held", heard=len(heard) - len(wrong), total=total)]
    if not free and made.spread_ms <= _UNEVEN_MS and len(heard) >= 8:
        out.append(Reason.of("take-even", ms=f"{made.spread_ms:.0f}", tempo=f"{made.tempo:.0f}"))
    faults = [*_time_faults(made)] if not free else []
    if hearing.missed:
        first = plan.plucks[hearing.missed[0]]
        faults.append(
            (len(hearing.missed) * 3.0, Reason.of("take-missed", count=len(hearing.missed), bar=first.bar))
        )
    if wrong:
        planned = plan.plucks[wrong[0].planned or 0]
        reason = Reason.of(
            "take-wrong", count=len(wrong), bar=planned.bar, string=wrong[0].string, planned=planned.string
        )
        faults.append((len(wrong) * 4.0, reason))
    if extra:
        faults.append((len(extra) * 2.0, Reason.of("take-extra", count=len(extra), string=extra[0].string)))
    out += [reason for _, reason in sorted(faults, key=lambda pair: -pair[0])]
    if clipped > _CLIPPED:
        out.append(Reason.of("take-clipped"))
    if len(hearing.unclear) > _UNCLEAR * total:
        out.append(Reason.of("take-unclear", count=len(hearing.unclear)))
    return out


def _time_faults(made: Report) -> list[tuple[float, Reason]]:
    """Changes that come late, fingers that gallop, a beat that runs or is uneven; how much each matters."""
    out = []
    late = [change for change in made.changes if change.ms > HESITATES_MS]
    if late:
        worst = max(late, key=lambda change: change.ms)
        reason = Reason.of(
            "take-change", count=len(late), chord=worst.chord, bar=worst.bar, ms=f"{worst.ms:.0f}"
        )
        out.append((sum(change.ms for change in late) / 20.0, reason))
    steady = [f for f in made.fingers if f.plucks >= _FEW]
    for one, other in pairwise(sorted(steady, key=lambda f: f.late_ms)):
        apart = other.late_ms - one.late_ms
        if apart > _GALLOP_MS and apart > 1.5 * max(other.spread_ms, 1.0):
            side = "late" if other.finger != "p" else "behind"
            out.append(
                (apart / 3.0, Reason.of("take-gallop", finger=other.finger, ms=f"{apart:.0f}", side=side))
            )
    if made.spread_ms > _UNEVEN_MS:
        out.append((made.spread_ms / 3.0, Reason.of("take-uneven", ms=f"{made.spread_ms:.0f}")))
    if abs(made.drift_percent) > _DRIFT:
        way = "faster" if made.drift_percent > 0 else "slower"
        percent = f"{abs(made.drift_percent):.0f}"
        out.append((abs(made.drift_percent), Reason.of("take-drift", way=way, percent=percent)))
    return out
