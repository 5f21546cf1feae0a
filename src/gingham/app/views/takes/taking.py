"""Where takes come from: a recording, a sound file, the simulated player; each ends on the shelf."""

from __future__ import annotations

import time
from collections.abc import Callable
from datetime import datetime
from functools import partial
from pathlib import Path

from PySide6.QtCore import QObject, Signal

from gingham.app.look.settings import Settings
from gingham.app.session.shown import Shown
from gingham.app.sound.inputs import (
    SIMULATED,
    CardInput,
    Input,
    SimulatedInput,
    microphones,
    usual_microphone,
)
from gingham.app.sound.playing import Playing
from gingham.app.sound.recorder import Level, Recorder
from gingham.app.sound.transport import Owner
from gingham.app.views.takes import hearing_job as jobs
from gingham.app.views.takes.delaying import Anchor, Delaying, delay_s
from gingham.app.views.takes.tapping import TAPPED, Tapping
from gingham.app.views.takes.view import BARS, SECTION, WHOLE, TakesView
from gingham.app.work.worker import Job, Tick
from gingham.core.errors import FileError, GinghamError
from gingham.core.listening.asked import Asked, question
from gingham.core.listening.shelf import Facts, Shelf
from gingham.core.values import replace
from gingham.language import tr
from gingham.words.errors import say
from gingham.words.notices import notice

_LEAST_S, _LEAST_TAPS = 1.0, 4
_SOURCES = {SIMULATED: "simulated", TAPPED: "tapped"}
_CLICKED_BARS = 400


