"""A piece in another key: symbols respelled, shapes and thumb chosen anew, what cannot be kept listed."""

from __future__ import annotations

import msgspec

from gingham.core.music.chords import Chord, parse_chord
from gingham.core.music.key import Key, sounding
from gingham.core.music.pitch import pitch_from_midi, spell_pitch_class
from gingham.core.pieces.chordline import HOLD, REPEAT, SILENCE, Bar, ChordLine, ChordPlace
from gingham.core.pieces.lyrics import TuneNote
from gingham.core.pieces.piece import HereOverride, Override, Piece
from gingham.core.values import replace


class Transposed(msgspec.Struct, frozen=True, gc=False):
    """The piece in its new key, and what was given up: pinned shapes (as places) and exceptions."""

    piece: Piece
    pins: tuple[ChordPlace, ...]
    overrides: tuple[Override, ...]


def transpose(piece: Piece, semitones: int) -> Transposed:
    """Every chord `semitones` higher, spelled by the new key.

    Pinned shapes and exceptions on chords belong to the old shapes and are given up; exceptions at single
    places are about fingers and strings and are kept.
    """
    key, pins = piece.shape_key(), []
    for section in piece.sections:
        places = [place for bar in section.chords.bars for place in bar]
        if section.chords.pickup is not None:
            places += section.chords.pickup.places
        pins += [place for place in places if place.shape is not None]
    sections = tuple(
        replace(s, chords=_line(s.chords, semitones, key), tune=_tune(s.tune, semitones, key))
        for s in piece.sections
    )
    kept = tuple(o for o in piece.overrides if isinstance(o, HereOverride))
    gone = tuple(o for o in piece.overrides if not isinstance(o, HereOverride))
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
        place
        if place.symbol in (HOLD, REPEAT, SILENCE)
        else ChordPlace(moved(parse_chord(place.symbol), semitones, key).text, None, place.running)
        for place in bar
    )


def moved(chord: Chord, semitones: int, key: Key) -> Chord:
    """A chord of `key` that many semitones higher, spelled by the key that results."""
    return sounding(chord, semitones % 12, key)
