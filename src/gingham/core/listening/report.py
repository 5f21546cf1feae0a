"""What a take says of a hand: numbers with units, each from plucks that were heard."""

from __future__ import annotations

from itertools import pairwise

import msgspec
import numpy as np
from numpy.typing import NDArray

from gingham.core.listening.aligning import running_beat
from gingham.core.listening.dynamics import Dynamics, dynamics_of
from gingham.core.listening.heard import Heard, Hearing, Lasting
from gingham.core.listening.plan import TakePlan
from gingham.core.listening.swing import Swing, swing_of
from gingham.core.reasons import Reason

HESITATES_MS = 60.0
_GALLOP_MS, _UNEVEN_MS, _DRIFT = 12.0, 18.0, 3.0
_FEW, _LEAST = 4, 8
_FEW_RINGS, _DIES_DB_S, _OFTEN = 3, 70.0, 0.3
_ACCENT_DB, _FLAT_DB, _SOFT_DB, _SPREAD_DB = 2.5, 1.5, -2.5, 5.0
_CLIPPED = 0.0005
_WITH_CLICK_MS = 15.0
_CLICK_S = 0.25  # a pluck farther from its click than this has lost it
_UNCLEAR = 0.03
_SWING, _SWUNG = 0.05, 0.54  # shares of a beat


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

    `late_ms` is of each note of the hearing (None where it was not planned or the take has no tempo), against
    the click where there was one; then `click_ms` is the median.
    """

    starts_s: float
    tempo: float
    drift_percent: float
    spread_ms: float
    late_ms: tuple[float | None, ...]
    fingers: tuple[FingerReport, ...]
    changes: tuple[ChangeReport, ...]
    summary: tuple[Reason, ...]
    click_ms: float | None = None
    dynamics: Dynamics = Dynamics()
    swing: Swing | None = None

    @property
    def spread_db(self) -> float:
        """How far each finger's plucks lie around its own loudness, in dB: the mean over all plucks."""
        plucks = sum(finger.plucks for finger in self.fingers)
        return round(sum(f.spread_db * f.plucks for f in self.fingers) / plucks, 2) if plucks else 0.0


def report(
    hearing: Hearing,
    plan: TakePlan,
    *,
    clipped: float = 0.0,
    free: bool = False,
    click_s: float | None = None,
) -> Report:
    """What a hearing comes to. `free` takes have no tempo: nothing is said of time.

    `click_s` is when the click of the plan's first pluck is in the file, if there was a click to play to.
    """
    planned = [note for note in hearing.notes if note.planned is not None]
    onsets = _onsets(planned, plan)
    timed = not free and len(onsets) >= _LEAST
    entered = [k for k in range(1, len(plan.moments)) if plan.changes(k)]
    run = _fit(onsets, plan, entered) if timed else _Run(np.zeros(3), {}, np.zeros(0))
    late = _lateness(hearing, plan, onsets, entered, run) if timed else (None,) * len(hearing.notes)
    clicked = _against_click(hearing, plan, click_s) if timed and click_s is not None else None
    late = late if clicked is None else clicked
    tempo, drift = _tempo(run.line, onsets, plan) if timed else (0.0, 0.0)
    fingers = tuple(_fingers(hearing, plan, late))
    starts = min((note.t_s for note in planned), default=0.0)
    changes = tuple(_change(plan, k, float(step)) for k, step in zip(entered, run.steps, strict=False))
    made = Report(
        starts,
        tempo,
        drift,
        _own_spread(hearing, plan, late),
        late,
        fingers,
        changes,
        (),
        _median(clicked),
        dynamics_of(hearing, plan),
        swing_of(plan, onsets) if timed else None,
    )
    return msgspec.structs.replace(made, summary=tuple(_summary(hearing, plan, made, clipped)))


def _lateness(
    hearing: Hearing, plan: TakePlan, onsets: dict[int, float], entered: list[int], run: _Run
) -> tuple[float | None, ...]:
    """Milliseconds of each planned note against the running beat; what a change holds up is not lateness."""
    score = np.asarray(plan.times)
    waited = np.zeros(len(score))
    for k, step in zip(entered, run.steps, strict=True):
        waited[k:] += step
    known = np.array(sorted(onsets))
    own = np.array([run.own.get(_finger(plan, int(k)), 0.0) for k in known])
    played = np.array([onsets[int(k)] for k in known]) - waited[known] - own
    beat = running_beat(score, known, played) + waited
    of = {i: k for k, moment in enumerate(plan.moments) for i in moment}
    return tuple(
        None if note.planned is None else round(1000 * float(note.t_s - beat[of[note.planned]]), 2)
        for note in hearing.notes
    )


