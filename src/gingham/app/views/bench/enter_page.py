"""A pattern said, typed as strings, or tapped: what was understood, and a wall of the ways it can sit."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QVBoxLayout

from gingham.app.views.bench.chosen import SIDE, ChosenPattern
from gingham.app.views.bench.desk import Desk
from gingham.app.widgets.parts import BenchPage, beside, box, head, plain, quiet, row, scrolled
from gingham.app.widgets.typed_line import NumberBox, TypedLine, show_fault
from gingham.app.widgets.wall import WallCanvas, WallTile
from gingham.core.errors import GinghamError, PatternError
from gingham.core.fitting.as_fingers import as_fingers
from gingham.core.fitting.assign import setting_of
from gingham.core.fitting.strings_in import has_strings
from gingham.core.patterns.figures import Way
from gingham.core.patterns.pattern import Pattern
from gingham.core.patterns.said import read_said
from gingham.core.patterns.tapped import TAP_KEYS, Tap, quantised
from gingham.core.reasons import Reason
from gingham.core.shapes.context import Grip
from gingham.core.values import replace
from gingham.language import tr
from gingham.words.bench import bench_text, reasons_of
from gingham.words.counts import counted
from gingham.words.errors import say
from gingham.words.names import signs
from gingham.words.notices import notice
from gingham.words.saying import count_words

_EXAMPLE = "thumb pinch thumb index   ·   T 1 T 2   ·   6 3 4 2 3   ·   bass 3 2 3   ·   outside inside"
"""Typed, so the same in every language."""
_MOST_BARS = 8


class TapPad(QPushButton):
    """Hears finger keys while the click runs; `tapped` gets the finger."""

    def __init__(self, tapped: Callable[[str], None], toggle: Callable[[], None]) -> None:
        super().__init__(tr("Tap it in time"))
        self._tapped = tapped
        self.setToolTip(
            tr("Starts the click; then tap with it: P I M A C, D and U for brushes, K for a chuck")
        )
        self.setAutoDefault(False)
        self.clicked.connect(lambda _on: toggle())

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """A finger's key is a tap, everything else is a button's."""
        finger = event.text().lower()
        if finger in TAP_KEYS and not event.isAutoRepeat() and not event.modifiers():
            self._tapped(finger)
        else:
            super().keyPressEvent(event)


class EnterPage(BenchPage):
    """The line, what was understood, the wall of ways, the tap pad."""

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self._desk = desk
        self._ways: tuple[Way, ...] = ()
        self.taps: list[Tap] = []
        self.line = TypedLine(desk.appearance, tr("The pattern as you say it"))
        self.line.textEdited.connect(lambda _text: self.read())
        self.message = QLabel()
        self.message.setProperty("fault", True)
        self.message.setWordWrap(True)
        self.guesses = plain()
        self.wall = WallCanvas(desk.appearance, tr("Ways in which it can sit on the beats"))
        self.wall.empty = tr("Say a pattern above, or tap one: the ways it can sit on the beats appear here.")
        self.chosen = ChosenPattern(desk)
        for each in (self.wall, self.chosen):
            each.heard.connect(self.hear)
            each.taken.connect(self.take)
        self.wall.chosen.connect(lambda _index: self._show_way())
        self.wall.mixed.connect(self._mix)
        self._make_tap()
        self.line.setPlaceholderText(_EXAMPLE)
        self._lay_out()

    def _make_tap(self) -> None:
        self.pad = TapPad(self.tap, self.toggle_tapping)
        self.bars = NumberBox(tr("Bars to tap"), 1, _MOST_BARS)
        self.bars.setValue(2)
        self.grid = box(
            tr("Places a beat"),
            [(None, tr("places as tapped")), *((k, tr("{places} a beat", places=k)) for k in (1, 2, 3, 4))],
        )
        self._desk.transport.state_changed.connect(self._transport_changed)
        self.tapping = False

    def _lay_out(self) -> None:
        column = QVBoxLayout(self)
        column.addWidget(head(tr("Say it")))
        column.addWidget(self.line)
        column.addWidget(self.message)
        column.addLayout(
            row(
                tr("or"),
                self.pad,
                tr("for"),
                self.bars,
                tr("bars,"),
                self.grid,
                quiet(tr("keys P I M A C D U K")),
                1,
            )
        )
        column.addWidget(self.guesses)
        both = QHBoxLayout()
        left = QVBoxLayout()
        area = scrolled(self.wall)
        area.setAccessibleName(tr("The wall of ways"))
        area.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOn)  # else rows come and go with it
        left.addWidget(head(tr("How it can sit")))
        left.addWidget(area, 1)
        both.addLayout(left, 1)
        both.addWidget(beside(self.chosen, SIDE))
        column.addLayout(both, 1)

    def arrive(self) -> None:
        """The keyboard to the line."""
        self.line.setFocus()

    # Reading what is said.

    def refresh(self) -> None:
        """The piece has changed: the strings may be read against another chord."""
        if self.line.text().strip():
            self.read()

    def read(self) -> None:
        """Understand the line, or show where it cannot be understood."""
        self._ways = ()
        text = self.line.text()
        show_fault(self.line, self.message, None)
        if not text.strip():
            self._show([], ())
            return
        piece, assignment = self._desk.piece, self._desk.assignment
        try:
            said = read_said(text, piece.instrument, piece.meter)
        except PatternError as error:
            show_fault(self.line, self.message, error, aloud=False)
            self._show([], ())
            return
        guesses = list(said.supposed)
        if assignment is not None and any(has_strings(way.pattern) for way in said.ways):
            guesses.append(Reason.of("spoken-strings", chord=signs(assignment.chord.text)))
        if len(said.ways) > 1:
            guesses.append(Reason.of("spoken-order"))
        words = [why for reading in said.readings for why in reasons_of(said, reading)]
        self._show(guesses, said.ways, words)

    def _fingered(self, pattern: Pattern) -> Pattern:
        assignment, piece = self._desk.assignment, self._desk.piece
        if assignment is None or not has_strings(pattern):
            return pattern
        setting = setting_of(piece, self._desk.shown.section, piece.shape_key())
        return as_fingers(pattern, assignment.chord, Grip(assignment.shape, assignment.fretting), setting)

    def _show(self, guesses: list[Reason], found: tuple[Way, ...], words: list[str] | None = None) -> None:
        self.guesses.setText(" ".join(map(bench_text, guesses)))
        self._ways = found
        said = words or [bench_text(way.reason) for way in found]
        tiles = [self._tile(way, why) for way, why in zip(found, said, strict=True)]
        self.wall.show_tiles(tiles, 0 if found else -1)
        self._show_way()

    def _tile(self, way: Way, why: str) -> WallTile:
        pattern = self._fingered(way.pattern)
        bars = pattern.length / pattern.meter.bar
        long = counted(int(bars), "bar") if bars.denominator == 1 else tr("{bars} of a bar", bars=bars)
        plucks = counted(sum(bool(slot) for slot in pattern.slots), "pluck")
        counts = count_words(pattern, self._desk.appearance.theme.naming)
        return WallTile(
            f"{why[:1].upper()}{why[1:]}",
            pattern,
            frozenset(),
            counts,
            tr("{plucks} in {long} · {meter}", plucks=plucks, long=long, meter=pattern.meter),
        )

    @property
    def way(self) -> Way | None:
        """The chosen way."""
        index = self.wall.current
        return self._ways[index] if 0 <= index < len(self._ways) else None

    def _show_way(self) -> None:
        way = self.way
        if way is None:
            self.chosen.show_pattern("", None, "")
            return
        tile = self.wall.tiles[self.wall.current]
        self.chosen.show_pattern(
            tr("Said"),
            tile.pattern,
            tr("{name}.\nCounted {note}", name=tile.name, note=tile.note),
            against=False,
        )

    def _mix(self) -> None:
        if self.way is not None:
            name = self.wall.tiles[self.wall.current].name
            self._desk.mix_wanted.emit(name, self.wall.tiles[self.wall.current].pattern)
            self._desk.notice.emit(notice("in-the-mix", name=name))

    def hear(self) -> None:
        """Play the chosen way on the chords."""
        if self.way is not None:
            self._desk.hear(self._meant(self.way.pattern), self.way.align)

    def take(self) -> None:
        """Give the chosen way to the section."""
        if self.way is not None:
            align = None if self._desk.piece.rules.align == self.way.align else self.way.align
            self._desk.take(tr("Say a pattern"), self._meant(self.way.pattern), align=align)

    def _meant(self, pattern: Pattern) -> Pattern:
        """Numbers stay numbers, meant on this chord: they are read again when thumb or fingers change."""
        assignment = self._desk.assignment
        if assignment is None or not has_strings(pattern):
            return pattern
        return replace(pattern, read_on=assignment.chord.text)

    # Tapping.

    def toggle_tapping(self) -> None:
        """Start the click and listen, or stop."""
        if self.tapping:
            self._desk.transport.stop()
            return
        self.taps = []
        piece = self._desk.piece
        self._desk.transport.play_clicks(piece.meter, piece.tempo, self.bars.value())
        self.tapping = True
        self.pad.setText(tr("Stop tapping"))
        self.pad.setFocus(Qt.FocusReason.OtherFocusReason)
        self.guesses.setText(tr("Count-in, then tap. The click stops by itself."))

    def tap(self, finger: str) -> None:
        """A finger was tapped now."""
        at = self._desk.transport.position()
        if self.tapping and at is not None and at > -0.1:
            self.taps.append(Tap(at, finger))
            self.guesses.setText(tr("Tapped: ") + " ".join(tap.finger for tap in self.taps))

    def _transport_changed(self, playing: bool) -> None:
        if playing or not self.tapping:
            return
        self.tapping = False
        self.pad.setText(tr("Tap it in time"))
        self.show_taps()

    def show_taps(self) -> None:
        """What was tapped as a pattern, with what was guessed."""
        piece = self._desk.piece
        try:
            found = quantised(tuple(self.taps), piece.meter, piece.tempo, self.grid.currentData())
        except GinghamError as error:
            self.guesses.setText(say(error))
            return
        self._show(list(found.guesses), (Way(Reason.of("way-tapped"), found.pattern),))
