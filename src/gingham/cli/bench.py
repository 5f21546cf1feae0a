"""The bench's sub-commands: fingers for a line of strings, and the ways to sit a figure."""

from __future__ import annotations

import argparse

from gingham.arguments import OneLineParser
from gingham.cli.command import Answer, Command, read, table
from gingham.cli.limits import limit_record
from gingham.cli.options import instrument_options, strung, whole_number
from gingham.cli.records import FigureAnswer, FigureWay, FingerAnswer, FingerStroke
from gingham.core.judging.line import FingeredLine, finger_line
from gingham.core.music.meter import Meter, parse_meter
from gingham.core.patterns.figures import even_fault, plain_figure, ways
from gingham.core.patterns.shorthand import parse_pattern, print_pattern
from gingham.core.pieces.rules import HANDS, LEVELS, check_choice, check_level
from gingham.core.pieces.tempo import check_tempo
from gingham.words.bench import bench_text
from gingham.words.saying import count_words


def _define_finger(parser: OneLineParser) -> None:
    parser.add_argument("--strings", required=True, metavar="LINE", help="such as 4/4 x2: 6 3 4 2 3 . 4 1")
    parser.add_argument("--hand", default="pima", metavar="|".join(HANDS))
    parser.add_argument("--tempo", default="80", metavar="N")
    parser.add_argument("--level", default="growing", metavar="|".join(LEVELS))
    instrument_options(parser)


def _define_figure(parser: OneLineParser) -> None:
    parser.add_argument("--strokes", required=True, metavar="N")
    parser.add_argument("--meter", default="4/4", metavar="M")


def _finger(options: argparse.Namespace) -> Answer:
    instrument, _ = strung(options)
    hand = read("--hand", options.hand, lambda text: check_choice(text, HANDS, "hand"))
    level = read("--level", options.level, check_level)
    tempo = read("--tempo", options.tempo, lambda text: check_tempo(whole_number(text)))
    line = read(
        "--strings",
        options.strings,
        lambda text: finger_line(parse_pattern(text), instrument, hand, tempo, level),
    )
    answer = finger_answer(line, hand)
    return answer, finger_table(answer)


def _figure(options: argparse.Namespace) -> Answer:
    meter = read("--meter", options.meter, parse_meter)
    answer = read("--strokes", options.strokes, lambda text: figure_answer(whole_number(text), meter))
    return answer, figure_table(answer)


def finger_answer(line: FingeredLine, hand: str) -> FingerAnswer:
    """The answer of `gingham finger`."""
    strokes = [
        FingerStroke(bar.number, str(e.at), e.count, e.finger, e.string, e.accent)
        for bar in line.bars
        for e in bar.events
    ]
    gone = [[place + 1, string] for place, string in line.impossible]
    return FingerAnswer(hand, strokes, limit_record(line.limit), gone)


def finger_table(answer: FingerAnswer) -> str:
    """One row a pluck, then the limit."""
    rows = [[str(s.bar), s.count, str(s.string), s.finger or "left out"] for s in answer.strokes]
    spots = "".join(f"\n  {spot.text}: {spot.tempo:g}" for spot in answer.limit.spots)
    limit = f"Comfortable top speed: {answer.limit.tempo} beats a minute{spots}"
    return f"{table(rows, ['bar', 'beat', 'string', 'finger'])}\n\n{limit}"


def figure_answer(strokes: int, meter: Meter) -> FigureAnswer:
    """The answer of `gingham figure`; PatternError if there are no or too many strokes."""
    found = [
        FigureWay(
            way.reason.code.removeprefix("way-"),
            bench_text(way.reason),
            print_pattern(way.pattern),
            way.align,
            count_words(way.pattern),
            way.rounds,
        )
        for way in ways(plain_figure(strokes), meter)
    ]
    fault = even_fault(strokes, meter)
    return FigureAnswer(strokes, str(meter), found, None if fault is None else bench_text(fault))


def figure_table(answer: FigureAnswer) -> str:
    """One way a paragraph."""
    parts = [f"{way.text}\n  {way.pattern}\n  {way.count}" for way in answer.ways]
    return "\n\n".join([*parts, *([answer.uneven] if answer.uneven else [])])


FINGER = Command(_define_finger, _finger)
FIGURE = Command(_define_figure, _figure)
