"""Practise: the plan of the shown section, one stage played at a time, and the picture that follows."""

from __future__ import annotations

from itertools import pairwise

from PySide6.QtCore import QObject, QSignalBlocker

from gingham.app.look.settings import Settings
from gingham.app.session.shown import Shown
from gingham.app.sound.playing import Playing
from gingham.app.sound.transport import OF_THE_PIECE, Owner
from gingham.app.views.practice.follow import Moment
from gingham.app.views.practice.view import PracticeView
from gingham.core.errors import GinghamError
from gingham.core.fitting.cache import FitCache
from gingham.core.fitting.fit import fit
from gingham.core.fitting.result import Result
from gingham.core.practice.stages import Stage, plan, seam_stage
from gingham.core.sound.timeline import Timeline, around, cut, timeline
from gingham.core.values import replace
from gingham.words.practice import stage_text

_DONE = "✓  "
_LONG = 400  # bars of a section whose beginning is not looked at while the player waits


class PracticeController(QObject):
    """Joins the view with what is played."""

    def __init__(
        self,
        view: PracticeView,
        shown: Shown,
        playing: Playing,
        settings: Settings,
        parent: QObject,
    ) -> None:
        super().__init__(parent)
        self.view, self.shown, self.playing, self.settings = view, shown, playing, settings
        self.stages: tuple[Stage, ...] = ()
        self._kept: frozenset[str] | None = None
        self._cache = FitCache()
        view.order.setCurrentIndex(view.order.findData(settings.text("learning-order", "picking")))
        view.order.activated.connect(self._order_chosen)
        view.play.clicked.connect(lambda _on: self.play_or_stop())
        view.done.clicked.connect(lambda _on: self.toggle_done())
        view.stages.play_wanted.connect(self.play_or_stop)
        view.stages.done_wanted.connect(self.toggle_done)
        view.stages.itemDoubleClicked.connect(lambda _item: self.play_or_stop())
        transport = playing.transport
        transport.moved.connect(self._moved)
        transport.called.connect(self._called)
        transport.counting.connect(self._counting)
        transport.state_changed.connect(self._state)
        shown.settled.connect(self.refresh)

    @property
    def widget(self) -> PracticeView:
        """The page."""
        return self.view

    def arrive(self) -> None:
        """The keyboard to the stages."""
        self.view.stages.setFocus()

    def end(self) -> None:
        """It has no thread of its own."""

    def _order_chosen(self, index: int) -> None:
        self.settings.set_text("learning-order", self.view.order.itemData(index))
        self.refresh()

    def refresh(self) -> None:
        """The plan of the section that is shown now."""
        result, view = self.shown.result, self.view
        if result is None:
            return
        view.follow.show_result(result)
        self.stages = (*plan(result, view.order.currentData()), *self._seams(result))
        done = set(self.shown.piece.done)
        chosen = max(0, view.stages.currentRow())
        with QSignalBlocker(view.stages):
            view.stages.clear()
            for stage in self.stages:
                view.stages.addItem(f"{_DONE if stage.id in done else ''}{stage_text(stage)}")
            view.stages.setCurrentRow(min(chosen, len(self.stages) - 1))
        finished = sum(stage.id in done for stage in self.stages)
        view.status.setText(f"{finished} of {len(self.stages)} done" if self.stages else "No chords yet.")

    def _seams(self, result: Result) -> tuple[Stage, ...]:
        """The change into the section that follows in the form, before the whole is played."""
        piece = result.piece
        order = [piece.section_index(turn.section) for turn in piece.turns(False)]
        after = next((b for a, b in pairwise(order) if a == result.section and b != a), None)
        if after is None or len(piece.sections[after].chords.bars) > _LONG:
            return ()
        try:
            stage = seam_stage(result, fit(piece, after, self._cache))
        except GinghamError:
            return ()
        return () if stage is None else (stage,)

    @property
    def stage(self) -> Stage | None:
        """The chosen stage."""
        row = self.view.stages.currentRow()
        return self.stages[row] if 0 <= row < len(self.stages) else None

    def play_or_stop(self) -> None:
        """Loop the chosen stage at its own tempo, or stop."""
        transport, stage, result = self.playing.transport, self.stage, self.shown.result
        if transport.playing:
            transport.stop()
        elif stage is not None and result is not None:
            self._kept = transport.options.muted
            self.playing.set_muted(stage.muted)
            both = [result] if stage.into is None else [result, fit(result.piece, stage.into, self._cache)]
            line = line_of(stage, timeline(both))
            transport.play_line(line, self.shown.piece, stage.tempo, Owner.STAGE)

    def toggle_done(self) -> None:
        """Mark the chosen stage as done, or not, and go on to the next one."""
        stage, piece = self.stage, self.shown.piece
        if stage is None:
            return
        was = stage.id in piece.done
        done = tuple(each for each in piece.done if each != stage.id) if was else (*piece.done, stage.id)
        if not was:
            self.view.stages.setCurrentRow(min(self.view.stages.currentRow() + 1, len(self.stages) - 1))
        self.shown.edit("Stage not done" if was else "Stage done", replace(piece, done=done))

    # Following.

    def _moved(self, owner: Owner, section: int, bar: int, inside: float) -> None:
        if owner in OF_THE_PIECE and section == self.shown.section:
            rounds = self.playing.transport.rounds
            self.view.follow.show_moment(Moment(bar, inside, rounds + 1))

    def _called(self, entry: tuple[float, float, int, int] | None) -> None:
        self.view.follow.show_coming(
            entry[3] if entry is not None and entry[2] == self.shown.section else None
        )

    def _counting(self, beats: int) -> None:
        self.view.follow.show_moment(Moment(counting=beats))

    def _state(self, playing: bool) -> None:
        self.view.play.setText("Stop   Space" if playing else "Play this stage   Space")
        if not playing:
            self.view.follow.show_moment(Moment())
            self.view.follow.show_coming(None)
            if self._kept is not None:
                kept, self._kept = self._kept, None
                self.playing.set_muted(kept)


def line_of(stage: Stage, line: Timeline) -> Timeline:
    """What a stage loops, out of its section's timeline."""
    if stage.around is not None:
        half = float(stage.around)
        return around(line, float(stage.begin), half, half)
    return cut(line, float(stage.begin), line.length if stage.end is None else float(stage.end))
