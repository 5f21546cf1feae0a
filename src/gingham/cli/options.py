"""What several sub-commands are asked with, and the piece that it describes."""

from __future__ import annotations

import argparse
from typing import TypeVar

from gingham.arguments import OneLineParser
from gingham.cli.command import read
from gingham.core.instruments.instrument import CATALOGUE, Instrument, check_capo, instrument
from gingham.core.music.meter import Meter
from gingham.core.numbers import whole
from gingham.core.patterns.pattern import Pattern
from gingham.core.patterns.shorthand import parse_pattern, supposed_in_pattern
from gingham.core.pieces.chordline import ChordLine, parse_chord_line, spans, supposed_in_line
from gingham.core.pieces.piece import NamedPattern, Piece, Section
from gingham.core.pieces.rules import (
    ALIGNMENTS,
    FOUR_STRING,
    HANDS,
    LEVELS,
    PICK_STROKES,
    FingerPolicy,
    FirstRule,
    Rules,
    ThumbPlan,
    check_choice,
    check_level,
    check_strings,
    parse_fingers,
    parse_first,
    parse_thumb,
)
from gingham.core.pieces.tempo import check_tempo, parse_swing
from gingham.core.shapes.shape import misfit
from gingham.core.values import replace
from gingham.words.reasons import supposed_text

Rule = TypeVar("Rule", ThumbPlan, FingerPolicy, FirstRule)
_MOST_NUMBER = 1_000_000


def instrument_options(parser: OneLineParser) -> None:
    """Instrument, tuning, capo."""
    parser.add_argument("--instrument", default="guitar", metavar="|".join(CATALOGUE))
    parser.add_argument("--tuning", metavar='"D2 A2 D3 G3 B3 E4"', help="highest string number first")
    parser.add_argument("--capo", default="0", metavar="N")


def fit_options(parser: OneLineParser) -> None:
    """What `fit` and `changes` are asked with."""
    parser.add_argument("--chords", required=True, metavar="LINE")
    parser.add_argument("--pattern", required=True, metavar="LINE")
    parser.add_argument("--thumb", default="pair", metavar="PLAN")
    parser.add_argument("--fingers", default="shift", metavar="POLICY")
    parser.add_argument("--first", default="root", metavar="RULE")
    parser.add_argument("--align", default="bar", metavar="|".join(ALIGNMENTS))
    parser.add_argument("--four-string", default="shift", metavar="|".join(FOUR_STRING))
    parser.add_argument("--pick", default="alternate", metavar="|".join(PICK_STROKES))
    parser.add_argument("--hand", default="pima", metavar="|".join(HANDS))
    parser.add_argument("--walk", action="store_true", help="the thumb walks into the next bass")
    parser.add_argument(
        "--each-bar", action="store_true", help="the thumb takes its next bass at a bar line, not the first"
    )
    parser.add_argument("--tempo", default="80", metavar="N")
    parser.add_argument("--level", default="growing", metavar="|".join(LEVELS))
    parser.add_argument("--swing", default="1/2", metavar="S")
    instrument_options(parser)


def whole_number(text: str) -> int:
    """Any whole number; each option's own bounds say which ones it takes."""
    return whole(text, -_MOST_NUMBER, _MOST_NUMBER)


def strung(options: argparse.Namespace, capo_option: str = "--capo") -> tuple[Instrument, int]:
    """The instrument as it is strung, and the capo."""
    on = read("--instrument", options.instrument, instrument)
    if options.tuning is not None:
        on = read("--tuning", options.tuning, lambda text: instrument(on.id, text))
    capo = read(capo_option, options.capo, lambda text: check_capo(on, whole_number(text)))
    return on, capo


def chord_line(option: str, text: str, meter: Meter, instrument: Instrument, capo: int) -> ChordLine:
    """A chord line whose shapes suit the instrument: here they have been typed for it just now."""

    def of_instrument(text: str) -> ChordLine:
        line = parse_chord_line(text, meter)
        for span in spans(line, meter):
            error = None if span.shape is None else misfit(span.shape, instrument, capo)
            if error is not None:
                token = f"{{{span.shape}}}"
                start = text.find(token)
                raise error.marked(0, len(text)) if start < 0 else error.marked(start, start + len(token))
        return line

    return read(option, text, of_instrument)


def fitted_piece(options: argparse.Namespace) -> Piece:
    """The piece that the options of `fit` and `changes` describe."""
    instrument, capo = strung(options)
    pattern = read("--pattern", options.pattern, parse_pattern)
    chords = chord_line("--chords", options.chords, pattern.meter, instrument, capo)
    thumb = read("--thumb", options.thumb, parse_thumb)
    rules = Rules(
        replace(
            _strung_rule("--thumb", options.thumb, thumb, instrument),
            walk=thumb.walk or options.walk,
            each_bar=thumb.each_bar or options.each_bar,
        ),
        _strung_rule(
            "--fingers", options.fingers, read("--fingers", options.fingers, parse_fingers), instrument
        ),
        _strung_rule("--first", options.first, read("--first", options.first, parse_first), instrument),
        read("--align", options.align, lambda text: check_choice(text, ALIGNMENTS, "align")),
        read("--level", options.level, check_level),
        pick=read("--pick", options.pick, lambda text: check_choice(text, PICK_STROKES, "pick")),
        hand=read("--hand", options.hand, lambda text: check_choice(text, HANDS, "hand")),
        four_string=read(
            "--four-string",
            options.four_string.replace(" ", "-"),
            lambda text: check_choice(text, FOUR_STRING, "four-string"),
        ),
    )
    tempo = read("--tempo", options.tempo, lambda text: check_tempo(whole_number(text)))
    swing = read("--swing", options.swing, parse_swing)
    return replace(bare_piece(chords, pattern, instrument, capo, rules), tempo=tempo, swing=swing)


def supposed(options: argparse.Namespace) -> list[str]:
    """What was supposed in the chord line and the pattern, which have been read."""
    found = supposed_in_pattern(options.pattern)
    meter = parse_pattern(options.pattern).meter
    return [supposed_text(reason) for reason in (*supposed_in_line(options.chords, meter), *found)]


def _strung_rule(option: str, text: str, rule: Rule, instrument: Instrument) -> Rule:
    """`rule` if the instrument has every string that it names."""
    return read(option, text, lambda _text: check_strings(rule, instrument.strings))


def bare_piece(chords: ChordLine, pattern: Pattern, instrument: Instrument, capo: int, rules: Rules) -> Piece:
    """A piece of one nameless section."""
    section, named = Section("", chords, ""), NamedPattern("", pattern)
    return Piece("", (section,), (named,), instrument, capo, pattern.meter, rules=rules)
