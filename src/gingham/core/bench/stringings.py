"""The same hand on the stringings of a ukulele: what the pattern then sounds, to be heard side by side."""

from __future__ import annotations

import msgspec

from gingham.core.bench.retuned import with_shapes_kept
from gingham.core.errors import GinghamError
from gingham.core.fitting.fit import fit
from gingham.core.fitting.result import Result
from gingham.core.instruments.instrument import CATALOGUE, Instrument
from gingham.core.judging.stringing import lowest_string
from gingham.core.music.pitch import Pitch
from gingham.core.pieces.piece import Piece

STRINGINGS = ("ukulele", "ukulele-low", "ukulele-baritone")
_SHOWN = 8  # notes of the contour: a bar of eighths


class Strung(msgspec.Struct, frozen=True, gc=False):
    """A section on other strings: `chord` is what the shape is called there, `pitches` what the hand plucks
    from it in order from bar `bar` on, `lowest` the string that sounds lowest."""

    instrument: Instrument
    result: Result
    bar: int
    chord: str
    pitches: tuple[Pitch, ...]
    lowest: int | None


def stringings(piece: Piece, section: int, index: int) -> tuple[Strung, ...]:
    """The span `index` of a section under each stringing, every shape kept; nothing without 4 strings."""
    if piece.instrument.strings != 4:
        return ()
    found = []
    for name in STRINGINGS:
        try:
            result = fit(with_shapes_kept(piece, CATALOGUE[name]), section)
        except GinghamError:
            continue  # a shape too high for this neck
        if 0 <= index < len(result.spans):
            found.append(_strung(CATALOGUE[name], result, index))
    return tuple(found)


def _strung(on: Instrument, result: Result, index: int) -> Strung:
    span = result.spans[index].span
    plucks = [
        event.pitch
        for bar in result.bars_of(index)
        for event in bar.events
        if event.pitch is not None and not event.silent and result.span_at(bar, event.at) == index
    ]
    chord = span.chord.text if span.chord is not None else ""
    return Strung(on, result, span.bar, chord, tuple(plucks[:_SHOWN]), lowest_string(result, index))
