"""The plucking hand on the chord under the cursor: its place, strings at once, beats, what rings on."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from gingham.app.session.shown import Shown
from gingham.app.widgets.drawer import DrawerPanel
from gingham.app.widgets.parts import head, plain, scrolled
from gingham.app.work.worker import NewestWorker
from gingham.core.fitting.result import Result
from gingham.core.judging.barres import barre_load
from gingham.core.judging.hand_places import Calmer, HandPlace, calmer, hand_path, pick_travel
from gingham.core.judging.on_beats import off_the_rule
from gingham.core.judging.pinches import gaps, pinches
from gingham.core.judging.rings_on import clashes, rings
from gingham.core.judging.strokes_told import (
    BrushCost,
    passed_over,
    plucks_a_second,
    stressed,
    swept_on,
    thumb_brush_cost,
)
from gingham.core.pieces.own_edits import set_section_rules
from gingham.language import tr
from gingham.words import plucking
from gingham.words.names import signs

_MOST_CALMER = 2


class _Calmer(NewestWorker[Result]):
    """Looks for less travel in one section."""

    found = Signal(object, object, object)

    def work_on(self, item: Result) -> None:
        """Try the other thumbs, fingers that stay, and a thumb that brushes."""
        ways, cost = calmer(item), thumb_brush_cost(item)
        if not self.outdated:
            self.found.emit(item, ways, cost)


def _beside(words: QLabel, button: QPushButton) -> QWidget:
    out = QWidget()
    line = QHBoxLayout(out)
    line.setContentsMargins(0, 0, 0, 0)
    line.addWidget(words, 1)
    line.addWidget(button)
    out.hide()
    return out


class HandPanel(DrawerPanel):
    """Follows the cursor; what is said of the section stays while the cursor is in it."""

    def __init__(self, shown: Shown, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._shown = shown
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(tr("The plucking hand"))
        self.place, self.path, self.strings = plain(), plain(), plain()
        self.beats, self.ringing, self.barres = plain(), plain(), plain()
        self.brushing = plain()
        self.title = head("")
        self.barre_head = head(tr("Barres"))
        self.calmer = [plain() for _ in range(_MOST_CALMER)]
        self.take = [QPushButton(tr("Use it")) for _ in range(_MOST_CALMER)]
        self._rows = [_beside(words, button) for words, button in zip(self.calmer, self.take, strict=True)]
        self.ways: tuple[Calmer, ...] = ()
        self.helper = _Calmer("calmer", self)
        self.helper.found.connect(self._show_calmer)
        for number, button in enumerate(self.take):
            button.clicked.connect(lambda _on, number=number: self._use(number))
        inner = QWidget()
        column = QVBoxLayout(inner)
        column.setContentsMargins(12, 6, 10, 8)
        column.setSpacing(6)
        parts = [
            self.title, self.place, self.path, *self._rows, head(tr("Strings together")),
            self.strings, self.brushing,
            head(tr("On the beats")), self.beats, head(tr("What rings on")), self.ringing,
            self.barre_head, self.barres,
        ]  # fmt: skip
        for part in parts:
            column.addWidget(part)
        column.addStretch(1)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.addWidget(scrolled(inner))
        shown.settled.connect(self._settled)
        shown.cursor_moved.connect(self._show_chord)

    def _settled(self) -> None:
        if self.isVisible():
            self.refresh()

    def refresh(self) -> None:
        """Show the section as it is now, and the chord under the cursor."""
        result = self._shown.result
        if result is None:
            return
        self._show_chord()
        self._show_section(result)
        for part in (*self._rows, self.brushing):
            part.hide()
        if "pick" not in plucks_a_second(result):
            self.helper.request(result)

    def _show_chord(self) -> None:
        result, index = self._shown.result, self._shown.span_index()
        if result is None or not self.isVisible():
            return
        path = hand_path(result)
        here: HandPlace | None = next((place for place in path.places if place.span == index), None)
        if here is None:
            self.title.setText(tr("No chord here: choose one in the picture."))
            self.place.clear()
            self.strings.clear()
            return
        self.title.setText(tr("The hand on {chord}", chord=signs(here.chord)))
        on = result.spans[index].assignment
        picked = on is not None and on.hand == "pick"
        stands = f"{plucking.place_text(here)} {plucking.moved_text(here)}"
        self.place.setText(plucking.pick_text(pick_travel(result)) if picked else stands)
        self.path.setVisible(not picked)
        used = result.spans[index].strings
        together = [plucking.pinch_text(each) for each in pinches(result, index)] or [plucking.NO_PINCH]
        lines = [plucking.spacing_text(used, gaps(used)), *together]
        lines.append(plucking.passed_text(passed_over(result, index)))
        if swept_on(result, index) and on is not None and not picked:
            lines.append(plucking.back_text(here, on.basses[0].string if on.basses else None))
        self.strings.setText("\n".join(line for line in lines if line))

    def _show_section(self, result: Result) -> None:
        meter = result.piece.meter
        self.path.setText(plucking.path_text(hand_path(result)))
        rates = plucks_a_second(result)
        beats = [plucking.rates_text(rates, result.piece.tempo)]
        if "pick" not in rates:
            rule = plucking.beats_text(off_the_rule(result.pattern))
            beats = [rule, plucking.stressed_text(stressed(result)), *beats]
        self.beats.setText("\n".join(line for line in beats if line))
        rubs = [plucking.clash_text(each, meter) for each in clashes(result)]
        self.ringing.setText("\n".join([*plucking.ring_lines(rings(result), meter), *rubs]))
        load = barre_load(result)
        self.barre_head.setVisible(bool(load.chords))
        self.barres.setVisible(bool(load.chords))
        told = [plucking.load_text(load), *map(plucking.barre_text, load.chords), plucking.CUE]
        self.barres.setText("\n".join(told))

    def _show_calmer(self, result: Result, ways: tuple[Calmer, ...], cost: BrushCost | None) -> None:
        if result is not self._shown.result:
            return
        self.brushing.setText(plucking.brush_cost_text(cost))
        self.brushing.setVisible(cost is not None)
        self.ways = ways[:_MOST_CALMER]
        for number, each in enumerate(self.ways):
            words = plucking.calmer_text(each)
            self.calmer[number].setText(words)
            self.take[number].setAccessibleName(tr("Use it: {words}", words=words))
            self._rows[number].show()

    def _use(self, number: int) -> None:
        shown = self._shown
        own = self.ways[number].own
        shown.edit(tr("Calmer hand"), set_section_rules(shown.piece, shown.section, own))
