"""All that is set of a piece, on paper: strings, form, rules, exceptions, versions with their notes."""

from __future__ import annotations

from collections.abc import Iterator

from gingham.paper.content import SheetContent
from gingham.paper.metrics import Metrics
from gingham.paper.ops import Block, Op, Text
from gingham.words.facts import fact_groups

_STEP, _SIZE = 14.0, 9.5


def facts_blocks(content: SheetContent, metrics: Metrics, scale: float, room: float) -> Iterator[Block]:
    """A block for each group, its lines wrapped."""
    for title, lines in fact_groups(content.piece):
        ops: list[Op] = [Text(0, 18 * scale, title, 12 * scale, True)]
        y = 34 * scale
        for line in lines:
            for number, words in enumerate(metrics.wrapped(line, _SIZE * scale, room - 12 * scale)):
                ops.append(Text(12 * scale * bool(number), y, words, _SIZE * scale))
                y += _STEP * scale
        yield Block(y, tuple(ops))
