"""What the set-up rows change. A fault is said in the row; the piece stays as it was."""

from __future__ import annotations

from collections.abc import Callable
from fractions import Fraction
from typing import TYPE_CHECKING

from PySide6.QtCore import QSignalBlocker
from PySide6.QtWidgets import QComboBox

from gingham.app.views.builder.pictures import Pictures
from gingham.app.views.builder.plucking import PluckingEdits
from gingham.app.widgets.ask import Option
from gingham.app.widgets.levels import show_level
from gingham.app.widgets.typed_line import TypedLine, show_fault
from gingham.core.errors import GinghamError
from gingham.core.instruments.instrument import instrument
from gingham.core.music.meter import parse_meter
from gingham.core.patterns.library import pattern_for
from gingham.core.pieces import edits
from gingham.core.pieces.own_edits import change_thumb
from gingham.core.pieces.piece import NamedPattern, Piece, standing_rules
from gingham.core.pieces.tempo import parse_swing
from gingham.core.values import replace
from gingham.language import tr
from gingham.words.tuning import KEEP_NAMES, KEEP_SHAPES, WHAT_STAYS, strain_text

if TYPE_CHECKING:
    from gingham.app.views.builder.setup import SetupPanel


class SetupEdits:
    """One undo step for each field."""

    def __init__(self, build: Pictures) -> None:
        self._build = build
        build.view.setup_made.connect(self._made)

    @property
    def _panel(self) -> SetupPanel:
        return self._build.view.setup

    def _made(self) -> None:
        panel = self._panel
        for line, use in (
            (panel.title, self._title), (panel.section, self._section), (panel.tuning, self._tuning),
            (panel.meter, self._meter),
        ):  # fmt: skip
            line.left.connect(lambda line=line, use=use: self._typed(line, use))
            line.given_up.connect(self.refresh)
        panel.capo.valueChanged.connect(lambda fret: self._use(tr("Capo"), lambda p: edits.set_capo(p, fret)))
        panel.repeats.valueChanged.connect(self._repeats)
        panel.muddy_above.activated.connect(self._muddy_above)
        panel.instrument.activated.connect(self._instrument)
        panel.swing.activated.connect(self._swing)
        panel.walk.activated.connect(self._walk)
        panel.each_bar.activated.connect(self._each_bar)
        self.plucking = PluckingEdits(panel.plucking, self._build.shown, self._use)
        self._build.shown.cursor_moved.connect(self.plucking.refresh)
        for box, name in (
            (panel.align, "align"),
            (panel.level, "level"),
            (panel.shapes, "shapes"),
            (panel.muddy, "muddy"),
            (panel.support, "support"),
            (panel.tones, "tones"),
            (panel.stand_ins, "stand_ins"),
            (panel.strict, "strict"),
        ):
            box.activated.connect(lambda index, box=box, name=name: self._rule(name, box.itemData(index)))
        if self._build.shown.document is not None:
            self.refresh()

    # Edits.

    def _use(self, text: str, change: Callable[[Piece], Piece], line: TypedLine | None = None) -> None:
        """Make an edit, or say in the row why not."""
        panel = self._panel
        try:
            after = change(self._build.shown.piece)
        except GinghamError as error:
            show_fault(line if line is not None else panel.tuning, panel.message, error)
            if line is None:
                panel.tuning.set_fault(None)
            return
        if line is not None and line.fault is None and after == self._build.shown.piece:
            return  # a line that was only passed through; what is said of the strings stays
        show_fault(panel.tuning, panel.message, None)
        if line is not None:
            line.set_fault(None)
        self._build.shown.edit(text, after)

    def _typed(self, line: TypedLine, use: Callable[[str], None]) -> None:
        if line.isModified() or line.fault is not None or line.text():
            use(line.text().strip())

    def _title(self, text: str) -> None:
        self._use(tr("Title"), lambda piece: replace(piece, title=text), self._panel.title)

    def _section(self, text: str) -> None:
        index = self._build.shown.section
        if text != self._build.shown.piece.sections[index].name:
            self._use(tr("Section name"), lambda p: edits.rename_section(p, index, text), self._panel.section)

    def _repeats(self, times: int) -> None:
        index = self._build.shown.section
        self._use(tr("Times"), lambda p: edits.with_section(p, index, lambda s: replace(s, repeats=times)))

    def _tuning(self, text: str) -> None:
        if text == self._build.shown.piece.instrument.tuning_text():
            if self._panel.tuning.fault is not None:  # what was said of these strings stays
                show_fault(self._panel.tuning, self._panel.message, None)
            return
        before = self._build.shown.piece
        self._use(
            tr("Tuning"),
            lambda piece: edits.set_instrument(piece, instrument(piece.instrument.id, text)),
            self._panel.tuning,
        )
        self._ask_what_stays(before)

    def _meter(self, text: str) -> None:
        def change(piece: Piece) -> Piece:
            meter = parse_meter(text)
            return (
                piece
                if meter == piece.meter
                else edits.set_meter(piece, meter, NamedPattern(*pattern_for(meter)))
            )

        self._use(tr("Meter"), change, self._panel.meter)

    def _instrument(self, index: int) -> None:
        kind = self._panel.instrument.itemData(index)
        if kind != self._build.shown.piece.instrument.id:
            before = self._build.shown.piece
            self._use(tr("Instrument"), lambda piece: edits.set_instrument(piece, instrument(kind)))
            self._ask_what_stays(before)

    def _ask_what_stays(self, before: Piece) -> None:
        """Names have been kept; the shapes can be instead, where there are as many strings."""
        from gingham.core.bench.retuned import can_keep_shapes, with_shapes_kept

        shown, view = self._build.shown, self._build.view
        now = shown.piece.instrument
        if now == before.instrument or not can_keep_shapes(before, now):
            return

        def keep_shapes() -> None:
            shown.edit(KEEP_SHAPES, with_shapes_kept(before, now))

        def keep_strings() -> None:
            if shown.document is not None:
                shown.document.stack.undo()

        options: list[Option] = [("n", KEEP_NAMES, lambda: None), ("s", KEEP_SHAPES, keep_shapes)]
        view.ask.ask(WHAT_STAYS, options, view.ask_place(), view.result, keep_strings)

    def _swing(self, index: int) -> None:
        swing = parse_swing(self._panel.swing.itemData(index))
        self._use(tr("Feel"), lambda piece: replace(piece, swing=swing))

    def _muddy_above(self, index: int) -> None:
        hundredths = self._panel.muddy_above.itemData(index)
        rules = replace(self._build.shown.piece.rules, muddy_above=Fraction(hundredths, 100))
        self._use(tr("Low notes"), lambda piece: replace(piece, rules=rules))

    def _walk(self, index: int) -> None:
        """Walks on or off: for the section if it has a thumb of its own, else for the piece."""
        section, on = self._build.shown.section, bool(self._panel.walk.itemData(index))
        self._use(tr("Walks"), lambda p: change_thumb(p, section, lambda plan: replace(plan, walk=on)))

    def _each_bar(self, index: int) -> None:
        """Whether the thumb begins again at each bar line."""
        section, on = self._build.shown.section, bool(self._panel.each_bar.itemData(index))
        self._use(
            tr("Thumb over bars"), lambda p: change_thumb(p, section, lambda plan: replace(plan, each_bar=on))
        )

    def _rule(self, name: str, value: str) -> None:
        rules = replace(self._build.shown.piece.rules, **{name: value})  # type: ignore[arg-type]  # all of them are texts
        self._use(tr("Rule"), lambda piece: replace(piece, rules=rules))

    # Showing.

    def refresh(self) -> None:
        """Show the piece's set-up, if there are rows to show it in."""
        if not self._build.view.has_setup:
            return
        panel, piece = self._panel, self._build.shown.piece
        section = piece.sections[self._build.shown.section]
        show_fault(panel.tuning, panel.message, None)
        panel.message.setText(strain_text(piece.instrument))
        panel.message.setVisible(bool(panel.message.text()))
        for line, text in (
            (panel.title, piece.title), (panel.section, section.name),
            (panel.tuning, piece.instrument.tuning_text()), (panel.meter, str(piece.meter)),
        ):  # fmt: skip
            line.show_text(text)
        for spin, value in (
            (panel.capo, piece.capo), (panel.repeats, section.repeats),
        ):  # fmt: skip
            with QSignalBlocker(spin):
                spin.setValue(value)
        _select(panel.instrument, piece.instrument.id)
        _select(panel.swing, str(piece.swing))
        _select(panel.align, piece.rules.align)
        show_level(panel.level, piece.rules.level, panel.learned())
        _select(panel.shapes, piece.rules.shapes)
        standing = standing_rules(piece, self._build.shown.section).thumb
        _select(panel.walk, "walk" if standing.walk else "")
        _select(panel.each_bar, "on" if standing.each_bar else "")
        self.plucking.refresh()
        for name in ("muddy", "support", "tones", "stand_ins", "strict"):
            _select(getattr(panel, name), getattr(piece.rules, name))
        roughness = round(100 * piece.rules.muddy_above)
        if panel.muddy_above.findData(roughness) < 0:  # from a file: a value of its own
            panel.muddy_above.addItem(
                tr("from roughness {roughness:g}", roughness=roughness / 100), roughness
            )
        _select(panel.muddy_above, roughness)


def _select(box: QComboBox, data: object) -> None:
    with QSignalBlocker(box):
        box.setCurrentIndex(box.findData(data))
