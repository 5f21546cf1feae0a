"""Playing: a worker renders ahead, an output takes blocks, the window asks where we are."""

from __future__ import annotations

from collections.abc import Callable
from contextlib import suppress
from enum import StrEnum
from functools import partial
from typing import TYPE_CHECKING

import msgspec
from PySide6.QtCore import QObject, QTimer, Signal

from gingham.app.sound.devices import Output, SilentOutput, open_output
from gingham.core.fitting.result import Result
from gingham.core.music.meter import Meter
from gingham.core.values import replace
from gingham.language import tr
from gingham.words.notices import notice

if TYPE_CHECKING:
    from gingham.app.sound.stream import Stream
    from gingham.core.pieces.piece import Piece
    from gingham.core.sound.player import Player
    from gingham.core.sound.room import Stereo
    from gingham.core.sound.string import Samples
    from gingham.core.sound.timeline import Timeline
    from gingham.core.sound.voices import Kind, VoiceBank

_TICK_MS = 16


class Owner(StrEnum):
    """What can sound. Only the first two are places of the shown piece."""

    PIECE = "piece"
    STAGE = "stage"
    SHAPE = "shape"
    PATTERN = "pattern"
    TAPPING = "tapping"
    TONES = "tones"
    TAKE = "take"


OF_THE_PIECE = frozenset({Owner.PIECE, Owner.STAGE})


class Options(msgspec.Struct, frozen=True):
    """How something is played. `count_in` is one of COUNT_INS, or empty; `muted` fingers are not heard."""

    loop: bool = True
    count_in: str = "bar"
    clicks: int = 0
    muted: frozenset[str] = frozenset()
    cues: bool = False
    rest_beats: int = 0
    shrinking: bool = False
    ahead: int = 0
    """Beats by which each change is called before it comes; 0 is a pattern, or a bar."""


_ONCE = Options(loop=False, count_in="")


