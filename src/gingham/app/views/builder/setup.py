"""Set-up, in the drawer: title, section, instrument, tuning, capo, meter, swing, the standing rules."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtWidgets import QLabel, QPushButton, QVBoxLayout, QWidget

from gingham.app.look.appearance import Appearance
from gingham.app.views.builder.plucking import PluckingRow
from gingham.app.widgets.parts import form, head, narrow_box, scrolled
from gingham.app.widgets.typed_line import NumberBox, TypedLine
from gingham.core.instruments.instrument import CATALOGUE
from gingham.core.pieces.rules import (
    ALIGNMENTS,
    LEVELS,
    MUDDY,
    SHAPE_CHOICES,
)
from gingham.language import tr
from gingham.words.actions import with_keys
from gingham.words.names import (
    ALIGN_NAMES,
    BLUR_NAMES,
    INSTRUMENT_NAMES,
    LEVEL_NAMES,
    MUDDY_NAMES,
    SHAPE_NAMES,
    STAND_IN_NAMES,
    STRICT_NAMES,
    SUPPORT_NAMES,
    TONE_NAMES,
)

SWINGS = (
    ("1/2", tr("straight")),
    ("7/12", tr("a little swing")),
    ("2/3", tr("swing in threes")),
    ("3/4", tr("dotted")),
)


class SetupPanel(QWidget):
    """Widgets only; what they change is in `setup_edits`."""

    def __init__(self, appearance: Appearance, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.title = TypedLine(appearance, tr("Title of the piece"))
        self.section = TypedLine(appearance, tr("Name of the section"))
        self.repeats = NumberBox(tr("How often the section is played"), 1, 99)
        self.instrument = narrow_box(tr("Instrument"), tuple((i, INSTRUMENT_NAMES[i]) for i in CATALOGUE))
        self.tuning = TypedLine(appearance, tr("Tuning, highest string number first"))
        self.capo = NumberBox(tr("Capo"), 0, 14)
        self.capo.setSpecialValueText(tr("none"))
        self.meter = TypedLine(appearance, tr("Meter"))
        self.swing = narrow_box(tr("Swing"), SWINGS)
        self._make_rules()
        self.message = QLabel()
        self.message.setProperty("fault", True)
        self.message.setWordWrap(True)
        self.message.hide()
        self._lay_out()

    def _make_rules(self) -> None:
        self.align = narrow_box(
            tr("How the pattern lies on the bars"), tuple((k, ALIGN_NAMES[k]) for k in ALIGNMENTS)
        )
        self.shapes = narrow_box(
            tr("How shapes are chosen"), tuple((k, SHAPE_NAMES[k]) for k in SHAPE_CHOICES)
        )
        self.walk = narrow_box(
            tr("Walks into changes"), (("", tr("no walks")), ("walk", tr("walk into changes")))
        )
        self.each_bar = narrow_box(
            tr("The thumb at a bar line"), (("", tr("begins again")), ("on", tr("goes on: its next bass")))
        )
        self.plucking = PluckingRow()
        self.muddy = narrow_box(
            tr("Two low notes that ring together"), tuple((k, MUDDY_NAMES[k]) for k in MUDDY)
        )
        self.muddy_above = narrow_box(tr("How soon low notes are said to blur"), tuple(BLUR_NAMES.items()))
        self.support = narrow_box(tr("What the plucking hand leans on"), tuple(SUPPORT_NAMES.items()))
        self.tones = narrow_box(tr("What a chord has to sound"), tuple(TONE_NAMES.items()))
        self.stand_ins = narrow_box(tr("Which easier chords are offered"), tuple(STAND_IN_NAMES.items()))
        self.strict = narrow_box(tr("What counts as a hit"), tuple(STRICT_NAMES.items()))
        self.level = narrow_box(tr("Level of the hand"), tuple((k, LEVEL_NAMES[k]) for k in LEVELS))
        self.way = QPushButton(tr("My way of playing…"))
        self.way.setToolTip(
            with_keys(tr("The same for all pieces, and where this one does otherwise"), "way")
        )
        self.care = {
            "break-minutes": NumberBox(tr("Minutes of playing until a break"), 10, 45),
            "barre-seconds": NumberBox(tr("Seconds of unbroken barre until a rest"), 20, 300),
            "barre-minutes": NumberBox(tr("Minutes of barre in a session"), 2, 60),
            "posture-minutes": NumberBox(tr("Minutes between reminders of posture and nails"), 0, 45),
        }
        self.care["posture-minutes"].setSpecialValueText(tr("never"))
        self.learned: Callable[[], str] = str
        """The level that has been learned from takes; empty for none."""

    def _lay_out(self) -> None:
        column = QVBoxLayout()
        column.setContentsMargins(10, 6, 8, 8)
        column.setSpacing(8)
        column.addWidget(self.message)
        for title, rows in (
            (tr("The piece"), ((tr("Title"), self.title), (tr("Instrument"), self.instrument),
                           (tr("Tuning"), self.tuning), (tr("Capo"), self.capo), (tr("Meter"), self.meter),
                           (tr("Feel"), self.swing))),
            (tr("This section"), ((tr("Name"), self.section), (tr("Times"), self.repeats))),
        ):  # fmt: skip
            column.addWidget(head(title))
            column.addLayout(form(*rows))
        column.addWidget(head(tr("How it is plucked")))
        column.addWidget(self.plucking)
        column.addWidget(head(tr("Rules of the piece")))
        column.addLayout(
            form(
                (tr("At bar lines the thumb"), self.each_bar), (tr("Walk"), self.walk),
                (tr("Pattern"), self.align), (tr("Shapes"), self.shapes), (tr("Level"), self.level),
                (tr("The hand"), self.support), (tr("Low notes"), self.muddy), (tr("warn"), self.muddy_above),
                (tr("Must sound"), self.tones),
                (tr("Easier chords"), self.stand_ins), (tr("A hit is"), self.strict),
            )
        )  # fmt: skip
        column.addWidget(self.way)
        column.addWidget(head(tr("Care for the hands")))
        column.addLayout(
            form(
                (tr("Break after, minutes"), self.care["break-minutes"]),
                (tr("Barre at a stretch, seconds"), self.care["barre-seconds"]),
                (tr("Barre a session, minutes"), self.care["barre-minutes"]),
                (tr("Posture reminder, minutes"), self.care["posture-minutes"]),
            )
        )
        column.addStretch(1)
        inner = QWidget()
        inner.setLayout(column)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.addWidget(scrolled(inner))
        self.setFocusProxy(self.title)
