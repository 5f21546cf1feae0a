"""Another tuning under the same shapes: what the hand holds stays, what it is called changes."""

from __future__ import annotations

from gingham.core.fitting.cache import FitCache
from gingham.core.fitting.fit import fit
from gingham.core.instruments.instrument import Instrument
from gingham.core.music.key import Key
from gingham.core.pieces.chordline import HOLD, REPEAT, SILENCE, Bar, ChordLine, ChordPlace
from gingham.core.pieces.edits import set_instrument
from gingham.core.pieces.piece import Piece
from gingham.core.shapes.context import Grip
from gingham.core.shapes.naming import names_of
from gingham.core.shapes.shape import Shape, misfit
from gingham.core.values import replace

_Held = dict[tuple[str, Shape | None], Grip]


def can_keep_shapes(piece: Piece, instrument: Instrument) -> bool:
    """Whether the shapes of now can be held on the other instrument at all: as many strings."""
    return instrument.strings == piece.instrument.strings and bool(piece.chords())


def with_shapes_kept(piece: Piece, instrument: Instrument) -> Piece:
    """The piece on another instrument or tuning, every chord in the shape that it has now, named anew.

    A shape that does not suit the instrument, or that has no name there, keeps its symbol.
    """
    held: _Held = {}
    cache = FitCache()
    for index in range(len(piece.sections)):
        for fitted in fit(piece, index, cache).spans:
            on, span = fitted.assignment, fitted.span
            if on is not None and span.chord is not None:
                held[span.chord.text, span.shape] = Grip(on.shape, on.fretting)
    after = set_instrument(piece, instrument)
    key = piece.key
    sections = tuple(
        replace(section, chords=_line(section.chords, held, after, key)) for section in piece.sections
    )
    return replace(after, sections=sections)


def _line(line: ChordLine, held: _Held, piece: Piece, key: Key | None) -> ChordLine:
    def renamed(bar: Bar) -> Bar:
        return tuple(_place(place, held, piece, key) for place in bar)

    pickup = None if line.pickup is None else replace(line.pickup, places=renamed(line.pickup.places))
    return ChordLine(tuple(map(renamed, line.bars)), pickup)


def _place(place: ChordPlace, held: _Held, piece: Piece, key: Key | None) -> ChordPlace:
    grip = held.get((place.symbol, place.shape))
    if place.symbol in (HOLD, REPEAT, SILENCE) or grip is None:
        return place
    if misfit(grip.shape, piece.instrument, piece.capo) is not None:
        return place
    names = names_of(grip.shape, piece.instrument, piece.capo, key)
    if not names:
        return place
    fingers = grip.fretting.fingers if grip.fretting is not None else None
    return ChordPlace(names[0].text, grip.shape, place.running, fingers)
