"""The sub-commands: each reads its words, asks the core, prints a table or JSON."""

from __future__ import annotations

import argparse
import sys
from collections.abc import Callable
from pathlib import Path
from typing import TypeVar

import msgspec

from gingham.arguments import OneLineParser
from gingham.cli import answers, bench, exchange, tables
from gingham.core.bench.capo import both_names, capo_places
from gingham.core.errors import GinghamError, InputError
from gingham.core.fitting.fit import fit
from gingham.core.formats.imports import READERS
from gingham.core.formats.sound_choice import SoundChoice
from gingham.core.instruments.instrument import CATALOGUE, Instrument, check_capo, instrument
from gingham.core.judging.changes import changes
from gingham.core.judging.line import finger_line
from gingham.core.judging.speed import full_limit
from gingham.core.music.chords import Chord, parse_chord
from gingham.core.music.key import parse_key
from gingham.core.music.meter import Meter, meter, parse_meter
from gingham.core.numbers import whole
from gingham.core.patterns.pattern import Pattern
from gingham.core.patterns.shorthand import parse_pattern
from gingham.core.pieces.chordline import ChordLine, parse_chord_line, spans
from gingham.core.pieces.piece import NamedPattern, Piece, Section
from gingham.core.pieces.rules import (
    ALIGNMENTS,
    HANDS,
    LEVELS,
    FingerPolicy,
    FirstRule,
    Rules,
    ThumbPlan,
    check_choice,
    check_strings,
    parse_fingers,
    parse_first,
    parse_thumb,
)
from gingham.core.pieces.tempo import check_tempo, parse_swing
from gingham.core.shapes.context import grips_for
from gingham.core.shapes.naming import names_of
from gingham.core.shapes.search import RankedShape, shapes_for
from gingham.core.shapes.shape import check_shape, misfit, parse_shape
from gingham.core.sound.timeline import COUNT_INS
from gingham.core.values import replace
from gingham.paper.content import KINDS, SIZES, SheetOptions
from gingham.paper.exports import SUFFIXES
from gingham.words.errors import printable, say

T = TypeVar("T")
Rule = TypeVar("Rule", ThumbPlan, FingerPolicy, FirstRule)
_MOST_NUMBER = 1_000_000
_QUOTED = 60


class _OptionError(Exception):
    """A fault in one option: which one, and the error with its place."""

    def __init__(self, option: str, text: str, error: InputError) -> None:
        super().__init__(option)
        self.option, self.text, self.error = option, text, error


def main(arguments: list[str]) -> int:
    """Run one sub-command; the exit status (2 on bad input, with one line on standard error)."""
    options = _parser().read(arguments)
    run: Callable[[argparse.Namespace], tuple[msgspec.Struct, str]] = options.run
    try:
        answer, plain = run(options)
    except _OptionError as fault:
        error, text = fault.error, fault.text
        place = f" at {error.start + 1}, “{_short(text[error.start : error.end])}”" if error.end else ""
        print(f"gingham: {fault.option}{place}: {say(error)}", file=sys.stderr)
        return 2
    except GinghamError as fault:
        print(f"gingham: {say(fault)}", file=sys.stderr)
        return 2
    print(msgspec.json.encode(answer).decode() if options.json else printable(plain))
    return 0


def _short(text: str) -> str:
    return printable(text if len(text) <= _QUOTED else f"{text[:_QUOTED]}…").replace("\n", " ")


