"""Where each stage stands by the record: its ladder, its dots in the list, the words under the ladder."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date

from PySide6.QtCore import QObject

from gingham.app.session.logbook import Logbook
from gingham.app.session.shown import Shown
from gingham.app.views.practice.view import PracticeView
from gingham.core.practice.attempt import Attempt
from gingham.core.practice.entries import resting
from gingham.core.practice.history import History
from gingham.core.practice.ladder import CLEAN_NEEDED, Ladder, ladder, rungs
from gingham.core.practice.plan import Planned
from gingham.core.practice.review import current, due, forecast, tempi
from gingham.core.practice.session import barre_share, cleared, ladders, starts
from gingham.core.practice.stages import WITHOUT_TEMPO, Stage
from gingham.core.practice.tense import tense_today
from gingham.words.progress import BARRE_OFFER, next_step, sources_text, where_it_stands

_ALL_BARRE, _MUCH_BARRE = 0.99, 0.5
DONE, FULL, OPEN = "✓", "●", "○"


class StageStanding(QObject):
    """Reads the record of the shown piece for its plan."""

    def __init__(self, view: PracticeView, shown: Shown, logbook: Logbook, parent: QObject) -> None:
        super().__init__(parent)
        self._view, self._shown, self._logbook = view, shown, logbook
        self.attempts = History(())
        self.ladders: dict[str, Ladder] = {}
        self._planned: Planned | None = None
        self._starts: dict[str, int] = {}
        self.tense = False

    @property
    def today(self) -> date:
        """The day, by the record's clock."""
        return self._logbook.clock().date()

    @property
    def resting(self) -> bool:
        """Whether something hurt, and the player has not said since that it is well."""
        return resting(self._logbook.record.notes)

    def show_plan(self, planned: Planned) -> None:
        """Another plan, or more in the record."""
        self._planned = planned
        document = self._shown.document
        self.attempts = History(self._logbook.attempts(document.identity) if document is not None else ())
        self.tense = tense_today(self.attempts, self.today)
        self.ladders = ladders(planned, self.attempts, self.today, tense=self.tense)
        self._starts = starts(planned, self.ladders)

    def take(self, added: Sequence[object]) -> bool:
        """New entries of the record: only their own stages stand otherwise; whether any does."""
        document, planned = self._shown.document, self._planned
        own = [
            each for each in added
            if isinstance(each, Attempt) and document is not None and each.piece == document.identity
        ]  # fmt: skip
        for attempt in own:
            self.attempts.add(attempt)
        self.tense = tense_today(self.attempts, self.today) if own else self.tense
        for name in {attempt.stage for attempt in own}:
            stage = planned.stage(name) if planned is not None else None
            if stage is not None and name in self.ladders:
                start = self._starts.get(name, stage.tempo)
                past = self.attempts.of(name)
                self.ladders[name] = ladder(stage, past, self.today, start=start, tense=self.tense)
        return bool(own)

    def ladder(self, stage: Stage) -> Ladder:
        """Where a stage stands."""
        return self.ladders.get(stage.id) or ladder(stage, (), self.today)

    def cleared(self, stage: Stage) -> bool:
        """Whether the record shows that a stage is done as it is now."""
        return cleared(stage, self.ladder(stage), self.attempts)

    def all_barre(self, stage: Stage) -> bool:
        """Whether every chord of a stage is held with a barre."""
        return self._planned is not None and barre_share(stage, self._planned.results) > _ALL_BARRE

    def dots(self, stage: Stage, done: bool) -> str:
        """Clean rounds on the present rung as dots; a hook for what is done."""
        standing = self.ladder(stage)
        if done:
            return DONE
        if not standing.tries and not standing.best:
            return ""
        clean = min(CLEAN_NEEDED, standing.clean)
        return FULL * clean + OPEN * (CLEAN_NEEDED - clean)

    def show_stage(self, stage: Stage, tempo: int) -> None:
        """The ladder of a stage as picture and words."""
        standing = self.ladder(stage)
        own = current(stage, self.attempts)
        lines = [next_step(stage, standing, tempo)]
        days = tempi(own)
        lines.append(where_it_stands(days, forecast(days, stage.goal), due(stage, self.attempts), self.today))
        lines.append(sources_text(own))
        if self._planned is not None and barre_share(stage, self._planned.results) > _MUCH_BARRE:
            lines.append(BARRE_OFFER)
        if stage.kind in WITHOUT_TEMPO or stage.kind == "count":
            self._view.ladder.show_rungs((), 0, 0, stage.goal)
        else:
            start = min([standing.tempo, *(day.tempo for day in days)])
            self._view.ladder.show_rungs(rungs(start, stage.goal), tempo, standing.best, stage.goal)
        self._view.show_standing([line for line in lines if line])
