"""Blocks laid on pages: headings stay with what follows, nothing is cut, every page has its number."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from gingham.core.fitting.cache import FitCache
from gingham.core.fitting.performance import ENDING
from gingham.core.fitting.result import FittedBar
from gingham.core.pieces.piece import Piece
from gingham.core.values import replace
from gingham.language import tr
from gingham.paper.call import call_blocks
from gingham.paper.card import card_blocks
from gingham.paper.content import SheetContent, SheetOptions, SheetSection, sheet_content
from gingham.paper.diagram import HEIGHT, WIDTH, diagram
from gingham.paper.facts import facts_blocks
from gingham.paper.metrics import Metrics
from gingham.paper.ops import Block, Line, Op, Page, Text
from gingham.paper.report import report_blocks
from gingham.paper.system import LABELS, Style, system, width_of

PAGES = {"A4": (595.0, 842.0), "Letter": (612.0, 792.0)}
"""Width and height in points."""
MARGIN = 40.0
_LARGE = 1.45
_ROWS = (8, 6, 5, 4, 3, 2, 1)
Tick = Callable[[float], bool]


def lay_out(
    piece: Piece,
    options: SheetOptions,
    metrics: Metrics,
    cache: FitCache | None = None,
    tick: Tick | None = None,
) -> tuple[Page, ...]:
    """The pages of a sheet; `tick` is told the share that is done and stops the work by returning False.

    A sheet that was stopped has the pages so far; one without chords has a page that says so.
    """
    if options.kind == "pack":
        return _pack(piece, options, metrics, cache, tick)
    content = sheet_content(piece, options, cache)
    size = PAGES[options.size]
    scale = _LARGE if options.large else 1.0
    room = size[0] - 2 * MARGIN
    found = blocks(content, options, metrics, scale, room)
    return _Pages(content, size, scale).filled(found, tick)


def _pack(
    piece: Piece, options: SheetOptions, metrics: Metrics, cache: FitCache | None, tick: Tick | None
) -> tuple[Page, ...]:
    """Everything for the music stand: facts, sheet, words, a card of every pattern, the call sheet."""
    kept = cache if cache is not None else FitCache()
    parts = [replace(options, kind=kind) for kind in ("facts", "sheet")]
    if any(section.words for section in piece.sections):
        parts.append(replace(options, kind="words"))
    played = sheet_content(piece, options, kept).sections
    first = {section.pattern: number for number, section in reversed(list(enumerate(played)))}
    parts += [replace(options, kind="card", section=number) for number in sorted(first.values())]
    if played:
        parts.append(replace(options, kind="call"))
    pages: list[Page] = []
    for number, part in enumerate(parts):
        pages += lay_out(piece, part, metrics, kept)
        if tick is not None and not tick((number + 1) / len(parts)):
            break
    return tuple(pages)


def blocks(
    content: SheetContent, options: SheetOptions, metrics: Metrics, scale: float, room: float
) -> Iterator[Block]:
    """Everything of a sheet from top to bottom."""
    yield _head(content, options, metrics, scale, room)
    if not content.sections:
        yield Block(
            30 * scale, (Text(0, 20 * scale, tr("There are no chords yet."), 11 * scale, ink="quiet"),)
        )
        return
    if options.kind == "facts":
        yield from facts_blocks(content, metrics, scale, room)
        return
    if options.kind == "card":
        yield from card_blocks(content, options, metrics, scale, room)
        return
    if options.kind == "call":
        yield from call_blocks(content, options, metrics, scale, room)
        return
    if options.shapes and options.kind == "sheet":
        yield from _shape_rows(content, options, metrics, scale, room)
    style = Style(options, metrics, scale, options.kind == "sheet")
    for section in content.sections:
        yield _heading(section, metrics, scale, room)
        yield from _systems(section, style, room)
    if options.report and options.kind == "sheet":
        yield from report_blocks(content, options, metrics, scale, room)


def _head(content: SheetContent, options: SheetOptions, metrics: Metrics, scale: float, room: float) -> Block:
    title, size = metrics.fitted(content.title, 20 * scale, room, bold=True)
    ops: list[Op] = [Text(0, 20 * scale, title, size, True)]
    y = 34 * scale
    lines = [(content.facts, "quiet"), (content.order, "ink"), (content.piece.notes, "ink")]
    if options.kind in ("card", "call", "facts"):
        lines = lines[:1]
    for text, ink in lines:
        for line in metrics.wrapped(text, 9 * scale, room):
            ops.append(Text(0, y, line, 9 * scale, ink=ink))
            y += 12.5 * scale
    return Block(y, tuple(ops))


def _shape_rows(
    content: SheetContent, options: SheetOptions, metrics: Metrics, scale: float, room: float
) -> Iterator[Block]:
    per_row = max(1, int(room // (WIDTH * scale)))
    for begin in range(0, len(content.shapes), per_row):
        ops: list[Op] = []
        for index, face in enumerate(content.shapes[begin : begin + per_row]):
            made = diagram(face, metrics, scale, mirrored=options.left_handed)
            ops += [op.moved(index * WIDTH * scale, 0) for op in made]
        yield Block(HEIGHT * scale, tuple(ops))


def _heading(section: SheetSection, metrics: Metrics, scale: float, room: float) -> Block:
    told = tr("Ending") if section.name == ENDING else section.name
    name = f"{told}  ×{section.times}" if section.times > 1 else told
    beside = section.pattern if section.pattern != section.name else ""
    left = room - metrics.width(beside, 9 * scale) - 12 * scale
    fitted, size = metrics.fitted(name, 13 * scale, left, bold=True)
    ops: list[Op] = [Text(0, 18 * scale, fitted, size, True)]
    if beside:
        ops.append(Text(room, 18 * scale, beside, 9 * scale, align="right", ink="quiet"))
    ops.append(Line(0, 22 * scale, room, 22 * scale, 0.6 * scale, "pale"))
    y = 26 * scale
    for line in metrics.wrapped(section.jump, 9 * scale, room) if section.jump else ():
        y += 12 * scale
        ops.append(Text(0, y - 3 * scale, line, 9 * scale, ink="quiet"))
    return Block(y, tuple(ops), joined=True)


def _systems(section: SheetSection, style: Style, room: float) -> Iterator[Block]:
    """Lines of bars, as many in each as fit, the same number in every line where that can be."""
    bars = list(section.result.bars)
    width = room - (style.at(LABELS) if style.staff else 0) - style.at(4)
    needs: dict[int, float] = {}
    for bar in bars:
        known = id(bar.phases) if not section.verses else id(bar)
        if known not in needs:
            needs[known] = width_of(section, bar, style)
    need = {id(bar): needs[id(bar.phases) if not section.verses else id(bar)] for bar in bars}
    pickup = bars[:1] if bars and bars[0].number == 0 else []
    whole = bars[len(pickup) :]
    count = _per_line([need[id(bar)] for bar in whole], width) if whole else 1
    first = True
    while whole or pickup:
        line, taken = [*pickup], 0
        while taken < len(whole) and taken < count:
            if line and sum(need[id(b)] for b in [*line, whole[taken]]) > width:
                break
            line.append(whole[taken])
            taken += 1
        whole, pickup = whole[taken:], []
        yield system(section, line, _widths(line, need, width, count), style, first=first)
        first = False


def _per_line(needs: list[float], width: float) -> int:
    """How many bars stand in a line: as many as fit, fewer if that makes the lines even."""
    most = next((n for n in _ROWS if n * max(needs) <= width), 1)
    if most == 1 and len(needs) > 1 and 2 * sorted(needs)[len(needs) // 2] <= width:
        most = 2  # a few crowded bars stand alone, the others need not
    even = [n for n in range(most, max(0, (most + 1) // 2 - 1), -1) if n and len(needs) % n == 0]
    return even[0] if even else most


def _widths(line: list[FittedBar], need: dict[int, float], width: float, count: int) -> list[float]:
    """Even widths where all bars fit in them, else what each needs and its share of the rest."""
    longest = max(bar.length for bar in line)
    lengths = [float(bar.length / longest) for bar in line]  # a pick-up is as wide as it is long
    share = width / max(count, sum(lengths))
    even = [share * length for length in lengths]
    if all(need[id(bar)] <= own for bar, own in zip(line, even, strict=True)):
        return even
    own = [need[id(bar)] for bar in line]
    if len(line) < count:  # what is left over at the end is not drawn out over the page
        own = [max(each, whole) for each, whole in zip(own, even, strict=True)]
        if sum(own) <= width:
            return own
    spare = width - sum(own)
    if spare < 0:
        return [width * each / sum(own) for each in own]
    return [each + spare * length / sum(lengths) for each, length in zip(own, lengths, strict=True)]


class _Pages:
    """Fills pages from the top; a block that does not fit begins the next one."""

    def __init__(self, content: SheetContent, size: tuple[float, float], scale: float) -> None:
        self.content, self.size, self.scale = content, size, scale
        self.pages: list[list[Op]] = [[]]
        self.y = MARGIN

    def filled(self, found: Iterator[Block], tick: Tick | None) -> tuple[Page, ...]:
        """All pages with their numbers."""
        waiting: list[Block] = []
        total, done = max(1, sum(len(s.result.bars) for s in self.content.sections)), 0
        for block in found:
            waiting.append(block)
            if block.joined:
                continue
            self._add(waiting)
            waiting = []
            done += 4
            if tick is not None and not tick(min(1.0, done / total)):
                break
        self._add(waiting)
        return tuple(self._page(index) for index in range(len(self.pages)))

    def _add(self, together: list[Block]) -> None:
        height = sum(block.height for block in together)
        bottom = self.size[1] - MARGIN - 12 * self.scale
        if self.y + height > bottom and self.y > MARGIN + 1:
            self.pages.append([])
            self.y = MARGIN + 16 * self.scale
        for block in together:
            self.pages[-1] += [op.moved(MARGIN, self.y) for op in block.ops]
            self.y += block.height

    def _page(self, index: int) -> Page:
        ops, (width, height) = self.pages[index], self.size
        ops.append(Text(MARGIN, height - 22, "Gingham", 7.5, ink="quiet"))
        if len(self.pages) > 1:
            number = tr(
                "{title} · page {index} of {pages}",
                title=self.content.title,
                index=index + 1,
                pages=len(self.pages),
            )
            ops.append(Text(width - MARGIN, height - 22, number, 7.5, align="right", ink="quiet"))
        return Page(width, height, tuple(ops))
