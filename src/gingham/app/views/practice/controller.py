"""Practise: the plan of the piece, one stage played at a time, and the picture that follows."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QObject, QSignalBlocker, Qt, Signal
from PySide6.QtGui import QKeySequence

from gingham.app.look.settings import Settings
from gingham.app.session.logbook import Logbook
from gingham.app.session.plans import Plans
from gingham.app.session.shown import Shown
from gingham.app.sound.handcare import HandCare
from gingham.app.sound.playing import Playing
from gingham.app.sound.transport import OF_THE_PIECE, Owner
from gingham.app.views.practice.follow import Moment
from gingham.app.views.practice.leader import Leader
from gingham.app.views.practice.measuring import Measuring
from gingham.app.views.practice.rounds import Rounds
from gingham.app.views.practice.running import Run
from gingham.app.views.practice.standing import StageStanding
from gingham.app.views.practice.view import PracticeView
from gingham.app.views.practice.writing import Writing
from gingham.core.errors import NumberError
from gingham.core.numbers import whole
from gingham.core.pieces.form import done_entry, is_done, not_done, was_done
from gingham.core.pieces.tempo import FASTEST_BPM, SLOWEST_BPM
from gingham.core.practice.loop import loop_of, planted, whole_section
from gingham.core.practice.plan import Planned
from gingham.core.practice.stages import WITHOUT_TEMPO, Stage
from gingham.core.values import replace
from gingham.language import tr
from gingham.words.notices import notice
from gingham.words.practice import plant_text, stage_name, stage_why

_COUNT_S, _COUNT_BARRE_S = 60, 30
_LAST_KEY = 0x1FFFFFF


class PracticeController(QObject):
    """Joins the view with what is played and with the record."""

    notice = Signal(str)

    def __init__(
        self, view: PracticeView, shown: Shown, playing: Playing, plans: Plans, logbook: Logbook,
        care: HandCare, settings: Settings, parent: QObject,
    ) -> None:  # fmt: skip
        super().__init__(parent)
        self.view, self.shown, self.playing, self.plans = view, shown, playing, plans
        self.logbook, self._settings = logbook, settings
        self.plan = Planned(shown.piece, plans.learning, (), {})
        self._tempos: dict[tuple[str, str], int] = {}
        """The tempi that the player has given to stages, by id and mark."""
        self._section: int | None = None
        """The section that the picture shows while the piece plays; None while it shows a stage."""
        plans.changed.connect(self._take_plan)
        self.standing = StageStanding(view, shown, logbook, self)
        self.rounds = Rounds(self, care)
        self.run = Run(self)
        self.leader = Leader(self, self.rounds, self.run, care)
        self.measuring = Measuring(self, settings)
        self.measuring.heard.connect(self.rounds.keep_heard)
        self._connect()
        self._connect_session()
        self.writing = Writing(view, shown, self)

    def _connect(self) -> None:
        view, transport = self.view, self.playing.transport
        self._show_learning()
        view.order.activated.connect(lambda _index: self._order_chosen())
        view.joins.activated.connect(lambda _index: self._order_chosen())
        view.play.clicked.connect(lambda _on: self.play_or_stop())
        view.done.clicked.connect(lambda _on: self.toggle_done())
        view.tempo.valueChanged.connect(self.choose_tempo)
        view.stages.play_wanted.connect(self.play_or_stop)
        view.stages.done_wanted.connect(self.toggle_done)
        view.stages.faster_wanted.connect(self.change_tempo)
        view.stages.stage_chosen.connect(lambda _index: self._show_stage())
        view.stages.itemDoubleClicked.connect(lambda _item: self.play_or_stop())
        transport.moved.connect(self._moved)
        transport.counting.connect(self._counting)
        transport.state_changed.connect(self._state)
        self.shown.settled.connect(self.refresh)
        self.logbook.changed.connect(self._record_changed)

    def _connect_session(self) -> None:
        view = self.view
        view.stages.pedal = self._pedal_kept()
        view.stages.pedal_chosen.connect(self._pedal_chosen)
        view.stages.delete_wanted.connect(lambda: self.writing.delete(self.stage))
        view.stages.go_on_wanted.connect(self.leader.go_on)
        view.stages.give_up_wanted.connect(self.leader.give_up)
        view.key_pressed.connect(self._pressed)

    def _pressed(self, letter: str) -> None:
        """A letter of the page."""
        others = {
            "H": self.leader.hurts,
            "T": self.rounds.start_test,
            "O": self.leader.other,
            "M": self.leader.longer,
            "L": self.measuring.toggle,
            "R": self.run.toggle,
            "A": self.view.own.setFocus,
            "P": self._ask_pedal,
        }
        if letter in others:
            others[letter]()
        elif self.run.on:
            self.run.slip(letter)
        else:
            self.rounds.mark(letter)

    def _ask_pedal(self) -> None:
        """The next key is the pedal's."""
        self.view.stages.setFocus()
        self.view.stages.asks_pedal = True
        self.say(notice("pedal-press"))

    def _pedal_chosen(self, key: int) -> None:
        self.view.stages.pedal = key
        self._settings.set_text("pedal-key", str(key))
        self.say(notice("pedal-is", key=QKeySequence(key).toString()))

    def _pedal_kept(self) -> int:
        """The pedal's key as it was chosen last; Page Down until one has been."""
        try:
            return whole(self._settings.text("pedal-key", ""), 1, _LAST_KEY)
        except NumberError:
            return int(Qt.Key.Key_PageDown)

    def say(self, words: str) -> None:
        """Say something quietly."""
        self.notice.emit(words)

    def as_parent(self) -> QObject:
        """Who owns the parts."""
        return self

    @property
    def widget(self) -> PracticeView:
        """The page."""
        return self.view

    def arrive(self) -> None:
        """The keyboard to the stages."""
        self.logbook.load()
        self.view.stages.setFocus()

    def end(self) -> None:
        """A session that runs is kept as left."""
        self.measuring.close()
        self.run.close()
        self.leader.leave()

    def _order_chosen(self) -> None:
        order, joins = self.view.order.currentData(), self.view.joins.currentData()
        self.plans.choose(replace(self.plans.learning, order=order, joins=joins))
        self.refresh()

    # The plan.

    def _show_learning(self) -> None:
        view, learning = self.view, self.plans.learning
        view.order.setCurrentIndex(view.order.findData(learning.order))
        view.joins.setCurrentIndex(view.joins.findData(learning.joins))

    def refresh(self) -> None:
        """The plan of the piece that is shown now, at once where that is quick."""
        self._show_learning()
        if not self.view.isVisible():
            return
        if not self.plans.refresh():
            self.view.status.setText(tr("Making the plan…"))
        elif self.plan is not self.plans.planned:
            self._take_plan()

    def _take_plan(self) -> None:
        planned = self.plans.planned
        if planned is None or planned is self.plan or not self.view.isVisible():
            return
        chosen = self.stage
        self.plan = planned
        self.standing.show_plan(planned)
        self._fill()
        same = [i for i, stage in enumerate(self.stages) if chosen is not None and stage.id == chosen.id]
        mine = [i for i, stage in enumerate(self.stages) if stage.section == self.shown.section]
        with QSignalBlocker(self.view.stages):  # what plays goes on
            self.view.stages.choose((same or mine or [0])[0])
        self._show_stage(afresh=True)
        self.leader.plan_changed()

    def _record_changed(self, added: Sequence[object] | None) -> None:
        """Attempts have come, or gone."""
        if not self.view.isVisible() or self.plan.piece is not self.shown.piece:
            return
        if added is None:
            self.standing.show_plan(self.plan)
        else:
            self.standing.take(added)
        self._fill()
        self._show_standing()
        self.leader.plan_changed()

    def _fill(self) -> None:
        """The list, with what is done and how many clean rounds each rung has."""
        piece = self.plan.piece
        rows: list[tuple[str, list[tuple[str, str]]]] = []
        finished = 0
        for stage in self.stages:
            name = piece.sections[stage.section].name
            if not rows or rows[-1][0] != name:
                rows.append((name, []))
            done = self.is_done(stage)
            finished += done
            before = "" if done else "○ " if was_done(piece.done, stage.id) else ""
            rows[-1][1].append((f"{before}{stage_name(stage)}", self.standing.dots(stage, done)))
        now = self.view.stages.stage
        with QSignalBlocker(self.view.stages):
            self.view.stages.fill(rows)
            self.view.stages.choose(now)
        self.view.status.setText(
            tr("{finished} of {stages} done", finished=finished, stages=len(self.stages))
            if self.stages
            else tr("No chords yet.")
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

    def is_done(self, stage: Stage) -> bool:
        """Whether a stage is done as it is now: marked so, or its goal was reached."""
        return is_done(self.plan.piece.done, stage.id, stage.mark, stage.goal) or self.standing.cleared(stage)

    def choose_stage(self, id: str) -> None:
        """Choose a stage by its id."""
        index = next((i for i, stage in enumerate(self.stages) if stage.id == id), None)
        if index is not None:
            self.view.stages.choose(index)

    def _show_stage(self, *, afresh: bool = False) -> None:
        """The chosen stage stands in the picture, with its tempo; after an edit the one that plays."""
        chosen, follow = self.stage, self.view.follow
        if chosen is None:
            follow.show_loop(None, "", frozenset())
            self.view.show_stage("", "")
            return
        if self.rounds.stage is not None and not afresh:
            self.playing.transport.stop()  # another stage has been chosen: it begins when it is asked for
        played = self.rounds.stage
        stage = (self.plan.stage(played.id) if played is not None else None) or chosen
        self._section = None
        follow.show_moment(Moment())
        follow.show_loop(loop_of(stage, self.plan.results), self._title(stage), stage.muted)
        self.view.show_tempo(
            self.tempo(chosen), self.shown.piece.tempo, timed=chosen.kind not in WITHOUT_TEMPO
        )
        why, asks = stage_why(chosen, self.count_s(chosen))
        where = planted(chosen, self.plan.results) if chosen.group == "hand" else ()
        self.view.show_stage(why, f"{asks} {plant_text(where)}")
        self._show_standing()

    def _show_standing(self) -> None:
        if self.stage is not None:
            self.standing.show_stage(self.stage, self.tempo(self.stage))
            self.view.follow.title = self._title(self.stage)
            self.view.follow.update()

    def _title(self, stage: Stage) -> str:
        if stage.kind in WITHOUT_TEMPO:
            return stage_name(stage)
        return tr("{stage_name}  ·  {tempo} beats/min", stage_name=stage_name(stage), tempo=self.tempo(stage))

    def count_s(self, stage: Stage) -> int:
        """For how many seconds changes are counted: half a minute where both chords are barres."""
        return _COUNT_BARRE_S if self.standing.all_barre(stage) else _COUNT_S

    # Tempo.

    def tempo(self, stage: Stage) -> int:
        """The tempo of a stage: what the player has made of it, or the ladder's rung."""
        return self._tempos.get((stage.id, stage.mark), self.standing.ladder(stage).tempo)

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
        self._tempos[stage.id, stage.mark] = min(max(SLOWEST_BPM, tempo), FASTEST_BPM)
        self._tempo_changed(stage)

    def to_ladder(self, stage: Stage) -> None:
        """The ladder has the word again on a stage's tempo."""
        self._tempos.pop((stage.id, stage.mark), None)
        self._tempo_changed(stage)

    def _tempo_changed(self, stage: Stage) -> None:
        if stage is self.stage:
            timed = stage.kind not in WITHOUT_TEMPO
            self.view.show_tempo(self.tempo(stage), self.shown.piece.tempo, timed=timed)
        self._show_standing()
        if self.rounds.stage is not None and self.rounds.stage.id == stage.id:
            self.playing.transport.set_tempo(self.tempo(stage))
            self.rounds.tempo_set(self.tempo(stage))

    # Playing.

    def play_or_stop(self) -> None:
        """Loop the chosen stage at its own tempo, or stop; one without a tempo goes step by step."""
        if self.stage is not None and not self.playing.transport.playing:
            self._show_stage()
        self.rounds.play_or_stop()

    def toggle_done(self) -> None:
        """Mark the chosen stage as done, or not, and go on to the next one."""
        stage, piece = self.stage, self.shown.piece
        if stage is None:
            return
        was = is_done(piece.done, stage.id, stage.mark, stage.goal)
        others = not_done(piece.done, stage.id)
        done = others if was else (*others, done_entry(stage.id, stage.mark, stage.goal))
        if not was:
            with QSignalBlocker(self.view.stages):  # what plays goes on
                self.view.stages.choose(min(self.view.stages.stage + 1, len(self.stages) - 1))
        self.shown.edit(tr("Stage not done") if was else tr("Stage done"), replace(piece, done=done))

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
            self.view.follow.show_loop(whole_section(result), tr("the piece"), muted)
        self.view.follow.show_moment(Moment(section, bar, inside, self.playing.transport.rounds + 1))

    def _counting(self, beats: int) -> None:
        self.view.follow.show_moment(Moment(counting=beats))

    def _state(self, playing: bool) -> None:
        self.view.show_playing(playing)
        if not playing:
            self.rounds.stopped()
            self._show_stage()
