"""Neighbours of the piece's pattern, mixes of patterns, and a finger with two strings."""

from __future__ import annotations

import random
from collections.abc import Callable

from PySide6.QtCore import QObject, Signal
from PySide6.QtWidgets import QLineEdit, QSpinBox, QVBoxLayout

from gingham.app.views.bench.desk import Desk
from gingham.app.views.bench.strip import PatternStrip, beside
from gingham.app.widgets.parts import BenchPage, Table, box, button, head, plain, row
from gingham.app.widgets.typed_line import NumberBox
from gingham.app.work.worker import NewestWorker
from gingham.core.bench.ranking import Ranked, by_nearness, ranked
from gingham.core.errors import GinghamError
from gingham.core.numbers import is_whole
from gingham.core.patterns.compare import compare, rotation_of
from gingham.core.patterns.grid import fingers_in
from gingham.core.patterns.library import builtin
from gingham.core.patterns.mixing import MOST_BARS, Mix, by_turns, drawn_strings, in_order, shuffled
from gingham.core.patterns.pattern import Pattern
from gingham.core.pieces.piece import Piece
from gingham.words.bench import bench_text, comparison_text, mix_text
from gingham.words.errors import say
from gingham.words.names import FINGER_NAMES
from gingham.words.notices import notice

_HEADS = ("Variation", "Places that differ", "Conflicts", "Here up to")
_LETTERS = "ABCDEFGH"
_HIGHEST_SEED = 9999


class Varier(NewestWorker[tuple[Piece, int]]):
    """Ranks neighbours off the interface thread."""

    ranked = Signal(object, object)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__("variations", parent)

    def work_on(self, item: tuple[Piece, int]) -> None:
        """Judge every neighbour of a section's pattern."""
        piece, section = item
        out: list[Ranked] = []
        try:
            for each in ranked(piece, section, piece.rules.hand):
                if self.outdated:
                    return
                out.append(each)
        except GinghamError:
            out = []
        self.ranked.emit(piece, by_nearness(out))


