"""How it is plucked and held, for piece, section or chord: what `OwnRules` has."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QSignalBlocker
from PySide6.QtWidgets import QComboBox, QVBoxLayout, QWidget

from gingham.app.session.shown import Shown
from gingham.app.widgets.parts import form, narrow_box
from gingham.core.fitting.result import Assignment
from gingham.core.pieces import own_edits
from gingham.core.pieces.piece import Piece
from gingham.core.pieces.plans import PICKING_PLANS
from gingham.core.pieces.rules import (
    FINGER_POLICIES,
    HANDS,
    PICK_STROKES,
    FingerPolicy,
    FirstRule,
    OwnRules,
    Rules,
    ThumbPlan,
    check_choice,
    parse_first,
)
from gingham.core.values import replace
from gingham.language import tr
from gingham.words.names import (
    ACCENT_NAMES,
    FIRST_NAMES,
    FOUR_STRING_NAMES,
    HAND_NAMES,
    HOLD_NAMES,
    PICK_RULES,
    POLICY_NAMES,
    signs,
)
from gingham.words.plans import THUMB_NAMES, first_name

PIECE, SECTION, CHORD = "piece", "section", "chord"
_SCOPES = ((PIECE, tr("the piece")), (SECTION, tr("this section")), (CHORD, tr("this chord")))
_GUITAR = 6
Use = Callable[[str, Callable[[Piece], Piece]], None]
"""Makes an edit with its name for undo, or says why not."""


class PluckingRow(QWidget):
    """A box for whom it is meant, and one for each choice."""

    def __init__(self) -> None:
        super().__init__()
        self.scope = narrow_box(tr("For"), _SCOPES)
        self.boxes = {
            "thumb": narrow_box(tr("Thumb"), tuple((k, THUMB_NAMES[k]) for k in PICKING_PLANS)),
            "fingers": narrow_box(tr("Fingers"), tuple((k, POLICY_NAMES[k]) for k in FINGER_POLICIES[:-1])),
            "four_string": narrow_box(tr("Chords of four strings"), tuple(FOUR_STRING_NAMES.items())),
            "first": narrow_box(tr("First bass"), tuple(FIRST_NAMES.items())),
            "hand": narrow_box(tr("Hand"), tuple((k, HAND_NAMES[k]) for k in HANDS)),
            "hold": narrow_box(tr("What the fretting hand holds"), tuple(HOLD_NAMES.items())),
            "accents": narrow_box(tr("Accents"), tuple(ACCENT_NAMES.items())),
        }
        self.pick = narrow_box(tr("How the pick goes"), tuple(PICK_RULES.items()))
        labels = (
            tr("Thumb"),
            tr("Fingers"),
            tr("Four strings"),
            tr("First bass"),
            tr("Plucked with"),
            tr("Held"),
            tr("Accents"),
        )
        rows = zip((tr("For"), *labels), (self.scope, *self.boxes.values()), strict=True)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addLayout(form(*rows))
        column.addWidget(self.pick)

    def show_strings(self, strings: int) -> None:
        """The strings on which a first bass can be fixed: those of the thumb on this instrument."""
        box = self.boxes["first"]
        wanted = [*FIRST_NAMES, *(f"named:{s}" for s in range(strings, strings // 2, -1))]
        if [box.itemData(i) for i in range(box.count()) if box.itemData(i)] != wanted:
            box.clear()
            for kind in wanted:
                box.addItem(first_name(parse_first(kind)), kind)

    def show_rules(self, rules: Rules, own: OwnRules | None) -> None:
        """What holds: the piece's `rules`, or what is the section's or chord's `own`, else as the piece."""
        self.pick.setVisible("pick" in (rules.hand, own.hand if own is not None else None))
        self.pick.setCurrentIndex(self.pick.findData(rules.pick))
        for name, box in self.boxes.items():
            with QSignalBlocker(box):
                _offer_none(box, own is not None)
                value = getattr(rules if own is None else own, name)
                data = "" if value is None else value if isinstance(value, str) else _data(value)
                box.setCurrentIndex(box.findData(data))


