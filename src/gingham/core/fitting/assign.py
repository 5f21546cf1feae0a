"""The assignment of one chord: shape, basses, fingers, and the player's exceptions for this chord."""

from __future__ import annotations

from fractions import Fraction
from itertools import pairwise

import msgspec

from gingham.core.errors import ShapeError
from gingham.core.fitting.fingers import finger_strings
from gingham.core.fitting.held import Held
from gingham.core.fitting.result import Assignment, StringChoice
from gingham.core.fitting.room import finger_strings_in, make_room, of_four_strings, on_four, told_on_four
from gingham.core.fitting.strings_in import refinger
from gingham.core.fitting.thumb import Thumb, bass_one, basses
from gingham.core.hands.motor import motor_of
from gingham.core.instruments.instrument import Instrument
from gingham.core.music.chords import Chord
from gingham.core.music.key import Key, sounding
from gingham.core.music.meter import seconds
from gingham.core.patterns.pattern import Pattern, Pluck, Variant
from gingham.core.pieces.chordline import Span
from gingham.core.pieces.piece import ChordOverride, HereOverride, Piece, RulesOverride, standing_rules
from gingham.core.pieces.plans import PLANS, cycle_of
from gingham.core.pieces.rules import OwnRules, Rules, ThumbPlan
from gingham.core.reasons import Reason
from gingham.core.shapes.context import Grip
from gingham.core.shapes.shape import Shape, misfit
from gingham.core.values import replace


def misfit_of(piece: Piece, span: Span) -> ShapeError | None:
    """Why the shape pinned on a span cannot be on this instrument; None if it can, or without a pin."""
    return None if span.shape is None else misfit(span.shape, piece.instrument, piece.capo)


def variant_of(pattern: Pattern, chord: Chord, bass_string: int) -> Variant | None:
    """The variant of `pattern` that this chord asks for; a symbol goes before a string."""
    for wanted in (chord.text, str(bass_string)):
        for variant in pattern.variants:
            if variant.when == wanted:
                return variant
    return None


class Setting(msgspec.Struct, frozen=True, gc=False):
    """Everything that an assignment depends on beside chord, shape and pattern.

    `whole_note_s` is how long a whole note lasts at the piece's tempo; 0 where no plan asks for time.
    """

    instrument: Instrument
    capo: int
    key: Key
    rules: Rules
    overrides: tuple[ChordOverride | RulesOverride, ...]
    whole_note_s: float

    def own(self, chord: Chord, shape: Shape) -> OwnRules:
        """What one chord has of its own."""
        here = (chord.text, shape)
        for override in self.overrides:
            if isinstance(override, RulesOverride) and (override.symbol, override.shape) == here:
                return override.own
        return _NOTHING


_NOTHING = OwnRules()
_WHOLE_HANDS = ("pima", "pimac", "pick")


def setting_of(piece: Piece, section: int, key: Key) -> Setting:
    """The setting of a section: the piece's rules with what the section has of its own."""
    rules = standing_rules(piece, section)
    on_chords = tuple(o for o in piece.overrides if not isinstance(o, HereOverride))
    timed = PLANS[rules.thumb.kind].hops or any(
        isinstance(o, RulesOverride) and o.own.thumb is not None and PLANS[o.own.thumb.kind].hops
        for o in on_chords
    )
    whole_note_s = seconds(Fraction(1), piece.meter, piece.tempo) if timed else 0.0
    return Setting(piece.instrument, piece.capo, key, rules, on_chords, whole_note_s)


def assign(
    chord: Chord, grip: Grip, pattern: Pattern, setting: Setting, asked: set[str] | None = None
) -> tuple[Assignment, Pattern]:
    """The assignment of `chord` as it is gripped, and the variant of `pattern` that it plays.

    `asked` is told whether the pattern was looked at; if not (and it has no variants), the assignment holds
    for any pattern.
    """
    shape = grip.shape
    held, own = Held(chord, shape, setting.instrument, setting.capo), setting.own(chord, shape)
    rules = own.over(setting.rules)
    plan = rules.thumb
    first = bass_one(held, rules).string
    variant = variant_of(pattern, chord, first)
    played = pattern if variant is None else pattern.as_variant(variant.when)
    by_rule = basses(held, rules, _thumb(held, rules, plan, played, setting.whole_note_s, asked))
    if on_four(setting.instrument, rules, first):
        by_rule, played = of_four_strings(rules.four_string, by_rule, played)
    elif told_on_four(setting.instrument, rules, first):
        by_rule = (_also(by_rule[0], Reason.of("own-fingers", rule=rules.four_string)), *by_rule[1:])
    room = make_room(setting.instrument, plan, rules, tuple(c.string for c in by_rule), played, asked)
    fingers = finger_strings(setting.instrument, plan, rules.fingers, first, room.second, three=room.three)
    by_rule = (_also(by_rule[0], *room.notes), *by_rule[1:])
    chosen = {
        o.lane: o.string
        for o in setting.overrides
        if isinstance(o, ChordOverride) and o.symbol == chord.text and o.shape == shape
    }
    assignment = Assignment(
        chord,
        sounding(chord, setting.capo, setting.key),
        shape,
        grip.fretting,
        tuple(
            _overruled(choice, chosen.get(f"p{number}"), held if number == 1 else None)
            for number, choice in enumerate(by_rule, 1)
        ),
        _overruled_fingers(fingers, chosen),
        (0,) if room.stays else cycle_of(plan.kind, len(by_rule)),
        plan,
        (*_foreign_tones(held), *_grip_notes(grip, chord), *_met(chord, fingers)),
        None if variant is None else variant.when,
        rules.hand,
        rules.hold,
        rules.accents,
        rules.tones,
    )
    return assignment, _for_hand(played, assignment, rules, setting, asked)


