"""How an order of strokes most likely sits on the beats.

The likeliest way puts the thumb, down-strokes and chucks on the counted beats and fingers and up-strokes
between; then comes half a bar that comes twice, then an even spread, then one with rests (see `figures`).
"""

from __future__ import annotations

from gingham.core.music.meter import SLOT_COUNTS, Meter, meter
from gingham.core.patterns.figures import Way, places, usual_grid, ways
from gingham.core.patterns.pattern import Pattern, Pluck, Slot, StringStroke, Sweep
from gingham.core.reasons import Reason
from gingham.core.values import replace

_USUAL = (meter(4, 4), meter(3, 4), meter(2, 4))
_SIX = 6


def said_ways(slots: tuple[Slot, ...], given: Meter | None, strings: int = 6) -> tuple[Way, ...]:
    """The ways to sit an order of strokes on an instrument of so many strings, the likeliest first."""
    found: list[Way] = []
    if given is None and _in_six(slots, strings):
        found.append(_whole(meter(6, 8), (3,), slots, "said-even"))
    meters = (given,) if given is not None else _USUAL
    for each in meters:
        found += _by_beats(slots, each, strings)
        found += _evenly(slots, each, strings)
    on_beats = next((way for way in found if not _off_beat(way.pattern, strings)), None)
    if on_beats is not None:
        found.insert(0, on_beats)
    for each in meters[:1]:
        found += [*_by_beats(slots, each, strings, rests=True), *ways(slots, each), _filled(slots, each)]
    known: dict[object, Way] = {}
    for way in found:
        known.setdefault((replace(way.pattern, breaks=()), way.align), way)
    return tuple(known.values())


def _in_six(slots: tuple[Slot, ...], strings: int) -> bool:
    """Whether six strokes are the six eighths of a bar: one thumb, or one on each of its two beats."""
    thumbs = [index for index, slot in enumerate(slots) if _on_beat(slot, strings)]
    return len(slots) == _SIX and (len(thumbs) == 1 or thumbs == [0, _SIX // 2])


def _on_beat(slot: Slot, strings: int) -> bool:
    """Whether a stroke belongs on a counted beat: the thumb, a down-stroke, a chuck, a bass string."""
    for stroke in slot:
        if isinstance(stroke, Pluck) and stroke.finger == "p":
            return True
        if isinstance(stroke, Sweep) and stroke.kind != "brush-up":
            return True
        if isinstance(stroke, StringStroke) and stroke.string > strings // 2:
            return True
    return False


def _is_up(slot: Slot) -> bool:
    return any(isinstance(stroke, Sweep) and stroke.kind == "brush-up" for stroke in slot)


def _beats(slots: tuple[Slot, ...], strings: int) -> list[list[Slot]] | None:
    """The strokes beat by beat, one between at most; an up-stroke without room waits for the next between."""
    beats: list[list[Slot]] = []
    for slot in slots:
        if _on_beat(slot, strings):
            beats.append([slot])
        elif beats and len(beats[-1]) == 1:
            beats[-1].append(slot)
        elif _is_up(slot):
            beats.append([(), slot])
        else:
            return None
    return beats


def _by_beats(slots: tuple[Slot, ...], given: Meter, strings: int, rests: bool = False) -> list[Way]:
    """Thumb and down-strokes on the beats, one stroke between where there is one; `rests` fill the bar."""
    count, beats = len(given.groups), _beats(slots, strings)
    if beats is None or {*given.groups} != {1}:
        return []
    laid = tuple(slot for beat in beats for slot in (*beat, *(((),) * (2 - len(beat)))))
    if len(beats) % count == 0:
        return [_whole(given, (2,), laid, "said-beats")]
    if 2 * len(beats) == count:
        return [_whole(given, (2,), (*laid, *laid), "said-twice", breaks=(len(laid),))]
    if not rests or len(beats) < 2:
        return []
    short: tuple[Slot, ...] = ((),) * (2 * (count - len(beats) % count))
    return [_whole(given, (2,), (*laid, *short), "said-beats-rest")]


def _evenly(slots: tuple[Slot, ...], given: Meter, strings: int) -> list[Way]:
    """Half a bar that comes twice, then one bar of even strokes; those with the thumb on beats first."""
    count, out = len(given.groups), list[Way]()
    if len({*given.groups}) > 1:
        return []
    for per_beat in SLOT_COUNTS:
        if 2 * len(slots) == count * per_beat:
            out.append(_whole(given, (per_beat,), (*slots, *slots), "said-twice", breaks=(len(slots),)))
    for per_beat in SLOT_COUNTS:
        if len(slots) == count * per_beat:
            out.append(_whole(given, (per_beat,), slots, "said-even"))
    usual = usual_grid(given)[0]
    return sorted(out, key=lambda way: (_off_beat(way.pattern, strings), way.pattern.per_beat[0] > usual))


def _filled(slots: tuple[Slot, ...], given: Meter) -> Way:
    """One after the other on the usual grid, with rests to the end of the bar: the way that always is."""
    grid = usual_grid(given)
    missing: tuple[Slot, ...] = ((),) * (-len(slots) % places(given, grid))
    return _whole(given, grid, (*slots, *missing), "said-filled")


def _off_beat(pattern: Pattern, strings: int) -> int:
    """How many strokes that belong on a beat lie between beats."""
    beats = set(pattern.meter.beat_starts)
    return sum(
        _on_beat(slot, strings) and pattern.starts[index] % pattern.meter.bar not in beats
        for index, slot in enumerate(pattern.slots)
    )


def _whole(
    given: Meter, per_beat: tuple[int, ...], slots: tuple[Slot, ...], code: str, breaks: tuple[int, ...] = ()
) -> Way:
    return Way(Reason.of(code), Pattern(given, per_beat, slots, breaks))
