"""Room for the thumb: whether the fingers move over, or the thumb stays, for the pattern that is played.

Fingers move only where the thumb really takes string 3 in this pattern, and not where two of them would meet.
"""

from __future__ import annotations

import msgspec

from gingham.core.fitting.fingers import home_strings
from gingham.core.fitting.result import StringChoice
from gingham.core.instruments.instrument import Instrument
from gingham.core.patterns.pattern import Pattern, Pluck, Slot
from gingham.core.pieces.plans import NAMED, PLANS, counted_on, cycle_of
from gingham.core.pieces.rules import FingerPolicy, FourString, Rules, ThumbPlan
from gingham.core.reasons import Reason
from gingham.core.values import replace

_GUITAR = 6
_GIVEN_UP = 3  # the string that the fingers give up to the thumb


class Room(msgspec.Struct, frozen=True, gc=False):
    """What is done.

    `second` is bass 2 where the fingers move over for it; `stays` keeps bare thumb strokes on bass 1; `three`
    gives all three fingers a string of their own on four strings.
    """

    second: int | None = None
    stays: bool = False
    three: bool = False
    notes: tuple[Reason, ...] = ()


def make_room(
    instrument: Instrument,
    plan: ThumbPlan,
    rules: Rules,
    basses: tuple[int, ...],
    pattern: Pattern,
    asked: set[str] | None = None,
) -> Room:
    """How thumb and fingers share the strings of one chord in one pattern.

    `asked` is told whether the pattern was looked at.
    """
    second, policy = basses[1] if len(basses) > 1 else None, rules.fingers
    if instrument.strings == 4:
        return _on_four(plan, policy, pattern, asked)
    if policy.kind != "shift":
        return Room(second)
    if on_four(instrument, rules, basses[0]):
        return _as_told(rules, instrument, plan, pattern, asked)
    moves = second == _GIVEN_UP and basses[0] == _GIVEN_UP + 1 and plan.kind != "rise"
    if not moves:
        return Room()
    if asked is not None:
        asked.add("room")
    if 1 not in lanes_of(pattern, plan):
        return Room()
    homes = home_strings(instrument, plan)
    moved = {finger: max(1, string - 1) for finger, string in homes.items()}
    if _meet(pattern, moved):
        return Room(stays=True, notes=(Reason.of("thumb-makes-room", string=basses[0], second=_GIVEN_UP),))
    return Room(second)


def on_four(instrument: Instrument, rules: Rules, first: int) -> bool:
    """Whether the player's own way with chords of four strings holds here: bass 1 on the thumb's string 4."""
    return told_on_four(instrument, rules, first) and rules.fingers.kind == "shift"


def told_on_four(instrument: Instrument, rules: Rules, first: int) -> bool:
    """Whether a way with chords of four strings was chosen and this is such a chord."""
    return rules.four_string != "shift" and instrument.strings == _GUITAR and first == _GIVEN_UP + 1


def of_four_strings(
    rule: FourString, basses: tuple[StringChoice, ...], pattern: Pattern
) -> tuple[tuple[StringChoice, ...], Pattern]:
    """Basses and pattern of such a chord: `literal` leaves bass 2 on string 4, `block` plucks all at once."""
    if rule == "literal" and len(basses) > 1:
        four = _GIVEN_UP + 1
        return (basses[0], StringChoice(four, (Reason.of("bass-literal", string=four),), four)), pattern
    if rule == "block":
        return basses, _blocked(pattern)
    return basses, pattern


def _blocked(pattern: Pattern) -> Pattern:
    """All four strings wherever the thumb plucks, nothing between."""

    def block(slot: Slot) -> Slot:
        thumb = next((s for s in slot if isinstance(s, Pluck) and s.finger == "p"), None)
        if thumb is None:
            return ()
        return (Pluck("p", lane=1, accent=thumb.accent), *(Pluck(f, accent=thumb.accent) for f in "ima"))

    return replace(pattern, slots=tuple(map(block, pattern.slots)))


def _as_told(
    rules: Rules, instrument: Instrument, plan: ThumbPlan, pattern: Pattern, asked: set[str] | None
) -> Room:
    """The fingers stay; under `thumb-only` the thumb stays on 4 where a finger owns string 3."""
    if asked is not None:
        asked.add("room")
    homes = home_strings(instrument, plan)
    if rules.four_string == "block":
        return Room(stays=True, notes=(Reason.of("all-at-once"),))
    owned = any(_GIVEN_UP in finger_strings_in(slot, homes) for slot in pattern.slots)
    if rules.four_string == "thumb-only" and owned:
        return Room(stays=True, notes=(Reason.of("thumb-only", string=_GIVEN_UP + 1, other=_GIVEN_UP),))
    return Room()


def _on_four(plan: ThumbPlan, policy: FingerPolicy, pattern: Pattern, asked: set[str] | None) -> Room:
    """Four strings: three fingers have their own where the thumb plays one string, or all three pluck."""
    if policy.kind not in ("shift", "home") or PLANS[plan.kind].stays_on_four or plan.kind == NAMED:
        return Room()
    if asked is not None:
        asked.add("room")
    fingers = {stroke.finger for _, stroke in pattern.strokes() if isinstance(stroke, Pluck)}
    if {"i", "m", "a"} <= fingers:
        return Room(stays=True, three=True, notes=(Reason.of("thumb-leaves-three", string=4),))
    return Room(three=1 not in lanes_of(pattern, plan) and "p" in fingers)


def lanes_of(pattern: Pattern, plan: ThumbPlan) -> set[int]:
    """The basses (from 0) that the thumb's strokes reach, counted from the pattern's start and each bar.

    Where the count goes on over bar lines, a stroke that takes the plan's next bass comes to all of them.
    """
    most = len(plan.strings) if plan.kind == NAMED else PLANS[plan.kind].most
    cycle, count, out = cycle_of(plan.kind, most), 0, set[int]()
    for index, slot in enumerate(pattern.slots):
        if pattern.starts[index] % pattern.meter.bar == 0 and not plan.each_bar:
            count = 0
        for stroke in slot:
            if isinstance(stroke, Pluck) and stroke.finger == "p" and not stroke.strings:
                if stroke.lane is None and plan.each_bar:
                    out |= set(cycle)
                out.add(cycle[count % len(cycle)] if stroke.lane is None else stroke.lane - 1)
                count = counted_on(cycle, count, stroke.lane)
    return out


def finger_strings_in(slot: Slot, homes: dict[str, int]) -> set[int]:
    """The strings that fingers pluck in a slot, from their homes."""
    return {string for _finger, string in _placed(slot, homes)}


def _placed(slot: Slot, homes: dict[str, int]) -> list[tuple[str, int]]:
    out: list[tuple[str, int]] = []
    for stroke in slot:
        if isinstance(stroke, Pluck) and stroke.finger != "p":
            own = homes.get(stroke.finger)
            strings = stroke.strings or (() if own is None else (max(1, own + stroke.shift),))
            out += [(stroke.finger, string) for string in strings]
    return out


def _meet(pattern: Pattern, homes: dict[str, int]) -> bool:
    """Whether two fingers would pluck one string at once or in neighbouring slots, all round."""
    slots = [_placed(slot, homes) for slot in pattern.slots]
    for index, slot in enumerate(slots):
        near = [*slot, *slots[(index + 1) % len(slots)]]
        for finger, string in slot:
            if any(other != finger and there == string for other, there in near):
                return True
    return False
