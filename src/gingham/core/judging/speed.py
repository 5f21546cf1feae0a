"""The hand limit: the highest tempo at which every gap of the result holds, and the spots that set it.

Gaps are those of one finger, of the thumb's jumps, from one finger to the next (longer where they cross), and
before a wide pinch. The fretting hand's windows come from `judging.changes` and join in `full_limit`.
"""

from __future__ import annotations

from collections.abc import Sequence
from fractions import Fraction
from itertools import groupby, pairwise

import msgspec

from gingham.core.courtesy import give_way
from gingham.core.fitting.result import Event, FittedBar, Result
from gingham.core.hands.motor import Motor, motor_of
from gingham.core.judging.changes import Change, FingerMove, different_changes
from gingham.core.music.meter import Meter, count_at
from gingham.core.patterns.pattern import FINGERS

FASTEST_BPM = 320
_MOST_SPOTS = 3


class Spot(msgspec.Struct, frozen=True, gc=False):
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


class Limit(msgspec.Struct, frozen=True, gc=False):
    """The comfortable top speed in counted beats a minute, and the spots that set it, hardest first."""

    tempo: int
    spots: tuple[Spot, ...]


class _Gap(msgspec.Struct, frozen=True, gc=False):
    """The tempo that one gap allows, with the event that ends it."""

    tempo: float
    code: str
    event: Event
    before: Event


def hand_limit(result: Result, level: str) -> Limit:
    """The limit of a fitted section for a level (`starting`, `growing`, `fluent`), its seam included."""
    return limit_of(result.bars, result.piece.meter, level)


def limit_of(bars: Sequence[FittedBar], meter: Meter, level: str) -> Limit:
    """The limit of bars that go round."""
    motor = motor_of(level)
    if any(event.pick for bar in bars for event in bar.events):
        return _pick_limit(bars, meter, motor)
    known: dict[tuple[int, int], list[_Gap]] = {}
    found: list[tuple[_Gap, int]] = []
    for index, bar in enumerate(bars):
        give_way()
        previous = bars[index - 1] if index or len(bars) > 1 else bar
        key = (id(previous.events), id(bar.events))
        if key not in known:
            known[key] = _gaps(previous, bar, motor, meter)
            found += [(gap, bar.number) for gap in known[key]]
    found.sort(key=lambda pair: pair[0].tempo)
    return _limit([_spot(gap, number) for gap, number in _different(found)])


def _pick_limit(bars: Sequence[FittedBar], meter: Meter, motor: Motor) -> Limit:
    """A pick needs time for the next stroke, for each string that it jumps, and to turn back in the air."""
    begin, timed = 0.0, list[tuple[float, int, Event]]()
    for bar in bars:
        struck = {event.at: event for event in bar.events if event.pick and not event.silent}
        timed += [(begin + float(at), bar.number, event) for at, event in sorted(struck.items())]
        begin += float(bar.length)
    spots: dict[tuple[str, str], Spot] = {}
    round_again = [(begin + at, number, event) for at, number, event in timed[:1]]
    for (one, _, old), (other, number, new) in pairwise([*timed, *round_again]):
        needed = motor.any_s + motor.per_string_s * abs(old.string - new.string)
        code = "pick-again" if old.pick == new.pick else "pick-jump"
        needed = max(needed, motor.thumb_s) if code == "pick-again" else needed
        tempo = round(_tempo((other - one) / float(meter.tempo_beat), needed), 1)
        spot = Spot(number, new.at, new.count, code, str(new.pick), old.string, new.string, tempo)
        if (code, spot.finger) not in spots or tempo < spots[code, spot.finger].tempo:
            spots[code, spot.finger] = spot
    return _limit(sorted(spots.values(), key=lambda spot: spot.tempo))


def _different(found: list[tuple[_Gap, int]]) -> list[tuple[_Gap, int]]:
    """The hardest gap of each kind and finger, as many as are told."""
    out: dict[tuple[str, str | None], tuple[_Gap, int]] = {}
    for gap, number in found:
        finger = None if gap.code == "next-finger" else gap.event.finger
        out.setdefault((gap.code, finger), (gap, number))
        if len(out) == _MOST_SPOTS:
            break
    return list(out.values())


def _limit(spots: list[Spot]) -> Limit:
    tempo = min(FASTEST_BPM, int(spots[0].tempo)) if spots else FASTEST_BPM
    return Limit(tempo, tuple(spots[:_MOST_SPOTS]))


def full_limit(result: Result, level: str) -> Limit:
    """The limit of both hands: a fretting finger that moves needs the time of a hop.

    Its window may begin a slot early: at speed the last pluck's ring is given up.
    """
    limit, meter = hand_limit(result, level), result.piece.meter
    slot = result.finest()
    spots = list(limit.spots)
    tightest: tuple[float, Change, FingerMove] | None = None
    for change in different_changes(result):
        for move in change.fingers:
            if move.window is not None and move.to_place is not None:
                beats = max(0.0, float(move.window + slot)) / float(meter.tempo_beat)
                tempo = max(1.0, _tempo(beats, motor_of(level).hop_s))
                if tightest is None or tempo < tightest[0]:
                    tightest = (tempo, change, move)
    if tightest is not None and tightest[0] < FASTEST_BPM:
        spots.append(_window_spot(*tightest, meter))
    return _limit(sorted(spots, key=lambda spot: spot.tempo))


def _window_spot(tempo: float, change: Change, move: FingerMove, meter: Meter) -> Spot:
    assert move.to_place is not None
    strings = (move.from_place or move.to_place)[0], move.to_place[0]
    count = count_at(meter, change.at)
    return Spot(change.bar, change.at, count, "change-window", str(move.finger), *strings, round(tempo, 1))


def _spot(gap: _Gap, number: int) -> Spot:
    event = gap.event
    finger = event.finger or ""
    return Spot(
        number, event.at, event.count, gap.code, finger, gap.before.string, event.string, round(gap.tempo, 1)
    )


def _gaps(previous: FittedBar, bar: FittedBar, motor: Motor, meter: Meter) -> list[_Gap]:
    """The gaps that end in `bar`, those from the bar before included.

    Gaps are judged in counted beats as floats: a comfortable tempo is an estimate, not a position.
    """
    beat = float(meter.tempo_beat)
    before_bar = float(previous.length)
    timed = [((float(e.at) - before_bar) / beat, e) for e in previous.events if _moves(e)]
    timed += [(float(e.at) / beat, e) for e in bar.events if _moves(e)]
    out: list[_Gap] = []
    last: dict[str, tuple[float, Event]] = {}
    before: list[Event] = []
    before_at = 0.0
    for at, group in groupby(timed, key=lambda pair: pair[0]):
        moved = [event for _, event in group]
        together = [event for event in moved if _picks(event)]
        if at >= 0:
            first: dict[str, Event] = {}
            for event in moved:  # a brush begins on one string
                first.setdefault(event.finger or "", event)
            out += [_same(last[who], at, event, motor) for who, event in first.items() if who in last]
            if before and together:
                out += _next(before, together, at - before_at, motor)
        last.update({event.finger or "": (at, event) for event in moved})  # and ends on another
        if together:
            before, before_at = together, at
    return out


def _moves(event: Event) -> bool:
    """Whether a finger has to be on a string: for a pluck, or the thumb for its brush.

    The fingers' brushes come from the wrist, and there and back are one movement.
    """
    return _picks(event) or (event.finger == "p" and event.kind == "brush-down" and not event.silent)


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
