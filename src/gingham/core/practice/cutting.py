"""A stage as fitted bars of its own: what a recording of it is held against."""

from __future__ import annotations

from collections.abc import Mapping
from fractions import Fraction

import msgspec

from gingham.core.fitting.result import FittedBar, FittedSpan, Result
from gingham.core.pieces.edits import set_tempo
from gingham.core.practice.stages import Passage, Stage, cut_bars, heard_in
from gingham.core.values import replace


class CutStage(msgspec.Struct, frozen=True):
    """The passages of a stage, each as a result; where each bar of a round begins in its own bar."""

    results: tuple[Result, ...]
    begins: tuple[tuple[int, int, Fraction], ...]
    """For each bar of a round: index of the section, number of the bar, whole notes into it."""


def cut_stage(stage: Stage, results: Mapping[int, Result], tempo: int) -> CutStage:
    """What a stage asks for, at a tempo."""
    asked = heard_in(stage, results)
    cut = [_cut(asked[passage.section], passage, tempo) for passage in stage.passages]
    begins = tuple(begin for _, begun in cut for begin in begun)
    return CutStage(tuple(result for result, _ in cut), begins)


def _cut(result: Result, passage: Passage, tempo: int) -> tuple[Result, list[tuple[int, int, Fraction]]]:
    """A passage as a result of its own: bars shortened to what is played of them, numbered from 1."""
    bars, begins = list[FittedBar](), list[tuple[int, int, Fraction]]()
    spans: dict[int, FittedSpan] = dict(enumerate(result.spans))
    for number, (_, left, right, bar) in enumerate(cut_bars(result, passage), 1):
        events = tuple(replace(e, at=e.at - left) for e in bar.events if left <= e.at < right)
        inside = []
        for index in bar.spans:
            span = result.spans[index].span
            at = span.at if span.bar == bar.number else Fraction(0)
            later = [result.spans[i].span.at for i in bar.spans if i > index]
            if at >= right or min(later, default=bar.length) <= left:
                continue
            inside.append(index)
            if span.bar == bar.number:
                moved = replace(span, bar=number, at=max(Fraction(0), at - left))
                spans[index] = replace(result.spans[index], span=moved)
        bars.append(FittedBar(number, right - left, events, (), tuple(inside), ()))
        begins.append((result.section, bar.number, left))
    ordered = tuple(spans[index] for index in range(len(result.spans)))
    piece = set_tempo(result.piece, tempo)
    return replace(result, piece=piece, bars=tuple(bars), spans=ordered, plan=()), begins
