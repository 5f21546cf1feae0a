"""Playing: a worker renders ahead, an output takes blocks, the window asks where we are."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, QTimer, Signal

from gingham.app.devices import Output, open_output
from gingham.core.fitting.result import Result
from gingham.core.music.meter import Meter
from gingham.core.sound.timeline import Timeline, clicks_alone, timeline

if TYPE_CHECKING:
    from gingham.app.stream import Stream
    from gingham.core.sound.player import Player, VoiceBank

_TICK_MS = 16


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
        line = timeline(results, repeats=bars is None, bars=bars)
        if line.places:
            self._start(line, tempo, results[0].piece.instrument.nylon)

    def _start(self, line: Timeline, tempo: int, nylon: bool) -> None:
        self._line = line
        from gingham.app.stream import Stream  # NumPy comes with the first sound, not with the window
        from gingham.core.sound.player import Player, VoiceBank

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

    def play_once(self, results: list[Result], tempo: int, bars: tuple[int, int] | None = None) -> None:
        """Play something short without count-in or loop, whatever is set for the piece."""
        loop, count_in, self.loop, self.count_in = self.loop, self.count_in, False, False
        self.play(results, tempo, bars)
        self.loop, self.count_in = loop, count_in

    def play_clicks(self, of: Meter, tempo: int, bars: int) -> None:
        """Clicks alone, after a bar of count-in: to tap a pattern to."""
        self.stop()
        line = clicks_alone(of, bars)
        loop, self.loop = self.loop, False
        counted, self.count_in, clicks, self.clicks = self.count_in, True, self.clicks, True
        self._start(line, tempo, nylon=False)
        self.loop, self.count_in, self.clicks = loop, counted, clicks

    def position(self) -> float | None:
        """Where what is heard now lies, in whole notes (negative in the count-in); None while silent."""
        if self._stream is None or self._output is None:
            return None
        return self._stream.position(self._output.latency_s)

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
