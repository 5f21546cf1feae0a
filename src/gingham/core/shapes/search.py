"""Search for playable shapes of a chord symbol, easiest first.

A depth-first walk from the highest string number to string 1. Whatever can no longer become a shape of
this chord (wrong bass, too wide, too many silent strings) is dropped at once.
"""

from __future__ import annotations

from bisect import insort
from functools import lru_cache
from itertools import pairwise
from operator import itemgetter

import msgspec

from gingham.core.instruments.instrument import Instrument
from gingham.core.music.chords import Chord
from gingham.core.music.degree import Degree
from gingham.core.shapes.fretting import Fretting, fretting
from gingham.core.shapes.known import movable_shapes, open_shapes
from gingham.core.shapes.shape import Shape

HIGHEST_FRET = 12
_SPAN = 3  # frets between the lowest and the highest fretted note
_WIDE_FROM = 5  # from this fret on the hand spans one more
# Effort of what is not a finger, in fingers.
_SILENT_BASS, _SILENT_TREBLE, _SILENT_INSIDE = (0.0, 0.4, 1.8, 3.6), 2.6, 3.6
_POSITION, _SPREAD = 0.28, 0.25
_OPEN_ABOVE, _OPEN_INSIDE, _OPEN_AMONG_FOUR = (
    0.6,
    1.1,
    0.35,
)  # open strings beside frets above the third; between held strings
_LOW_COLOUR = 1.1  # a tone that is not root, third or fifth just above the bass
_LOW_THIRD, _LOW_BELOW_MIDI = 0.6, 43  # a third or less between the two lowest strings, below G2
_MISSING = {1: 1.5, 3: 2.0, 5: 0.35, 7: 1.2, 9: 0.5, 11: 0.5}
_WRONG_BASS = 1.6
_TWO_FINGERS = 3.6  # what the index and another finger across three strings take at least
_FIRST = 3  # so many shapes are looked at first; one of them has no open string
_VARIANT = 2.2  # how far a shape that is hardly another one goes back in the list


class RankedShape(msgspec.Struct, frozen=True, gc=False):
    """A shape with its fretting and its effort (in fingers: lower is easier)."""

    shape: Shape
    fretting: Fretting
    effort: float


class _Wanted(msgspec.Struct, frozen=True, gc=False):
    """What the walk needs to know, prepared once."""

    options: tuple[tuple[int, ...], ...]  # frets per string, highest string number first
    open_classes: tuple[int, ...]
    bass: int | None  # pitch class that must sound lowest, None where the order of strings is free
    required: frozenset[int]
    least_sounding: int


@lru_cache(maxsize=1024)
def shapes_for(
    chord: Chord, instrument: Instrument, capo: int = 0, most: int = 12
) -> tuple[RankedShape, ...]:
    """The `most` easiest shapes of `chord` with the capo on, easiest first; empty if no hand can.

    The symbol names the shape (what is fingered), not what sounds above the capo.
    """
    highest = min(HIGHEST_FRET, instrument.frets - capo)
    order_matters = instrument.strings > 4 and not instrument.reentrant
    for bass in (chord.bass_note.pitch_class if order_matters else None, None):
        found = _easiest(_walk(_wanted(chord, instrument, highest, bass)), chord, instrument, 2 * most)
        if found:
            known = _known(chord, instrument, highest)
            rest = tuple(each for each in found if each.shape not in {own.shape for own in known})
            return _with_movable([*known, *_with_variety(rest, known)])[:most]
    return ()


def effort_as_known(ranked: RankedShape) -> float:
    """The effort of a shape that players know: a string that it mutes on the way is no trouble to them."""
    return ranked.effort - _SILENT_INSIDE * _inner_mutes(ranked.shape.sounding)


def _known(chord: Chord, instrument: Instrument, highest: int) -> tuple[RankedShape, ...]:
    """The open shapes that players know, in the order of their table; without any the movable ones."""
    known = open_shapes(chord, instrument)
    out = []
    for shape in known or movable_shapes(chord, instrument):
        held = fretting(shape)
        if held is not None and max(fret or 0 for fret in shape.frets) <= highest:
            out.append(RankedShape(shape, held, effort(chord, shape, held, instrument)))
    return tuple(out if known else sorted(out, key=lambda each: each.effort))


