"""Somebody's part as it was read: cloth, the bars that break their pattern, to be taken or put right."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QHBoxLayout, QLabel, QProgressBar, QSizePolicy, QVBoxLayout, QWidget

from gingham.app.look.appearance import Appearance
from gingham.app.views.reading.part_canvas import Break, PartCanvas
from gingham.app.views.reading.worker import ReadPart
from gingham.app.widgets.large import LargeCanvas
from gingham.app.widgets.parts import beside, button, head, plain, quiet, row, scrolled
from gingham.app.widgets.wall import WallCanvas, WallTile
from gingham.core.errors import GinghamError
from gingham.core.finding.exceptions import Exceptional, follow_pattern
from gingham.core.fitting.fit import fit
from gingham.core.fitting.result import Result
from gingham.core.judging.piece_map import Tile
from gingham.core.patterns.shorthand import print_pattern
from gingham.core.pieces.piece import NamedPattern, Piece
from gingham.language import tr, tr_n
from gingham.words.counts import counted
from gingham.words.importing import exception_text, guess_text
from gingham.words.saying import count_words

_SIDE, _WALL, _LOW = 336, 152, 120


class PartPage(QWidget):
    """Patterns above, bars below them; at the side the chosen bar as it was read, and as its pattern."""

    def __init__(self, appearance: Appearance) -> None:
        super().__init__()
        self.read: ReadPart | None = None
        self.corrected: frozenset[Break] = frozenset()
        self._results: dict[tuple[int, bool], Result | None] = {}
        self.title = head("")
        self.count = QLabel()
        self.count.setProperty("quiet", True)
        self.progress = QProgressBar()
        self.progress.setAccessibleName(tr("Progress of the reading"))
        self.stop_button = button(tr("Stop"), tr("Give the reading up (Esc)"), lambda: None)
        self.patterns = WallCanvas(appearance, tr("Patterns that were found"))
        self.cloth = PartCanvas(appearance)
        self.cloth.chosen.connect(lambda _index: self._show_chosen())
        self.cloth.turned.connect(self.turn_over)
        self.bar_title = head("")
        self.as_read = LargeCanvas(appearance)
        self.as_pattern = LargeCanvas(appearance)
        for each in (self.as_read, self.as_pattern):
            each.setMinimumHeight(_LOW)
        self.about = plain()
        self.turn_button = button(tr("Let it follow its pattern   Space"), tr("And back"), self.turn_over)
        self.next_button = button(tr("Next such bar   N"), tr("Shift+N for the one before"), self._next)
        self.all_button = button(tr("All follow their patterns"), tr("And back"), self.turn_all)
        self.guesses = quiet()
        self.take_button = button(
            tr("Open as a new piece"), tr("Patterns, chords, words and form"), lambda: None
        )
        self.take_button.setProperty("main", True)
        self._lay_out()

    def _lay_out(self) -> None:
        column = QVBoxLayout(self)
        column.addLayout(row(self.title, self.count, 1))
        column.addLayout(row(self.progress, self.stop_button))
        wall = scrolled(self.patterns)
        wall.setAccessibleName(tr("Patterns that were found"))
        wall.setFixedHeight(_WALL)
        area = scrolled(self.cloth)
        area.setAccessibleName(tr("Bars of the part"))
        area.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOn)  # else rows come and go with it
        both = QHBoxLayout()
        left = QVBoxLayout()
        left.addWidget(wall)
        left.addWidget(area, 1)
        both.addLayout(left, 1)
        both.addWidget(beside(self._side(), _SIDE))
        column.addLayout(both, 1)
        column.addWidget(self.guesses)
        self.take_button.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Fixed)
        column.addLayout(row(1, self.take_button))

    def _side(self) -> QWidget:
        side = QWidget()
        column = QVBoxLayout(side)
        column.setContentsMargins(6, 0, 0, 0)
        column.setSpacing(4)
        self.pattern_words = quiet(tr("as its pattern has it"))
        self.read_words = quiet(tr("as it was read"))
        for each in (self.bar_title, self.read_words):
            column.addWidget(each)
        column.addWidget(self.as_read, 1)
        column.addWidget(self.pattern_words)
        column.addWidget(self.as_pattern, 1)
        column.addWidget(self.about)
        column.addLayout(row(self.turn_button, 1))
        column.addLayout(row(self.next_button, self.all_button, 1))
        return side

    # What is shown.

    def begin(self, name: str) -> None:
        """A file is being read."""
        self.show_part(None)
        self.title.setText(tr("Reading {name}…", name=name))
        self.progress.setValue(0)
        self.show_busy(True)

    def show_busy(self, on: bool) -> None:
        """Whether something is being read."""
        self.progress.setVisible(on)
        self.stop_button.setVisible(on)
        self.take_button.setEnabled(self.read is not None)

    def show_part(self, read: ReadPart | None) -> None:
        """What was read, or nothing."""
        self.read, self.corrected, self._results = read, frozenset(), {}
        found = read.found if read is not None else None
        broken = {}
        if found is not None:
            broken = {(found.piece.section_index(each.section), each.bar): each for each in found.exceptions}
        self.title.setText(found.piece.title if found is not None else "")
        tiles = [] if found is None else list(map(_tile, found.piece.patterns))
        self.patterns.show_tiles(tiles, 0)
        self.cloth.show_part(read.map if read is not None else None, broken)
        self.guesses.setText("" if found is None else " ".join(map(guess_text, found.guesses)))
        self._show_count()
        self._show_chosen()

    def _show_count(self) -> None:
        if self.read is None:
            self.count.setText("")
            return
        bars, odd = len(self.read.map.tiles), len(self.cloth.broken)
        says = (
            tr_n(
                "{bars}, {n} of them breaks the pattern",
                "{bars}, {n} of them break the pattern",
                odd,
                bars=counted(bars, "bar"),
            )
            if odd
            else tr("{bars}, none of them breaks the pattern", bars=counted(bars, "bar"))
        )
        right = tr(", {corrected} put right", corrected=len(self.corrected)) if self.corrected else ""
        self.count.setText(f"{says} (stitched){right}" if odd else says)

    @property
    def chosen(self) -> Tile | None:
        """The chosen bar."""
        tiles = self.read.map.tiles if self.read is not None else ()
        return tiles[self.cloth.current] if 0 <= self.cloth.current < len(tiles) else None

    def _chosen_break(self) -> Exceptional | None:
        tile = self.chosen
        return self.cloth.broken.get((tile.section, tile.bar)) if tile is not None else None

    def _show_chosen(self) -> None:
        tile, each = self.chosen, self._chosen_break()
        for part in (self.as_pattern, self.pattern_words, self.turn_button):
            part.setVisible(each is not None and bool(each.kept))
        some = bool(self.cloth.broken)
        self.next_button.setVisible(some)
        self.all_button.setVisible(some)
        if tile is None or self.read is None:
            self.bar_title.setText("")
            self.about.setText("")
            self.as_read.show_result(None, 0, frozenset())
            return
        name = self.read.found.piece.sections[tile.section].name
        self.bar_title.setText(tr("{name}, bar {bar}", name=name, bar=tile.bar))
        right = (tile.section, tile.bar) in self.corrected
        done = tr(" It follows its pattern in the new piece.") if right else ""
        self.about.setText(
            tr("It follows its pattern.") if each is None else f"{exception_text(each)}.{done}"
        )
        self.turn_button.setText(
            tr(
                "{what}   Space",
                what=tr("Keep it as it was read") if right else tr("Let it follow its pattern"),
            )
        )
        self.as_read.show_result(self._result(tile.section, False), tile.bar, frozenset())
        if each is not None:
            self.as_pattern.show_result(self._result(tile.section, True), tile.bar, frozenset())

    def _result(self, section: int, corrected: bool) -> Result | None:
        """A section as it was read, or with every bar as its pattern has it."""
        assert self.read is not None
        key = (section, corrected)
        if key not in self._results:
            piece = self.read.found.piece
            piece = follow_pattern(piece, frozenset(self.cloth.broken)) if corrected else piece
            try:
                self._results[key] = fit(piece, section)
            except GinghamError:
                self._results[key] = None
        return self._results[key]

    # Putting right.

    def turn_over(self) -> None:
        """The chosen bar follows its pattern, or is as it was read again."""
        tile, each = self.chosen, self._chosen_break()
        if tile is not None and each is not None and each.kept:
            self._correct(self.corrected ^ {(tile.section, tile.bar)})

    def turn_all(self) -> None:
        """Every bar that can be put right is; once more, none."""
        able = frozenset(place for place, each in self.cloth.broken.items() if each.kept)
        self._correct(frozenset() if self.corrected == able else able)

    def _next(self) -> None:
        self.cloth.next_break(1)

    def _correct(self, corrected: frozenset[Break]) -> None:
        self.corrected = corrected
        self.cloth.show_corrected(corrected)
        self._show_count()
        self._show_chosen()

    def piece(self) -> Piece | None:
        """What was read, with the bars that were put right."""
        return None if self.read is None else follow_pattern(self.read.found.piece, self.corrected)


def _tile(named: NamedPattern) -> WallTile:
    words = count_words(named.pattern)
    return WallTile(named.name, named.pattern, frozenset(), print_pattern(named.pattern), words)