def _for_hand(
    pattern: Pattern, assignment: Assignment, rules: Rules, setting: Setting, asked: set[str] | None
) -> Pattern:
    """The pattern, fingered anew where it needs fingers that the player does not use."""
    if rules.hand in _WHOLE_HANDS:
        return pattern
    if asked is not None:
        asked.add("hand")
    used = {stroke.finger for _, stroke in pattern.strokes() if isinstance(stroke, Pluck)}
    if used <= set(rules.hand):
        return pattern
    return refinger(pattern, assignment, setting.instrument, rules.hand, motor_of(rules.level)).pattern


def _also(choice: StringChoice, *reasons: Reason) -> StringChoice:
    return replace(choice, reasons=(*choice.reasons, *reasons)) if reasons else choice


def _thumb(
    held: Held,
    rules: Rules,
    plan: ThumbPlan,
    pattern: Pattern,
    whole_note_s: float,
    asked: set[str] | None,
) -> Thumb:
    """What the plan needs to know of pattern, tempo and fingers."""

    def busy(_bass: int, string: int) -> bool:
        if asked is not None:
            asked.add("busy")
        return _busy(held, rules, plan, pattern, string)

    if whole_note_s and asked is not None:
        asked.add("gap")
    first = bass_one(held, rules).string
    homes = dict(finger_strings(held.on, plan, rules.fingers, first, None))
    index = homes["i"].string if "i" in homes else None
    return Thumb(
        plan,
        busy,
        _thumb_gap(pattern) * whole_note_s,
        motor_of(rules.level),
        index,
        float(rules.muddy_above) if rules.muddy == "avoid" else None,
    )


def _thumb_gap(pattern: Pattern) -> float:
    """The shortest time between two plucks of the thumb, in whole notes; the pattern goes round."""
    at = sorted({pattern.starts[i] for i, s in pattern.strokes() if isinstance(s, Pluck) and s.finger == "p"})
    if len(at) < 2:
        return float(pattern.length)
    return float(min(b - a for a, b in pairwise([*at, at[0] + pattern.length])))


def _grip_notes(grip: Grip, chord: Chord) -> tuple[Reason, ...]:
    """A pinned shape that no hand can hold is allowed, but said."""
    if grip.fretting is not None:
        return ()
    return (Reason.of("no-grip", chord=chord.text, shape=str(grip.shape)),)


def _met(chord: Chord, fingers: tuple[tuple[str, StringChoice], ...]) -> tuple[Reason, ...]:
    """Fingers that follow the first bass onto the second one's string."""
    return tuple(
        Reason.of("bass-met", chord=chord.text, finger=finger, string=choice.string)
        for finger, choice in fingers
        if choice.reasons[0].code == "finger-meets-bass"
    )


def _overruled(choice: StringChoice, string: int | None, held: Held | None = None) -> StringChoice:
    """The player's string; a first bass (with `held`) that is not the chord's own is one for the tune."""
    if string is None or string == choice.string:
        return choice
    tune = held is not None and held.sounds(string) and not held.is_bass(string)
    code = "overruled-tune" if tune else "overruled"
    return StringChoice(string, (Reason.of(code, string=string, rule=choice.string),), choice.string, True)


def _overruled_fingers(
    fingers: tuple[tuple[str, StringChoice], ...], chosen: dict[str, int]
) -> tuple[tuple[str, StringChoice], ...]:
    out = {finger: _overruled(choice, chosen.get(finger)) for finger, choice in fingers}
    for lane, string in chosen.items():
        if not lane.startswith("p") and lane not in out:  # a finger that has no string by the rule
            out[lane] = StringChoice(string, (Reason.of("overruled-idle", string=string),), 0, True)
    return tuple(out.items())


def _foreign_tones(held: Held) -> tuple[Reason, ...]:
    """Strings of the shape that sound a tone the symbol does not name."""
    out = []
    for string in held.shape.sounding:
        _, note, own = held.chord.tone_at(held.midi(string))
        if not own:
            out.append(Reason.of("foreign-tone", string=string, note=str(note), chord=held.chord.text))
    return tuple(out)


def _busy(held: Held, rules: Rules, plan: ThumbPlan, pattern: Pattern, string: int) -> bool:
    """Whether a finger plays `string` somewhere in the pattern, before any moving over."""
    first = bass_one(held, rules).string
    homes = {f: c.string for f, c in finger_strings(held.on, plan, rules.fingers, first, None)}
    return any(string in finger_strings_in(slot, homes) for slot in pattern.slots)
