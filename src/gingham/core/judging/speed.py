"""The hand limit: the highest tempo at which every gap of the result holds, and the spots that set it.

Gaps are those of one finger, of the thumb's jumps, from one finger to the next (longer where they cross), and
before a wide pinch. The fretting hand's windows come from `judging.changes` and join by `with_changes`.
"""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction
from itertools import groupby, pairwise

from gingham.core.fitting.result import Event, FittedBar, Result
from gingham.core.hands.motor import MOTORS, Motor
from gingham.core.judging.changes import Change
from gingham.core.music.meter import Meter, count_at
from gingham.core.patterns.pattern import FINGERS

FASTEST_BPM = 320
_MOST_SPOTS = 3


@dataclass(frozen=True, slots=True)
class Spot:
    """A gap that sets a limit: where it ends, which finger, and the strings it goes from and to.

    `code` is `same-finger`, `thumb-jump`, `thumb-again`, `next-finger`, `crossed`, `pinch-stretch` or
    `change-window` (then `finger` is the fretting finger's digit).
    """

    bar: int
    at: Fraction
    count: str
    code: str
    finger: str
    from_string: int
    to_string: int
    tempo: float


@dataclass(frozen=True, slots=True)
class Limit:
    """The comfortable top speed in counted beats a minute, and the spots that set it, hardest first."""

    tempo: int
    spots: tuple[Spot, ...]


@dataclass(frozen=True, slots=True)
class _Gap:
    """The tempo that one gap allows, with the event that ends it."""

    tempo: float
    code: str
    event: Event
    before: Event


def hand_limit(result: Result, level: str) -> Limit:
    """The limit of a fitted section for a level (`starting`, `growing`, `fluent`), its seam included."""
    motor, of = MOTORS[level], result.piece.meter
    known: dict[tuple[int, int], list[_Gap]] = {}
    found: list[tuple[_Gap, int]] = []
    for index, bar in enumerate(result.bars):
        previous = result.bars[index - 1] if index or len(result.bars) > 1 else bar
        key = (id(previous.events), id(bar.events))
        if key not in known:
            known[key] = _gaps(previous, bar, motor, of)
            found += [(gap, bar.number) for gap in known[key]]
    found.sort(key=lambda pair: pair[0].tempo)
    return _limit([_spot(gap, number) for gap, number in _different(found)])


def _different(found: list[tuple[_Gap, int]]) -> list[tuple[_Gap, int]]:
    """The hardest gap of each kind and finger, as many as are told."""
    out: dict[tuple[str, str | None], tuple[_Gap, int]] = {}
    for gap, number in found:
        out.setdefault((gap.code, gap.event.finger), (gap, number))
        if len(out) == _MOST_SPOTS:
            break
    return list(out.values())


def _limit(spots: list[Spot]) -> Limit:
    tempo = min(FASTEST_BPM, int(spots[0].tempo)) if spots else FASTEST_BPM
    return Limit(tempo, tuple(spots[:_MOST_SPOTS]))


def with_changes(limit: Limit, found: tuple[Change, ...], of: Meter, level: str) -> Limit:
    """The limit with the fretting hand's windows joined: a finger that moves needs the time of a hop."""
    motor = MOTORS[level]
    spots = list(limit.spots)
    tightest: Spot | None = None
    for change in found:
        for move in change.fingers:
            if move.window is None or move.kind not in ("moves", "lands", "slides") or move.to_place is None:
                continue
            tempo = _tempo(max(float(move.window), 0.0) / float(of.tempo_beat), motor.hop_s)
            if tightest is None or tempo < tightest.tempo:
                count = count_at(of, change.at)
                strings = (move.from_place or move.to_place)[0], move.to_place[0]
                finger = str(move.finger)
                tightest = Spot(
                    change.bar, change.at, count, "change-window", finger, *strings, round(max(tempo, 1.0), 1)
                )
    if tightest is not None and tightest.tempo < FASTEST_BPM:
        spots.append(tightest)
    spots.sort(key=lambda spot: spot.tempo)
    return _limit(spots)


