"""The set-up rows: title, section, instrument, tuning, capo, meter, swing, and the standing rules."""

from __future__ import annotations

from PySide6.QtWidgets import QComboBox, QFrame, QHBoxLayout, QLabel, QVBoxLayout, QWidget

from gingham.app.look.appearance import Appearance
from gingham.app.look.theme import SIZES
from gingham.app.views.builder.plucking import PluckingRow
from gingham.app.widgets.typed_line import NumberBox, TypedLine
from gingham.core.instruments.instrument import CATALOGUE
from gingham.core.pieces.rules import (
    ALIGNMENTS,
    HOLDS,
    LEVELS,
    MUDDY,
    SHAPE_CHOICES,
)
from gingham.words.names import (
    ALIGN_NAMES,
    HOLD_NAMES,
    INSTRUMENT_NAMES,
    LEVEL_NAMES,
    MUDDY_NAMES,
    SHAPE_NAMES,
)

SWINGS = (("1/2", "straight"), ("7/12", "a little swing"), ("2/3", "swing in threes"), ("3/4", "dotted"))


class SetupPanel(QFrame):
    """Widgets only; what they change is in `setup_edits`."""

    def __init__(self, appearance: Appearance, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setProperty("panel", True)
        self.title = TypedLine(appearance, "Title of the piece")
        self.section = TypedLine(appearance, "Name of the section")
        self.repeats = NumberBox("How often the section is played", 1, 99)
        self.instrument = _box("Instrument", tuple((i, INSTRUMENT_NAMES[i]) for i in CATALOGUE))
        self.tuning = TypedLine(appearance, "Tuning, highest string number first")
        self.capo = NumberBox("Capo", 0, 14)
        self.capo.setSpecialValueText("none")
        self.meter = TypedLine(appearance, "Meter")
        self.swing = _box("Swing", SWINGS)
        self._make_rules()
        self.message = QLabel()
        self.message.setProperty("fault", True)
        self.message.setWordWrap(True)
        self.message.hide()
        self.meter.setMaximumWidth(64)
        self._lay_out()

    def _make_rules(self) -> None:
        self.align = _box("How the pattern lies on the bars", tuple((k, ALIGN_NAMES[k]) for k in ALIGNMENTS))
        self.shapes = _box("How shapes are chosen", tuple((k, SHAPE_NAMES[k]) for k in SHAPE_CHOICES))
        self.hold = _box("What the fretting hand holds", tuple((k, HOLD_NAMES[k]) for k in HOLDS))
        self.walk = _box("Walks into changes", (("", "no walks"), ("walk", "walk into changes")))
        self.each_bar = _box(
            "The thumb at a bar line", (("", "begins again"), ("on", "goes on: its next bass"))
        )
        self.plucking = PluckingRow()
        self.muddy = _box("Muddy basses", tuple((k, MUDDY_NAMES[k]) for k in MUDDY))
        self.muddy_above = NumberBox("Muddy from this roughness, in hundredths", 50, 200)
        self.level = _box("Level of the hand", tuple((k, LEVEL_NAMES[k]) for k in LEVELS))

    def _lay_out(self) -> None:
        column = QVBoxLayout(self)
        column.setContentsMargins(SIZES.pad, SIZES.gap, SIZES.pad, SIZES.gap)
        column.addLayout(
            _row(
                ("Title", self.title, 3), ("Section", self.section, 2), ("Times", self.repeats, 0),
                ("Instrument", self.instrument, 0), ("Tuning", self.tuning, 3), ("Capo", self.capo, 0),
            )
        )  # fmt: skip
        column.addLayout(
            _row(
                ("Meter", self.meter, 0), ("Feel", self.swing, 0),
                ("Pattern", self.align, 0), ("Hand", self.level, 0),
                ("At a bar line the thumb", self.each_bar, 0), ("", QWidget(), 1),
            )
        )  # fmt: skip
        column.addWidget(self.plucking)
        column.addLayout(
            _row(
                ("Shapes", self.shapes, 0), ("Hold", self.hold, 0), ("Walk", self.walk, 0),
                ("Muddy basses", self.muddy, 0), ("from", self.muddy_above, 0),
                ("", QWidget(), 1),
            )
        )  # fmt: skip
        column.addWidget(self.message)


def _box(name: str, rows: tuple[tuple[str, str], ...]) -> QComboBox:
    out = QComboBox()
    out.setAccessibleName(name)
    for data, words in rows:
        out.addItem(words, data)
    return out


def _row(*parts: tuple[str, QWidget, int]) -> QHBoxLayout:
    row = QHBoxLayout()
    row.setSpacing(6)
    for words, widget, share in parts:
        if words:
            label = QLabel(words)
            label.setProperty("quiet", True)
            row.addWidget(label)
        row.addWidget(widget, share)
        row.addSpacing(6)
    return row
