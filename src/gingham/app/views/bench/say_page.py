"""Ways to say the pattern on the selected chord, each to be copied, and the names used everywhere."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QApplication, QGridLayout, QLabel, QScrollArea, QVBoxLayout

from gingham.app.views.bench.desk import Desk
from gingham.app.widgets.parts import BenchPage, box, button, head, plain, quiet, row
from gingham.core.values import replace
from gingham.language import tr
from gingham.words.names import signs
from gingham.words.naming import NAMINGS
from gingham.words.notices import notice
from gingham.words.saying import SCRIPTS, script, string_words

_TITLES = {"fingers": tr("Fingers"), "strings": tr("Strings"), "counts": tr("Counting")}


class SayPage(BenchPage):
    """One line for each script."""

    naming_chosen = Signal(object)

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self._desk = desk
        self.title = head("")
        self.lines: dict[str, QLabel] = {}
        column = QVBoxLayout(self)
        column.addWidget(self.title)
        grid = QGridLayout()
        grid.setHorizontalSpacing(14)
        grid.setColumnStretch(1, 1)
        for index, (kind, words) in enumerate(SCRIPTS.items()):
            line = self.lines[kind] = plain()
            line.setAccessibleName(words)
            line.setProperty("said", True)
            copy = button(tr("Copy"), tr("{words} to the clipboard", words=words), partial(self.copy, kind))
            for place, part in enumerate((quiet(words), line, copy)):
                grid.addWidget(part, index, place)
        column.addLayout(grid)
        column.addWidget(
            quiet(tr("A dash is a rest, and a syllable in brackets is counted but not plucked."))
        )
        column.addSpacing(14)
        column.addWidget(head(tr("Names, everywhere on the screen")))
        self.boxes = {
            what: box(_TITLES[what], list(known.items()))
            for what, known in NAMINGS.items()
            if what in _TITLES
        }
        for what, each in self.boxes.items():
            each.activated.connect(
                lambda index, what=what, each=each: self._choose(what, each.itemData(index))
            )
            column.addLayout(row(_TITLES[what], each, 1))
        column.addSpacing(14)
        column.addWidget(head(tr("Strings, chord by chord")))
        self.by_chord = plain()
        self.by_chord.setAlignment(Qt.AlignmentFlag.AlignTop)
        around = QScrollArea()
        around.setWidgetResizable(True)
        around.setWidget(self.by_chord)
        around.setAccessibleName(tr("Strings, chord by chord"))
        column.addWidget(around, 1)

    def _choose(self, what: str, value: str) -> None:
        self.naming_chosen.emit(replace(self._desk.appearance.theme.naming, **{what: value}))

    def text(self, kind: str) -> str:
        """One script of the pattern on the chord under the cursor."""
        desk = self._desk
        return script(
            kind,
            desk.pattern,
            desk.assignment,
            desk.piece.instrument,
            desk.appearance.theme.naming,
            desk.piece.rules.hand,
        )

    def refresh(self) -> None:
        """Say the piece's pattern as it is now."""
        assignment = self._desk.assignment
        self.title.setText(
            tr("{name} on {text}", name=self._desk.name, text=signs(assignment.chord.text))
            if assignment is not None
            else self._desk.name
        )
        for kind, line in self.lines.items():
            line.setText(self.text(kind))
        for what, each in self.boxes.items():
            each.setCurrentIndex(each.findData(getattr(self._desk.appearance.theme.naming, what)))
        self.by_chord.setText("\n".join(self._strings()))

    def _strings(self) -> list[str]:
        """The strings of each different chord of the section, in order."""
        desk = self._desk
        spans = desk.result.spans if desk.result is not None else ()
        found = dict.fromkeys(span.assignment for span in spans if span.assignment is not None)
        words = [
            (signs(on.chord.text), string_words(desk.pattern, on, desk.piece.instrument)) for on in found
        ]
        return [f"{chord}:  {said}" for chord, said in dict.fromkeys(words)]

    def copy(self, kind: str) -> None:
        """Put one script on the clipboard."""
        QApplication.clipboard().setText(self.text(kind))
        self._desk.notice.emit(notice("copied"))
