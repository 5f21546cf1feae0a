"""Practise: the plan of the piece, one stage played at a time, and the picture that follows."""

from __future__ import annotations

from PySide6.QtCore import QObject, QSignalBlocker

from gingham.app.look.settings import Settings
from gingham.app.session.shown import Shown
from gingham.app.sound.playing import Playing
from gingham.app.sound.transport import OF_THE_PIECE, Owner
from gingham.app.views.practice.follow import Moment
from gingham.app.views.practice.planner import Planned, Planner, plan_piece
from gingham.app.views.practice.view import PracticeView
from gingham.core.fitting.cache import FitCache
from gingham.core.pieces.tempo import FASTEST_BPM, SLOWEST_BPM
from gingham.core.practice.loop import loop_of, whole_section
from gingham.core.practice.stages import Stage
from gingham.core.sound.timeline import Timeline, around, cut, timeline
from gingham.core.values import replace
from gingham.words.practice import stage_name

_DONE = "✓  "
_QUICK = 64  # bars of a piece that is planned while the player waits


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
        self.plan = Planned(shown.piece, "", (), {})
        self._tempos: dict[str, int] = {}
        """The tempi that the player has given to stages."""
        self._played: Stage | None = None
        self._section: int | None = None
        """The section that the picture shows while the piece plays; None while it shows a stage."""
        self._kept: frozenset[str] | None = None
        self._cache = FitCache()
        self.planner = Planner(self)
        self.planner.planned.connect(self._take_plan)
        self._connect()

    def _connect(self) -> None:
        view, transport = self.view, self.playing.transport
        view.order.setCurrentIndex(view.order.findData(self.settings.text("learning-order", "picking")))
        view.order.activated.connect(self._order_chosen)
        view.play.clicked.connect(lambda _on: self.play_or_stop())
        view.done.clicked.connect(lambda _on: self.toggle_done())
        view.tempo.valueChanged.connect(self.choose_tempo)
        view.stages.play_wanted.connect(self.play_or_stop)
        view.stages.done_wanted.connect(self.toggle_done)
        view.stages.faster_wanted.connect(self.change_tempo)
        view.stages.stage_chosen.connect(lambda _index: self._show_stage())
        view.stages.itemDoubleClicked.connect(lambda _item: self.play_or_stop())
        view.mirrored.setChecked(view.follow.appearance.mirrored)
        view.mirrored.toggled.connect(view.follow.appearance.set_mirrored)
        view.follow.appearance.changed.connect(
            lambda: view.mirrored.setChecked(view.follow.appearance.mirrored)
        )
        view.flipped.setChecked(view.follow.theme.lowest_on_top)
        view.flipped.toggled.connect(view.follow.appearance.set_lowest_on_top)
        view.follow.appearance.changed.connect(
            lambda: view.flipped.setChecked(view.follow.theme.lowest_on_top)
        )
        transport.moved.connect(self._moved)
        transport.counting.connect(self._counting)
        transport.state_changed.connect(self._state)
        self.shown.settled.connect(self.refresh)

    @property
    def widget(self) -> PracticeView:
        """The page."""
        return self.view

    def arrive(self) -> None:
        """The keyboard to the stages."""
        self.view.stages.setFocus()

    def end(self) -> None:
        """End the thread."""
        self.planner.close()

    def _order_chosen(self, index: int) -> None:
        self.settings.set_text("learning-order", self.view.order.itemData(index))
        self.refresh()

    # The plan.

    def refresh(self) -> None:
        """The plan of the piece that is shown now, at once where that is quick."""
        piece, order = self.shown.piece, self.view.order.currentData()
        if not self.view.isVisible() or (self.plan.piece is piece and self.plan.order == order):
            return
        if sum(len(section.chords.bars) for section in piece.sections) <= _QUICK:
            self._take_plan(plan_piece(piece, order, self._cache))
        else:
            self.view.status.setText("Making the plan…")
            self.planner.request((piece, order))

    def _take_plan(self, planned: Planned) -> None:
        if planned.piece is not self.shown.piece:
            return
        chosen = self.stage
        self.plan = planned
        self._fill()
        same = [i for i, stage in enumerate(self.stages) if chosen is not None and stage.id == chosen.id]
        mine = [i for i, stage in enumerate(self.stages) if stage.section == self.shown.section]
        with QSignalBlocker(self.view.stages):  # what plays goes on
            self.view.stages.choose((same or mine or [0])[0])
        self._show_stage(afresh=True)

    def _fill(self) -> None:
        piece, done = self.plan.piece, set(self.plan.piece.done)
        rows: list[tuple[str, list[str]]] = []
        for stage in self.stages:
            name = piece.sections[stage.section].name
            if not rows or rows[-1][0] != name:
                rows.append((name, []))
            rows[-1][1].append(f"{_DONE if stage.id in done else ''}{stage_name(stage)}")
        with QSignalBlocker(self.view.stages):
            self.view.stages.fill(rows)
        finished = sum(stage.id in done for stage in self.stages)
        self.view.status.setText(
            f"{finished} of {len(self.stages)} done" if self.stages else "No chords yet."
        )

    @property
    def stages(self) -> tuple[Stage, ...]:
        """The stages of all sections, in order."""
        return self.plan.stages

    @property
    def stage(self) -> Stage | None:
        """The chosen stage."""
        index = self.view.stages.stage
        return self.stages[index] if 0 <= index < len(self.stages) else None

    def _show_stage(self, *, afresh: bool = False) -> None:
        """The chosen stage stands in the picture, with its tempo; after an edit the one that plays."""
        chosen, follow = self.stage, self.view.follow
        if chosen is None:
            follow.show_loop(None, "", frozenset())
            return
        if self._played is not None and not afresh:
            self.playing.transport.stop()  # another stage has been chosen: it begins when it is asked for
        stage = self._still_played() or chosen
        self._section = None
        follow.show_moment(Moment())
        follow.show_loop(loop_of(stage, self.plan.results), self._title(stage), stage.muted)
        self.view.show_tempo(self.tempo(chosen), self.shown.piece.tempo)

    def _still_played(self) -> Stage | None:
        """The stage that plays, as the plan has it now."""
        played = self._played
        return next((each for each in self.stages if played is not None and each.id == played.id), None)

    def _title(self, stage: Stage) -> str:
        return f"{stage_name(stage)}  ·  {self.tempo(stage)} beats/min"

    # Tempo.

    def tempo(self, stage: Stage) -> int:
        """The tempo of a stage: the plan's, or what the player has made of it."""
        return self._tempos.get(stage.id, stage.tempo)

    @property
    def tempo_now(self) -> int:
        """The chosen stage's tempo, in beats a minute; the piece's without a stage."""
        return self.tempo(self.stage) if self.stage is not None else self.shown.piece.tempo

    def change_tempo(self, by: int) -> None:
        """The chosen stage faster or slower; the piece's tempo stays."""
        if self.stage is not None:
            self.choose_tempo(self.tempo(self.stage) + by)

    def choose_tempo(self, tempo: int) -> None:
        """Another tempo for the chosen stage, heard at once if it plays."""
        stage = self.stage
        if stage is None:
            return
        self._tempos[stage.id] = min(max(SLOWEST_BPM, tempo), FASTEST_BPM)
        self.view.show_tempo(self.tempo(stage), self.shown.piece.tempo)
        self.view.follow.title = self._title(stage)
        self.view.follow.update()
        if self._played is not None and self._played.id == stage.id:
            self.playing.transport.set_tempo(self.tempo(stage))

    # Playing.

    def play_or_stop(self) -> None:
        """Loop the chosen stage at its own tempo, or stop."""
        transport, stage = self.playing.transport, self.stage
        if transport.playing:
            transport.stop()
        elif stage is not None:
            self._kept = transport.options.muted
            self.playing.set_muted(stage.muted)
            results = self.plan.results
            both = [results[stage.section], *([results[stage.into]] if stage.into is not None else [])]
            self._show_stage()
            self._played = stage
            transport.play_line(
                line_of(stage, timeline(both)), self.shown.piece, self.tempo(stage), Owner.STAGE
            )

    def toggle_done(self) -> None:
        """Mark the chosen stage as done, or not, and go on to the next one."""
        stage, piece = self.stage, self.shown.piece
        if stage is None:
            return
        was = stage.id in piece.done
        done = tuple(each for each in piece.done if each != stage.id) if was else (*piece.done, stage.id)
        if not was:
            with QSignalBlocker(self.view.stages):  # what plays goes on
                self.view.stages.choose(min(self.view.stages.stage + 1, len(self.stages) - 1))
        self.shown.edit("Stage not done" if was else "Stage done", replace(piece, done=done))

    # Following.

    def _moved(self, owner: Owner, section: int, bar: int, inside: float) -> None:
        if owner not in OF_THE_PIECE or not self.view.isVisible():
            return
        if owner != Owner.STAGE and self._section != section:
            result = self.plan.results.get(section)
            if result is None:
                return
            self._section = section
            muted = self.playing.transport.options.muted
            self.view.follow.show_loop(whole_section(result), "the piece", muted)
        self.view.follow.show_moment(Moment(section, bar, inside, self.playing.transport.rounds + 1))

    def _counting(self, beats: int) -> None:
        self.view.follow.show_moment(Moment(counting=beats))

    def _state(self, playing: bool) -> None:
        self.view.show_playing(playing)
        if not playing:
            self._played = None
            if self._kept is not None:
                kept, self._kept = self._kept, None
                self.playing.set_muted(kept)
            self._show_stage()


def line_of(stage: Stage, line: Timeline) -> Timeline:
    """What a stage loops, out of its section's timeline."""
    if stage.around is not None:
        half = float(stage.around)
        return around(line, float(stage.begin), half, half)
    return cut(line, float(stage.begin), line.length if stage.end is None else float(stage.end))
