"""The pattern in another meter, with a preview before anything changes."""

from __future__ import annotations

from PySide6.QtWidgets import QVBoxLayout

from gingham.app.views.bench.desk import Desk
from gingham.app.views.bench.strip import PatternStrip, beside
from gingham.app.widgets.parts import BenchPage, box, button, head, plain, quiet, row
from gingham.core.music.meter import count_at, parse_meter
from gingham.core.patterns.convert import Converted, convert
from gingham.core.patterns.figures import usual_grid
from gingham.core.patterns.mixing import bars_of
from gingham.core.patterns.shorthand import print_slot
from gingham.words.saying import count_words

_METERS = ("2/4", "3/4", "4/4", "5/4", "6/4", "3/8", "5/8", "6/8", "7/8", "8/8", "9/8", "12/8")


class MeterPage(BenchPage):
    """Before above, after below."""

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self._desk = desk
        self._found: Converted | None = None
        self.meter = box("Meter", [(m, m) for m in _METERS])
        self.meter.activated.connect(lambda _index: self._show())
        self.before, self.after = PatternStrip(desk.appearance), PatternStrip(desk.appearance)
        self.now = quiet()
        self.about = plain()
        column = QVBoxLayout(self)
        column.addWidget(head("As it is"))
        column.addLayout(beside(self.before, self.now))
        column.addLayout(row(head("As it would be in"), self.meter, 1))
        column.addLayout(beside(self.after, self.about))
        column.addLayout(
            row(
                button("Use it", "The piece goes into this meter; its chords must fit", self.take),
                button("Hear it", "Turned back into the piece’s meter for now", self.hear),
                1,
            )
        )
        column.addStretch(1)
        self._chosen_for: str = ""

    def refresh(self) -> None:
        """Show the piece's pattern as it is now."""
        desk = self._desk
        meter, bars = desk.piece.meter, bars_of(desk.pattern)
        long = "one bar" if bars == 1 else f"{bars} bars"
        self.now.setText(f"{meter}, {long} long. {count_words(desk.pattern, desk.appearance.theme.naming)}")
        if self._chosen_for != str(meter):
            self._chosen_for = str(meter)
            self.meter.setCurrentText("4/4" if meter.unit == 8 else "6/8")
        self._show()

    def _show(self) -> None:
        pattern, meter = self._desk.pattern, parse_meter(self.meter.currentData())
        found = self._found = convert(pattern, meter)
        self.before.show_pattern(found.source, frozenset(found.left_out))
        self.after.show_pattern(found.pattern)
        words = [f"Count {count_words(found.pattern, self._desk.appearance.theme.naming)}."]
        source = found.source
        gone = [
            f"{print_slot(source.slots[i])} on {count_at(source.meter, source.starts[i] % source.meter.bar)}"
            for i in found.left_out
        ]
        rests = sum(not slot for slot in found.pattern.slots)
        words.append(f"Left out: {', '.join(gone)}." if gone else "Nothing is left out.")
        if rests:
            words.append(f"{rests} of its {len(found.pattern.slots)} places rest.")
        if meter == pattern.meter:
            words = ["That is its meter already."]
        grid = ",".join(map(str, usual_grid(meter)))
        self.about.setText(f"{' '.join(words)} It is written {meter} x{grid}.")

    def hear(self) -> None:
        """Play it on the chords as they are."""
        if self._found is not None:
            self._desk.hear(self._found.pattern)

    def take(self) -> None:
        """The piece and its pattern in the new meter."""
        if self._found is not None:
            self._desk.take("Meter", self._found.pattern)
