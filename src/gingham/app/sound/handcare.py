"""Care for the hands while playing: a word before the first play, breaks, and beats of barre counted."""

from __future__ import annotations

import time
from collections.abc import Callable

from PySide6.QtCore import QObject, Signal

from gingham.app.look.settings import Settings
from gingham.app.session.shown import Shown
from gingham.app.sound.transport import OF_THE_PIECE, Owner, Transport
from gingham.core.errors import NumberError
from gingham.core.fitting.result import Result
from gingham.core.numbers import whole
from gingham.words.hands import (
    barre_notice,
    break_notice,
    first_notice,
    posture_notice,
    so_far,
    stretch_notice,
)

BARRE_BEATS = 240  # so many beats of barre in a session are worth a word
_NEAR_WHOLE = 0.99
CARE = {
    "break-minutes": (22, 10, 45),
    "barre-seconds": (60, 20, 300),
    "barre-minutes": (10, 2, 60),
    "posture-minutes": (0, 0, 45),
}
"""What the player may set, each with its usual value, its least and its most: minutes of playing until a
break, seconds of unbroken barre until a rest, minutes of barre in a session, minutes between reminders of
posture and nails (0: none)."""


def care_setting(settings: Settings, name: str) -> int:
    """One of CARE as the player has set it."""
    usual, least, most = CARE[name]
    try:
        return whole(settings.text(name, str(usual)), least, most)
    except NumberError:
        return usual


class HandCare(QObject):
    """Follows the transport. Says things; stops nothing."""

    notice = Signal(str)

    def __init__(
        self,
        transport: Transport,
        shown: Shown,
        settings: Settings,
        parent: QObject | None = None,
        clock: Callable[[], float] = time.monotonic,
    ) -> None:
        super().__init__(parent)
        self._transport = transport
        self._shown, self._settings, self._clock = shown, settings, clock
        self._reminding = True
        self._since: float | None = None
        self._played_s = 0.0
        self._bar: tuple[int, int] | None = None
        self._inside = 0.0
        self.barre_beats = 0.0
        """Beats of barre that have been played since the program began."""
        self.barre_s = 0.0
        """The same in seconds."""
        self._told = False
        self._stretch_s = 0.0
        """How long the barre has been held without a break."""
        self._reminded_s = 0.0
        transport.state_changed.connect(self._state)
        transport.moved.connect(self._moved)

    def setting(self, name: str) -> int:
        """One of CARE as the player has set it."""
        return care_setting(self._settings, name)

    def set_reminding(self, on: bool) -> None:
        """Whether breaks are called."""
        self._reminding = on

    def so_far(self) -> str:
        """What this session has been so far, for the hand; nothing at its beginning."""
        return so_far(self.played_s, self.barre_beats)

    @property
    def played_s(self) -> float:
        """How long has been played since the last break, in seconds."""
        return self._played_s + (self._clock() - self._since if self._since is not None else 0.0)

    def _state(self, playing: bool) -> None:
        now = self._clock()
        if playing:
            self._since = now
            if not self._settings.flag("hand-card-shown", False):
                self._settings.set_flag("hand-card-shown", True)
                self.notice.emit(first_notice())
        elif self._since is not None:
            self._played_s += now - self._since
            self._since = None
        self._bar = None

    def _tempo(self) -> int:
        """Beats a minute at which it sounds now; the piece's where that is not known."""
        return self._transport.tempo or self._shown.piece.tempo

    def _moved(self, owner: Owner, section: int, bar: int, inside: float) -> None:
        before, self._inside = self._inside, inside
        if (section, bar) == self._bar and inside >= before:
            return  # still the same time through the same bar
        self._bar = (section, bar)
        result = self._shown.result
        if owner in OF_THE_PIECE and result is not None and result.section == section:
            beats = barre_beats(result, bar)
            self.barre_beats += beats
            held_s = beats * 60.0 / max(1, self._tempo())
            self.barre_s += held_s
            self._hold_on(held_s, beats / _beats_of(result, bar))
        if self.barre_beats >= BARRE_BEATS and not self._told:
            self._told = True
            self.notice.emit(barre_notice(self.barre_beats))
        elif self._reminding and self.played_s >= 60 * care_setting(self._settings, "break-minutes"):
            self._played_s, self._since, self._reminded_s = 0.0, self._clock(), 0.0
            self.notice.emit(break_notice())
        else:
            self._remind()

    def _hold_on(self, held_s: float, share: float) -> None:
        """A barre that is held bar after bar is worth a rest."""
        self._stretch_s = self._stretch_s + held_s if share > _NEAR_WHOLE else 0.0
        most = care_setting(self._settings, "barre-seconds")
        if self._reminding and self._stretch_s >= most:
            self._stretch_s = 0.0
            self.notice.emit(stretch_notice(most))

    def _remind(self) -> None:
        """Posture, and nails where they pluck, as often as the player has asked for it."""
        every = 60 * care_setting(self._settings, "posture-minutes")
        if every and self.played_s - self._reminded_s >= every:
            self._reminded_s = self.played_s
            self.notice.emit(posture_notice(nails=self._shown.piece.rules.touch == "nail"))


def _beats_of(result: Result, number: int) -> float:
    """How many counted beats a bar has."""
    bar = result.bar(number)
    return float(bar.length / result.piece.meter.tempo_beat) if bar is not None else 1.0


def barre_beats(result: Result, number: int) -> float:
    """How many counted beats of a bar are held with a barre."""
    bar = result.bar(number)
    if bar is None:
        return 0.0
    beats = 0.0
    for index in bar.spans:
        fitted = result.spans[index]
        assignment = fitted.assignment
        if (
            assignment is not None
            and assignment.fretting is not None
            and assignment.fretting.barre is not None
        ):
            begin = fitted.span.at if fitted.span.bar == number else bar.length * 0
            later = [result.spans[i].span.at for i in bar.spans if i > index]
            beats += float((min(later, default=bar.length) - begin) / result.piece.meter.tempo_beat)
    return beats
