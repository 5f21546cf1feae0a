"""A piece in another key: symbols respelled, shapes and thumb chosen anew, what cannot be kept listed."""

from __future__ import annotations

import msgspec

from gingham.core.music.chords import Chord, parse_chord
from gingham.core.music.key import Key, sounding
from gingham.core.music.pitch import pitch_from_midi, spell_pitch_class
from gingham.core.pieces.chordline import HOLD, REPEAT, SILENCE, Bar, ChordLine, ChordPlace
from gingham.core.pieces.lyrics import TuneNote
from gingham.core.pieces.piece import HereOverride, Override, Piece
from gingham.core.shapes.search import HIGHEST_FRET
from gingham.core.shapes.shape import Shape
from gingham.core.values import replace


class Transposed(msgspec.Struct, frozen=True, gc=False):
    """The piece in its new key, and what was given up: pinned shapes (as places) and exceptions."""

    piece: Piece
    pins: tuple[ChordPlace, ...]
    overrides: tuple[Override, ...]


def transpose(piece: Piece, semitones: int) -> Transposed:
    """Every chord `semitones` higher, spelled by the new key.

    A pinned shape without open strings moves along the neck with its fingers and the exceptions on it; any
    other belongs to the old chord and is given up. Exceptions at single places are about fingers and strings
    and are kept.
    """
    key, pins = piece.shape_key(), []
    for section in piece.sections:
        places = [place for bar in section.chords.bars for place in bar]
        if section.chords.pickup is not None:
            places += section.chords.pickup.places
        pins += [p for p in places if p.shape is not None and along_neck(p.shape, semitones) is None]
    sections = tuple(
        replace(s, chords=_line(s.chords, semitones, key), tune=_tune(s.tune, semitones, key))
        for s in piece.sections
    )
    exceptions = {o: _override(o, semitones, key) for o in piece.overrides}
    kept = tuple(moved_on for moved_on in exceptions.values() if moved_on is not None)
    gone = tuple(o for o, moved_on in exceptions.items() if moved_on is None)
    new_key = None if piece.key is None else piece.key.up(semitones)
    return Transposed(
        replace(piece, sections=sections, overrides=kept, key=new_key), tuple(dict.fromkeys(pins)), gone
    )


def _tune(tune: tuple[TuneNote, ...], semitones: int, key: Key) -> tuple[TuneNote, ...]:
    """The tune's pitches moved; a note that is given by string and fret would be another one: left out."""
    flats = "b" in str(key.up(semitones))
    return tuple(
        replace(n, pitch=pitch_from_midi(midi, spell_pitch_class(midi, flats=flats)))
        for n in tune
        if n.pitch is not None
        for midi in (n.pitch.midi + semitones,)
    )


def transposed(piece: Piece, semitones: int) -> Piece:
    """Only the piece of `transpose`."""
    return transpose(piece, semitones).piece


def _line(line: ChordLine, semitones: int, key: Key) -> ChordLine:
    bars = tuple(_bar(bar, semitones, key) for bar in line.bars)
    pickup = line.pickup
    if pickup is not None:
        pickup = replace(pickup, places=_bar(pickup.places, semitones, key))
    return ChordLine(bars, pickup)


def _bar(bar: Bar, semitones: int, key: Key) -> Bar:
    return tuple(
        place if place.symbol in (HOLD, REPEAT, SILENCE) else _place(place, semitones, key) for place in bar
    )


def _place(place: ChordPlace, semitones: int, key: Key) -> ChordPlace:
    shape = None if place.shape is None else along_neck(place.shape, semitones)
    fingers = place.fingers if shape is not None else None
    return ChordPlace(moved(parse_chord(place.symbol), semitones, key).text, shape, place.running, fingers)


def _override(override: Override, semitones: int, key: Key) -> Override | None:
    """An exception as it holds in the new key; None if its shape cannot move along."""
    if isinstance(override, HereOverride):
        return override
    shape = along_neck(override.shape, semitones)
    if shape is None:
        return None
    return replace(override, symbol=moved(parse_chord(override.symbol), semitones, key).text, shape=shape)


def along_neck(shape: Shape, frets: int) -> Shape | None:
    """A shape so many frets further up (or down); None if it has open strings or would leave the frets."""
    held = [fret for fret in shape.frets if fret is not None]
    if 0 in held or min(held) + frets < 1 or max(held) + frets > HIGHEST_FRET:
        return None
    return Shape(tuple(None if fret is None else fret + frets for fret in shape.frets))


def moved(chord: Chord, semitones: int, key: Key) -> Chord:
    """A chord of `key` that many semitones higher, spelled by the key that results."""
    return sounding(chord, semitones % 12, key)