def _easiest(shapes: list[Shape], chord: Chord, instrument: Instrument, most: int) -> tuple[RankedShape, ...]:
    """The easiest of the shapes. Those that must be harder than enough others are not looked at closely."""
    found: list[RankedShape] = []
    efforts: list[float] = []
    for least, shape in sorted(((_least_effort(shape), shape) for shape in shapes), key=itemgetter(0)):
        if len(efforts) >= most and least > efforts[most - 1] + 0.01:
            break
        held = fretting(shape)
        if held is not None:
            found.append(RankedShape(shape, held, effort(chord, shape, held, instrument)))
            insort(efforts, found[-1].effort)
    ranked = sorted(found, key=lambda r: (r.effort, [f or 0 for f in r.shape.frets]))
    return tuple(ranked[:most])


def _with_variety(
    ranked: tuple[RankedShape, ...], before: tuple[RankedShape, ...]
) -> tuple[RankedShape, ...]:
    """The same shapes in the order in which they are offered after `before`.

    Those that only leave out or double a string of an easier one go further back.
    """
    known = [each.shape for each in before]
    keys: dict[Shape, float] = {}
    for each in ranked:
        variant = any(_is_variant(each.shape, other) for other in known)
        keys[each.shape] = each.effort + _VARIANT * variant
        if not variant:
            known.append(each.shape)
    return tuple(sorted(ranked, key=lambda r: keys[r.shape]))


def _with_movable(ranked: list[RankedShape]) -> tuple[RankedShape, ...]:
    """The same shapes, the first that can be moved along the neck among the first three."""
    movable = (index for index, each in enumerate(ranked) if 0 not in each.shape.frets)
    first = next(movable, 0)
    if first > _FIRST - 1:
        ranked.insert(_FIRST - 1, ranked.pop(first))
    return tuple(ranked)


def _is_variant(shape: Shape, other: Shape) -> bool:
    """Whether two shapes are the same but for silent strings and at most one string that differs."""
    pairs = list(zip(shape.frets, other.frets, strict=True))
    differing = sum(a != b for a, b in pairs if a is not None and b is not None)
    common = sum(a == b for a, b in pairs if a is not None)
    return differing <= 1 and common >= min(3, len(pairs) - 1)


def _least_effort(shape: Shape) -> float:
    """A bound that `effort` never goes below, from what can be seen at a glance."""
    frets = shape.frets
    fretted = [fret for fret in frets if fret]
    total = _silence(shape, shape.sounding)
    if fretted:
        low = min(fretted)
        thumb = bool(frets[0]) and len(frets) == 6
        fingers = min(len(fretted), 1.8 + sum(fret > low for fret in fretted) - thumb)
        total += min(fingers, _TWO_FINGERS) if fretted.count(max(fretted)) >= 3 else fingers
        total += _place(fretted) + _open_above(shape, fretted)
    return total


def _silence(shape: Shape, sounding: tuple[int, ...]) -> float:
    """What silent strings cost."""
    bass, treble = len(shape.frets) - sounding[0], sounding[-1] - 1
    return _SILENT_BASS[min(bass, 3)] + _SILENT_TREBLE * treble + _SILENT_INSIDE * _inner_mutes(sounding)


def _open_above(shape: Shape, fretted: list[int]) -> float:
    """What open strings cost beside and between frets above the third."""
    above = max(fretted) - 3
    if above <= 0 or 0 not in shape.frets:
        return 0.0
    return _OPEN_ABOVE * above + _OPEN_INSIDE * _opens_inside(shape)


def _place(fretted: list[int]) -> float:
    """What the position on the neck and the spread of the frets cost."""
    low, high = min(fretted), max(fretted)
    return _POSITION * (low - 1) + _SPREAD * max(0, high - low - 1)


def _wanted(chord: Chord, instrument: Instrument, highest: int, bass: int | None) -> _Wanted:
    classes = chord.pitch_classes
    opens = tuple(pitch.midi for pitch in instrument.tuning)
    options = tuple(tuple(f for f in range(highest + 1) if (midi + f) % 12 in classes) for midi in opens)
    needed = _required(chord, instrument.strings)
    least = instrument.strings if instrument.strings <= 4 else min(4, instrument.strings)
    if len(classes) <= 2:
        least = 3
    return _Wanted(options, tuple(m % 12 for m in opens), bass, needed, least)


