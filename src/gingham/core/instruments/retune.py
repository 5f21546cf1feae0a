"""Retuning: which peg, how far, and which other string to match."""

from __future__ import annotations

import msgspec

from gingham.core.instruments.instrument import CATALOGUE, Instrument
from gingham.core.music.pitch import Pitch

_TIGHT, _SLACK = 2, 5  # semitones up from which a usual string may break, and down from which it only rattles


class Peg(msgspec.Struct, frozen=True, gc=False):
    """One string to retune: from, to, semitones (negative is down), and a string to match it with.

    `match` is (string, fret on that string, octaves above the retuned string), None if no other string helps.
    """

    string: int
    before: Pitch
    after: Pitch
    semitones: int
    match: tuple[int, int, int] | None


def pegs(instrument: Instrument, before: Instrument | None = None) -> tuple[Peg, ...]:
    """What to do to come from `before` (the instrument's usual tuning) to the tuning of `instrument`.

    Empty if nothing changes, or if the two have different numbers of strings.
    """
    base = before if before is not None else CATALOGUE.get(instrument.id)
    if base is None or base.strings != instrument.strings:
        return ()
    changed = [s for s in range(instrument.strings, 0, -1) if base.open_midi(s) != instrument.open_midi(s)]
    return tuple(_peg(instrument, base, string, changed) for string in changed)


def strained(instrument: Instrument) -> tuple[tuple[int, ...], tuple[int, ...]]:
    """The strings that are tuned too high for the strings usually on them, and those too low."""
    found = pegs(instrument)
    tight = tuple(peg.string for peg in found if peg.semitones > _TIGHT)
    return tight, tuple(peg.string for peg in found if peg.semitones < -_SLACK)


def _peg(instrument: Instrument, base: Instrument, string: int, changed: list[int]) -> Peg:
    index = instrument.strings - string
    semitones = instrument.open_midi(string) - base.open_midi(string)
    return Peg(
        string, base.tuning[index], instrument.tuning[index], semitones, _match(instrument, string, changed)
    )


def _match(instrument: Instrument, string: int, changed: list[int]) -> tuple[int, int, int] | None:
    """An open string an octave or two away or in unison, else one fretted below the fifth fret."""
    wanted = instrument.open_midi(string)
    steady = [s for s in range(instrument.strings, 0, -1) if s not in changed]
    options = [
        (fret, abs(octaves), other, octaves)
        for other in steady
        for fret in range(5)
        for octaves in (0, 1, 2, -1)
        if instrument.open_midi(other) + fret == wanted + 12 * octaves
    ]
    if not options:
        return None
    fret, _, other, octaves = min(options)
    return other, fret, octaves
