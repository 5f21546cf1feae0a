"""The sub-commands: each reads its words, asks the core, prints a table or JSON."""

from __future__ import annotations

import argparse
import sys
from collections.abc import Callable
from pathlib import Path
from typing import TypeVar

import msgspec

from gingham.arguments import OneLineParser
from gingham.cli import answers, tables
from gingham.core.errors import GinghamError, InputError
from gingham.core.fitting.fit import fit
from gingham.core.formats.exports import export
from gingham.core.formats.piece_file import load_piece
from gingham.core.instruments.instrument import CATALOGUE, Instrument, check_capo, instrument
from gingham.core.judging.speed import hand_limit
from gingham.core.music.chords import parse_chord
from gingham.core.patterns.shorthand import parse_pattern
from gingham.core.pieces.chordline import parse_chord_line
from gingham.core.pieces.piece import NamedPattern, Piece, Section
from gingham.core.pieces.rules import (
    ALIGNMENTS,
    LEVELS,
    Rules,
    check_choice,
    parse_fingers,
    parse_first,
    parse_thumb,
)
from gingham.core.pieces.tempo import check_tempo, parse_swing
from gingham.core.shapes.search import shapes_for
from gingham.words.errors import say

T = TypeVar("T")


class _OptionError(Exception):
    """A fault in one option: which one, and the error with its place."""

    def __init__(self, option: str, text: str, error: InputError) -> None:
        super().__init__(option)
        self.option, self.text, self.error = option, text, error


def main(arguments: list[str]) -> int:
    """Run one sub-command; the exit status (2 on bad input, with one line on standard error)."""
    options = _parser().parse_args(arguments)
    run: Callable[[argparse.Namespace], tuple[msgspec.Struct, str]] = options.run
    try:
        answer, plain = run(options)
    except _OptionError as fault:
        error, text = fault.error, fault.text
        place = f" at {error.start + 1}, “{text[error.start : error.end]}”" if error.end else ""
        print(f"gingham: {fault.option}{place}: {say(error)}", file=sys.stderr)
        return 2
    except GinghamError as fault:
        print(f"gingham: {say(fault)}", file=sys.stderr)
        return 2
    print(msgspec.json.encode(answer).decode() if options.json else plain)
    return 0


def _parser() -> argparse.ArgumentParser:
    parser = OneLineParser(
        prog="gingham", description="Picking patterns, chords and thumbs. Without a command: the window."
    )
    commands = parser.add_subparsers(required=True, metavar="COMMAND")
    spell = _command(commands, "spell", _spell, "the tones of a chord symbol")
    spell.add_argument("symbol")
    shapes = _command(commands, "shapes", _shapes, "playable shapes of a chord symbol, easiest first")
    shapes.add_argument("symbol")
    _instrument_options(shapes)
    fitted = _command(commands, "fit", _fit, "a pattern fitted to a chord line")
    fitted.add_argument("--chords", required=True, metavar="LINE")
    fitted.add_argument("--pattern", required=True, metavar="LINE")
    fitted.add_argument("--thumb", default="pair", metavar="PLAN")
    fitted.add_argument("--fingers", default="shift", metavar="POLICY")
    fitted.add_argument("--first", default="root", metavar="RULE")
    fitted.add_argument("--align", default="bar", metavar="|".join(ALIGNMENTS))
    fitted.add_argument("--tempo", default="80", metavar="N")
    fitted.add_argument("--level", default="growing", metavar="|".join(LEVELS))
    fitted.add_argument("--swing", default="1/2", metavar="S")
    _instrument_options(fitted)
    exported = _command(commands, "export", _export, "a piece file to .txt tablature or .wav sound")
    exported.add_argument("piece", type=Path)
    exported.add_argument("out", type=Path)
    return parser


def _command(
    commands: argparse._SubParsersAction[OneLineParser],
    name: str,
    run: Callable[[argparse.Namespace], tuple[msgspec.Struct, str]],
    text: str,
) -> argparse.ArgumentParser:
    parser = commands.add_parser(name, help=text, description=text)
    parser.add_argument("--json", action="store_true", help="the answer as JSON (schemas in docs/cli.md)")
    parser.set_defaults(run=run)
    return parser


def _instrument_options(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("--instrument", default="guitar", metavar="|".join(CATALOGUE))
    parser.add_argument("--tuning", metavar='"D2 A2 D3 G3 B3 E4"', help="highest string number first")
    parser.add_argument("--capo", default="0", metavar="N")


def _read(option: str, text: str, read: Callable[[str], T]) -> T:
    """`read(text)`, its fault named after the option it was typed in."""
    try:
        return read(text)
    except InputError as error:
        raise _OptionError(option, text, error) from error


def _whole_number(text: str) -> int:
    if not text.lstrip("-").isdigit():
        raise InputError("number", end=len(text), text=text)
    return int(text)


def _strung(options: argparse.Namespace) -> tuple[Instrument, int]:
    on = _read("--instrument", options.instrument, instrument)
    if options.tuning is not None:
        on = _read("--tuning", options.tuning, lambda text: instrument(on.id, text))
    capo = _read("--capo", options.capo, lambda text: check_capo(on, _whole_number(text)))
    return on, capo


def _spell(options: argparse.Namespace) -> tuple[msgspec.Struct, str]:
    answer = answers.spell_answer(_read("SYMBOL", options.symbol, parse_chord))
    return answer, tables.spell_table(answer)


def _shapes(options: argparse.Namespace) -> tuple[msgspec.Struct, str]:
    chord = _read("SYMBOL", options.symbol, parse_chord)
    on, capo = _strung(options)
    answer = answers.shapes_answer(chord, shapes_for(chord, on, capo), on, capo)
    return answer, tables.shapes_table(answer)


def _fit(options: argparse.Namespace) -> tuple[msgspec.Struct, str]:
    on, capo = _strung(options)
    pattern = _read("--pattern", options.pattern, parse_pattern)
    chords = _read("--chords", options.chords, lambda text: parse_chord_line(text, pattern.meter))
    rules = Rules(
        _read("--thumb", options.thumb, parse_thumb),
        _read("--fingers", options.fingers, parse_fingers),
        _read("--first", options.first, parse_first),
        _read("--align", options.align, lambda text: check_choice(text, ALIGNMENTS, "align")),
        _read("--level", options.level, lambda text: check_choice(text, LEVELS, "level")),
    )
    tempo = _read("--tempo", options.tempo, lambda text: check_tempo(_whole_number(text)))
    swing = _read("--swing", options.swing, parse_swing)
    piece = Piece(
        "",
        (Section("", chords, ""),),
        (NamedPattern("", pattern),),
        on,
        capo,
        pattern.meter,
        tempo,
        swing,
        rules=rules,
    )
    result = fit(piece)
    answer = answers.fit_answer(result, hand_limit(result, rules.level))
    return answer, tables.fit_table(answer, result)


def _export(options: argparse.Namespace) -> tuple[msgspec.Struct, str]:
    written = export(load_piece(options.piece), options.out)
    answer = answers.ExportAnswer(str(options.piece), str(options.out), written)
    return answer, f"{options.out}: {written} bytes"