class VaryPage(BenchPage):
    """Variations above, mixing below; the strip shows what is chosen."""

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self._desk = desk
        self._shown: Pattern | None = None
        self.worker = Varier(self)
        self.worker.ranked.connect(self._show_ranked)
        self.table = Table("Variations, the nearest first", _HEADS, self.hear, self.take)
        self.table.itemSelectionChanged.connect(self._row_chosen)
        self.strip = PatternStrip(desk.appearance)
        self.about = plain()
        self._make_mix()
        self._make_strings()
        self._lay_out()

    def _make_mix(self) -> None:
        self.first = box("Pattern A", ())
        self.second = box("Pattern B", ())
        self.order = QLineEdit("A B")
        self.order.setAccessibleName("Order of the bars")
        self.order.setToolTip("Letters in order, such as A B or A A A B")
        self.order.returnPressed.connect(self.mix)
        self.bars = NumberBox("Bars of the mix", 1, MOST_BARS)
        self.bars.setValue(4)
        self.seed = QSpinBox()
        self.seed.setRange(0, _HIGHEST_SEED)
        self.seed.setAccessibleName("Seed of the mix: the same seed gives the same mix")
        self.seed.setValue(7)

    def _make_strings(self) -> None:
        self.finger = box("Finger with two strings", ())
        self.strings = QLineEdit("2 1")
        self.strings.setAccessibleName("Its two strings")
        self.strings.setMaximumWidth(60)
        self.how = box(
            "How it uses them",
            (
                ("own", "its own string"),
                ("always", "always the first"),
                ("turns", "by turns"),
                ("free", "freely"),
            ),
        )

    def _lay_out(self) -> None:
        column = QVBoxLayout(self)
        column.addWidget(head("One thing changed"))
        column.addWidget(self.table, 1)
        column.addWidget(head("Bars mixed"))
        column.addLayout(
            row(
                "A",
                self.first,
                "B",
                self.second,
                "in order",
                self.order,
                button("Mix", "Bars in this order", self.mix),
            )
        )
        column.addLayout(
            row(
                "or", self.bars, "bars shuffled with seed", self.seed,
                button("Shuffle", "Bars of A and B drawn with the seed", self.shuffle),
                button("New seed", "Another mix", self._new_seed), 1,
            )
        )  # fmt: skip
        column.addLayout(
            row(
                "The", self.finger, "on strings", self.strings, self.how,
                button("Show", "The pattern with this finger on these strings", self.permit), 1,
            )
        )  # fmt: skip
        column.addLayout(beside(self.strip, self.about))
        column.addLayout(
            row(
                button("Use it", "The section plays it (Enter in the list)", self.take),
                button("Hear it", "On the first bars of your chords (Space in the list)", self.hear),
                1,
            )
        )

    # Variations.

    def refresh(self) -> None:
        """Rank the neighbours of the piece's pattern as it is now."""
        desk = self._desk
        self.worker.request((desk.piece, desk.shown.section))
        names = [
            f"{desk.name} (now)",
            *(n for n, p in builtin() if p.meter == desk.piece.meter and n != desk.name),
        ]
        for which in (self.first, self.second):
            chosen = which.currentText()
            which.clear()
            which.addItems(names)
            which.setCurrentIndex(max(0, which.findText(chosen)))
        if self.second.currentIndex() == 0 and self.second.count() > 1:
            self.second.setCurrentIndex(1)
        finger = self.finger.currentData()
        self.finger.clear()
        for name in fingers_in(desk.pattern):
            self.finger.addItem(FINGER_NAMES[name], name)
        self.finger.setCurrentIndex(
            max(0, self.finger.findData(finger) if finger else self.finger.count() - 1)
        )

    def _show_ranked(self, piece: Piece, found: list[Ranked]) -> None:
        if piece is not self._desk.piece:
            return
        self.table.setRowCount(len(found))
        for index, each in enumerate(found):
            words = bench_text(each.variation.reason)
            cells = (f"{words[:1].upper()}{words[1:]}", each.difference, each.conflicts, each.limit)
            self.table.put(index, cells, each)
        self.table.resizeColumnsToContents()
        if found:
            self.table.selectRow(0)

    def _row_chosen(self) -> None:
        each = self.table.chosen()
        if isinstance(each, Ranked):
            self._show(each.variation.pattern, "")

    def _show(self, pattern: Pattern, words: str) -> None:
        now = self._desk.pattern
        self._shown = pattern
        differing = {at.at for at in compare(now, pattern) if at.kind != "same"}
        self.strip.show_pattern(
            pattern, frozenset(i for i, at in enumerate(pattern.starts[:-1]) if at in differing)
        )
        against = comparison_text(compare(now, pattern), rotation_of(now, pattern))
        self.about.setText(f"{words} Against the piece’s pattern: {against}".strip())

    # Mixes.

    def _named(self) -> dict[str, Pattern]:
        known = dict(builtin())
        chosen = (self.first, self.second)
        return {
            letter: self._desk.pattern if which.currentIndex() == 0 else known[which.currentText()]
            for letter, which in zip(_LETTERS, chosen, strict=False)
        }

    def mix(self) -> None:
        """The bars in the typed order."""
        order = tuple(self.order.text().upper().replace(",", " ").split())
        self._try(lambda: in_order(self._named(), order))

    def shuffle(self) -> None:
        """Bars drawn with the seed."""
        self._try(lambda: shuffled(self._named(), self.bars.value(), self.seed.value()))

    def _new_seed(self) -> None:
        self.seed.setValue(random.randrange(_HIGHEST_SEED))
        self.shuffle()

    def permit(self) -> None:
        """The finger on its permitted strings: always the first, by turns, or drawn with the seed."""
        finger, how = self.finger.currentData(), self.how.currentData()
        words = self.strings.text().replace(",", " ").split()
        most = self._desk.piece.instrument.strings
        strings = tuple(int(word) for word in words if is_whole(word) and 1 <= int(word) <= most)
        if finger is None or len(strings) != len(words) or (how != "own" and not strings):
            self._desk.notice.emit(notice("strings-as-numbers", most=most))
            return
        if how == "free":
            seed, bars = self.seed.value(), self.bars.value()
            self._try(lambda: drawn_strings(self._desk.pattern, finger, strings, bars, seed))
        else:
            chosen = () if how == "own" else strings[:1] if how == "always" else strings
            self._show(by_turns(self._desk.pattern, finger, chosen), "")

    def _try(self, make: Callable[[], Mix]) -> None:
        try:
            found = make()
        except GinghamError as error:
            self._desk.notice.emit(say(error))
        else:
            self._show(found.pattern, f"Used: {mix_text(found)}.")

    def hear(self) -> None:
        """Play what is shown."""
        if self._shown is not None:
            self._desk.hear(self._shown)

    def take(self) -> None:
        """Give what is shown to the section."""
        if self._shown is not None:
            self._desk.take("Variation", self._shown)
