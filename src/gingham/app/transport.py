"""Playing: a worker renders ahead, an output takes blocks, the window asks where we are.

The output's callback copies one prepared block and does nothing else, so that a busy window cannot make
the sound stutter.
"""

from __future__ import annotations

import threading
import time
from collections import deque
from collections.abc import Callable

import numpy as np
from PySide6.QtCore import QObject, QTimer, Signal

from gingham.app.devices import BLOCK, Output, open_output
from gingham.core.fitting.result import Result
from gingham.core.sound.player import Player, VoiceBank
from gingham.core.sound.string import RATE_HZ, Samples
from gingham.core.sound.timeline import Timeline, timeline

_AHEAD_BLOCKS = 10  # 232 ms at 1024 samples
_TICK_MS = 16


class Stream:
    """A player that is rendered ahead in a thread of its own."""

    def __init__(self, player: Player) -> None:
        self._player = player
        self._ready: deque[tuple[Samples, float, float]] = deque()
        self._wake = threading.Condition()
        self._changes: deque[Callable[[Player], None]] = deque()
        self._running = True
        self._at: tuple[float, float, float] | None = None  # position, step, when it began to sound
        self.ended = False
        self.underruns = 0
        self._thread = threading.Thread(target=self._work, name="renderer", daemon=True)
        self._thread.start()

    def change(self, what: Callable[[Player], None]) -> None:
        """Have the renderer change the player before its next block."""
        with self._wake:
            self._changes.append(what)
            self._wake.notify()

    def pull(self) -> Samples:
        """The next block of BLOCK samples; silence if none is ready. Called by the output's thread."""
        try:
            samples, position, step = self._ready.popleft()
        except IndexError:
            if not self.ended:
                self.underruns += 1
            return np.zeros(BLOCK, dtype=np.float32)
        self._at = (position, step, time.monotonic())
        if len(self._ready) < _AHEAD_BLOCKS:
            with self._wake:
                self._wake.notify()
        return samples

    def position(self, latency_s: float) -> float | None:
        """Where the sound that is heard now lies, in whole notes; None before the first block."""
        if self._at is None:
            return None
        position, step, since = self._at
        passed_s = min(time.monotonic() - since, BLOCK / RATE_HZ) - latency_s
        return position + passed_s * RATE_HZ * step

    @property
    def drained(self) -> bool:
        """Whether the piece is over and every block has been taken."""
        return self.ended and not self._ready

    def close(self) -> None:
        """End the thread and wait for it."""
        with self._wake:
            self._running = False
            self._wake.notify()
        self._thread.join()

    def _work(self) -> None:
        while True:
            with self._wake:
                while (
                    self._running and not self._changes and (len(self._ready) >= _AHEAD_BLOCKS or self.ended)
                ):
                    self._wake.wait(0.2)
                if not self._running:
                    return
                changes = list(self._changes)
                self._changes.clear()
            for change in changes:
                change(self._player)
            if not self.ended and len(self._ready) < _AHEAD_BLOCKS:
                position, step = self._player.position, self._player.step()
                self._ready.append((self._player.block(BLOCK), position, step))
                self.ended = self._player.finished


class Transport(QObject):
    """Play and stop for the window. With no sound device a silent clock drives the same playhead."""

    moved = Signal(int, int, float)
    """Section, bar number and position in the bar (whole notes) of what is heard."""
    counting = Signal(int)
    """Beats left in the count-in."""
    state_changed = Signal(bool)
    notice = Signal(str)

    def __init__(self, parent: QObject | None = None, output: Output | None = None) -> None:
        super().__init__(parent)
        self._output = output
        self._stream: Stream | None = None
        self._line: Timeline | None = None
        self._banks: dict[bool, VoiceBank] = {}
        self._timer = QTimer(self)
        self._timer.setInterval(_TICK_MS)
        self._timer.timeout.connect(self._tick)
        self.thumb_only = False
        self.clicks = False
        self.count_in = True
        self.loop = True

    @property
    def playing(self) -> bool:
        """Whether sound (or the silent clock) is running."""
        return self._stream is not None

    def play(self, results: list[Result], tempo: int, bars: tuple[int, int] | None = None) -> None:
        """Play sections one after the other, or some bars of the first."""
        self.stop()
        self._line = timeline(results, repeats=bars is None, bars=bars)
        if not self._line.places:
            return
        nylon = results[0].piece.instrument.nylon
        bank = self._banks.setdefault(nylon, VoiceBank(nylon))
        player = Player(self._line, bank, float(tempo), loop=self.loop)
        player.thumb_only, player.clicks = self.thumb_only, self.clicks
        if self.count_in:
            player.count_in()
        output = self._ready_output()
        self._stream = Stream(player)
        output.start(self._stream.pull)
        self._timer.start()
        self.state_changed.emit(True)

    def _ready_output(self) -> Output:
        if self._output is None:
            self._output, why = open_output()
            if why:
                self.notice.emit(why)
        return self._output

    def stop(self) -> None:
        """Silence at once; the playhead goes."""
        if self._stream is None:
            return
        self._timer.stop()
        if self._output is not None:
            self._output.stop()
        self._stream.close()
        self._stream = None
        self.state_changed.emit(False)

    def set_tempo(self, tempo: int) -> None:
        """Another tempo, heard within the blocks that are ready (a quarter of a second)."""
        self._change(lambda player: setattr(player, "tempo_bpm", float(tempo)))

    def set_layers(self, *, thumb_only: bool) -> None:
        """The thumb alone, or everything."""
        self.thumb_only = thumb_only
        self._change(lambda player: setattr(player, "thumb_only", thumb_only))

    def set_clicks(self, on: bool) -> None:
        """Clicks on the counted beats."""
        self.clicks = on
        self._change(lambda player: setattr(player, "clicks", on))

    def set_loop(self, on: bool) -> None:
        """Go round, or stop at the end."""
        self.loop = on
        self._change(lambda player: setattr(player, "loop", on))

    def replace(self, results: list[Result], bars: tuple[int, int] | None = None) -> None:
        """Go on playing from the same position in a changed piece."""
        if self._stream is None:
            return
        line = timeline(results, repeats=bars is None, bars=bars)
        if line.places:
            self._line = line
            self._change(lambda player: setattr(player, "line", line))

    def _change(self, what: Callable[[Player], None]) -> None:
        if self._stream is not None:
            self._stream.change(what)

    def _tick(self) -> None:
        if self._stream is None or self._line is None or self._output is None:
            return
        if self._stream.drained:
            self.stop()
            return
        position = self._stream.position(self._output.latency_s)
        if position is None:
            return
        if position < 0:
            self.counting.emit(max(1, int(-position / self._line.beat + 0.999)))
            return
        if self._line.length:
            place, inside = self._line.place(position % self._line.length if self.loop else position)
            self.moved.emit(place.section, place.bar, inside)

    def close(self) -> None:
        """Stop and let go of the device."""
        self.stop()
        if self._output is not None:
            self._output.close()
            self._output = None
