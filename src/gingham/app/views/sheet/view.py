"""The Sheet view's parts: choices at the left, pages at the right."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtWidgets import (
    QCheckBox,
    QFrame,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from gingham.app.look.appearance import Appearance
from gingham.app.look.theme import SIZES
from gingham.app.views.sheet.pages_canvas import PagesCanvas
from gingham.app.widgets.choice import Choice
from gingham.app.widgets.parts import box
from gingham.app.widgets.typed_line import NumberBox
from gingham.core.bench.capo import HIGHEST
from gingham.language import tr
from gingham.paper.content import SIZES as PAPERS
from gingham.words.actions import keyed, with_keys

KIND_NAMES = {
    "sheet": tr("Whole sheet"),
    "words": tr("Words and chords"),
    "card": tr("Card of one pattern"),
    "call": tr("Call sheet, both names"),
    "facts": tr("All that is set"),
    "pack": tr("Print pack: all of these"),
}
SWITCHES = (
    ("large", tr("Large print"), False),
    ("shapes", tr("Chord shapes"), True),
    ("counts", tr("Counts"), True),
    ("words", tr("Words"), True),
    ("practice", tr("Practice form"), False),
    ("report", tr("Spots for a teacher"), False),
)


class SheetView(QWidget):
    """Parts only; `controller` decides."""

    def __init__(self, appearance: Appearance, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.appearance = appearance
        self.setObjectName("root")
        self.kind = box(tr("What is printed"), list(KIND_NAMES.items()))
        self.paper = box(tr("Size of the paper"), [(size, size) for size in PAPERS])
        self.section = Choice()
        self.section.setAccessibleName(tr("Section whose pattern the card shows"))
        self.section.setAccessibleDescription(tr("Section whose pattern the card shows"))
        self.other_capo = NumberBox(tr("Capo of another player"), 0, HIGHEST)
        self.other_capo.setSpecialValueText(tr("none"))
        self.switches = {name: QCheckBox(words) for name, words, _ in SWITCHES}
        self.save = QPushButton(keyed(tr("Save as PDF…"), "save-sheet"))
        self.save.setProperty("main", True)
        self.save.setToolTip(with_keys(tr("PDF, SVG or PNG, by the name of the file"), "save-sheet"))
        self.print = QPushButton(keyed(tr("Print…"), "print"))
        self.status = QLabel()
        self.status.setProperty("quiet", True)
        self.status.setWordWrap(True)
        self.canvas = PagesCanvas(appearance)
        row = QHBoxLayout(self)
        row.setContentsMargins(12, 8, 12, 8)
        row.setSpacing(SIZES.gap)
        row.addWidget(self._left())
        row.addWidget(self.canvas, 1)

    def _left(self) -> QFrame:
        frame = QFrame()
        frame.setProperty("panel", True)
        frame.setFixedWidth(248)
        column = QVBoxLayout(frame)
        column.setSpacing(SIZES.gap)
        head = QLabel(tr("Sheet"))
        head.setProperty("head", True)
        column.addWidget(head)
        self.section_label, self.capo_label = _label(tr("Section")), _label(tr("Capo of another player"))
        for label, part in (
            (_label(tr("What")), self.kind),
            (_label(tr("Paper")), self.paper),
            (self.section_label, self.section),
            (self.capo_label, self.other_capo),
        ):
            column.addWidget(label)
            column.addWidget(part)
        for switch in self.switches.values():
            column.addWidget(switch)
        column.addStretch(1)
        column.addWidget(self.status, alignment=Qt.AlignmentFlag.AlignBottom)
        column.addWidget(self.save)
        column.addWidget(self.print)
        return frame


def _label(words: str) -> QLabel:
    out = QLabel(words)
    out.setProperty("quiet", True)
    return out
