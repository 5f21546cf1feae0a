"""The choices beside the picture: thumb, fingers, pattern."""

from __future__ import annotations

import re

from PySide6.QtCore import QSignalBlocker

from gingham.app.session.own_patterns import OwnPatterns, pattern_folder
from gingham.app.views.builder.pattern_box import PatternBox
from gingham.app.views.builder.pictures import Pictures
from gingham.app.widgets.typed_line import TypedLine
from gingham.core.errors import GinghamError, InputError
from gingham.core.fitting.result import Assignment
from gingham.core.pieces.edits import choose_pattern
from gingham.core.pieces.own_edits import chord_rules, set_chord_rules
from gingham.core.pieces.piece import NamedPattern, standing_rules
from gingham.core.pieces.rules import FingerPolicy, Rules, ThumbPlan, parse_fingers, parse_thumb
from gingham.core.values import replace
from gingham.language import tr

_NAMED = "named:"


class Choices:
    """Boxes and menu actions make the same edits."""

    def __init__(self, build: Pictures) -> None:
        self._build, self._patterns = build, OwnPatterns(pattern_folder())
        view = build.view
        view.thumb.activated.connect(self._thumb_chosen)
        view.fingers.activated.connect(self._fingers_chosen)
        view.pattern_names.activated.connect(self._pattern_chosen)
        view.chord_thumb.activated.connect(self._chord_thumb_chosen)
        view.thumb_strings.left.connect(self._thumb_typed)
        view.finger_strings.left.connect(self._fingers_typed)
        view.thumb_strings.given_up.connect(self.refresh)
        view.finger_strings.given_up.connect(self.refresh)

    # Thumb and fingers.

    def set_thumb(self, plan: ThumbPlan) -> None:
        """Another thumb plan for the piece; walks stay as they are."""
        standing = self._build.shown.piece.rules.thumb
        plan = replace(plan, walk=standing.walk, each_bar=standing.each_bar)
        self._edit_rules(tr("Thumb"), replace(self._build.shown.piece.rules, thumb=plan))

    def set_fingers(self, policy: FingerPolicy) -> None:
        """Another way to place the fingers."""
        self._edit_rules(tr("Fingers"), replace(self._build.shown.piece.rules, fingers=policy))

    def name_thumb(self) -> None:
        """Strings of the player's own for the thumb: first those that it has now."""
        assignment = self._build.shown.assignment()
        now = tuple(dict.fromkeys(c.string for c in assignment.basses)) if assignment is not None else ()
        strings = now or (self._build.shown.piece.instrument.strings,)
        self.set_thumb(ThumbPlan("named", strings))
        self._build.view.thumb_strings.setFocus()
        self._build.view.thumb_strings.selectAll()

    def name_fingers(self) -> None:
        """Strings of the player's own for the fingers: first those that they have now."""
        assignment = self._build.shown.assignment()
        now = (
            tuple((finger, choice.string) for finger, choice in assignment.fingers)
            if assignment is not None
            else ()
        )
        self.set_fingers(FingerPolicy("named", now or (("i", 2), ("m", 1))))
        self._build.view.finger_strings.setFocus()
        self._build.view.finger_strings.selectAll()

    def _chord_thumb_chosen(self, index: int) -> None:
        assignment, kind = self._build.shown.assignment(), self._build.view.chord_thumb.itemData(index)
        if assignment is not None:
            plan = replace(assignment.plan, kind=kind, strings=()) if kind else None
            self._set_chord_thumb(tr("Thumb on a chord"), assignment, plan)

    def _set_chord_thumb(self, text: str, assignment: Assignment, plan: ThumbPlan | None) -> None:
        piece, symbol, shape = self._build.shown.piece, assignment.chord.text, assignment.shape
        own = replace(chord_rules(piece, symbol, shape), thumb=plan)
        self._build.shown.edit(text, set_chord_rules(piece, symbol, shape, own))

    def toggle_chord_walk(self) -> None:
        """Walk out of the chord under the cursor, or no longer."""
        assignment = self._build.shown.assignment()
        if assignment is not None:
            plan = replace(assignment.plan, walk=not assignment.plan.walk)
            standing = standing_rules(self._build.shown.piece, self._build.shown.section).thumb
            self._set_chord_thumb(tr("Walk out of a chord"), assignment, None if plan == standing else plan)

    def show_chord(self, assignment: Assignment | None) -> None:
        """The thumb of the chord under the cursor: its own, or the piece's."""
        box, kind = self._build.view.chord_thumb, ""
        if assignment is not None:
            own = chord_rules(self._build.shown.piece, assignment.chord.text, assignment.shape).thumb
            kind = own.kind if own is not None else ""
        with QSignalBlocker(box):
            box.setCurrentIndex(max(0, box.findData(kind)))
        box.setEnabled(assignment is not None)

    def _edit_rules(self, text: str, rules: Rules) -> None:
        self._build.shown.edit(text, replace(self._build.shown.piece, rules=rules))

    def _thumb_chosen(self, index: int) -> None:
        kind = self._build.view.thumb.itemData(index)
        if kind == "named":
            self.name_thumb()
        else:
            self.set_thumb(ThumbPlan(kind))

    def _fingers_chosen(self, index: int) -> None:
        kind = self._build.view.fingers.itemData(index)
        if kind == "named":
            self.name_fingers()
        else:
            self.set_fingers(FingerPolicy(kind))

    def _thumb_typed(self) -> None:
        if self._build.shown.piece.rules.thumb.kind == "named":
            self._read(self._build.view.thumb_strings, lambda text: self.set_thumb(parse_thumb(text)))

    def _fingers_typed(self) -> None:
        if self._build.shown.piece.rules.fingers.kind == "named":
            self._read(self._build.view.finger_strings, lambda text: self.set_fingers(parse_fingers(text)))

    def _read(self, line: TypedLine, use: object) -> None:
        """Use what was typed, or underline it and say why not."""
        assert callable(use)
        try:
            use(_NAMED + ",".join(re.findall(r"[^\s,]+", line.text().replace("=", ""))))
        except InputError as error:
            line.set_fault((0, len(line.text())))
            self._build.shown.say_fault(error)
        else:
            line.set_fault(None)

    # The pattern.

    def names(self) -> list[str]:
        """What can be chosen: the piece's own patterns, the player's, then the built-in ones of the meter in
        a fixed order, so that stepping comes through all of them."""
        piece = self._build.shown.piece
        rank = {name: index for index, name in enumerate(self._patterns.names(piece.meter))}
        own = (named.name for named in piece.patterns)
        return sorted({*own, *rank}, key=lambda name: (rank.get(name, -1), name))

    def named(self, name: str) -> NamedPattern:
        """The piece's own pattern of that name, the player's, or the built-in one."""
        piece = self._build.shown.piece
        own = next((each for each in piece.patterns if each.name == name), None)
        return own if own is not None else NamedPattern(name, self._patterns.named(name, piece.meter))

    def step_pattern(self, by: int) -> None:
        """The next pattern of the list, or the one before."""
        names = self.names()
        now = self._build.shown.piece.sections[self._build.shown.section].pattern
        self._choose(self.named(names[(names.index(now) + by) % len(names)]))

    def _pattern_chosen(self, index: int) -> None:
        self._choose(self.named(self.names()[index]))

    def _choose(self, named: NamedPattern) -> None:
        try:
            self._build.shown.edit(
                tr("Choose pattern"),
                choose_pattern(self._build.shown.piece, self._build.shown.section, named),
            )
        except GinghamError as error:
            self._build.shown.say_fault(error)

    # Showing.

    def refresh(self) -> None:
        """Show the piece's choices."""
        view, rules = self._build.view, self._build.shown.piece.rules
        for box, kind in ((view.thumb, rules.thumb.kind), (view.fingers, rules.fingers.kind)):
            with QSignalBlocker(box):
                box.setCurrentIndex(box.findData(kind))
        for line, text in (
            (view.thumb_strings, str(replace(rules.thumb, walk=False, each_bar=False))),
            (view.finger_strings, str(rules.fingers)),
        ):
            line.setVisible(text.startswith(_NAMED))
            line.show_text(text.removeprefix(_NAMED))
        self._show_patterns(view.pattern_names)

    def _show_patterns(self, box: PatternBox) -> None:
        names = self.names()
        now = self._build.shown.piece.sections[self._build.shown.section].pattern
        with QSignalBlocker(box):
            box.show_patterns(names, names.index(now), lambda name: self.named(name).pattern)
