"""The session: planned for some minutes, led part by part with one key, kept; and the stop key."""

from __future__ import annotations

from typing import Literal

from PySide6.QtCore import QObject, QTimer

from gingham.app.sound.handcare import HandCare
from gingham.app.views.practice.desk import Desk
from gingham.app.views.practice.rounds import Rounds
from gingham.app.views.practice.running import Run
from gingham.core.practice.attempt import Attempt
from gingham.core.practice.entries import Note, Session
from gingham.core.practice.leading import (
    Led,
    after_attempt,
    extended,
    onward,
    passed,
    refused,
    swapped,
)
from gingham.core.practice.session import Hand, Item, plan_session
from gingham.core.values import replace
from gingham.language import tr
from gingham.words.hands import AFTER_PAIN
from gingham.words.notices import notice
from gingham.words.practice import item_text, plan_text
from gingham.words.progress import BARRE_OFFER, HURT_ASKED, NO_PLAN, RESTING, part_text

_TICK_MS, _SOON_MS = 500, 60
_USUAL_MINUTES = 20
_MUCH_BARRE = 0.5


class Leader(QObject):
    """Leads through a session, and ends it when it hurts."""

    def __init__(self, desk: Desk, rounds: Rounds, run: Run, care: HandCare) -> None:
        super().__init__(desk.as_parent())
        self._desk, self._rounds, self._run, self._care = desk, rounds, run, care
        self.led: Led | None = None
        self.session: Session | None = None
        self._at = 0.0
        self._told = -1
        self._hurt = False
        self._barre_before = self._played_s = 0.0
        self._over: Session | None = None
        """A session that ended before the record had given it a number."""
        self._timer = QTimer(self, interval=_TICK_MS)
        self._timer.timeout.connect(self.tick)
        self._outline_soon = QTimer(self, singleShot=True, interval=_SOON_MS)
        self._outline_soon.timeout.connect(self._show_outline)
        bar = desk.view.session
        bar.minutes.setValue(_USUAL_MINUTES)
        bar.minutes.valueChanged.connect(lambda _minutes: self.show())
        bar.go.clicked.connect(lambda _on: self.go_on())
        bar.other.clicked.connect(lambda _on: self.other())
        bar.more.clicked.connect(lambda _on: self.longer())
        bar.leave.clicked.connect(lambda _on: self.give_up())
        bar.well.clicked.connect(lambda _on: self.well_again())
        bar.answered.connect(self._noted)
        rounds.marked.connect(self._marked)
        run.kept.connect(self._marked)

    # Planning.

    def hand(self) -> Hand:
        """What the hand asks of a plan today."""
        today = self._desk.standing.today.isoformat()
        sessions = self._desk.logbook.record.sessions
        barre = sum(s.barre_s for s in sessions if s.began.startswith(today)) / 60.0
        return Hand(
            self._care.setting("break-minutes"), self._care.setting("barre-minutes"), barre,
            self._desk.standing.resting,
        )  # fmt: skip

    def plan(self) -> tuple[Item, ...]:
        """What a session of the chosen minutes would be now."""
        desk = self._desk
        minutes = desk.view.session.minutes.value()
        standing = desk.standing
        return plan_session(
            minutes, desk.plan, standing.attempts, standing.today, self.hand(), standing.ladders
        )

    def plan_changed(self) -> None:
        """Another piece, an edit, or more in the record."""
        led = self.led
        if led is not None and led.item is not None and led.item.stage:
            known = {stage.id for stage in self._desk.plan.stages}
            if led.item.stage not in known:  # it was edited away: the session goes on behind it
                self.led = onward(replace(led, offer=None))
        self.show()

    def show(self) -> None:
        """The session as it stands."""
        bar, led = self._desk.view.session, self.led
        bar.well.setVisible(self._desk.standing.resting)
        if self._desk.standing.resting:
            bar.show_idle(f"{RESTING} {AFTER_PAIN}", may_start=False)
        elif led is None or led.item is None:
            self._outline_soon.start()
        elif led.offer is not None:
            words = item_text(led.offer, self._desk.plan.stage(led.offer.stage))
            why = plan_text(led.offer.why)
            bar.show_part(tr("Instead: {words}", words=words), f"{why[:1].upper()}{why[1:]}", offered=True)
        else:
            self._show_part(led, led.item)

    def _show_outline(self) -> None:
        """What a session would be now: a moment later, so that marking a round waits for nothing."""
        if self.led is None and not self._desk.standing.resting and self._desk.view.isVisible():
            items = self.plan()
            words = self._outline(items) if items else NO_PLAN
            self._desk.view.session.show_idle(words, may_start=bool(items))

    def _show_part(self, led: Led, item: Item) -> None:
        words = item_text(item, self._desk.plan.stage(item.stage))
        text = part_text(item.kind, led.index, len(led.items), led.left_s, words)
        why = plan_text(item.why)
        if item.barre > _MUCH_BARRE:
            why = f"{why} {BARRE_OFFER}"
        if not led.left_s:
            why = notice("part-over")
        self._desk.view.session.show_part(text, f"{why[:1].upper()}{why[1:]}", offered=False)

    def _outline(self, items: tuple[Item, ...]) -> str:
        parts = [
            tr(
                "{minutes} min {item}",
                minutes=item.minutes,
                item=item_text(item, self._desk.plan.stage(item.stage)),
            )
            for item in items
        ]
        return "  ·  ".join(parts)

    # Leading.

    def go_on(self) -> None:
        """Start, take what is offered, or go to the next part."""
        if self._desk.standing.resting:
            self._desk.say(notice("hand-rests"))
        elif self.led is None:
            self._start()
        else:
            self._rounds.stop()
            self.led = onward(self.led)
            self._enter()

    def begin(self, minutes: int) -> None:
        """A session of so many minutes, unless one is on."""
        if self.led is None:
            self._desk.view.session.minutes.setValue(minutes)
            self.go_on()

    def _start(self) -> None:
        items = self.plan()
        if not items:
            self._desk.say(NO_PLAN)
            return
        self.led = Led(items)
        logbook = self._desk.logbook
        self.session = Session(logbook.today(), minutes=self._desk.view.session.minutes.value())
        logbook.put_session(self.session, self._numbered)
        self._played_s = 0.0
        self._barre_before = self._care.barre_s
        self._timer.start()
        self._enter()

    def _numbered(self, session: Session) -> None:
        """The record has given it its number; a session that is over by now is written again with its end."""
        if self.session is not None and not self.session.id:
            self.session = replace(self.session, id=session.id)
            self._rounds.session = self._run.session = session.id
        elif self._over is not None:
            self._desk.logbook.put_session(replace(self._over, id=session.id))
            self._over = None

    def _enter(self) -> None:
        """The part that is on: its stage is chosen and begins."""
        led = self.led
        self._at, self._told = self._rounds.clock(), -1
        if led is None or led.item is None:
            self._end("done")
            self._desk.say(notice("session-over"))
            return
        if led.item.stage:
            self._desk.choose_stage(led.item.stage)
            if led.item.kind == "run":
                self._run.begin(led.item.tempo)
            else:
                self._rounds.begin()
        self._desk.view.stages.setFocus()
        self.show()

    def tick(self) -> None:
        """Time goes by; that a part is over is said, and nothing is cut off."""
        if self.led is None:
            return
        now = self._rounds.clock()
        self.led = passed(self.led, now - self._at)
        self._at = now
        if not self.led.left_s and self._told != self.led.index:
            self._told = self.led.index
            self._desk.say(notice("part-over"))
        self.show()

    def _marked(self, attempt: Attempt) -> None:
        self._played_s += attempt.seconds
        led, stage = self.led, self._desk.plan.stage(attempt.stage)
        if led is not None and stage is not None:
            self.led = after_attempt(led, attempt, self._desk.standing.ladder(stage), self._desk.plan)
            self.show()

    def other(self) -> None:
        """Another stage of the same kind instead."""
        if self.led is not None:
            self._rounds.stop()
            self.led = swapped(self.led, self._desk.plan)
            self._enter()

    def longer(self) -> None:
        """Two minutes more for this part."""
        if self.led is not None:
            self.led = extended(self.led)
            self._told = -1
            self.show()

    def give_up(self) -> None:
        """Not what is offered; without an offer, the end of the session."""
        if self.led is not None and self.led.offer is not None:
            self.led = refused(self.led)
            self.show()
        else:
            self._rounds.stop()
            self._end("left")

    def leave(self) -> None:
        """The window is closed."""
        self._end("left")

    def _end(self, by: Literal["done", "left", "hurt"]) -> None:
        self._timer.stop()
        led, session = self.led, self.session
        self.led = self.session = None
        self._rounds.session = self._run.session = 0
        if led is not None and session is not None:
            barre = round(self._care.barre_s - self._barre_before, 1)
            ended = replace(
                session,
                ended=self._desk.logbook.today(),
                ended_by=by,
                barre_s=max(0.0, barre),
                played_s=round(self._played_s, 1),
            )
            if ended.id:
                self._desk.logbook.put_session(ended)
            else:
                self._over = ended
        if self._desk.view.isVisible():
            self.show()

    # The hand.

    def hurts(self) -> None:
        """Everything stops; the cautions are shown; ladder and barre rest."""
        self._rounds.stop()
        self._end("hurt")
        self._desk.logbook.add(Note(self._desk.logbook.today(), "hurt", "", self._piece()))
        self._hurt = True
        self.show()
        self._desk.view.session.ask(HURT_ASKED)

    def _noted(self, text: str) -> None:
        if self._hurt:
            self._hurt = False
            if text:
                self._desk.logbook.add(Note(self._desk.logbook.today(), "hand", text, self._piece()))
            self._desk.view.stages.setFocus()

    def well_again(self) -> None:
        """The player says so: ladder and barre go on."""
        self._desk.logbook.add(Note(self._desk.logbook.today(), "well", "", self._piece()))
        self.show()

    def _piece(self) -> str:
        document = self._desk.shown.document
        return document.identity if document is not None else ""