def _against_click(hearing: Hearing, plan: TakePlan, click_s: float) -> tuple[float | None, ...] | None:
    """Milliseconds of each planned note against the click; None if most of the take had left it."""
    times = {i: plan.times[k] for k, moment in enumerate(plan.moments) for i in moment}
    late = [None if n.planned is None else n.t_s - click_s - times[n.planned] for n in hearing.notes]
    known = [each for each in late if each is not None]
    if not known or sum(abs(each) < _CLICK_S for each in known) < 0.8 * len(known):
        return None
    return tuple(None if each is None else round(1000 * each, 2) for each in late)


def _median(late: tuple[float | None, ...] | None) -> float | None:
    known = [each for each in late or () if each is not None]
    return round(float(np.median(known)), 1) if known else None


def _own_spread(hearing: Hearing, plan: TakePlan, late: tuple[float | None, ...]) -> float:
    """How far plucks lie around the beat once each finger's own lateness is taken off, in milliseconds."""
    found: dict[str | None, list[float]] = {}
    for note, ms in zip(hearing.notes, late, strict=True):
        if ms is not None and note.planned is not None:
            found.setdefault(plan.plucks[note.planned].finger, []).append(ms)
    return _spread([ms - float(np.median(each)) for each in found.values() for ms in each])


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


def _change(plan: TakePlan, moment: int, step_s: float) -> ChangeReport:
    """How far a change holds the beat up."""
    pluck = plan.plucks[plan.moments[moment][0]]
    return ChangeReport(plan.held[plan.over[moment]].name, pluck.bar, str(pluck.at), round(1000 * step_s, 1))


class _Run(msgspec.Struct, frozen=True):
    """How the time runs: offset, slope and bend, each finger's own lateness, a step at each change (s)."""

    line: NDArray[np.float64]
    own: dict[str, float]
    steps: NDArray[np.float64]


def _finger(plan: TakePlan, moment: int) -> str:
    return plan.plucks[plan.moments[moment][0]].finger or ""


def _fit(onsets: dict[int, float], plan: TakePlan, entered: list[int]) -> _Run:
    """Tempo, drift, each finger's own lateness and a step at each change, by robust least squares.

    The thumb keeps the beat where it plays. Steps are held to zero unless the times ask for them: each is
    weighted down the smaller it comes out.
    """
    moments = np.array(sorted(onsets))
    score = np.array([plan.times[k] for k in moments])
    played = np.array([onsets[k] for k in moments])
    names = [_finger(plan, int(k)) for k in moments]
    first = "p" if names.count("p") >= _FEW else max(sorted(set(names)), key=names.count)
    others = sorted(set(names) - {first})
    columns = [np.ones_like(score), score, score * score]
    columns += [np.array([float(name == other) for name in names]) for other in others]
    columns += [(moments >= k).astype(float) for k in entered]
    made = np.column_stack(columns)
    plain, weight, held = len(columns) - len(entered), np.ones(len(score)), np.ones(len(entered))
    found = np.zeros(made.shape[1])
    for _ in range(30):
        ridge = np.full(made.shape[1], 1e-9)
        ridge[plain:] = 0.3 * held
        squares = made.T @ (weight[:, None] * made) + np.diag(ridge)
        found = np.linalg.solve(squares, made.T @ (weight * played))
        weight = 1.0 / np.maximum(np.abs(played - made @ found), 0.004)
        weight /= weight.max()
        held = np.minimum(30.0, 0.01 / np.maximum(np.abs(found[plain:]), 1e-4))
    own = dict(zip(others, map(float, found[3:plain]), strict=True))
    return _Run(found[:3], own, found[plain:])


def _tempo(line: NDArray[np.float64], onsets: dict[int, float], plan: TakePlan) -> tuple[float, float]:
    """Beats a minute in the middle of the take, and by how many percent it is faster at its end."""
    _, slope, bend = map(float, line)
    heard = [plan.times[k] for k in onsets]
    begin, end = slope + 2 * bend * min(heard), slope + 2 * bend * max(heard)
    middle = max(0.5 * (begin + end), 1e-3)
    return round(plan.tempo / middle, 2), round(100 * (begin - end) / middle, 2)


