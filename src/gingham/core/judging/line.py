"""A line of strings by itself, without chords: its fingers (or pick strokes), and how fast it can go."""

from __future__ import annotations

import msgspec

from gingham.core.errors import PatternError
from gingham.core.fitting.picked import lies_between
from gingham.core.fitting.result import Event, FittedBar
from gingham.core.hands.motor import motor_of
from gingham.core.hands.picking import Placed, fingers_for, hand_on, pick_strokes
from gingham.core.instruments.instrument import Instrument
from gingham.core.judging.speed import Limit, limit_of
from gingham.core.music.meter import count_at, seconds
from gingham.core.patterns.pattern import Pattern, PickWay, StringStroke


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
        names = fingers_for(line, hand_on(instrument, hand), motor_of(level)).fingers
    bars = _bars(pattern, names)
    limit = limit_of(bars, pattern.meter, level)
    gone = tuple(
        (i, string)
        for i, (found, own) in enumerate(zip(strings, names, strict=True))
        for string, name in zip(found, own, strict=True)
        if name is None
    )
    return FingeredLine(bars, limit, gone)


def _picked(pattern: Pattern, strings: list[tuple[int, ...]]) -> tuple[tuple[str | None, ...], ...]:
    """One stroke a place: of several strings at once a pick can pluck the lowest only."""
    strong = tuple(not lies_between(pattern.meter, at) for at in pattern.starts[:-1])
    ways = pick_strokes(strong)
    return tuple(
        tuple(way if string == max(found) else None for string in found)
        for way, found in zip(ways, strings, strict=True)
    )


def _bars(pattern: Pattern, names: tuple[tuple[str | None, ...], ...]) -> tuple[FittedBar, ...]:
    bar, out = pattern.meter.bar, []
    for number in range(-(-pattern.length // bar)):
        begin = number * bar
        events = tuple(
            Event(
                at - begin, count_at(pattern.meter, at - begin), finger, None, stroke.string, None, None,
                None, stroke.accent, "pluck", index, pick=_way_of(finger),
            )
            for index, at in enumerate(pattern.starts[:-1])
            if begin <= at < begin + bar
            for stroke, finger in zip(pattern.slots[index], names[index], strict=True)
            if isinstance(stroke, StringStroke)
        )  # fmt: skip
        length = min(bar, pattern.length - begin)
        out.append(FittedBar(number + 1, length, events, (), (), ()))
    return tuple(out)


def _way_of(finger: str | None) -> PickWay | None:
    return "down" if finger == "down" else "up" if finger == "up" else None