class Taking(QObject):
    """Records, and reads files."""

    taken = Signal(object, int)
    """The Shelf that has a new take, and its number."""
    status = Signal(str)
    notice = Signal(str)

    def __init__(
        self, view: TakesView, shown: Shown, playing: Playing, settings: Settings, parent: QObject
    ) -> None:
        super().__init__(parent)
        self._view, self._shown, self._playing, self._settings = view, shown, playing, settings
        self.shelf: Shelf | None = None
        """Where the next take goes."""
        self.name = tr("Take 1")
        self.sleep: Callable[[float], None] = time.sleep
        """How the simulated player waits for time to pass."""
        self._now: tuple[int, Facts, Shelf] | None = None
        self._anchor: Anchor | None = None
        self._late_s = 0.0
        self.recorder = Recorder(self)
        self.tapping = Tapping(view.strip, playing.transport, self)
        self.delaying = Delaying(playing.transport, settings, self)
        self.delaying.measured.connect(self.status)
        view.delay.clicked.connect(lambda _on: self.measure_delay())
        view.strip.ended.connect(self.record_or_stop)
        self._maker = Job("take maker", self)
        self._maker.done.connect(lambda then: then())
        self._maker.failed.connect(self._failed)
        self.recorder.level_changed.connect(self._show_level)
        self.recorder.ended.connect(self._recorded)
        self._show_sources()
        self._show_idle()

    @property
    def busy(self) -> bool:
        """Whether a take is on its way."""
        return self._now is not None

    def close(self) -> None:
        """End every thread; what is being recorded is kept."""
        self._maker.close()
        self.recorder.close()
        self.delaying.close()

    # What, and from where.

    def _show_sources(self) -> None:
        """The microphones, the player that needs none (chosen where there is none), and the keyboard."""
        rows, wanted, box = microphones(), self._settings.text("microphone", ""), self._view.source
        for data, words in (*rows, (TAPPED, tr("Keys, tapped"))):
            box.addItem(words, data)
        chosen = wanted if wanted == TAPPED else usual_microphone(wanted, rows)
        box.setCurrentIndex(box.findData(chosen))
        box.activated.connect(lambda i: self._settings.set_text("microphone", box.itemData(i)))

    def show_what(self) -> None:
        """What a new take would be held against: looped bars as soon as some are."""
        box, bars = self._view.what, self._playing.bars
        before, had = box.currentData(), box.findData(BARS) >= 0
        box.clear()
        name = self._shown.piece.sections[self._shown.section].name
        box.addItem(tr("{name}, over and over", name=name), SECTION)
        if bars is not None:
            box.addItem(
                tr("Bar {bars}", bars=bars[0])
                if bars[0] == bars[1]
                else tr("Bars {first}–{last}", first=bars[0], last=bars[1]),
                BARS,
            )
        box.addItem(tr("The whole piece"), WHOLE)
        wanted = BARS if bars is not None and (not had or before == BARS) else before
        box.setCurrentIndex(max(0, box.findData(wanted)))

    def asked(self) -> Asked:
        """What a take that begins now is held against."""
        what, piece = self._view.what.currentData(), self._shown.piece
        section = None if what == WHOLE else piece.sections[self._shown.section].name
        bars = self._playing.bars if what == BARS else None
        return Asked(piece.tempo, section, bars, self._view.free.isChecked())

    # Recording.

    def record_or_stop(self) -> None:
        """Begin a take, or end the one that is being recorded."""
        if self.recorder.recording:
            self.recorder.stop()
        elif self.tapping.running:
            self._tapped()
        elif self._now is None and not self.delaying.running:
            self._begin()

    def _begin(self) -> None:
        asked, piece, shelf = self.asked(), self._shown.piece, self.shelf
        if shelf is None:
            return
        source = self._view.source.currentData() or ""
        facts = Facts(self.name, _now(), asked, 0.0, _SOURCES.get(source, "microphone"))
        try:
            question(piece, asked)
            if source == TAPPED:
                self._start_tapping(facts)
                return
            number, path = shelf.begin(facts)
        except GinghamError as error:
            self.notice.emit(say(error))
            return
        self._now = (number, facts, shelf)
        self._playing.stop()
        if source != SIMULATED:
            self._start(CardInput(source), path)
            return
        faults = self._settings.text("simulated-faults", jobs.USUAL_FAULTS)
        click = self._view.click.isChecked()
        self.status.emit(tr("The simulated player takes its instrument…"))

        def play(_tick: Tick) -> Callable[[], None]:
            samples = jobs.simulated(piece, asked, faults, number, counted=click)
            return partial(self._start, SimulatedInput(samples, self.sleep), path)

        self._maker.start(play)

    def _start(self, source: Input, path: Path) -> None:
        try:
            self.recorder.start(source, path)
        except GinghamError as error:
            self._failed(error)
            return
        piece, click = self._shown.piece, self._view.click.isChecked()
        self._anchor = Anchor() if click else None
        self._late_s = source.latency_s + delay_s(self._settings, self._view.source.currentData() or "")
        if click or self._playing.transport.options.count_in:
            bars = _CLICKED_BARS if click else 1
            self._playing.transport.play_clicks(piece.meter, piece.tempo, bars, clicks=int(click))
        self._view.record.setText(tr("Stop   R"))
        self._view.level.show()
        self._view.delay.hide()
        self.status.emit(tr("Recording…"))

    def _failed(self, error: GinghamError) -> None:
        """Nothing has come of it."""
        if self._now is not None:
            number, _, shelf = self._now
            shelf.drop(number)
            self._now = None
        self._show_idle()
        self.status.emit(say(error))
        self.notice.emit(say(error))

    def _show_level(self, level: Level) -> None:
        self._view.level.setValue(min(100, round(100 * level.peak)))
        piece = self._shown.piece
        played_s = self._playing.transport.played_s(piece.meter, piece.tempo)
        if self._anchor is not None and played_s is not None:
            self._anchor.look(self.recorder.seconds, played_s)
        words = tr("Recording, {seconds:.0f} s.", seconds=level.seconds)
        if level.fault:
            words = f"{words} {notice('take-clipped') if level.fault == 'clipped' else notice('take-quiet')}"
        self.status.emit(words)

    def _recorded(self, lasted: float, error: GinghamError | None) -> None:
        """The recording is over; whatever reached the disk is a take."""
        assert self._now is not None
        number, facts, shelf = self._now
        self._now = None
        if self._playing.transport.owner is Owner.TAPPING:
            self._playing.stop()
        self._show_idle()
        if error is not None:
            self.notice.emit(say(error))
        if lasted < _LEAST_S:
            shelf.drop(number)
            self.status.emit(say(error) if error is not None else notice("take-short"))
            return
        first = self._anchor.first_s if self._anchor is not None else None
        click_s = None if first is None else round(first + self._late_s, 4)
        try:
            shelf.finish(number, replace(facts, seconds=round(lasted, 2), click_s=click_s))
        except FileError as fault:
            self.notice.emit(say(fault))
            return
        self.taken.emit(shelf, number)

    def _show_idle(self) -> None:
        self._view.record.setText(tr("Record   R"))
        self._view.level.setValue(0)
        self._view.level.hide()
        self._view.delay.show()

    def measure_delay(self) -> None:
        """The loop test, or a word on why not."""
        source = self._view.source.currentData() or ""
        if source == TAPPED:
            self.status.emit(notice("delay-keys"))
        elif not self.recorder.recording and not self.tapping.running:
            self._playing.stop()
            self.delaying.start(source)

    # Keys.

    def _start_tapping(self, facts: Facts) -> None:
        self._playing.stop()
        self._now = (0, facts, self.shelf) if self.shelf is not None else None
        self._view.record.setText(tr("Stop   R"))
        self.status.emit(tr("Tapping…"))
        self.tapping.start(self._shown.piece, click=self._view.click.isChecked())

    def _tapped(self) -> None:
        """The keys become a take: its sound is a click for each of them."""
        assert self._now is not None
        _, facts, shelf = self._now
        self._now = None
        tapped = self.tapping.stop()
        self._show_idle()
        self._view.heard.setFocus()
        if len(tapped.taps) < _LEAST_TAPS:
            self.status.emit(notice("taps-few"))
            return
        facts = replace(facts, seconds=tapped.seconds, click_s=tapped.click_s, taps=tapped.taps)

        def take(_tick: Tick) -> Callable[[], None]:
            kept = shelf.take_in(jobs.taps_as_flac(tapped.taps, tapped.seconds), facts)
            return partial(self.taken.emit, shelf, kept.number)

        self._maker.start(take)

    # Files.

    def take_file(self, path: Path) -> None:
        """A sound file becomes a take of what is chosen."""
        asked, shelf = self.asked(), self.shelf
        if shelf is None or self._now is not None:
            return
        facts = Facts(path.stem[:80], _now(), asked, 0.0, "file")
        try:
            question(self._shown.piece, asked)
        except GinghamError as error:
            self.notice.emit(say(error))
            return

        def take(_tick: Tick) -> Callable[[], None]:
            data, seconds = jobs.file_as_flac(path)
            kept = shelf.take_in(data, replace(facts, seconds=round(seconds, 2)))
            return partial(self.taken.emit, shelf, kept.number)

        self.status.emit(tr("Reading the file…"))
        self._maker.start(take)


def _now() -> str:
    return datetime.now().astimezone().isoformat(timespec="seconds")