def _spot(gap: _Gap, number: int) -> Spot:
    event = gap.event
    finger = event.finger or ""
    return Spot(
        number, event.at, event.count, gap.code, finger, gap.before.string, event.string, round(gap.tempo, 1)
    )


def _gaps(previous: FittedBar, bar: FittedBar, motor: Motor, of: Meter) -> list[_Gap]:
    """The gaps that end in `bar`, those from the bar before included.

    Gaps are judged in counted beats as floats: a comfortable tempo is an estimate, not a position.
    """
    beat = float(of.tempo_beat)
    before_bar = float(previous.length)
    timed = [((float(e.at) - before_bar) / beat, e) for e in previous.events if _picks(e)]
    timed += [(float(e.at) / beat, e) for e in bar.events if _picks(e)]
    out: list[_Gap] = []
    last: dict[str, tuple[float, Event]] = {}
    before: list[Event] = []
    before_at = 0.0
    for at, group in groupby(timed, key=lambda pair: pair[0]):
        together = [event for _, event in group]
        if at >= 0:
            for event in together:
                finger = event.finger or ""
                if finger in last:
                    out.append(_same(last[finger], at, event, motor))
            if before:
                out += _next(before, together, at - before_at, motor)
        for event in together:
            last[event.finger or ""] = (at, event)
        before, before_at = together, at
    return out


def _picks(event: Event) -> bool:
    return event.finger is not None and event.plucked and not event.silent


def _same(last: tuple[float, Event], at: float, event: Event, motor: Motor) -> _Gap:
    strings = abs(event.string - last[1].string)
    thumb = event.finger == "p"
    code = ("thumb-jump" if strings > 1 else "thumb-again") if thumb else "same-finger"
    return _Gap(_tempo(at - last[0], motor.gap_s(thumb, strings)), code, event, last[1])


def _next(before: list[Event], now: list[Event], beats: float, motor: Motor) -> list[_Gap]:
    """From what was plucked before to what is plucked now: the next finger, a crossing, a wide pinch."""
    out: list[_Gap] = []
    for event in now:
        others = [old for old in before if old.finger != event.finger]
        if not others:
            continue
        over = next((old for old in others if _over(old, event)), None)
        if over is not None:
            out.append(_Gap(_tempo(beats, motor.any_s + motor.cross_s), "crossed", event, over))
        else:
            out.append(_Gap(_tempo(beats, motor.any_s), "next-finger", event, others[-1]))
    wide = _stretch(now)
    if wide is not None:
        strings, low, high = wide
        out.append(_Gap(_tempo(beats, motor.any_s + motor.stretch_s * strings), "pinch-stretch", high, low))
    return out


def _over(old: Event, new: Event) -> bool:
    """Whether the new finger lies on the other side of the one before than a hand has it."""
    if old.string == new.string or old.finger is None or new.finger is None:
        return False
    return (new.string < old.string) == (FINGERS.index(new.finger) < FINGERS.index(old.finger))


def _stretch(pinch: list[Event]) -> tuple[int, Event, Event] | None:
    """How many strings too far two neighbouring fingers of a pinch are apart; the thumb reaches anywhere."""
    fingers = sorted((e for e in pinch if e.finger != "p"), key=lambda e: FINGERS.index(e.finger or "i"))
    worst: tuple[int, Event, Event] | None = None
    for one, other in pairwise(fingers):
        between = FINGERS.index(other.finger or "i") - FINGERS.index(one.finger or "i")
        strings = abs(one.string - other.string) - between
        if strings > 0 and (worst is None or strings > worst[0]):
            worst = (strings, one, other)
    return worst


def _tempo(beats: float, needed_s: float) -> float:
    """The tempo in counted beats a minute at which `beats` last `needed_s`."""
    return beats * 60.0 / needed_s
