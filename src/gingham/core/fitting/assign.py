"""The assignment of one chord: shape, basses, fingers, and the player's exceptions for this chord."""

from __future__ import annotations

from gingham.core.fitting.fingers import finger_strings
from gingham.core.fitting.result import Assignment, StringChoice
from gingham.core.fitting.thumb import Held, bass_one, basses
from gingham.core.instruments.instrument import Instrument
from gingham.core.music.chords import Chord
from gingham.core.music.key import Key, sounding
from gingham.core.patterns.pattern import Pattern, Pluck, Slot, Variant
from gingham.core.pieces.piece import ChordOverride
from gingham.core.pieces.rules import Rules
from gingham.core.reasons import Reason
from gingham.core.shapes.fretting import fretting
from gingham.core.shapes.search import shapes_for
from gingham.core.shapes.shape import Shape


def shape_of(chord: Chord, pinned: Shape | None, on: Instrument, capo: int) -> Shape | None:
    """The pinned shape, else the easiest one; None where no hand can hold the chord."""
    if pinned is not None:
        return pinned
    found = shapes_for(chord, on, capo)
    return found[0].shape if found else None


def variant_of(pattern: Pattern, chord: Chord, bass_string: int) -> Variant | None:
    """The variant of `pattern` that this chord asks for; a symbol goes before a string."""
    for wanted in (chord.text, str(bass_string)):
        for variant in pattern.variants:
            if variant.when == wanted:
                return variant
    return None


def assign(
    chord: Chord,
    shape: Shape,
    pattern: Pattern,
    on: Instrument,
    capo: int,
    key: Key,
    rules: Rules,
    overrides: tuple[ChordOverride, ...],
) -> tuple[Assignment, Pattern]:
    """The assignment of `chord` and the variant of `pattern` that it plays."""
    held = Held(chord, shape, on, capo)
    first = bass_one(held, rules).string
    variant = variant_of(pattern, chord, first)
    played = pattern if variant is None else pattern.as_variant(variant.when)
    by_rule = basses(held, rules, lambda bass, string: _busy(held, rules, played, bass, string))
    second = by_rule[1].string if len(by_rule) > 1 else None
    fingers = finger_strings(on, rules.thumb, rules.fingers, second)
    chosen = {o.lane: o.string for o in overrides if o.symbol == chord.text and o.shape == shape}
    assignment = Assignment(
        chord,
        sounding(chord, capo, key),
        shape,
        fretting(shape),
        tuple(_overruled(choice, chosen.get(f"p{number}")) for number, choice in enumerate(by_rule, 1)),
        _overruled_fingers(fingers, chosen),
        _foreign_tones(held),
        None if variant is None else variant.when,
    )
    return assignment, played


def _overruled(choice: StringChoice, string: int | None) -> StringChoice:
    if string is None or string == choice.string:
        return choice
    return StringChoice(
        string, (Reason.of("overruled", string=string, rule=choice.string),), choice.string, True
    )


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


def _busy(held: Held, rules: Rules, pattern: Pattern, first: int, string: int) -> bool:
    """Whether a finger needs `string` in a slot where the second bass falls, with bass 2 put there."""
    homes = {f: c.string for f, c in finger_strings(held.on, rules.thumb, rules.fingers, string)}
    return any(
        string in _finger_strings_in(pattern.slots[index], homes)
        for index in _second_bass_slots(pattern, rules)
    )


def _finger_strings_in(slot: Slot, homes: dict[str, int]) -> set[int]:
    out: set[int] = set()
    for stroke in slot:
        if isinstance(stroke, Pluck) and stroke.finger != "p":
            own = homes.get(stroke.finger)
            out |= set(stroke.strings) or ({own + stroke.shift} if own is not None else set())
    return out


def _second_bass_slots(pattern: Pattern, rules: Rules) -> list[int]:
    """Slots in which the thumb's count reaches bass 2, counted from the pattern's start and each bar."""
    cycle, count, out = rules.thumb.cycle(), 0, []
    for index, slot in enumerate(pattern.slots):
        if pattern.starts[index] % pattern.meter.bar == 0:
            count = 0
        for stroke in slot:
            if isinstance(stroke, Pluck) and stroke.finger == "p":
                lane = cycle[count % len(cycle)] if stroke.lane is None else stroke.lane - 1
                count += 1
                if lane == 1:
                    out.append(index)
    return out