def _parser() -> OneLineParser:
    parser = OneLineParser(
        prog="gingham", description="Picking patterns, chords and thumbs. Without a command: the window."
    )
    commands = parser.add_subparsers(required=True, metavar="COMMAND")
    spell = _command(commands, "spell", _spell, "the tones of a chord symbol")
    spell.add_argument("symbol")
    shapes = _command(commands, "shapes", _shapes, "playable shapes of a chord symbol, easiest first")
    shapes.add_argument("symbol")
    shapes.add_argument("--context", metavar="LINE", help="first the shape it gets in this chord line")
    _instrument_options(shapes)
    named = _command(commands, "name", _name, "plausible symbols of a shape, best first")
    named.add_argument("shape")
    named.add_argument("--key", metavar="KEY", help="spell in this key, such as Eb or F#m")
    _instrument_options(named)
    capo = _command(commands, "capo", _capo, "both names under a capo, or the easiest capo")
    capo.add_argument("--chords", required=True, metavar="LINE")
    which = capo.add_mutually_exclusive_group(required=True)
    which.add_argument("--at", metavar="N", help="the line names the shapes")
    which.add_argument("--best", action="store_true", help="the line names what shall sound")
    capo.add_argument("--pattern", default="4/4 x2: p i m i p i m i", metavar="LINE", help="what is plucked")
    capo.add_argument("--instrument", default="guitar", metavar="|".join(CATALOGUE))
    capo.add_argument("--tuning", metavar='"D2 A2 D3 G3 B3 E4"', help="highest string number first")
    fitted = _command(commands, "fit", _fit, "a pattern fitted to a chord line")
    changed = _command(commands, "changes", _changes, "what each finger must do at every chord change")
    for parser_of_fit in (fitted, changed):
        _fit_options(parser_of_fit)
    fingered = _command(commands, "finger", _finger, "fingers for a line of strings, and how fast it can go")
    fingered.add_argument("--strings", required=True, metavar="LINE", help="such as 4/4 x2: 6 3 4 2 3 . 4 1")
    fingered.add_argument("--hand", default="pima", metavar="|".join(HANDS))
    fingered.add_argument("--tempo", default="80", metavar="N")
    fingered.add_argument("--level", default="growing", metavar="|".join(LEVELS))
    _instrument_options(fingered)
    figure = _command(commands, "figure", _figure, "the ways to sit a figure of some strokes on the beats")
    figure.add_argument("--strokes", required=True, metavar="N")
    figure.add_argument("--meter", default="4/4", metavar="M")
    exported = _command(commands, "export", _export, f"a piece file to {' '.join(SUFFIXES)}")
    exported.add_argument("piece", type=Path)
    exported.add_argument("out", type=Path)
    exported.add_argument("--clicks", default="none", metavar="none|beats|all", help="clicks in the sound")
    exported.add_argument("--count-in", default="none", metavar=f"none|{'|'.join(COUNT_INS)}")
    exported.add_argument("--only", default="pimacf", metavar="pimacf", help="layers heard; f: fretting hand")
    exported.add_argument("--sheet", default="sheet", metavar="|".join(KINDS), help="what a sheet shows")
    exported.add_argument("--paper", default="A4", metavar="|".join(SIZES))
    exported.add_argument("--large", action="store_true", help="large print")
    exported.add_argument("--left-handed", action="store_true", help="shapes mirrored")
    read = _command(commands, "read", _read_part, f"the patterns of a part in {' '.join(READERS)}")
    read.add_argument("file", type=Path)
    read.add_argument("--out", type=Path, metavar="PIECE", help="save what was found as a piece")
    return parser