class Transport(QObject):
    """Play and stop for the window. With no sound device a silent clock drives the same playhead."""

    silenced = Signal(str)
    """Why nothing is heard although it plays; empty when it is heard."""
    moved = Signal(str, int, int, float)
    """What sounds (an Owner), and its section, bar number and position in the bar (whole notes)."""
    called = Signal(object)
    """The change that comes next and has been called (an entry of the timeline's changes), or None."""
    counting = Signal(int)
    """Beats left in the count-in."""
    taped = Signal(float)
    """Which second of a take sounds."""
    state_changed = Signal(bool)
    notice = Signal(str)

    def __init__(self, parent: QObject | None = None, output: Output | None = None) -> None:
        super().__init__(parent)
        self._output = output
        self.device = ""
        """The name of the chosen sound card; empty is the usual one."""
        self._stream: Stream | None = None
        self._retry = False
        self._line: Timeline | None = None
        self.overheard: Callable[[Stereo], None] | None = None
        """Is given every block as it begins to sound, in the output's thread."""
        self._rest = 0
        self._banks: dict[Kind, VoiceBank] = {}
        self._timer = QTimer(self)
        self._timer.setInterval(_TICK_MS)
        self._timer.timeout.connect(self._tick)
        self.options = Options()
        """How the player wants the piece to be played."""
        self.owner = Owner.PIECE
        """What sounds, or sounded last."""
        self.tempo = 0
        """Beats a minute at which it sounds, or sounded last."""

    @property
    def playing(self) -> bool:
        """Whether sound (or the silent clock) is running."""
        return self._stream is not None

    def play(
        self,
        results: list[Result],
        tempo: int,
        bars: tuple[int, int] | None = None,
        owner: Owner = Owner.PIECE,
        options: Options | None = None,
    ) -> None:
        """Play sections one after the other, or some bars of the first; without `options` as is set."""
        from gingham.core.sound.timeline import timeline  # with the first sound, not with the window

        self.play_line(timeline(results, bars=bars), results[0].piece, tempo, owner, options)

    def play_line(
        self,
        line: Timeline,
        piece: Piece,
        tempo: int,
        owner: Owner = Owner.PIECE,
        options: Options | None = None,
    ) -> None:
        """Play any stretch of a piece."""
        self.stop()
        if line.places:
            self._start(line, tempo, piece, owner, self.options if options is None else options)

    def _start(self, line: Timeline, tempo: int, piece: Piece | None, owner: Owner, options: Options) -> None:
        from gingham.core.sound.timeline import called

        line = called(line, options.ahead, loop=options.loop)
        self._line, self.owner, self.tempo = line, owner, tempo
        from gingham.app.sound.stream import Stream  # NumPy comes with the first sound, not with the window
        from gingham.core.sound.player import Player
        from gingham.core.sound.voices import Kind, VoiceBank, kind_of

        kind = kind_of(piece) if piece is not None else Kind()
        bank = self._banks.setdefault(kind, VoiceBank(kind))
        player = Player(self._line, bank, float(tempo), loop=options.loop)
        player.muted, player.clicks, player.cues = options.muted, options.clicks, options.cues
        player.rest_beats, player.shrinking = options.rest_beats, options.shrinking
        self._rest = options.rest_beats
        if options.count_in:
            player.count_in(options.count_in)
        self._stream = Stream(player)
        self._begin(self._stream)
        self._timer.start()
        self.state_changed.emit(True)

    def play_once(
        self, results: list[Result], tempo: int, owner: Owner, bars: tuple[int, int] | None = None
    ) -> None:
        """Play something short without count-in or loop, with the layers and clicks that are set."""
        self.play(results, tempo, bars, owner, replace(self.options, loop=False, count_in=""))

    def play_tones(self, line: Timeline, piece: Piece, tempo: int) -> None:
        """A line by itself, once and at once, with every finger heard."""
        self.stop()
        self._start(line, tempo, piece, Owner.TONES, _ONCE)

    def play_tape(self, samples: Samples, begin_s: float) -> None:
        """Samples at RATE_HZ from a second on, once."""
        from gingham.app.sound.stream import Stream
        from gingham.core.sound.tape import Tape

        self.stop()
        self._line, self.owner = None, Owner.TAKE
        self._stream = Stream(Tape(samples, begin_s))
        self._begin(self._stream)
        self._timer.start()
        self.state_changed.emit(True)

    def play_clicks(self, meter: Meter, tempo: int, bars: int, *, clicks: int = 1) -> None:
        """Clicks alone, after a bar of count-in: to tap or to play to (0: the count-in alone)."""
        from gingham.core.sound.timeline import clicks_alone

        self.stop()
        options = replace(self.options, loop=False, count_in="bar", clicks=clicks)
        self._start(clicks_alone(meter, bars), tempo, None, Owner.TAPPING, options)

    def position(self) -> float | None:
        """Where what is heard now lies, in whole notes (negative in the count-in); None while silent."""
        if self._stream is None or self._output is None:
            return None
        return self._stream.position(self._output.latency_s)

    def played_s(self, meter: Meter, tempo: int) -> float | None:
        """The same in seconds at a tempo."""
        position = self.position()
        return None if position is None else position / float(meter.tempo_beat) * 60.0 / tempo

    @property
    def rounds(self) -> int:
        """How many rounds of the loop have been played."""
        return self._stream.rounds if self._stream is not None else 0

    def _begin(self, stream: Stream) -> None:
        """Have the output take blocks; one that refuses gives way to the silent clock."""
        output = self._ready_output()
        try:
            output.start(partial(self._pull, stream))
        except Exception as error:  # noqa: BLE001  # whatever a sound library raises, the playhead runs on
            self._go_silent(stream, str(error))

    def _pull(self, stream: Stream) -> Stereo:
        block = stream.pull()
        overheard = self.overheard
        if overheard is not None:
            overheard(block)
        return block

    def _go_silent(self, stream: Stream, why: str) -> None:
        """The card is gone or refuses: go on from the same place in silence."""
        if self._output is not None:
            with suppress(Exception):
                self._output.close()
        self._output = SilentOutput()
        self._output.start(partial(self._pull, stream))
        self.notice.emit(notice("card-stopped", why=why))
        self.silenced.emit(tr("the sound card stopped ({why}).", why=why))
        self._retry = True

    def choose_device(self, name: str) -> None:
        """Play on another card from now on; what plays is started again there."""
        self.device = name
        self.stop()
        if self._output is not None:
            self._output.close()
            self._output = None

    def _ready_output(self) -> Output:
        if self._retry and self._output is not None:
            self._output.close()
            self._output, self._retry = None, False
        if self._output is None:
            self._output, why = open_output(self.device)
            if why:
                self.notice.emit(why)
            self.silenced.emit(why if isinstance(self._output, SilentOutput) else "")
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
        self.tempo = tempo
        self._change(lambda player: setattr(player, "tempo_bpm", float(tempo)))

    def set_muted(self, muted: frozenset[str]) -> None:
        """Fingers that are not to be heard (the empty name: the fretting hand's own notes)."""
        self.options = replace(self.options, muted=muted)
        self._change(lambda player: setattr(player, "muted", muted))

    def set_clicks(self, level: int) -> None:
        """No clicks, clicks on the counted beats, or on subdivisions too."""
        self.options = replace(self.options, clicks=level)
        self._change(lambda player: setattr(player, "clicks", level))

    def set_ahead(self, beats: int) -> None:
        """Call each change so many beats before it, from the next play on."""
        self.options = replace(self.options, ahead=beats)

    def set_cues(self, on: bool) -> None:
        """A soft tone that calls each change."""
        self.options = replace(self.options, cues=on)
        self._change(lambda player: setattr(player, "cues", on))

    def set_rest(self, beats: int, shrinking: bool) -> None:
        """Beats of rest after each round, one less each time if they shrink."""
        self.options = replace(self.options, rest_beats=beats, shrinking=shrinking)
        self._rest = beats
        self._change(lambda player: _set_rest(player, beats, shrinking))

    def rest_now(self, beats: int) -> None:
        """Another rest after the rounds of what plays now; how the piece is played stays as it is."""
        self._rest = beats
        self._change(lambda player: _set_rest(player, beats, False))

    def set_count_in(self, kind: str) -> None:
        """Another way to count in, or none, from the next play on."""
        self.options = replace(self.options, count_in=kind)

    def set_loop(self, on: bool) -> None:
        """Go round, or stop at the end."""
        self.options = replace(self.options, loop=on)
        self._change(lambda player: setattr(player, "loop", on))

    def replace_line(self, line: Timeline) -> None:
        """Go on playing from the same position in another line."""
        if self._stream is not None and line.places:
            from gingham.core.sound.timeline import called

            line = called(line, self.options.ahead, loop=self.options.loop)
            self._line = line
            self._change(lambda player: setattr(player, "line", line))

    def _change(self, what: Callable[[Player], None]) -> None:
        if self._stream is not None:
            self._stream.change(what)

    def _tick(self) -> None:
        if self._stream is None or self._output is None:
            return
        if self._stream.drained:
            self.stop()
            return
        if getattr(self._output, "lost", False):
            self._go_silent(self._stream, tr("it was unplugged, or something else took it"))
        position = self._stream.position(self._output.latency_s)
        if position is None:
            return
        if self._line is None:
            self.taped.emit(position)
            return
        if position < 0:
            self.counting.emit(max(1, int(-position / self._line.beat + 0.999)))
            return
        if self._line.length:
            here = position if position < self._line.length or self._rest else position % self._line.length
            here = min(here, self._line.length - 1e-6)
            place, inside = self._line.place(here)
            if place.section < 0:
                return  # tones to tune to are no place of the piece
            self.moved.emit(self.owner, place.section, place.bar, inside)
            if self.owner in OF_THE_PIECE:
                self.called.emit(self._line.coming(here))

    def close(self) -> None:
        """Stop and let go of the device."""
        self.stop()
        if self._output is not None:
            self._output.close()
            self._output = None


def _set_rest(player: Player, beats: int, shrinking: bool) -> None:
    player.rest_beats, player.shrinking = beats, shrinking
