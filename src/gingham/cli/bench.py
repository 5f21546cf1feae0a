"""The bench's sub-commands: fingers for a line of strings, and the ways to sit a figure."""

from __future__ import annotations

from gingham.cli.answers import (
    FigureAnswer,
    FigureWay,
    FingerAnswer,
    FingerStroke,
    limit_record,
)
from gingham.cli.tables import table
from gingham.core.judging.line import FingeredLine
from gingham.core.music.meter import Meter
from gingham.core.patterns.figures import even_fault, plain_figure, ways
from gingham.core.patterns.shorthand import print_pattern
from gingham.words.bench import bench_text
from gingham.words.saying import count_words


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


def figure_answer(strokes: int, of: Meter) -> FigureAnswer:
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
        for way in ways(plain_figure(strokes), of)
    ]
    fault = even_fault(strokes, of)
    return FigureAnswer(strokes, str(of), found, None if fault is None else bench_text(fault))


def figure_table(answer: FigureAnswer) -> str:
    """One way a paragraph."""
    parts = [f"{way.text}\n  {way.pattern}\n  {way.count}" for way in answer.ways]
    return "\n\n".join([*parts, *([answer.uneven] if answer.uneven else [])])
