"""Barre chords: how much of them there is, and which strings truly need the finger laid flat."""

from __future__ import annotations

from fractions import Fraction

import msgspec

from gingham.core.fitting.result import Assignment, Result
from gingham.core.music.meter import seconds


class BarreChord(msgspec.Struct, frozen=True, gc=False):
    """A chord that is held with a barre: where first, how often it enters, and for how many beats in all.

    `finger` lies across `strings` (from the highest number to the lowest) at `fret`; `needed` are those of
    them that the barre itself sounds and that are plucked.
    """

    span: int
    chord: str
    finger: int
    fret: int
    strings: tuple[int, int]
    needed: tuple[int, ...]
    times: int
    beats: Fraction


class BarreLoad(msgspec.Struct, frozen=True, gc=False):
    """The barre chords of a section, how many enter in a minute, and the share of its time they last."""

    chords: tuple[BarreChord, ...]
    a_minute: float
    share: float


def barre_load(result: Result) -> BarreLoad:
    """The barres of a section at its tempo, each chord and shape once."""
    piece = result.piece
    found: dict[tuple[str, str], BarreChord] = {}
    entered, before, held = 0, None, Fraction(0)
    for index, span in enumerate(result.spans):
        on = span.assignment
        made = None if on is None else _barre(result, index, on)
        if made is not None and on is not None:
            held += span.span.length
            enters = before is None or (before.chord, before.shape) != (on.chord, on.shape)
            entered += enters
            key = (on.chord.text, str(on.shape))
            known = found.get(key)
            if known is None:
                found[key] = made
            else:
                needed = tuple(sorted({*known.needed, *made.needed}, reverse=True))
                found[key] = BarreChord(
                    known.span, known.chord, known.finger, known.fret, known.strings, needed,
                    known.times + enters, known.beats + made.beats,
                )  # fmt: skip
        before = on
    length = result.length()
    minutes = seconds(length, piece.meter, piece.tempo) / 60 if length else 0.0
    share = float(held / length) if length else 0.0
    return BarreLoad(tuple(found.values()), entered / minutes if minutes else 0.0, share)


def _barre(result: Result, index: int, on: Assignment) -> BarreChord | None:
    """The barre of one chord; None if no finger holds several strings."""
    lies = on.fretting.barre if on.fretting is not None else None
    if lies is None:
        return None
    span = result.spans[index]
    across = range(lies.from_string, lies.to_string - 1, -1)
    needed = tuple(string for string in across if string in span.strings and on.fret(string) == lies.fret)
    return BarreChord(
        index, on.chord.text, lies.finger, lies.fret, (lies.from_string, lies.to_string), needed, 1,
        span.span.length / result.piece.meter.tempo_beat,
    )  # fmt: skip
