"""The performance run: the whole piece once, no stop; slips are marked as it goes on, and listed by bar."""

from __future__ import annotations

import time
from collections.abc import Callable

import msgspec
from PySide6.QtCore import QObject, Signal

from gingham.app.sound.lining import Liner, Wanted
from gingham.app.sound.transport import Owner
from gingham.app.views.practice.desk import Desk
from gingham.app.views.practice.played import Begun, begun
from gingham.app.views.practice.slips import SLIPS, slip_at
from gingham.core.errors import GinghamError
from gingham.core.practice.attempt import Attempt, Spot
from gingham.core.practice.stages import RUN
from gingham.core.sound.timeline import Timeline
from gingham.core.values import replace
from gingham.words.errors import say
from gingham.words.notices import notice
from gingham.words.progress import slips_text

_LEAST_S = 5.0


class _Now(msgspec.Struct):
    """A run that is on: of what, since when, where it is, what has slipped."""

    of: Begun
    tempo: int
    since: float | None = None
    section: int = 0
    bar: int = 0
    at: float = 0.0
    slips: list[Spot] = []


class Run(QObject):
    """One run at a time."""

    kept = Signal(object)
    """The Attempt of a run that has ended."""

    def __init__(self, desk: Desk, clock: Callable[[], float] = time.monotonic) -> None:
        super().__init__(desk.as_parent())
        self._desk, self.clock = desk, clock
        self.session = 0
        self._now: _Now | None = None
        self._wanted: _Now | None = None
        self.liner = Liner(self)
        self.liner.lined.connect(self._lined)
        self.liner.failed.connect(lambda _wanted, error: self._failed(error))
        transport = desk.playing.transport
        transport.moved.connect(self._moved)
        transport.state_changed.connect(self._state)

    @property
    def on(self) -> bool:
        """Whether a run is on, or on its way."""
        return self._now is not None or self._wanted is not None

    def toggle(self) -> None:
        """Begin at the piece's tempo, or end."""
        if self.on:
            self._wanted = None
            self._desk.playing.transport.stop()
        else:
            self.begin(self._desk.plan.piece.tempo)

    def begin(self, tempo: int) -> None:
        """Begin as soon as the piece has been put in time."""
        if self._desk.standing.resting:
            self._desk.say(notice("hand-rests"))
            return
        self._desk.playing.transport.stop()
        self._wanted = _Now(begun(self._desk), tempo)
        self.liner.request(Wanted(self._desk.plan.piece, 0, False, None, None, True))

    def _lined(self, wanted: Wanted, line: Timeline | None) -> None:
        run, self._wanted = self._wanted, None
        if run is None or line is None or not run.of.is_shown(self._desk):
            return
        transport = self._desk.playing.transport
        options = replace(transport.options, loop=False, muted=frozenset(), rest_beats=0)
        transport.play_line(line, wanted.piece, run.tempo, Owner.PIECE, options)
        self._now = run
        self._desk.say(notice("run-begins"))

    def _failed(self, error: GinghamError) -> None:
        self._wanted = None
        self._desk.say(say(error))

    def _moved(self, owner: Owner, section: int, bar: int, inside: float) -> None:
        now = self._now
        if now is None or owner != Owner.PIECE:
            return
        if now.since is None:
            now.since = self.clock()
        now.section, now.bar, now.at = section, bar, inside

    def slip(self, letter: str) -> None:
        """Something went wrong here; it goes on."""
        now = self._now
        if now is not None and letter in SLIPS and now.bar:
            now.slips.append(slip_at(now.of.planned, (now.section, now.bar, now.at), letter))

    def _state(self, playing: bool) -> None:
        now = self._now
        if playing or now is None:
            return
        self._now = None
        seconds = self.clock() - now.since if now.since is not None else 0.0
        if seconds < _LEAST_S:
            return
        desk, slips = self._desk, tuple(now.slips)
        attempt = Attempt(
            desk.logbook.today(), now.of.identity, RUN, "", now.tempo, not slips, "run", "marked",
            beat=str(now.of.planned.piece.meter.tempo_beat), seconds=round(seconds, 1),
            errors=tuple(dict.fromkeys(spot.error for spot in slips)), spots=slips, session=self.session,
        )  # fmt: skip
        desk.logbook.add(attempt)
        desk.say(notice("run-slips", slips=slips_text(slips)) if slips else notice("run-clean"))
        self.kept.emit(attempt)

    def close(self) -> None:
        """End the thread."""
        self.liner.close()
