"""What clicks, drags and keys in the three pictures mean: each is one edit of the piece, one undo step."""

from __future__ import annotations

from collections.abc import Callable

from gingham.app.views.builder.pattern_canvas import pattern_at, played
from gingham.app.views.builder.pictures import Pictures
from gingham.app.widgets.ask import Option
from gingham.app.widgets.geometry import Column
from gingham.core.errors import GinghamError
from gingham.core.fitting.result import Event, Result
from gingham.core.patterns import pattern as patterns
from gingham.core.patterns.grid import stroke_of
from gingham.core.patterns.pattern import Pattern, Pluck
from gingham.core.pieces.edits import add_override, override_of, remove_override
from gingham.core.pieces.form_edits import reshape_bar
from gingham.core.pieces.piece import ChordOverride, HereOverride, Override
from gingham.language import tr
from gingham.words.actions import key_of
from gingham.words.names import FINGER_NAMES, signs
from gingham.words.notices import notice

Change = Callable[[Pattern, int], Pattern]


class Gestures:
    """Turns intents of the canvases into edits."""

    def __init__(self, build: Pictures) -> None:
        self._build = build
        view = build.view
        for canvas in (view.result, view.pattern):
            canvas.finger_toggled.connect(self.toggle)
            canvas.bass_chosen.connect(self.choose_bass)
        view.result.accent_wanted.connect(self.accent)
        view.result.rest_wanted.connect(self.rest)
        view.pattern.finger_moved.connect(self.move)
        view.result.pluck_moved.connect(self.move_pluck)
        view.result.pluck_left_out.connect(self.leave_out)
        view.strings.string_chosen.connect(self.choose_string)
        view.strings.rule_wanted.connect(self.back_to_rule)

    # The pattern.

    def _edit_pattern(
        self, text: str, column: Column | None, change: Callable[[Pattern, int], Pattern]
    ) -> None:
        """Change the pattern (or the variant that the column's chord plays) at the column's place."""
        build, result = self._build, self._build.view.pattern.result
        if column is None or result is None or result.piece is not build.shown.piece:
            return  # the picture is a moment behind the piece: the place could be another one
        assignment = result.spans[column.span].assignment
        when = assignment.variant if assignment is not None else None
        changed = change(played(result, column), column.slot)
        whole = pattern_at(result, column).with_variant(when, changed.slots)
        try:
            after = reshape_bar(build.shown.piece, build.shown.section, column.bar, whole)
        except GinghamError as error:
            build.shown.say_fault(error)
        else:
            build.shown.edit(text, after)

    def toggle(self, column: int, finger: str) -> None:
        """A finger in or out."""
        self._edit_pattern(
            FINGER_NAMES[finger].capitalize(),
            self._build.place(column),
            lambda pattern, slot: patterns.toggled(pattern, slot, finger),
        )

    def choose_bass(self, column: int, number: int) -> None:
        """The thumb's written bass: that number, or by the count again."""
        self._edit_pattern(
            tr("Bass"),
            self._build.place(column),
            lambda pattern, slot: patterns.with_bass(pattern, slot, number),
        )

    def accent(self, column: int) -> None:
        """No accent, one, two."""
        self._edit_pattern(tr("Accent"), self._build.place(column), patterns.accented)

    def rest(self, column: int) -> None:
        """Nothing is plucked there."""
        self._edit_pattern(
            tr("Rest"), self._build.place(column), lambda pattern, slot: pattern.with_slot(slot, ())
        )

    def move(self, column: int, finger: str, to_column: int, to_finger: str) -> None:
        """A pluck to another time or finger."""
        target = self._build.place(to_column)
        if target is not None:

            def change(pattern: Pattern, slot: int) -> Pattern:
                if stroke_of(pattern, slot, finger) is None:
                    return patterns.sweep_moved(pattern, slot, target.slot)
                return patterns.moved(pattern, slot, target.slot, finger, to_finger)

            self._edit_pattern(tr("Move"), self._build.place(column), change)
            self._build.set_column(to_column)

    # The strings for one chord.

    def choose_string(self, lane: str, string: int) -> None:
        """A bass or finger on another string for this chord; what the rule says is no exception."""
        build, assignment = self._build, self._build.shown.assignment()
        if assignment is None:
            return
        choice, override = (
            assignment.lane(lane),
            ChordOverride(assignment.chord.text, assignment.shape, lane, string),
        )
        if choice is not None and choice.by_rule == string:
            self.back_to_rule(lane)
        else:
            build.shown.edit(tr("Strings for a chord"), add_override(build.shown.piece, override))

    def back_to_rule(self, lane: str) -> None:
        """Take the exception of a bass or finger on this chord away."""
        build, assignment = self._build, self._build.shown.assignment()
        if assignment is None:
            return
        found = override_of(
            build.shown.piece, ChordOverride(assignment.chord.text, assignment.shape, lane, 0)
        )
        if found is not None:
            build.back_to_rule(found)

    # Plucks of the result.

    def _found(self, column: int, string: int) -> tuple[Column, Event, Result] | None:
        build = self._build
        place, event = build.place(column), build.view.result.event_at(column, string)
        if place is None or event is None or build.shown.result is None or event.finger is None:
            return None
        if event.kind == "walk":
            build.shown.notice.emit(notice("pluck-walks", walk=key_of("chord-walk")))
            return None
        if not event.plucked:
            build.shown.notice.emit(notice("brush-whole"))
            return None
        return place, event, build.shown.result

    def move_pluck(self, column: int, string: int, to_string: int) -> None:
        """Ask how far the move goes: only here, on this chord, everywhere."""
        found = self._found(column, string)
        if found is None:
            return
        place, event, result = found
        finger = event.finger or ""
        assignment = result.spans[place.span].assignment
        stroke = _stroke_at(result, place, finger)
        options: list[Option] = [
            ("o", tr("Only here"), lambda: self._here(place, event, to_string)),
        ]
        if assignment is not None and (stroke is None or not stroke.strings):
            lane = f"p{event.lane}" if finger == "p" else finger
            aim = to_string - (stroke.shift if stroke is not None else 0)
            options.append(
                (
                    "t",
                    tr("On every {text}", text=signs(assignment.chord.text)),
                    lambda: self.choose_string(lane, aim),
                )
            )
        if stroke is not None:
            options.append(("e", tr("Everywhere"), lambda: self._everywhere(place, event, to_string)))
        self._ask(
            tr(
                "{who}, string {string} to {to_string}:",
                who=FINGER_NAMES[finger].capitalize(),
                string=string,
                to_string=to_string,
            ),
            options,
        )

    def leave_out(self, column: int, string: int) -> None:
        """Ask how far a pluck is left out; one that is left out comes back at once."""
        found = self._found(column, string)
        if found is None:
            return
        place, event, _ = found
        if event.silent:
            self._remove_here(place, event)
            return
        name = FINGER_NAMES[event.finger or "p"]
        options: list[Option] = [
            ("o", tr("Only here"), lambda: self._here(place, event, None)),
            ("e", tr("Everywhere"), lambda: self.toggle(column, event.finger or "p")),
        ]
        self._ask(tr("Leave the {name} out:", name=name), options)

    def _ask(self, question: str, options: list[Option]) -> None:
        view = self._build.view
        view.ask.ask(question, options, view.ask_place(), view.result)

    def _address(self, place: Column, event: Event, string: int | None) -> HereOverride:
        section = self._build.shown.piece.sections[self._build.shown.section].name
        return HereOverride(section, place.bar, event.at, event.finger or "p", string)

    def _here(self, place: Column, event: Event, string: int | None) -> None:
        self._override(tr("Only here"), self._address(place, event, string))

    def _remove_here(self, place: Column, event: Event) -> None:
        found = override_of(self._build.shown.piece, self._address(place, event, None))
        if found is not None:
            self._build.shown.edit(tr("Bring back"), remove_override(self._build.shown.piece, found))

    def _override(self, text: str, override: Override) -> None:
        self._build.shown.edit(text, add_override(self._build.shown.piece, override))
        if isinstance(override, HereOverride) and override.string is not None:
            self._build.view.result.string = override.string

    def _everywhere(self, place: Column, event: Event, string: int) -> None:
        finger = event.finger or "p"

        def change(pattern: Pattern, slot: int) -> Pattern:
            stroke = next(s for s in pattern.slots[slot] if isinstance(s, Pluck) and s.finger == finger)
            return patterns.changed(pattern, slot, finger, patterns.shifted(stroke, event.string, string))

        self._edit_pattern(tr("Everywhere"), place, change)


def _stroke_at(result: Result, place: Column, finger: str) -> Pluck | None:
    """The stroke of the pattern that a pluck comes from."""
    slot = played(result, place).slots[place.slot]
    return next((s for s in slot if isinstance(s, Pluck) and s.finger == finger), None)
