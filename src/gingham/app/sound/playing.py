"""Playing the shown piece: what is looped, the tempo, layers, where the music is."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Signal

from gingham.app.session.shown import Shown
from gingham.app.sound.lining import Liner, Loop, Wanted
from gingham.app.sound.transport import OF_THE_PIECE, Owner, Transport
from gingham.core.errors import GinghamError
from gingham.core.formats.sound_choice import SoundChoice
from gingham.core.patterns.pattern import EVERYONE
from gingham.core.pieces.chordline import first_symbol
from gingham.core.pieces.edits import set_tempo
from gingham.core.pieces.tempo import FASTEST_BPM, SLOWEST_BPM
from gingham.language import tr
from gingham.words.counts import counted
from gingham.words.errors import say
from gingham.words.names import COUNT_IN_NAMES, FINGER_NAMES, signs
from gingham.words.notices import notice

if TYPE_CHECKING:
    from gingham.core.sound.timeline import Timeline

_COUNT_INS = tuple(COUNT_IN_NAMES)
FINGERS_ALONE = EVERYONE - {"p"}
"""What is silent while the thumb is heard alone."""
AHEAD = (0, 1, 2, 4)
SPEEDS = (100, 50, 70, 85)
RESTS = ((0, False), (1, False), (2, False), (4, True))


class Playing(QObject):
    """Joins the transport with what is shown."""

    notice = Signal(str)
    thumb_alone_changed = Signal(bool)
    layer_changed = Signal(object)
    """The fingers that are not heard."""
    loop_changed = Signal(object)
    """The looped bars (first, last), or None."""
    chord_called = Signal(str)
    """The name of the chord that comes next, as soon as it is called."""
    said = Signal(str)
    """What is looped, or which chord comes next."""
    counted_in = Signal(int)
    """Beats left in the count-in."""
    moved = Signal(int, float)
    """Where in the shown section the music is: bar number, whole notes from its start."""
    state_changed = Signal(bool)

    def __init__(self, transport: Transport, shown: Shown, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.transport, self._shown = transport, shown
        self.liner = Liner(self)
        self.liner.lined.connect(self._lined)
        self.liner.failed.connect(self._not_lined)
        self.starting = False
        """Whether Play has been asked for and its line is on its way."""
        self._count_in = "bar"
        self.speed = SPEEDS[0]
        """In hundredths of the piece's tempo."""
        self._mine = False
        """Whether what sounds is the piece (or a part of it), not a stage, a pattern on trial or a tone."""
        self._entry: tuple[float, float, int, int] | None = None
        self.bars: tuple[int, int] | None = None
        """The selected bars of the shown section; None is the whole piece."""
        self.practice_form = False
        """Whether the whole piece is played in its practice form."""
        self.stretch: Loop | None = None
        """A shorter stretch of the shown section that is looped instead."""
        transport.moved.connect(self._moved)
        transport.counting.connect(self.counted_in)
        transport.called.connect(self._called)
        transport.state_changed.connect(self._state)
        transport.notice.connect(self.notice)
        shown.settled.connect(self._piece_shown)

    def toggle(self) -> None:
        """Play or stop."""
        if self.transport.playing or self.starting:
            self.stop()
        else:
            self.play()

    def play(self) -> None:
        """Play the selected bars or stretch, or the whole piece from its first section."""
        self.starting = True
        self._want(begins=True)

    def _want(self, *, begins: bool) -> None:
        shown = self._shown
        part = (self.bars, self.stretch) if shown.result is not None else (None, None)
        self.liner.request(Wanted(shown.piece, shown.section, self.practice_form, *part, begins))

    def _lined(self, wanted: Wanted, line: Timeline | None) -> None:
        """What was wanted has been put in time: it begins, or goes on from where it is."""
        if wanted.begins:
            if not self.starting:
                return  # stopped meanwhile
            self.starting = False
            if line is None:
                self.notice.emit(notice("nothing-to-play"))
                return
            self.transport.play_line(line, wanted.piece, self.tempo)
            self._mine = True
        elif self.transport.playing and self._mine:
            if line is None:
                self.stop()
            else:
                self.transport.replace_line(line)

    def _not_lined(self, wanted: Wanted, error: GinghamError) -> None:
        self.starting = False
        if wanted.begins:
            self.notice.emit(say(error))
        elif self._mine:
            self.stop()

    def set_practice_form(self, on: bool) -> None:
        """Play the piece in its practice form, or in that of a performance."""
        self.practice_form = on
        self._loop_changed()

    def play_bar(self) -> None:
        """Loop the bar under the cursor, or stop."""
        if self.transport.playing or self.starting:
            self.stop()
            return
        number = self._shown.cursor_bar()
        if number is not None:
            self.set_bars((number, number))
            self.play()

    def sound_choice(self) -> SoundChoice:
        """What an exported sound holds: as it is heard, counted in only where there are clicks."""
        options = self.transport.options
        return SoundChoice(options.clicks, options.count_in if options.clicks else "", options.muted)

    def stop(self) -> None:
        """Silence."""
        self.starting = False
        self.transport.stop()

    def set_bars(self, bars: tuple[int, int] | None) -> None:
        """Select bars (first, last) of the shown section for the loop."""
        self.bars, self.stretch = bars, None
        self._loop_changed()

    def set_stretch(self, stretch: Loop) -> None:
        """Loop a stretch that is not made of whole bars."""
        self.bars, self.stretch = None, stretch
        self._loop_changed()

    def _loop_changed(self) -> None:
        self.say_loop()
        self.loop_changed.emit(self.bars)
        if self.starting or (self.transport.playing and self._mine):
            self._play_on()

    def _play_on(self) -> None:
        """What sounds goes on in the new line; with nothing left in it, it ends."""
        self._want(begins=self.starting)

    def loop_change(self) -> None:
        """Loop the change into the chord under the cursor, with half a pattern on each side."""
        result, index = self._shown.result, self._shown.span_index()
        if result is None or index < 0 or len(result.spans) < 2:
            self.notice.emit(notice("change-two"))
            return
        span, before = result.spans[index].span, result.spans[index - 1].span
        half = float(min(result.pattern.length, result.piece.meter.bar)) / 2
        one, other = (signs(each.chord.text) if each.chord else tr("silence") for each in (before, span))
        at = float(result.time_of(span.bar, span.at))
        self.set_stretch(Loop("change", at, half, tr("{before} to {after}", before=one, after=other)))

    def loop_from_here(self) -> None:
        """The loop begins with the cursor's bar."""
        number = self._shown.cursor_bar()
        if number is not None:
            self.set_bars((number, max(number, self.bars[1] if self.bars else number)))

    def loop_to_here(self) -> None:
        """The loop ends with the cursor's bar."""
        number = self._shown.cursor_bar()
        if number is not None:
            self.set_bars((min(number, self.bars[0] if self.bars else 1), number))

    def loop_all(self) -> None:
        """No selected bars."""
        self.set_bars(None)

    def set_loop(self, on: bool) -> None:
        """Go round, or stop at the end."""
        self.transport.set_loop(on)
        self.say_loop()

    def set_count_in(self, on: bool) -> None:
        """Clicks before the music, in the style that was chosen last."""
        self.transport.set_count_in(self._count_in if on else "")
        self.say_loop()

    def next_count_in(self) -> None:
        """Another style of counting in."""
        self._count_in = _COUNT_INS[(_COUNT_INS.index(self._count_in) + 1) % len(_COUNT_INS)]
        if self.transport.options.count_in:
            self.transport.set_count_in(self._count_in)
        self.say_loop()
        self.notice.emit(notice("count-in", name=COUNT_IN_NAMES[self._count_in]))

    def set_thumb_alone(self, alone: bool) -> None:
        """Hear the thumb alone, or everything."""
        if alone:
            self.set_muted(FINGERS_ALONE)
        elif self.transport.options.muted == FINGERS_ALONE:  # another layer that was chosen meanwhile stays
            self.set_muted(frozenset())

    def set_muted(self, muted: frozenset[str]) -> None:
        """Hear everything but these fingers (the empty name: the fretting hand's own notes)."""
        if muted == self.transport.options.muted:
            return
        self.transport.set_muted(muted)
        self.layer_changed.emit(muted)
        self.thumb_alone_changed.emit(muted == FINGERS_ALONE)
        self.say_loop()

    def toggle_finger(self, finger: str) -> None:
        """A finger silent, or heard again."""
        self.set_muted(self.transport.options.muted ^ {finger})
        who = FINGER_NAMES.get(finger, tr("fretting hand"))
        code = "finger-silent" if finger in self.transport.options.muted else "finger-heard"
        self.notice.emit(notice(code, who=who))

    def solo(self, finger: str) -> None:
        """One finger alone, or all again."""
        others = EVERYONE - {finger}
        alone = self.transport.options.muted != others
        self.set_muted(others if alone else frozenset())
        self.notice.emit(notice("finger-alone" if alone else "all-heard", who=FINGER_NAMES[finger]))

    def next_click(self) -> None:
        """Clicks on beats, on subdivisions too, or none."""
        level = (self.transport.options.clicks + 1) % 3
        self.transport.set_clicks(level)
        self.notice.emit(notice(f"click-{level}"))

    def next_rest(self) -> None:
        """Beats of rest after each round: none, one, two, a shrinking four."""
        now = (self.transport.options.rest_beats, self.transport.options.shrinking)
        beats, shrinking = RESTS[(RESTS.index(now) + 1) % len(RESTS) if now in RESTS else 0]
        self.transport.set_rest(beats, shrinking)
        code = "rest-none" if not beats else "rest-shrinking" if shrinking else "rest"
        self.notice.emit(notice(code, beats=counted(beats, "beat")))

    def next_ahead(self) -> None:
        """Changes called a pattern ahead, or one, two or four beats."""
        known = AHEAD
        now = self.transport.options.ahead
        beats = known[(known.index(now) + 1) % len(known)] if now in known else known[0]
        self.transport.set_ahead(beats)
        self.notice.emit(notice("ahead", beats=counted(beats, "beat")) if beats else notice("ahead-pattern"))

    def next_speed(self) -> None:
        """Everything at a share of its tempo: the next of the player's own speeds."""
        self.speed = SPEEDS[(SPEEDS.index(self.speed) + 1) % len(SPEEDS)]
        self.transport.set_tempo(self.tempo)
        self.notice.emit(notice("speed", percent=self.speed, tempo=self.tempo))

    @property
    def tempo(self) -> int:
        """Beats a minute at which the piece is played now."""
        return max(SLOWEST_BPM, round(self._shown.piece.tempo * self.speed / 100))

    def change_tempo(self, by: int) -> None:
        """Faster or slower by some beats a minute."""
        tempo = self._shown.piece.tempo + by
        self.choose_tempo(min(max(SLOWEST_BPM, tempo), FASTEST_BPM))

    def choose_tempo(self, tempo: int) -> None:
        """Another tempo, in beats a minute."""
        self._shown.edit(tr("Tempo"), set_tempo(self._shown.piece, tempo), merge="tempo")
        self.transport.set_tempo(self.tempo)

    def _piece_shown(self) -> None:
        """The piece has changed: play on in the new one."""
        if self.bars is not None and self._shown.result is not None:
            numbers = [bar.number for bar in self._shown.result.bars]
            if not numbers or self.bars[0] > numbers[-1]:
                self.bars = None
        result = self._shown.result
        if self.stretch is not None and result is not None and self.stretch.begin >= float(result.length()):
            self.stretch = None
        self.say_loop()
        if self.starting or (self.transport.playing and self._mine):
            self.transport.set_tempo(self.tempo)
            self._play_on()

    def _moved(self, owner: Owner, section: int, bar: int, inside: float) -> None:
        if owner not in OF_THE_PIECE:
            return  # a shape, a pattern on trial or a click is no place of the piece
        if section != self._shown.section:
            if section < len(self._shown.piece.sections):
                self._shown.select_section(section)
            return
        self.moved.emit(bar, inside)

    def _called(self, entry: tuple[float, float, int, int] | None) -> None:
        """The next chord, a pattern ahead; what is looped while none has been called."""
        if entry == self._entry:
            return
        self._entry = entry
        name = self._next_chord(entry[2], entry[3]) if entry is not None else None
        if name is None:
            self.say_loop()
        else:
            self.said.emit(tr("next: {name}", name=signs(name)))
            self.chord_called.emit(name)

    def _next_chord(self, section: int, span: int) -> str | None:
        """The name of a chord that comes next, in this section or as the first of another one."""
        result = self._shown.result
        if result is None:
            return None
        if section != result.section:
            known = section < len(result.piece.sections)  # the ending is no section of the piece
            return first_symbol(result.piece.sections[section].chords) if known and not span else None
        if span >= len(result.spans):
            return None
        chord = result.spans[span].span.chord
        return chord.text if chord is not None else tr("silence")

    def _state(self, playing: bool) -> None:
        self._mine = False
        self.state_changed.emit(playing)
        if not playing:
            self._called(None)

    def say_loop(self) -> None:
        """Say what is looped."""
        if self.stretch is not None:
            what = self.stretch.words
        elif self.bars is None:
            what = tr("practice form") if self.practice_form else tr("whole piece")
        else:
            what = (
                tr("bar {bars}", bars=self.bars[0])
                if self.bars[0] == self.bars[1]
                else tr("bars {first}–{last}", first=self.bars[0], last=self.bars[1])
            )
        count_in = (
            tr("count-in {count_in} · ", count_in=COUNT_IN_NAMES[self.transport.options.count_in])
            if self.transport.options.count_in
            else ""
        )
        how = tr("loop: {what}", what=what) if self.transport.options.loop else tr("once: {what}", what=what)
        self.said.emit(f"{count_in}{how}")
