"""A line of strings by itself, without chords: its fingers (or pick strokes), and how fast it can go."""

from __future__ import annotations

from fractions import Fraction
from itertools import pairwise

import msgspec

from gingham.core.errors import PatternError
from gingham.core.fitting.result import Event, FittedBar
from gingham.core.hands.motor import MOTORS, Motor
from gingham.core.hands.picking import Placed, fingers_for, hand_on, pick_strokes
from gingham.core.instruments.instrument import Instrument
from gingham.core.judging.speed import FASTEST_BPM, Limit, Spot, limit_of
from gingham.core.music.meter import Meter, count_at, seconds
from gingham.core.patterns.pattern import Pattern, StringStroke


class FingeredLine(msgspec.Struct, frozen=True, gc=False):
    """The line's events in bars, the limit, and plucks that had to be left out as (place, string)."""

    bars: tuple[FittedBar, ...]
    limit: Limit
    impossible: tuple[tuple[int, int], ...]


def finger_line(
    pattern: Pattern, instrument: Instrument, hand: str, tempo_bpm: int, level: str
) -> FingeredLine:
    """Fingers for a pattern of bare strings.

    Raises
    ------
    PatternError
        If a stroke is no bare string, or a string is not on the instrument.
    """
    for _, stroke in pattern.strokes():
        if not isinstance(stroke, StringStroke):
            raise PatternError("line-strings")
        if stroke.string > instrument.strings:
            raise PatternError("line-no-string", string=stroke.string, strings=instrument.strings)
    strings = [tuple(s.string for s in slot if isinstance(s, StringStroke)) for slot in pattern.slots]
    if hand == "pick":
        names = _picked(pattern, strings)
    else:
        times = [seconds(at, pattern.meter, tempo_bpm) for at in pattern.starts[:-1]]
        line = tuple(Placed(at, found) for at, found in zip(times, strings, strict=True))
        names = fingers_for(line, hand_on(instrument, hand), MOTORS[level]).fingers
    bars = _bars(pattern, names)
    limit = (
        _pick_limit(pattern, bars, MOTORS[level]) if hand == "pick" else limit_of(bars, pattern.meter, level)
    )
    gone = tuple(
        (i, string)
        for i, (found, own) in enumerate(zip(strings, names, strict=True))
        for string, name in zip(found, own, strict=True)
        if name is None
    )
    return FingeredLine(bars, limit, gone)


def _picked(pattern: Pattern, strings: list[tuple[int, ...]]) -> tuple[tuple[str | None, ...], ...]:
    """One stroke a place: of several strings at once a pick can pluck the lowest only."""
    strong = tuple(not _between(pattern.meter, at) for at in pattern.starts[:-1])
    ways = pick_strokes(strong)
    return tuple(
        tuple(way if string == max(found) else None for string in found)
        for way, found in zip(ways, strings, strict=True)
    )


def _between(meter: Meter, at: Fraction) -> bool:
    """Whether a moment lies between the numbered parts: on an `&` of eighths, on `e` or `a` of sixteenths."""
    count = count_at(meter, at % meter.bar)
    return count.endswith(("e", "a", "·") if meter.unit == 8 else ("e", "a", "·", "&"))


def _bars(pattern: Pattern, names: tuple[tuple[str | None, ...], ...]) -> tuple[FittedBar, ...]:
    bar, out = pattern.meter.bar, []
    for number in range(-(-pattern.length // bar)):
        begin = number * bar
        events = tuple(
            Event(
                at - begin, count_at(pattern.meter, at - begin), finger, None, stroke.string, None, None,
                None, stroke.accent, "pluck", index,
            )
            for index, at in enumerate(pattern.starts[:-1])
            if begin <= at < begin + bar
            for stroke, finger in zip(pattern.slots[index], names[index], strict=True)
            if isinstance(stroke, StringStroke)
        )  # fmt: skip
        length = min(bar, pattern.length - begin)
        out.append(FittedBar(number + 1, length, events, (), (), ()))
    return tuple(out)


def _pick_limit(pattern: Pattern, bars: tuple[FittedBar, ...], motor: Motor) -> Limit:
    """A pick needs time for the next stroke, for each string that it jumps, and to turn back in the air."""
    timed = [
        (float((bar.number - 1) * pattern.meter.bar + e.at), bar.number, e)
        for bar in bars
        for e in bar.events
        if e.finger is not None
    ]
    spots = []
    for (one, _, old), (other, number, new) in pairwise(timed):
        needed = motor.any_s + motor.per_string_s * abs(old.string - new.string)
        code = "pick-again" if old.finger == new.finger else "pick-jump"
        needed = max(needed, motor.thumb_s) if code == "pick-again" else needed
        tempo = (other - one) / float(pattern.meter.tempo_beat) * 60.0 / needed
        spots.append(
            Spot(number, new.at, new.count, code, str(new.finger), old.string, new.string, round(tempo, 1))
        )
    spots.sort(key=lambda spot: spot.tempo)
    return Limit(min(FASTEST_BPM, int(spots[0].tempo)) if spots else FASTEST_BPM, tuple(spots[:3]))
