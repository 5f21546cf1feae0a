"""Is it playable: the top speed and what sets it, how busy each finger is, the pattern for another hand."""

from __future__ import annotations

from PySide6.QtWidgets import QVBoxLayout

from gingham.app.views.bench.desk import Desk
from gingham.app.views.bench.strip import PatternStrip, beside
from gingham.app.widgets.levels import show_level
from gingham.app.widgets.parts import BenchPage, box, button, head, on_button, plain, row
from gingham.core.fitting.strings_in import Refingered, refinger
from gingham.core.hands.motor import motor_of
from gingham.core.judging.part import part_under, rates
from gingham.core.pieces.rules import ACCENTS, HANDS, LEVELS, TOUCHES, VOICES
from gingham.core.values import replace
from gingham.language import tr
from gingham.words.bench import fix_text, part_text, rate_text
from gingham.words.names import ACCENT_NAMES, HAND_NAMES, LEVEL_NAMES, TOUCH_NAMES, VOICE_NAMES, signs
from gingham.words.reasons import spot_text
from gingham.words.saying import count_words, pick_words

_CARE = tr(
    "Go slower than the top speed at first. Keep the wrist straight and relaxed, take breaks, stop at pain; "
    "your teacher’s word goes before these numbers."
)


class HandPage(BenchPage):
    """The verdict on the piece's pattern, and the same pattern for fewer fingers."""

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self._desk = desk
        self._refingered: Refingered | None = None
        self.speed = plain()
        self.fix_button = button(
            tr("Make it easier"), tr("The change that raises the top speed most"), desk.shown.take_fix
        )
        self.rates = plain()
        self.level = box(tr("Level of the hand"), [(k, LEVEL_NAMES[k]) for k in LEVELS])
        self.accents = box(tr("Accents"), [(k, ACCENT_NAMES[k]) for k in ACCENTS])
        self.level.activated.connect(lambda index: self._rule("level", self.level.itemData(index)))
        self.accents.activated.connect(lambda index: self._rule("accents", self.accents.itemData(index)))
        self.touch = box(tr("What meets the string"), [(k, TOUCH_NAMES[k]) for k in TOUCHES])
        self.voice = box(tr("Strings that are heard"), [(k, VOICE_NAMES[k]) for k in VOICES])
        self.touch.activated.connect(lambda index: self._rule("touch", self.touch.itemData(index)))
        self.voice.activated.connect(lambda index: self._rule("voice", self.voice.itemData(index)))
        self.hand = box(tr("Hand"), [(k, HAND_NAMES[k]) for k in HANDS])
        self.hand.activated.connect(lambda _index: self._hand_chosen())
        self.strip = PatternStrip(desk.appearance)
        self.about = plain()
        self._lay_out()

    def _lay_out(self) -> None:
        column = QVBoxLayout(self)
        column.addWidget(head(tr("Comfortable top speed")))
        column.addLayout(row(tr("for a"), self.level, tr("hand"), 1))
        column.addWidget(self.speed)
        column.addLayout(row(self.fix_button, 1))
        column.addWidget(self.rates)
        care = plain(_CARE)
        care.setProperty("quiet", True)
        column.addWidget(care)
        column.addSpacing(8)
        column.addWidget(head(tr("Accents and sound")))
        hear = button(tr("Hear it"), tr("With these accents and this sound"), self.hear)
        column.addLayout(row(self.accents, tr("plucked with"), self.touch, tr("on"), self.voice, hear, 1))
        column.addSpacing(8)
        column.addWidget(head(tr("For another hand")))
        column.addLayout(row(tr("the pattern for"), self.hand, 1))
        column.addLayout(beside(self.strip, self.about))
        column.addLayout(
            row(
                button(tr("Use it"), tr("The section plays it with this hand"), self.take),
                button(tr("Hear it"), tr("On the first bars of your chords"), self.hear_refingered),
                1,
            )
        )
        column.addStretch(1)

    def _rule(self, name: str, value: str) -> None:
        piece = self._desk.piece
        rules = replace(piece.rules, **{name: value})  # type: ignore[arg-type]  # all of them are texts
        self._desk.shown.edit(name.capitalize(), replace(piece, rules=rules))

    # Showing.

    def refresh(self) -> None:
        """Show the verdict on the piece as it is now."""
        rules = self._desk.piece.rules
        for which, value in (
            (self.accents, rules.accents), (self.touch, rules.touch), (self.voice, rules.voice),
        ):  # fmt: skip
            which.setCurrentIndex(which.findData(value))
        show_level(self.level, rules.level)
        if self._refingered is None:
            self.hand.setCurrentIndex(self.hand.findData(rules.hand))
        self._show_speed()
        self._refinger()

    def _show_speed(self) -> None:
        result, limit = self._desk.result, self._desk.shown.limit
        if result is None:
            return
        spots = "; ".join(spot_text(spot) for spot in limit.spots) or tr("nothing holds it back")
        over = tr(" Your tempo is above it.") if result.piece.tempo > limit.tempo else ""
        self.speed.setText(
            tr("{tempo} beats a minute, set by {spots}.{over}", tempo=limit.tempo, spots=spots, over=over)
        )
        verdict = self._desk.shown.verdict
        fix = verdict.fix if verdict is not None and verdict.result is result else None
        self.fix_button.setEnabled(fix is not None)
        way = fix_text(fix) if fix is not None else tr("No single change raises it")
        self.fix_button.setText(on_button(way))
        words = [rate_text(rates(result))]
        index = self._desk.shown.span_index()
        part = part_under(result, index) if index >= 0 else None
        if part is not None:
            chord = result.spans[index].span.chord
            words.append(f"{signs(chord.text) if chord is not None else ''}: {part_text(part)}")
        self.rates.setText(" ".join(words))

    def _hand_chosen(self) -> None:
        self._refingered = None
        self._refinger()

    def _refinger(self) -> None:
        """The pattern for the chosen hand, and what it cannot play."""
        desk, hand = self._desk, self.hand.currentData()
        assignment, piece = desk.assignment, desk.piece
        if assignment is None:
            self.about.setText(tr("Type chords first: fingers are found for the strings of a chord."))
            return
        if hand == "pick":
            self._refingered = Refingered(desk.pattern, ())
            self.strip.show_pattern(desk.pattern)
            self.about.setText(
                tr(
                    "Pick strokes: {pick_words}\nCount: {count_words}\nA pick plucks one string at a time: "
                    "pinches become two strokes or are left out.",
                    pick_words=pick_words(desk.pattern),
                    count_words=count_words(desk.pattern, desk.appearance.theme.naming),
                )
            )
            return
        found = refinger(desk.pattern, assignment, piece.instrument, hand, motor_of(piece.rules.level))
        self._refingered = found
        changed = [i for i, slot in enumerate(found.pattern.slots) if slot != desk.pattern.slots[i]]
        self.strip.show_pattern(found.pattern, frozenset(changed))
        self.about.setText(_impossible_text(found, signs(assignment.chord.text)))

    def hear(self) -> None:
        """Play the piece's pattern with its accents."""
        self._desk.hear(self._desk.pattern)

    def hear_refingered(self) -> None:
        """Play the pattern for the chosen hand."""
        if self._refingered is not None:
            self._desk.hear(self._refingered.pattern)

    def take(self) -> None:
        """Play with this hand from now on."""
        found, hand = self._refingered, self.hand.currentData()
        if found is None:
            return
        desk = self._desk
        if found.pattern != desk.pattern and not desk.take(tr("Other hand"), found.pattern):
            return
        desk.shown.edit(
            tr("Hand"), replace(desk.piece, rules=replace(desk.piece.rules, hand=hand)), merge="hand"
        )


def _impossible_text(found: Refingered, chord: str) -> str:
    if not found.impossible:
        return tr("Every pluck has a finger (found on {chord}).", chord=chord)
    gone = "; ".join(
        tr("string {string} at place {place}", string=string, place=place + 1)
        for place, string in found.impossible
    )
    return tr(
        "This hand cannot play everything at once: it leaves out {gone} (found on {chord}).",
        gone=gone,
        chord=chord,
    )