def _fit_options(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("--chords", required=True, metavar="LINE")
    parser.add_argument("--pattern", required=True, metavar="LINE")
    parser.add_argument("--thumb", default="pair", metavar="PLAN")
    parser.add_argument("--fingers", default="shift", metavar="POLICY")
    parser.add_argument("--first", default="root", metavar="RULE")
    parser.add_argument("--align", default="bar", metavar="|".join(ALIGNMENTS))
    parser.add_argument("--walk", action="store_true", help="the thumb walks into the next bass")
    parser.add_argument("--tempo", default="80", metavar="N")
    parser.add_argument("--level", default="growing", metavar="|".join(LEVELS))
    parser.add_argument("--swing", default="1/2", metavar="S")
    _instrument_options(parser)


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
    return whole(text, -_MOST_NUMBER, _MOST_NUMBER)  # each option's own bounds say which numbers it takes


def _strung(options: argparse.Namespace, capo_option: str = "--capo") -> tuple[Instrument, int]:
    on = _read("--instrument", options.instrument, instrument)
    if options.tuning is not None:
        on = _read("--tuning", options.tuning, lambda text: instrument(on.id, text))
    capo = _read(capo_option, options.capo, lambda text: check_capo(on, _whole_number(text)))
    return on, capo


def _chord_line(option: str, text: str, of: Meter, on: Instrument, capo: int) -> ChordLine:
    """A chord line whose shapes suit the instrument: here they have been typed for it just now."""

    def read(text: str) -> ChordLine:
        line = parse_chord_line(text, of)
        for span in spans(line, of):
            error = None if span.shape is None else misfit(span.shape, on, capo)
            if error is not None:
                token = f"{{{span.shape}}}"
                start = text.find(token)
                raise error.marked(0, len(text)) if start < 0 else error.marked(start, start + len(token))
        return line

    return _read(option, text, read)


def _spell(options: argparse.Namespace) -> tuple[msgspec.Struct, str]:
    answer = answers.spell_answer(_read("SYMBOL", options.symbol, parse_chord))
    return answer, tables.spell_table(answer)


def _shapes(options: argparse.Namespace) -> tuple[msgspec.Struct, str]:
    chord = _read("SYMBOL", options.symbol, parse_chord)
    on, capo = _strung(options)
    found = shapes_for(chord, on, capo)
    if options.context is not None:
        found = _context_first(options.context, chord, found, on, capo)
    answer = answers.shapes_answer(chord, found, on, capo)
    return answer, tables.shapes_table(answer)


def _context_first(
    line: str, chord: Chord, found: tuple[RankedShape, ...], on: Instrument, capo: int
) -> tuple[RankedShape, ...]:
    """The shapes with those first that the chord gets among the chords of a line, as they are held there."""
    chords = _chord_line("--context", line, meter(4, 4), on, capo)
    of = [(span.chord, span.shape) for span in spans(chords, meter(4, 4)) if span.chord is not None]
    grips = zip(of, grips_for(of, on, capo), strict=True)
    held = {grip.shape: grip.fretting for (other, _), grip in grips if other == chord and grip is not None}
    first = [
        RankedShape(ranked.shape, held[ranked.shape] or ranked.fretting, ranked.effort)
        for ranked in found
        if ranked.shape in held
    ]
    return (*first, *(ranked for ranked in found if ranked.shape not in held))


def _name(options: argparse.Namespace) -> tuple[msgspec.Struct, str]:
    on, capo = _strung(options)
    shape = _read("SHAPE", options.shape, parse_shape)
    check_shape(shape, on, capo)
    key = None if options.key is None else _read("--key", options.key, parse_key)
    answer = answers.name_answer(names_of(shape, on, capo, key))
    return answer, tables.name_table(answer)


def _capo(options: argparse.Namespace) -> tuple[msgspec.Struct, str]:
    options.capo = options.at if options.at is not None else "0"
    on, capo = _strung(options, "--at")
    pattern = _read("--pattern", options.pattern, parse_pattern)
    chords = _chord_line("--chords", options.chords, pattern.meter, on, capo)
    piece = _piece(chords, pattern, on, capo, Rules())
    if options.best:
        best = answers.capo_best_answer(capo_places(piece))
        return best, tables.capo_best_table(best)
    names = both_names(tuple(dict.fromkeys(piece.chords())), capo, piece.shape_key())
    answer = answers.capo_answer(capo, names)
    return answer, tables.capo_table(answer)


def _fit(options: argparse.Namespace) -> tuple[msgspec.Struct, str]:
    result = fit(_fitted_piece(options))
    answer = answers.fit_answer(result, full_limit(result, result.piece.rules.level))
    return answer, tables.fit_table(answer, result)


def _finger(options: argparse.Namespace) -> tuple[msgspec.Struct, str]:
    on, _ = _strung(options)
    hand = _read("--hand", options.hand, lambda text: check_choice(text, HANDS, "hand"))
    level = _read("--level", options.level, lambda text: check_choice(text, LEVELS, "level"))
    tempo = _read("--tempo", options.tempo, lambda text: check_tempo(_whole_number(text)))
    line = _read(
        "--strings", options.strings, lambda text: finger_line(parse_pattern(text), on, hand, tempo, level)
    )
    answer = bench.finger_answer(line, hand)
    return answer, bench.finger_table(answer)


def _figure(options: argparse.Namespace) -> tuple[msgspec.Struct, str]:
    of = _read("--meter", options.meter, parse_meter)
    answer = _read("--strokes", options.strokes, lambda text: bench.figure_answer(_whole_number(text), of))
    return answer, bench.figure_table(answer)


def _changes(options: argparse.Namespace) -> tuple[msgspec.Struct, str]:
    result = fit(_fitted_piece(options))
    answer = answers.changes_answer(changes(result), result.piece)
    return answer, tables.changes_table(answer)


def _fitted_piece(options: argparse.Namespace) -> Piece:
    """The piece that the options of `fit` and `changes` describe."""
    on, capo = _strung(options)
    pattern = _read("--pattern", options.pattern, parse_pattern)
    chords = _chord_line("--chords", options.chords, pattern.meter, on, capo)
    thumb = _read("--thumb", options.thumb, parse_thumb)
    rules = Rules(
        replace(_strung_rule("--thumb", options.thumb, thumb, on), walk=thumb.walk or options.walk),
        _strung_rule("--fingers", options.fingers, _read("--fingers", options.fingers, parse_fingers), on),
        _strung_rule("--first", options.first, _read("--first", options.first, parse_first), on),
        _read("--align", options.align, lambda text: check_choice(text, ALIGNMENTS, "align")),
        _read("--level", options.level, lambda text: check_choice(text, LEVELS, "level")),
    )
    tempo = _read("--tempo", options.tempo, lambda text: check_tempo(_whole_number(text)))
    swing = _read("--swing", options.swing, parse_swing)
    return replace(_piece(chords, pattern, on, capo, rules), tempo=tempo, swing=swing)


def _strung_rule(option: str, text: str, rule: Rule, on: Instrument) -> Rule:
    """`rule` if the instrument has every string that it names."""
    return _read(option, text, lambda _text: check_strings(rule, on.strings))


def _piece(chords: ChordLine, pattern: Pattern, on: Instrument, capo: int, rules: Rules) -> Piece:
    """A piece of one nameless section."""
    section, named = Section("", chords, ""), NamedPattern("", pattern)
    return Piece("", (section,), (named,), on, capo, pattern.meter, rules=rules)


def _export(options: argparse.Namespace) -> tuple[msgspec.Struct, str]:
    clicks = ("none", "beats", "all")
    level = clicks.index(_read("--clicks", options.clicks, lambda text: check_choice(text, clicks, "clicks")))
    known = ("none", *COUNT_INS)
    count_in = _read("--count-in", options.count_in, lambda text: check_choice(text, known, "count-in"))
    muted = frozenset(finger.replace("f", "") for finger in "pimacf" if finger not in options.only)
    choice = SoundChoice(level, count_in.replace("none", ""), muted)
    sheet = SheetOptions(
        _read("--sheet", options.sheet, lambda text: check_choice(text, KINDS, "sheet")),
        _read("--paper", options.paper, lambda text: check_choice(text, SIZES, "paper")),
        options.large,
        options.left_handed,
    )
    answer = exchange.export_answer(options.piece, options.out, choice, sheet)
    return answer, f"{options.out}: {answer.bytes} bytes"


def _read_part(options: argparse.Namespace) -> tuple[msgspec.Struct, str]:
    answer = exchange.read_answer(options.file, options.out)
    return answer, exchange.read_table(answer)
