"""Spots for a teacher: what holds the hand back, the hardest changes, what is not heard, as measured."""

from __future__ import annotations

from collections.abc import Iterator

from gingham.core.judging.changes import changes, hardest
from gingham.core.judging.speed import full_limit
from gingham.language import tr
from gingham.paper.content import SheetContent, SheetOptions, SheetSection
from gingham.paper.metrics import Metrics
from gingham.paper.ops import Block, Op, Text
from gingham.words.changes import change_text, change_title
from gingham.words.reasons import problem_text, spot_text

_MOST = 3


def report_blocks(
    content: SheetContent, options: SheetOptions, metrics: Metrics, scale: float, room: float
) -> Iterator[Block]:
    """A heading, then a paragraph for each section; nothing for one that has nothing to say."""
    yield Block(26 * scale, (Text(0, 18 * scale, tr("Spots to look at"), 13 * scale, True),), joined=True)
    for section in content.sections:
        lines = spots_of(section) if section.result.section < len(content.piece.sections) else []
        practised = options.measured_in(section.name)
        lines = [*(practised.lines if practised is not None else ()), *lines]
        if lines:
            yield _paragraph(section.name, lines, metrics, scale, room)


def spots_of(section: SheetSection) -> list[str]:
    """What is measured of a section, in sentences."""
    result = section.result
    piece = result.piece
    limit = full_limit(result, piece.rules.level)
    out = []
    if limit.tempo:
        spots = "; ".join(spot_text(spot) for spot in limit.spots[:_MOST])
        out.append(
            tr(
                "Comfortable top speed {tempo} beats a minute, set by: {spots}.",
                tempo=limit.tempo,
                spots=spots,
            )
        )
    for change in hardest(changes(result))[:_MOST]:
        out.append(f"{change_title(change)}: {change_text(change, piece.meter, piece.tempo)}")
    told = dict.fromkeys(
        tr("Bar {bar}: {problem}", bar=bar, problem=problem_text(problem))
        for bar, problem in result.problems()
    )
    return [*out, *list(told)[: 2 * _MOST]]


def _paragraph(name: str, lines: list[str], metrics: Metrics, scale: float, room: float) -> Block:
    ops: list[Op] = [Text(0, 12 * scale, name, 10 * scale, True)]
    y = 25 * scale
    for text in lines:
        for number, line in enumerate(metrics.wrapped(text, 9 * scale, room - 12 * scale)):
            if not number:
                ops.append(Text(2 * scale, y, "·", 9 * scale, True))
            ops.append(Text(12 * scale, y, line, 9 * scale))
            y += 12.5 * scale
    return Block(y + 2 * scale, tuple(ops))
