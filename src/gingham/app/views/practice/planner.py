"""The plan of the whole piece, made off the interface thread: stages of every section, in order."""

from __future__ import annotations

from itertools import pairwise

import msgspec
from PySide6.QtCore import QObject, Signal

from gingham.app.work.worker import NewestWorker
from gingham.core.errors import GinghamError
from gingham.core.fitting.cache import FitCache
from gingham.core.fitting.fit import fit
from gingham.core.fitting.result import Result
from gingham.core.pieces.piece import Piece
from gingham.core.practice.stages import Stage, plan, seam_stage


class Planned(msgspec.Struct, frozen=True):
    """The stages of a piece, and every section as it is fitted."""

    piece: Piece
    order: str
    stages: tuple[Stage, ...]
    results: dict[int, Result]


def plan_piece(piece: Piece, order: str, cache: FitCache) -> Planned:
    """The stages of every section that has chords, in the order in which they are first played."""
    results: dict[int, Result] = {}
    for index, section in enumerate(piece.sections):
        if section.chords.bars:
            try:
                results[index] = fit(piece, index, cache)
            except GinghamError:
                continue  # Build says what is wrong with it
    order_of = [piece.section_index(turn.section) for turn in piece.turns(False)]
    following: dict[int, int] = {}
    for one, other in pairwise(order_of):
        if one != other:
            following.setdefault(one, other)
    stages: list[Stage] = []
    for index in dict.fromkeys((*order_of, *results)):
        if index not in results:
            continue
        stages += plan(results[index], order)
        after = following.get(index)
        seam = seam_stage(results[index], results[after]) if after in results and after is not None else None
        stages += [seam] if seam is not None else []
    return Planned(piece, order, tuple(stages), results)


class Planner(NewestWorker[tuple[Piece, str]]):
    """Plans the newest piece."""

    planned = Signal(object)

    def __init__(self, parent: QObject | None = None) -> None:
        self._cache = FitCache()
        super().__init__("planner", parent)

    def work_on(self, item: tuple[Piece, str]) -> None:
        """Plan one piece."""
        found = plan_piece(*item, self._cache)
        if not self.outdated:
            self.planned.emit(found)
