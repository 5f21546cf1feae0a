"""`gingham capo`: both names under a capo, or the easiest capo."""

from __future__ import annotations

import argparse

from gingham.arguments import OneLineParser
from gingham.cli.command import Answer, Command, read, table
from gingham.cli.options import bare_piece, chord_line, strung, supposed
from gingham.cli.records import BothNames, CapoAnswer, CapoBestAnswer, CapoPosition
from gingham.core.bench.capo import CapoPlace, both_names, capo_places
from gingham.core.instruments.instrument import CATALOGUE
from gingham.core.music.chords import Chord
from gingham.core.patterns.shorthand import parse_pattern
from gingham.core.pieces.rules import Rules

_PLUCKED = "4/4 x2: p i m i p i m i"


def _define(parser: OneLineParser) -> None:
    parser.add_argument("--chords", required=True, metavar="LINE")
    which = parser.add_mutually_exclusive_group(required=True)
    which.add_argument("--at", metavar="N", help="the line names the shapes")
    which.add_argument("--best", action="store_true", help="the line names what shall sound")
    parser.add_argument(
        "--pattern", default="4/4 x2: p i m i p i m i", metavar="LINE", help="what is plucked"
    )
    parser.add_argument("--instrument", default="guitar", metavar="|".join(CATALOGUE))
    parser.add_argument("--tuning", metavar='"D2 A2 D3 G3 B3 E4"', help="highest string number first")


def _run(options: argparse.Namespace) -> Answer:
    options.capo = options.at if options.at is not None else "0"
    instrument, capo = strung(options, "--at")
    pattern = read("--pattern", options.pattern, parse_pattern)
    chords = chord_line("--chords", options.chords, pattern.meter, instrument, capo)
    piece = bare_piece(chords, pattern, instrument, capo, Rules())
    if options.best:
        best = capo_best_answer(capo_places(piece), supposed(options))
        return best, capo_best_table(best)
    names = both_names(tuple(dict.fromkeys(piece.chords())), capo, piece.shape_key())
    answer = capo_answer(capo, names, supposed(options))
    return answer, capo_table(answer)


def capo_answer(capo: int, names: tuple[tuple[Chord, Chord], ...], supposed: list[str]) -> CapoAnswer:
    """Both names of each chord."""
    return CapoAnswer(capo, _both(names), supposed)


def capo_best_answer(places: tuple[CapoPlace, ...], supposed: list[str]) -> CapoBestAnswer:
    """Every position, the easiest first."""
    return CapoBestAnswer(
        [CapoPosition(p.capo, p.effort, p.barres, _both(p.shapes), list(p.differ)) for p in places],
        supposed,
    )


def _both(names: tuple[tuple[Chord, Chord], ...]) -> list[BothNames]:
    return [BothNames(shape.text, sounds.text) for shape, sounds in names]


def capo_table(answer: CapoAnswer) -> str:
    """What is fingered and what sounds."""
    rows = [[chord.shape_symbol, chord.sounding] for chord in answer.chords]
    return f"capo {answer.capo}\n" + table(rows, ["shape", "sounds"])


def capo_best_table(answer: CapoBestAnswer) -> str:
    """One position a line, the easiest first."""
    rows = [
        [
            str(place.capo),
            f"{place.effort:.2f}",
            str(place.barres),
            " ".join(chord.shape_symbol for chord in place.chords),
            " ".join(place.differ) or "-",
        ]
        for place in answer.positions
    ]
    return table(rows, ["capo", "effort", "barres", "shapes", "other pitches on"])


CAPO = Command(_define, _run)
