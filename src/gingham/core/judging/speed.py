"""The hand limit: the highest tempo at which every gap of the result holds, and the spots that set it."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction

from gingham.core.fitting.result import Event, FittedBar, Result
from gingham.core.hands.motor import MOTORS, Motor
from gingham.core.music.meter import Meter

FASTEST_BPM = 320
_MOST_SPOTS = 3


@dataclass(frozen=True, slots=True)
class Spot:
    """A gap that sets a limit: where it ends, which finger, and the strings it goes from and to.

    `code` is `same-finger`, `thumb-jump`, `thumb-again` or `next-finger`.
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
    spots: list[Spot] = []
    for gap, number in found:
        kind = (gap.code, gap.event.finger)
        if kind not in [(spot.code, spot.finger) for spot in spots] and len(spots) < _MOST_SPOTS:
            spots.append(_spot(gap, number))
    tempo = min(FASTEST_BPM, int(found[0][0].tempo)) if found else FASTEST_BPM
    return Limit(tempo, tuple(spots))


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
    before: tuple[float, Event] | None = None
    for at, event in timed:
        finger = event.finger or ""
        if at >= 0:
            if finger in last and at > last[finger][0]:
                out.append(_same(last[finger], at, event, motor))
            if before is not None and before[1].finger != finger and at > before[0]:
                out.append(_Gap(_tempo(at - before[0], motor.any_s), "next-finger", event, before[1]))
        last[finger] = before = (at, event)
    return out


def _picks(event: Event) -> bool:
    return event.finger is not None and event.plucked and not event.silent


def _same(last: tuple[float, Event], at: float, event: Event, motor: Motor) -> _Gap:
    strings = abs(event.string - last[1].string)
    thumb = event.finger == "p"
    code = ("thumb-jump" if strings > 1 else "thumb-again") if thumb else "same-finger"
    return _Gap(_tempo(at - last[0], motor.gap_s(thumb, strings)), code, event, last[1])


def _tempo(beats: float, needed_s: float) -> float:
    """The tempo in counted beats a minute at which `beats` last `needed_s`."""
    return beats * 60.0 / needed_s
