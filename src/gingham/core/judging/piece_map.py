"""The whole piece in small: a tile for every bar, and where something is in the way or hard."""

from __future__ import annotations

from collections import Counter
from fractions import Fraction

import msgspec

from gingham.core.errors import GinghamError
from gingham.core.fitting.cache import FitCache
from gingham.core.fitting.fit import fit
from gingham.core.fitting.result import FittedBar, Result
from gingham.core.judging.changes import Change, different_changes, hardest
from gingham.core.judging.remarks import all_problems
from gingham.core.pieces.piece import Piece, Section
from gingham.core.reasons import ADVICE, Problem

_HARDEST = 3
_HARD = 1.0  # fingers: one to set within a second


class Thread(msgspec.Struct, frozen=True, gc=False):
    """One pluck of a tile: `x` is its share of the bar (0 to 1), `finger` is empty where no finger plucks."""

    x: float
    string: int
    finger: str


class Tile(msgspec.Struct, frozen=True, gc=False):
    """A bar: index of its section, its number, what is plucked, and what is to be known about it.

    `own` tells that it has a pattern of its own, `problems` how many conflicts it has, `remarks` how many
    problems that need no solving, `hard` that one of the hardest changes of the piece lands in it.
    """

    section: int
    bar: int
    weave: tuple[Thread, ...]
    own: bool = False
    problems: int = 0
    remarks: int = 0
    hard: bool = False


class Conflict(msgspec.Struct, frozen=True, gc=False):
    """A problem and its place. One that is `advice` needs no solving."""

    section: int
    bar: int
    problem: Problem

    @property
    def at(self) -> Fraction:
        """Where in the bar, in whole notes."""
        return self.problem.at

    @property
    def advice(self) -> bool:
        """Whether it is only worth knowing."""
        return self.problem.code in ADVICE


class PieceMap(msgspec.Struct, frozen=True):
    """Tiles of all sections in order; `starts` are the indices at which sections begin.

    `conflicts` are all problems: what cannot be played first, then what is only worth knowing.
    """

    piece: Piece
    tiles: tuple[Tile, ...]
    starts: tuple[int, ...]
    conflicts: tuple[Conflict, ...]

    def index_of(self, section: int, bar: int) -> int | None:
        """The tile of a bar; None if there is none."""
        if not 0 <= section < len(self.starts):
            return None
        after = self.starts[section + 1] if section + 1 < len(self.starts) else len(self.tiles)
        if self.starts[section] >= after:
            return None
        index = self.starts[section] + bar - self.tiles[self.starts[section]].bar
        return index if self.starts[section] <= index < after else None


def map_piece(piece: Piece, cache: FitCache | None = None) -> PieceMap:
    """The map of a piece. A section that cannot be fitted has empty tiles."""
    shared = cache if cache is not None else FitCache()
    results = [_fitted(piece, index, shared) for index in range(len(piece.sections))]
    hard = _hard_places(results)
    tiles: list[Tile] = []
    starts: list[int] = []
    conflicts: list[Conflict] = []
    for index, (section, result) in enumerate(zip(piece.sections, results, strict=True)):
        starts.append(len(tiles))
        found = [] if result is None else [Conflict(index, bar, each) for bar, each in all_problems(result)]
        conflicts += found
        tiles += _tiles(section, index, result, found, hard)
    conflicts.sort(key=lambda each: each.advice)  # places keep their order
    return PieceMap(piece, tuple(tiles), tuple(starts), tuple(conflicts))


def _fitted(piece: Piece, index: int, cache: FitCache) -> Result | None:
    try:
        return fit(piece, index, cache)
    except GinghamError:
        return None


def _tiles(
    section: Section, index: int, result: Result | None, found: list[Conflict], hard: set[tuple[int, int]]
) -> list[Tile]:
    own = {each.bar for each in section.bars}
    if result is None:
        return [Tile(index, number, (), number in own) for number in range(1, len(section.chords.bars) + 1)]
    faults: Counter[int] = Counter(each.bar for each in found if not each.advice)
    remarks: Counter[int] = Counter(each.bar for each in found if each.advice)
    known: dict[int, tuple[Thread, ...]] = {}  # bars of one kind share their events
    out = []
    for bar in result.bars:
        weave = known.get(id(bar.events))
        if weave is None:
            weave = known[id(bar.events)] = _weave(bar)
        number = bar.number
        out.append(
            Tile(
                index, number, weave, number in own, faults[number], remarks[number], (index, number) in hard
            )
        )
    return out


def _weave(bar: FittedBar) -> tuple[Thread, ...]:
    length = float(bar.length) or 1.0
    return tuple(
        Thread(float(event.at) / length, event.string, event.plucker or "")
        for event in bar.events
        if not event.silent
    )


def _hard_places(results: list[Result | None]) -> set[tuple[int, int]]:
    """Section and bar of the hardest changes of the piece."""
    found: list[tuple[int, Change]] = [
        (index, change)
        for index, result in enumerate(results)
        if result is not None
        for change in hardest(different_changes(result))[:_HARDEST]
        if change.difficulty >= _HARD and not change.seam
    ]
    found.sort(key=lambda each: -each[1].difficulty)
    return {(index, change.bar) for index, change in found[:_HARDEST]}