def _required(chord: Chord, strings: int) -> frozenset[int]:
    """Pitch classes that may not be left out: all but a plain fifth, the ninth under 11 or 13, and where
    the strings are too few the root."""
    tones = chord.tones
    drop: list[int] = []
    if len(tones) > 3:
        drop = [5, 9] if chord.degrees[-1].number > 9 else [5]
        drop += [11] if chord.degrees[-1].number > 11 else []
    keep = [(d, n) for d, n in tones if not (d.number in drop and d.alter == 0)]
    if len(keep) > strings:
        keep = [(d, n) for d, n in keep if d.number != 1]
    return frozenset(note.pitch_class for _, note in keep)


def _walk(want: _Wanted) -> list[Shape]:
    out: list[Shape] = []
    count = len(want.options)
    frets: list[int | None] = []

    def step(index: int, low: int, high: int, missing: frozenset[int], silent: int, gaps: int) -> None:
        if gaps > 1 or len(missing) > count - index or silent > count - want.least_sounding:
            return
        if index == count:
            out.append(Shape(tuple(frets)))
            return
        started = silent < index
        gap = gaps + (started and frets[-1] is None)
        for fret in want.options[index]:
            sounding_class = (want.open_classes[index] + fret) % 12
            if not started and want.bass is not None and sounding_class != want.bass:
                continue
            if fret:
                new_low, new_high = min(low, fret), max(high, fret)
                if new_high - new_low > _SPAN + (new_low >= _WIDE_FROM):
                    continue
            else:
                new_low, new_high = low, high
            frets.append(fret)
            if not fret or _fingers_reach(frets, new_low):
                step(index + 1, new_low, new_high, missing - {sounding_class}, silent, gap)
            frets.pop()
        frets.append(None)
        step(index + 1, low, high, missing, silent + 1, gaps)
        frets.pop()

    step(0, 99, 0, want.required, 0, 0)
    return [shape for shape in out if _inner_mutes(shape.sounding) <= 1]


def _fingers_reach(frets: list[int | None], low: int) -> bool:
    """Whether a hand can still hold what has been chosen: more than four strings need a barre at `low`, which
    leaves three fingers above it and no open string under it, or the thumb on the first string."""
    held = [fret for fret in frets if fret]
    if len(held) <= 4 or (len(held) == 5 and frets[0]):  # the thumb may hold the first string
        return True
    if sum(fret > low for fret in held) > 3 + bool(frets[0] and frets[0] > low):
        return False
    if frets[0]:
        return True
    first = frets.index(low)
    return 0 not in frets[first : len(frets) - frets[::-1].index(low)]


def _inner_mutes(sounding: tuple[int, ...]) -> int:
    return sum(a - b - 1 for a, b in pairwise(sounding))


def _opens_inside(shape: Shape) -> int:
    held = [i for i, fret in enumerate(shape.frets) if fret]
    return sum(fret == 0 for fret in shape.frets[held[0] : held[-1]])


def effort(chord: Chord, shape: Shape, held: Fretting, instrument: Instrument) -> float:
    """What the shape asks of the fretting hand and of the ear, in fingers (1.0 = one finger to set)."""
    sounding = shape.sounding
    fretted = [fret for fret in shape.frets if fret]
    total = held.cost + _silence(shape, sounding)
    if fretted:
        total += _place(fretted)
        total += _open_above(shape, fretted)
        if max(fretted) <= 3 < max(held.fingers):
            total += _OPEN_AMONG_FOUR * _opens_inside(shape)
    total += sum(_MISSING.get(degree.number, 1.0) for degree in missing_degrees(chord, shape, instrument))
    if instrument.strings > 4 and not instrument.reentrant:
        low, second = sorted(instrument.open_midi(s) + (shape.fret(s) or 0) for s in sounding)[:2]
        total += _WRONG_BASS * (low % 12 != chord.bass_note.pitch_class)
        total += _LOW_COLOUR * (chord.tone_at(second)[0].number not in (1, 3, 5))
        total += _LOW_THIRD * (second - low <= 4 and low < _LOW_BELOW_MIDI)
    return round(total, 2)


def missing_degrees(chord: Chord, shape: Shape, instrument: Instrument) -> tuple[Degree, ...]:
    """The chord's degrees that no string of the shape sounds."""
    classes = {(instrument.open_midi(s) + (shape.fret(s) or 0)) % 12 for s in shape.sounding}
    return tuple(degree for degree, note in chord.tones if note.pitch_class not in classes)
