"""A take is listened to: as it was played, as it was meant, or both, from any bar."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PySide6.QtCore import QObject, Signal

from gingham.app.sound.playing import Playing
from gingham.app.sound.transport import Owner
from gingham.app.views.takes.hearing_job import HeardTake
from gingham.app.views.takes.view import TakesView
from gingham.app.work.worker import Job, Tick
from gingham.core.listening.score import second_of, time_at
from gingham.core.listening.spectra import Floats
from gingham.language import tr
from gingham.words.errors import say
from gingham.words.notices import notice

_BEFORE_S = 0.1


class Replaying(QObject):
    """Plays a take and moves the playhead."""

    notice = Signal(str)

    def __init__(self, view: TakesView, playing: Playing, parent: QObject) -> None:
        super().__init__(parent)
        self._view, self._playing = view, playing
        self.taken: HeardTake | None = None
        self._maker = Job("take player", self)
        self._maker.done.connect(lambda then: then())
        self._maker.failed.connect(lambda error: self.notice.emit(say(error)))
        playing.transport.taped.connect(self._taped)
        playing.transport.state_changed.connect(self._played)

    @property
    def sounds(self) -> bool:
        """Whether a take is heard now."""
        transport = self._playing.transport
        return transport.playing and transport.owner is Owner.TAKE

    def choose(self, which: str) -> None:
        """Hear the take, the plan, or both; what is heard goes on with it from the cursor."""
        self._view.which.setCurrentIndex(self._view.which.findData(which))
        if self.sounds:
            self._playing.stop()
            self.play_or_stop()

    def play_or_stop(self) -> None:
        """Hear it from the cursor's bar on, or stop."""
        taken = self.taken
        if self._playing.transport.playing:
            self._playing.stop()
        elif taken is None:
            self.notice.emit(notice("take-none"))
        else:
            analysis, bar = taken.analysis, self._view.heard.bar
            begin = max(0.0, second_of(analysis.question, analysis.hearing, bar) - _BEFORE_S)
            which = self._view.which.currentData()

            def make(_tick: Tick) -> Callable[[], None]:
                return partial(self._play, taken.samples(which), begin)

            self._maker.start(make)

    def _play(self, samples: Floats, begin: float) -> None:
        self._playing.transport.play_tape(samples, begin)

    def _taped(self, second: float) -> None:
        if self.taken is not None:
            analysis = self.taken.analysis
            time = time_at(analysis.question, analysis.hearing, second)
            self._view.heard.show_playhead(time)
            self._view.area.ensureVisible(round(self._view.heard.plan.x(time)), 0, 120, 0)

    def _played(self, _playing: bool) -> None:
        self._view.play.setText(tr("Stop   Enter") if self.sounds else tr("Play from here   Enter"))
        if not self.sounds:
            self._view.heard.show_playhead(None)

    def close(self) -> None:
        """End the thread."""
        self._maker.close()