def _summary(hearing: Hearing, plan: TakePlan, made: Report, clipped: float) -> list[Reason]:
    """What held first, then what matters most; every value stands in the report."""
    heard = [n for n in hearing.notes if n.planned is not None]
    wrong = [n for n in heard if n.string != plan.plucks[n.planned or 0].string]
    extra = [n for n in hearing.notes if n.planned is None]
    reached = [plan.moments[k] for k in hearing.reach]
    total = sum(map(len, reached))
    out = [Reason.of("take-held", heard=len(heard) - len(wrong), total=total)]
    if hearing.reach and hearing.reach[0] > 0:
        out.append(Reason.of("take-begins", bar=plan.plucks[reached[0][0]].bar))
    if hearing.reach and hearing.reach[-1] + 1 < len(plan.moments):
        out.append(Reason.of("take-stops", bar=plan.plucks[reached[-1][0]].bar))
    if made.tempo and made.spread_ms <= _UNEVEN_MS:
        out.append(Reason.of("take-even", ms=f"{made.spread_ms:.0f}", tempo=f"{made.tempo:.0f}"))
    faults = _time_faults(made) if made.tempo else []
    if made.click_ms is not None:
        ms, side = f"{abs(made.click_ms):.0f}", "behind" if made.click_ms > 0 else "ahead of"
        if abs(made.click_ms) <= _WITH_CLICK_MS:
            out.append(Reason.of("take-with-click", ms=ms))
        else:
            faults.append((abs(made.click_ms) / 3.0, Reason.of("take-off-click", ms=ms, way=side)))
    faults += _swing_faults(made, out)
    faults += _loudness_faults(made, out)
    faults += _ring_faults(hearing, plan)
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


def _swing_faults(made: Report, good: list[Reason]) -> list[tuple[float, Reason]]:
    """A beat that is parted otherwise than the piece has it; one that swings as it is meant is good."""
    swing = made.swing
    if swing is None:
        return []
    values = {"share": f"{100 * swing.share:.0f}", "meant": f"{100 * swing.meant:.0f}"}
    apart = abs(swing.share - swing.meant)
    if apart > _SWING:
        return [(60.0 * apart, Reason.of("take-swing", **values))]
    if swing.meant > _SWUNG:
        good.append(Reason.of("take-swings", **values))
    return []


def _loudness_faults(made: Report, good: list[Reason]) -> list[tuple[float, Reason]]:
    """Accents that do not stand out (those that do are good), a soft downbeat, plucks of all loudnesses."""
    out = []
    accent, downbeat = made.dynamics.accent_db, made.dynamics.downbeat_db
    if accent is not None:
        reason = Reason.of("take-accents" if accent >= _ACCENT_DB else "take-flat", db=_signed(accent))
        if accent >= _ACCENT_DB:
            good.append(reason)
        elif accent < _FLAT_DB:
            out.append((4.0, reason))
    if downbeat is not None and downbeat < _SOFT_DB:
        out.append((-downbeat, Reason.of("take-soft-one", db=f"{-downbeat:.0f}")))
    if made.spread_db > _SPREAD_DB:
        out.append((made.spread_db, Reason.of("take-loudness", db=f"{made.spread_db:.0f}")))
    return out


def _ring_faults(hearing: Hearing, plan: TakePlan) -> list[tuple[float, Reason]]:
    """Notes that die early whenever they come, and plucks that are stopped before they need to be."""
    found: dict[tuple[int, int], list[Lasting]] = {}
    for each in hearing.lasting:
        pluck = plan.plucks[each.planned]
        found.setdefault((pluck.string, pluck.midi), []).append(each)
    out = []
    for (string, midi), rings in sorted(found.items()):
        loss = float(np.median([ring.loss_db_s for ring in rings]))
        if len(rings) >= _FEW_RINGS and loss > _DIES_DB_S:
            bar = plan.plucks[rings[0].planned].bar
            fret = midi - plan.tuning[string - 1]
            reason = Reason.of("take-dies", string=string, fret=fret, count=len(rings), bar=bar)
            out.append((3.0 * len(rings), reason))
    stopped = [ring for ring in hearing.lasting if ring.stopped_s > 0.0]
    if len(stopped) >= _FEW and len(stopped) > _OFTEN * len(hearing.lasting):
        early = float(np.median([ring.stopped_s for ring in stopped]))
        bar = plan.plucks[stopped[0].planned].bar
        reason = Reason.of("take-cut", count=len(stopped), ms=f"{1000 * early:.0f}", bar=bar)
        out.append((2.0 * len(stopped), reason))
    return out


def _signed(value: float) -> str:
    return f"{value:.0f}".replace("-", "−")


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
