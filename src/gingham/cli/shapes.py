"""`gingham shapes` and `gingham name`: from a symbol to shapes, and back."""

from __future__ import annotations

import argparse

from gingham.arguments import OneLineParser
from gingham.cli.command import Answer, Command, read, table
from gingham.cli.options import chord_line, instrument_options, strung
from gingham.cli.records import Name, NameAnswer, ShapeAnswer, ShapesAnswer, ShapeString
from gingham.core.instruments.instrument import Instrument
from gingham.core.music.chords import Chord, parse_chord
from gingham.core.music.key import parse_key
from gingham.core.music.meter import meter
from gingham.core.music.pitch import pitch_from_midi
from gingham.core.pieces.chordline import spans
from gingham.core.shapes.context import Wish, grips_for
from gingham.core.shapes.fingers import print_fretting
from gingham.core.shapes.naming import names_of
from gingham.core.shapes.search import RankedShape, shapes_for
from gingham.core.shapes.shape import check_shape, parse_shape


def _define_shapes(parser: OneLineParser) -> None:
    parser.add_argument("symbol")
    parser.add_argument("--context", metavar="LINE", help="first the shape it gets in this chord line")
    instrument_options(parser)


def _define_name(parser: OneLineParser) -> None:
    parser.add_argument("shape")
    parser.add_argument("--key", metavar="KEY", help="spell in this key, such as Eb or F#m")
    instrument_options(parser)


def _shapes(options: argparse.Namespace) -> Answer:
    chord = read("SYMBOL", options.symbol, parse_chord)
    instrument, capo = strung(options)
    found = shapes_for(chord, instrument, capo)
    if options.context is not None:
        found = _context_first(options.context, chord, found, instrument, capo)
    answer = shapes_answer(chord, found, instrument, capo)
    return answer, shapes_table(answer)


def _context_first(
    line: str, chord: Chord, found: tuple[RankedShape, ...], instrument: Instrument, capo: int
) -> tuple[RankedShape, ...]:
    """The shapes with those first that the chord gets among the chords of a line, as they are held there."""
    chords = chord_line("--context", line, meter(4, 4), instrument, capo)
    found_spans = spans(chords, meter(4, 4))
    wishes = [Wish(s.chord, s.shape, s.fingers) for s in found_spans if s.chord is not None]
    grips = grips_for([wishes], instrument, capo)
    held = {
        grip.shape: grip.fretting
        for wish in wishes
        if wish.chord == chord and (grip := grips[wish.key]) is not None
    }
    first = [
        RankedShape(ranked.shape, held[ranked.shape] or ranked.fretting, ranked.effort)
        for ranked in found
        if ranked.shape in held
    ]
    return (*first, *(ranked for ranked in found if ranked.shape not in held))


def _name(options: argparse.Namespace) -> Answer:
    instrument, capo = strung(options)
    shape = read("SHAPE", options.shape, parse_shape)
    check_shape(shape, instrument, capo)
    key = None if options.key is None else read("--key", options.key, parse_key)
    answer = name_answer(names_of(shape, instrument, capo, key))
    return answer, name_table(answer)


def shapes_answer(
    chord: Chord, found: tuple[RankedShape, ...], instrument: Instrument, capo: int
) -> ShapesAnswer:
    """Shapes with what each string sounds."""
    return ShapesAnswer([_shape(chord, ranked, instrument, capo) for ranked in found])


def _shape(chord: Chord, ranked: RankedShape, instrument: Instrument, capo: int) -> ShapeAnswer:
    strings = []
    for string in range(instrument.strings, 0, -1):
        fret = ranked.shape.fret(string)
        if fret is None:
            strings.append(ShapeString(string, None, None, None))
            continue
        degree, note, _ = chord.tone_at(instrument.open_midi(string) + fret)
        midi = instrument.open_midi(string) + fret + capo
        pitch = pitch_from_midi(midi, note if capo % 12 == 0 else None)
        strings.append(ShapeString(string, fret, str(pitch), str(degree)))
    fingers = print_fretting(ranked.fretting.fingers)
    return ShapeAnswer(str(ranked.shape), fingers, ranked.effort, strings)


def name_answer(found: tuple[Chord, ...]) -> NameAnswer:
    """Plausible symbols, best first."""
    return NameAnswer([Name(chord.text) for chord in found])


def shapes_table(answer: ShapesAnswer) -> str:
    """One shape a line, best first."""
    rows = []
    for shape in answer.shapes:
        degrees = " ".join(string.degree or "x" for string in shape.strings)
        rows.append([shape.shape, shape.fingers, f"{shape.effort:.2f}", degrees])
    return table(rows, ["shape", "fingers", "effort", "degrees"]) if rows else "no playable shape"


def name_table(answer: NameAnswer) -> str:
    """One symbol a line, best first."""
    return "\n".join(name.symbol for name in answer.names) or "no symbol names this shape"


SHAPES = Command(_define_shapes, _shapes)
NAME = Command(_define_name, _name)
