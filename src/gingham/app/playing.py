"""Playing from the window: what is looped, the tempo, layers, and the playhead in the pictures."""

from __future__ import annotations

from PySide6.QtCore import QObject, Signal

from gingham.app.transport import Transport
from gingham.app.views.build.controller import BuildController
from gingham.core.errors import GinghamError
from gingham.core.fitting.fit import FitCache
from gingham.core.fitting.result import Result
from gingham.core.fitting.whole import fit_piece
from gingham.core.pieces.edits import set_tempo
from gingham.core.pieces.tempo import FASTEST_BPM, SLOWEST_BPM


class Playing(QObject):
    """Joins transport and Build view."""

    notice = Signal(str)
    thumb_alone_changed = Signal(bool)

    def __init__(self, transport: Transport, build: BuildController, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.transport, self.build = transport, build
        self._cache = FitCache()
        self.bars: tuple[int, int] | None = None
        """The selected bars of the shown section; None is the whole piece."""
        bar = build.view.bar
        bar.play_wanted.connect(self.toggle)
        bar.tempo_chosen.connect(self._choose_tempo)
        bar.layer_chosen.connect(self.set_thumb_alone)
        for canvas in (build.view.result, build.view.pattern):
            canvas.play_wanted.connect(self.toggle)
        transport.moved.connect(self._moved)
        transport.counting.connect(self._counting)
        transport.state_changed.connect(self._state)
        transport.notice.connect(self.notice)
        build.shown.connect(self._piece_shown)
        self._show_status()

    def toggle(self) -> None:
        """Play or stop."""
        if self.transport.playing:
            self.stop()
        else:
            self.play()

    def play(self) -> None:
        """Play the selected bars, or the whole piece from its first section."""
        piece = self.build.piece
        try:
            results = self._results()
        except GinghamError as error:
            self.notice.emit(str(error))
            return
        if not any(bar.events for result in results for bar in result.bars):
            self.notice.emit("There is nothing to play yet: type chords and put a finger into the pattern.")
            return
        self.transport.play(results, piece.tempo, self.bars)

    def _results(self) -> list[Result]:
        if self.bars is not None and self.build.result is not None:
            return [self.build.result]
        return [result for result in fit_piece(self.build.piece, self._cache) if result.bars]

    def play_bar(self) -> None:
        """Loop the bar under the cursor, or stop."""
        if self.transport.playing:
            self.stop()
            return
        number = self.build.cursor_bar()
        if number is not None:
            self.set_bars((number, number))
            self.play()

    def stop(self) -> None:
        """Silence."""
        self.transport.stop()

    def set_bars(self, bars: tuple[int, int] | None) -> None:
        """Select bars (first, last) of the shown section for the loop."""
        self.bars = bars
        self._show_status()
        self.build.view.result.set_loop(bars)
        if self.transport.playing:
            self.transport.replace(self._results(), self.bars)

    def loop_from_here(self) -> None:
        """The loop begins with the cursor's bar."""
        number = self.build.cursor_bar()
        if number is not None:
            self.set_bars((number, max(number, self.bars[1] if self.bars else number)))

    def loop_to_here(self) -> None:
        """The loop ends with the cursor's bar."""
        number = self.build.cursor_bar()
        if number is not None:
            self.set_bars((min(number, self.bars[0] if self.bars else 1), number))

    def loop_all(self) -> None:
        """No selected bars."""
        self.set_bars(None)

    def set_loop(self, on: bool) -> None:
        """Go round, or stop at the end."""
        self.transport.set_loop(on)
        self._show_status()

    def set_count_in(self, on: bool) -> None:
        """One bar of clicks before the music."""
        self.transport.count_in = on
        self._show_status()

    def set_thumb_alone(self, alone: bool) -> None:
        """Hear the thumb alone, or everything."""
        if alone == self.transport.thumb_only:
            return
        self.transport.set_layers(thumb_only=alone)
        bar = self.build.view.bar
        (bar.thumb if alone else bar.all).setChecked(True)
        self.thumb_alone_changed.emit(alone)

    def change_tempo(self, by: int) -> None:
        """Faster or slower by some beats a minute."""
        tempo = self.build.piece.tempo + by
        self._choose_tempo(min(max(SLOWEST_BPM, tempo), FASTEST_BPM))

    def _choose_tempo(self, tempo: int) -> None:
        self.build.edit("Tempo", set_tempo(self.build.piece, tempo), merge="tempo")
        self.transport.set_tempo(tempo)

    def _piece_shown(self) -> None:
        """The piece has changed: play on in the new one."""
        if self.bars is not None and self.build.result is not None:
            numbers = [bar.number for bar in self.build.result.bars]
            if not numbers or self.bars[0] > numbers[-1]:
                self.bars = None
        self._show_status()
        if self.transport.playing:
            self.transport.set_tempo(self.build.piece.tempo)
            self.transport.replace(self._results(), self.bars)

    def _moved(self, section: int, bar: int, inside: float) -> None:
        if section != self.build.section:
            if section < len(self.build.piece.sections):
                self.build.select_section(section)
            return
        self.build.show_playhead(bar, inside)

    def _counting(self, beats: int) -> None:
        self.build.view.bar.count.show_count_in(beats)

    def _state(self, playing: bool) -> None:
        self.build.view.bar.show_playing(playing)
        if not playing:
            self.build.hide_playhead()

    def _show_status(self) -> None:
        if self.bars is None:
            what = "the whole piece"
        else:
            what = (
                f"bar {self.bars[0]}"
                if self.bars[0] == self.bars[1]
                else f"bars {self.bars[0]}–{self.bars[1]}"
            )
        count_in = "count-in 1 bar · " if self.transport.count_in else ""
        self.build.view.bar.status.setText(f"{count_in}{'loop' if self.transport.loop else 'once'}: {what}")
