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
from gingham.language import tr
from gingham.words.saying import count_words

_METERS = ("2/4", "3/4", "4/4", "5/4", "6/4", "3/8", "5/8", "6/8", "7/8", "8/8", "9/8", "12/8")


class MeterPage(BenchPage):
    """Before above, after below."""

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self._desk = desk
        self._found: Converted | None = None
        self.meter = box(tr("Meter"), [(m, m) for m in _METERS])
        self.meter.activated.connect(lambda _index: self._show())
        self.before, self.after = PatternStrip(desk.appearance), PatternStrip(desk.appearance)
        self.now = quiet()
        self.about = plain()
        column = QVBoxLayout(self)
        column.addWidget(head(tr("As it is")))
        column.addLayout(beside(self.before, self.now))
        column.addLayout(row(head(tr("As it would be in")), self.meter, 1))
        column.addLayout(beside(self.after, self.about))
        column.addLayout(
            row(
                button(tr("Use it"), tr("The piece goes into this meter; its chords must fit"), self.take),
                button(tr("Hear it"), tr("Turned back into the piece’s meter for now"), self.hear),
                1,
            )
        )
        column.addStretch(1)
        self._chosen_for: str = ""

    def refresh(self) -> None:
        """Show the piece's pattern as it is now."""
        desk = self._desk
        meter, bars = desk.piece.meter, bars_of(desk.pattern)
        long = tr("one bar") if bars == 1 else tr("{bars} bars", bars=bars)
        self.now.setText(
            tr(
                "{meter}, {long} long. {count_words}",
                meter=meter,
                long=long,
                count_words=count_words(desk.pattern, desk.appearance.theme.naming),
            )
        )
        if self._chosen_for != str(meter):
            self._chosen_for = str(meter)
            self.meter.setCurrentText("4/4" if meter.unit == 8 else "6/8")
        self._show()

    def _show(self) -> None:
        pattern, meter = self._desk.pattern, parse_meter(self.meter.currentData())
        found = self._found = convert(pattern, meter)
        self.before.show_pattern(found.source, frozenset(found.left_out))
        self.after.show_pattern(found.pattern)
        words = [
            tr(
                "Count {count_words}.",
                count_words=count_words(found.pattern, self._desk.appearance.theme.naming),
            )
        ]
        source = found.source
        gone = [
            tr(
                "{print_slot} on {count_at}",
                print_slot=print_slot(source.slots[i]),
                count_at=count_at(source.meter, source.starts[i] % source.meter.bar),
            )
            for i in found.left_out
        ]
        rests = sum(not slot for slot in found.pattern.slots)
        words.append(tr("Left out: {gone}.", gone=", ".join(gone)) if gone else tr("Nothing is left out."))
        if rests:
            words.append(
                tr("{rests} of its {slots} places rest.", rests=rests, slots=len(found.pattern.slots))
            )
        if meter == pattern.meter:
            words = [tr("That is its meter already.")]
        grid = ",".join(map(str, usual_grid(meter)))
        self.about.setText(
            tr("{words} It is written {meter} x{grid}.", words=" ".join(words), meter=meter, grid=grid)
        )

    def hear(self) -> None:
        """Play it on the chords as they are."""
        if self._found is not None:
            self._desk.hear(self._found.pattern)

    def take(self) -> None:
        """The piece and its pattern in the new meter."""
        if self._found is not None:
            self._desk.take(tr("Meter"), self._found.pattern)
