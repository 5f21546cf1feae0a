"""`gingham say`: a pattern in any school's words."""

from __future__ import annotations

import argparse

from gingham.arguments import OneLineParser
from gingham.cli.command import Answer, Command, read
from gingham.cli.options import bare_piece, chord_line, strung
from gingham.cli.records import SaidWay, SayAnswer
from gingham.core.fitting.grip_cache import GripCache
from gingham.core.instruments.instrument import CATALOGUE, Instrument
from gingham.core.music.meter import parse_meter
from gingham.core.patterns.figures import Way
from gingham.core.patterns.said import Said, read_said
from gingham.core.patterns.shorthand import print_pattern
from gingham.core.pieces.rules import Rules
from gingham.core.values import replace
from gingham.words.bench import bench_text, reasons_of
from gingham.words.saying import count_words


def _define(parser: OneLineParser) -> None:
    parser.add_argument("text", metavar="TEXT", help='"thumb thumb index thumb middle"')
    parser.add_argument("--meter", metavar="M", help="4/4, 6/8, …; without it the likeliest one")
    parser.add_argument(
        "--chords", metavar="LINE", help="bare strings are read into fingers on its first chord"
    )
    parser.add_argument("--instrument", default="guitar", metavar="|".join(CATALOGUE))
    parser.add_argument("--tuning", metavar='"D2 A2 D3 G3 B3 E4"', help="highest string number first")
    parser.add_argument("--capo", default="0", help=argparse.SUPPRESS)


def _run(options: argparse.Namespace) -> Answer:
    instrument, _ = strung(options)
    meter = None if options.meter is None else read("--meter", options.meter, parse_meter)
    said = read("TEXT", options.text, lambda text: read_said(text, instrument, meter))
    if options.chords is not None:
        said = _on_chords(said, options, instrument)
    answer = say_answer(said)
    rows = [f"{way.pattern}\n  {way.count}\n  {way.why}" for way in answer.ways]
    return answer, "\n\n".join([f"Read as {answer.read_as}", *rows])


def _on_chords(said: Said, options: argparse.Namespace, instrument: Instrument) -> Said:
    """The same ways with bare strings read into basses and fingers of the first chord."""

    def fingered(way: Way) -> Way:
        chords = chord_line("--chords", options.chords, way.pattern.meter, instrument, 0)
        piece = bare_piece(chords, way.pattern, instrument, 0, Rules())
        return replace(way, pattern=GripCache().read(piece, 0, way.pattern, None, piece.shape_key()))

    return Said(tuple(replace(r, ways=tuple(map(fingered, r.ways))) for r in said.readings))


def say_answer(said: Said) -> SayAnswer:
    """What was understood, and how it sits."""
    found = [
        SaidWay(print_pattern(way.pattern), count_words(way.pattern), why)
        for reading in said.readings
        for way, why in zip(reading.ways, reasons_of(said, reading), strict=True)
    ]
    return SayAnswer(" ".join(said.tokens), found, [bench_text(reason) for reason in said.supposed])


SAY = Command(_define, _run)