class PluckingEdits:
    """What the row changes, for the scope that is chosen."""

    def __init__(self, row: PluckingRow, shown: Shown, use: Use) -> None:
        self._row, self._shown, self._use = row, shown, use
        row.scope.activated.connect(lambda _index: self.refresh())
        row.pick.activated.connect(lambda _index: self._pick_chosen())
        for name, box in row.boxes.items():
            box.activated.connect(lambda _index, name=name: self._chosen(name))

    def _pick_chosen(self) -> None:
        way = check_choice(self._row.pick.currentData(), PICK_STROKES, "pick")
        self._use(tr("Pick"), lambda piece: replace(piece, rules=replace(piece.rules, pick=way)))

    def refresh(self) -> None:
        """Show what holds for the scope; a chord needs one under the cursor."""
        shown, row = self._shown, self._row
        assignment = shown.assignment()
        row.show_strings(shown.piece.instrument.strings)
        chord = signs(assignment.chord.text) if assignment is not None else tr("this chord")
        row.scope.setItemText(row.scope.findData(CHORD), chord)
        row.boxes["four_string"].setEnabled(shown.piece.instrument.strings == _GUITAR)
        row.show_rules(shown.piece.rules, self._own(assignment))

    def _own(self, assignment: Assignment | None) -> OwnRules | None:
        scope, shown = self._row.scope.currentData(), self._shown
        if scope == SECTION:
            return shown.piece.sections[shown.section].own
        if scope == CHORD and assignment is not None:
            return own_edits.chord_rules(shown.piece, assignment.chord.text, assignment.shape)
        return None

    def _chosen(self, name: str) -> None:
        """One choice, for the piece, the section or the chord."""
        shown, assignment = self._shown, self._shown.assignment()
        data, own = self._row.boxes[name].currentData(), self._own(assignment)
        section = shown.section
        if own is None:
            self._use(
                tr("How it is plucked"), lambda piece: replace(piece, rules=_with(piece.rules, name, data))
            )
        elif self._row.scope.currentData() == SECTION or assignment is None:
            self._use(
                tr("How the section is plucked"),
                lambda piece: own_edits.set_section_rules(
                    piece, section, _own_with(own, name, data, piece.rules)
                ),
            )
        else:
            symbol, shape = assignment.chord.text, assignment.shape
            self._use(
                tr("How a chord is plucked"),
                lambda piece: own_edits.set_chord_rules(
                    piece, symbol, shape, _own_with(own, name, data, piece.rules)
                ),
            )


def _value(name: str, data: str, standing: Rules) -> object:
    """A choice as the rules have it; what a thumb does beside its strings stays."""
    if name == "thumb":
        return ThumbPlan(data, walk=standing.thumb.walk, each_bar=standing.thumb.each_bar)
    if name == "fingers":
        return FingerPolicy(check_choice(data, FINGER_POLICIES, "finger-policy"))
    return parse_first(data) if name == "first" else data


def _with(rules: Rules, name: str, data: str) -> Rules:
    return replace(rules, **{name: _value(name, data, rules)})  # type: ignore[arg-type]  # one of its fields


def _own_with(own: OwnRules, name: str, data: str, standing: Rules) -> OwnRules:
    value = _value(name, data, standing) if data else None
    return replace(own, **{name: value})  # type: ignore[arg-type]  # one of its fields


def _data(value: ThumbPlan | FingerPolicy | FirstRule) -> str:
    return str(value) if isinstance(value, FirstRule) else value.kind


def _offer_none(box: QComboBox, on: bool) -> None:
    """Let the box offer `as the piece` before all others, or not."""
    has = box.count() > 0 and box.itemData(0) == ""
    if on and not has:
        box.insertItem(0, tr("as the piece"), "")
    elif has and not on:
        box.removeItem(0)
