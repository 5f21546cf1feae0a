"""The call sheet: every bar with the name that this player reads, the one that sounds, and another capo's."""

from __future__ import annotations

from collections.abc import Iterator

from gingham.core.bench.callsheet import names_in
from gingham.language import tr
from gingham.paper.content import SheetContent, SheetOptions
from gingham.paper.metrics import Metrics
from gingham.paper.ops import Block, Line, Op, Text
from gingham.words.names import signs

_PER_LINE = 4
_LABEL = 62.0


def call_blocks(
    content: SheetContent, options: SheetOptions, metrics: Metrics, scale: float, room: float
) -> Iterator[Block]:
    """A heading and lines of four bars for each section."""
    piece = content.piece
    key = piece.shape_key()
    yield Block(
        20 * scale,
        (Text(0, 12 * scale, tr("It sounds in {up}.", up=signs(str(key.up(piece.capo)))), 11 * scale, True),),
    )
    capo = piece.capo
    rows = [(tr("capo {capo}", capo=capo) if capo else tr("no capo"), 0), (tr("sounds"), capo)]
    if options.other_capo and options.other_capo != capo:
        rows.append((tr("capo {other_capo}", other_capo=options.other_capo), capo - options.other_capo))
    label, width = _LABEL * scale, (room - _LABEL * scale) / _PER_LINE
    for section in piece.sections:
        bars = [[signs(text) for text in names_in(section, up, key)] for _, up in rows]
        name = f"{section.name}  ×{section.repeats}" if section.repeats > 1 else section.name
        yield Block(26 * scale, (Text(0, 18 * scale, name, 13 * scale, True),), joined=True)
        for begin in range(0, len(bars[0]), _PER_LINE):
            ops: list[Op] = []
            for number, (row, _) in enumerate(rows):
                y = (14 + 17 * number) * scale
                first = number == 0
                ops.append(Text(label - 10 * scale, y, row, 9 * scale, align="right", ink="quiet"))
                for place, text in enumerate(bars[number][begin : begin + _PER_LINE]):
                    size = 12 * scale
                    words, fit = metrics.fitted(text, size, width - 12 * scale, bold=first)
                    ops.append(Text(label + place * width + 6 * scale, y, words, fit, first))
            height = (17 * len(rows) + 12) * scale
            count = len(bars[0][begin : begin + _PER_LINE])
            for place in range(count + 1):
                x = label + place * width
                ops.append(Line(x, 2 * scale, x, height - 10 * scale, 0.6 * scale, "pale"))
            yield Block(height, tuple(ops))
