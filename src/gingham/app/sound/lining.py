"""What is to sound, put in time off the interface thread: the whole form, bars, or a shorter stretch."""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal

import msgspec
from PySide6.QtCore import QObject, Signal

from gingham.app.work.worker import NewestWorker
from gingham.core.errors import GinghamError
from gingham.core.fitting.cache import FitCache
from gingham.core.fitting.fit import fit
from gingham.core.fitting.result import Result
from gingham.core.pieces.piece import Piece

if TYPE_CHECKING:
    from gingham.core.sound.timeline import Timeline


_YIELD_S = 0.08  # the fitter's own worker is through by then, and a beat at any tempo is longer


class Loop(msgspec.Struct, frozen=True):
    """What is looped: `places` from `begin` to `end`, or the `change` at `begin` with `end` on each side."""

    kind: Literal["places", "change"]
    begin: float
    end: float
    words: str

    def of(self, line: Timeline) -> Timeline:
        """The stretch of a section's timeline."""
        from gingham.core.sound.timeline import around, cut

        if self.kind == "change":
            return around(line, self.begin, self.end, self.end)
        return cut(line, self.begin, min(self.end, line.length))


class Wanted(msgspec.Struct, frozen=True, eq=False):
    """What shall sound: a piece's form, or bars or a stretch of a section; and whether it begins now."""

    piece: Piece
    section: int
    practice: bool
    bars: tuple[int, int] | None
    stretch: Loop | None
    begins: bool


class Liner(NewestWorker[Wanted]):
    """Puts the newest wish in time."""

    lined = Signal(object, object)
    """The wish, and its Timeline; None if nothing would sound."""
    failed = Signal(object, object)
    """The wish, and the GinghamError for which it cannot be."""

    def __init__(self, parent: QObject | None = None) -> None:
        self._cache = FitCache()
        super().__init__("liner", parent)

    def work_on(self, item: Wanted) -> None:
        """Fit and put in time; what plays already can wait until the picture is painted."""
        if not item.begins:
            self.pause(_YIELD_S)
            if self.outdated:
                return
        try:
            line = self._line(item)
        except GinghamError as error:
            self.failed.emit(item, error)
            return
        if not self.outdated:
            self.lined.emit(item, line)

    def _line(self, wanted: Wanted) -> Timeline | None:
        from gingham.core.fitting.performance import perform  # with the first sound, not with the window
        from gingham.core.sound.timeline import performed, timeline

        if wanted.bars is None and wanted.stretch is None:
            whole = perform(wanted.piece, practice=wanted.practice, cache=self._cache)
            return performed(whole) if _sounds(whole.results) else None
        result = fit(wanted.piece, wanted.section, self._cache)
        if not _sounds((result,)):
            return None
        if wanted.stretch is not None:
            return wanted.stretch.of(timeline([result]))
        return timeline([result], bars=wanted.bars)


def _sounds(results: tuple[Result, ...]) -> bool:
    return any(bar.events for result in results for bar in result.bars)
