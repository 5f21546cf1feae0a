"""Strokes become events: one stretch of the pattern played on one chord."""

from __future__ import annotations

from fractions import Fraction
from functools import lru_cache
from itertools import pairwise

import msgspec

from gingham.core.fitting.placing import Stretch, slots_under
from gingham.core.fitting.result import Assignment, Event, EventKind
from gingham.core.instruments.instrument import Instrument
from gingham.core.music.meter import Meter, count_at
from gingham.core.music.pitch import Pitch, pitch_from_midi
from gingham.core.patterns.pattern import (
    FINGERS,
    Ornament,
    Pattern,
    Pluck,
    Slot,
    StringStroke,
    Stroke,
    Sweep,
    SweepKind,
    slot_starts,
)
from gingham.core.pieces.plans import counted_on
from gingham.core.reasons import Problem

IMPOSSIBLE = frozenset(
    {
        "muted-string", "same-string", "string-missing", "finger-twice", "finger-idle", "bass-missing",
        "no-bass", "sweep-empty", "ornament-idle", "ornament-far", "crossed", "pick-apart",
    }
)  # fmt: skip
"""Codes of problems that keep a stroke from being played as it stands."""
Plucked = tuple[tuple[int, bool], ...]
Pitches = dict[tuple[int, int | None], tuple[Pitch | None, str | None]]
Turns = tuple[tuple[tuple[str, tuple[int, ...]], int], ...]
_MOST_SLOTS = 4096
_REACH, _WIDE_FROM, _FINGERS = 3, 5, 4


class Carry(msgspec.Struct, frozen=True, gc=False):
    """What one stretch hands to the next: thumb strokes counted, turns taken, the bar's last bass string.

    `bass` is 0 before the thumb has plucked in the bar.
    """

    count: int = 0
    turns: Turns = ()
    bass: int = 0


class StretchFit(msgspec.Struct, frozen=True, gc=False):
    """The events and problems of one stretch, with what it hands on.

    `head` and `tail` hold (string, whether the thumb plucks it) of the first and the last slot.
    """

    events: tuple[Event, ...]
    problems: tuple[Problem, ...]
    degrees: tuple[str, ...]
    strings: frozenset[int]
    carry: Carry
    head: Plucked
    tail: Plucked


class Place(msgspec.Struct, frozen=True, eq=False, gc=False):
    """A slot of the grid under a stretch: where it lies in the bar, its count, whether it opens the bar."""

    index: int
    at: Fraction
    length: Fraction
    count: str
    opens: bool


class SlotFit(msgspec.Struct, frozen=True, eq=False, gc=False):
    """One slot as it was played, and what it left behind; the place is kept so that its identity stays."""

    place: Place
    events: tuple[Event, ...]
    problems: tuple[Problem, ...]
    count: int
    bass: int
    tail: Plucked


class Known(msgspec.Struct):
    """What is remembered of one assignment for whatever is played on it next.

    An edit changes one slot of a pattern; the others are looked up by place, strokes, the thumb's count, the
    bar's last bass and what was plucked before.
    """

    pitches: Pitches = msgspec.field(default_factory=dict)
    slots: dict[tuple[int, Slot, int, int, Plucked], SlotFit] = msgspec.field(default_factory=dict)


class _Hand(msgspec.Struct):
    """Everything that one stretch needs while its slots are played, and what has come out so far."""

    assignment: Assignment
    on: Instrument
    capo: int
    meter: Meter
    cycle: tuple[int, ...]
    count: int
    turns: dict[tuple[str, tuple[int, ...]], int]
    bar_length: Fraction
    missing: Fraction
    known: Known
    bass: int
    syllable: str = ""
    """The count of the slot that is being played."""
    tail: Plucked = ()
    events: list[Event] = msgspec.field(default_factory=list)
    problems: list[Problem] = msgspec.field(default_factory=list)

    def problem(self, code: str, at: Fraction, **values: str | int) -> None:
        """Note a problem at a place of the bar."""
        self.problems.append(Problem.of(code, at, chord=self.assignment.chord.text, **values))


def play(
    pattern: Pattern,
    stretch: Stretch,
    assignment: Assignment,
    instrument: Instrument,
    capo: int,
    carry: Carry,
    known: Known,
) -> StretchFit:
    """The events of the part of `pattern` that lies under `stretch`, on `assignment`.

    `carry.count` must be 0 where the stretch starts the thumb's count again.
    """
    hand = _Hand(
        assignment,
        instrument,
        capo,
        pattern.meter,
        assignment.cycle,
        carry.count,
        dict(carry.turns),
        pattern.meter.bar,
        stretch.missing,
        known,
        carry.bass,
    )
    head: Plucked | None = None
    for place in _places(pattern.meter, pattern.per_beat, len(pattern.slots), stretch):
        _play_known(hand, pattern.slots[place.index], place)
        head = hand.tail if head is None else head
    events = tuple(hand.events)
    degrees = tuple(dict.fromkeys(e.degree for e in events if e.degree is not None))
    strings = frozenset(event.string for event in events)
    turns = tuple(sorted((key, used % len(key[1])) for key, used in hand.turns.items()))
    count = hand.count % len(hand.cycle) if hand.cycle else 0
    return StretchFit(
        events, tuple(hand.problems), degrees, strings, Carry(count, turns, hand.bass), head or (), hand.tail
    )


@lru_cache(maxsize=1024)
def _places(meter: Meter, per_beat: tuple[int, ...], count: int, stretch: Stretch) -> tuple[Place, ...]:
    """Every slot of a grid that lies under a stretch."""
    return tuple(
        Place(index, at, length, count_at(meter, at + stretch.missing), at % meter.bar == 0)
        for index, at, length in slots_under(slot_starts(meter, per_beat, count), stretch)
    )


def _play_known(hand: _Hand, slot: Slot, place: Place) -> None:
    """Play one slot, or add what it came to when it was played the same way before."""
    if place.opens:
        hand.bass = 0
    slots, key = hand.known.slots, (id(place), slot, hand.count, hand.bass, hand.tail)
    fitted = slots.get(key)
    if fitted is not None:
        hand.events += fitted.events
        hand.problems += fitted.problems
        hand.count, hand.bass, hand.tail = fitted.count, fitted.bass, fitted.tail
        return
    events, problems = len(hand.events), len(hand.problems)
    _play_slot(hand, slot, place)
    if any(isinstance(stroke, Pluck) and len(stroke.strings) > 1 for stroke in slot):
        return  # its strings take turns: the same strokes need not come to the same again
    if len(slots) >= _MOST_SLOTS:
        slots.clear()
    slots[key] = SlotFit(
        place, tuple(hand.events[events:]), tuple(hand.problems[problems:]), hand.count, hand.bass, hand.tail
    )


def _play_slot(hand: _Hand, slot: Slot, place: Place) -> None:
    at = place.at
    hand.syllable = place.count
    before = len(hand.events)
    fingers: list[str] = []
    for stroke in slot:
        if isinstance(stroke, Pluck):
            if stroke.finger in fingers:
                hand.problem("finger-twice", at, finger=stroke.finger)
            fingers.append(stroke.finger)
        _play_stroke(hand, stroke, place.index, at, place.length)
    plucked = [(e.string, e.finger == "p") for e in hand.events[before:] if e.kind == "pluck"]
    _check_strings(hand, plucked, at)
    if len(fingers) > 1:
        _check_crossing(hand, hand.events[before:], at)
    hand.tail = tuple(plucked)


def _check_strings(hand: _Hand, plucked: list[tuple[int, bool]], at: Fraction) -> None:
    """Two on one string at once is impossible; thumb and finger in neighbouring slots cut the note."""
    strings = [string for string, _ in plucked]
    for string in sorted(set(strings)):
        if strings.count(string) > 1:
            hand.problem("same-string", at, string=string)
    for string in cut_notes(hand.tail, tuple(plucked)):
        hand.problem("cuts-note", at, string=string)


def _check_crossing(hand: _Hand, events: list[Event], at: Fraction) -> None:
    """In a pinch each finger lies nearer to string 1 than those before it, thumb first."""
    own = [e for e in events if e.kind == "pluck" and e.finger is not None]
    own.sort(key=lambda event: FINGERS.index(event.finger or "p"))
    for one, other in pairwise(own):
        if other.string > one.string:
            hand.problem(
                "crossed",
                at,
                finger=one.finger or "",
                string=one.string,
                other=other.finger or "",
                over=other.string,
            )


def cut_notes(before: Plucked, after: Plucked) -> list[int]:
    """Strings that thumb and finger pluck one after the other in neighbouring slots."""
    return [string for string, by_thumb in after if (string, not by_thumb) in before]


def _play_stroke(hand: _Hand, stroke: Stroke, index: int, at: Fraction, length: Fraction) -> None:
    if isinstance(stroke, Sweep):
        _sweep(hand, stroke, index, at)
    elif isinstance(stroke, StringStroke):
        # Bare strings are read into fingers before fitting; what is left has no finger of its own.
        _sound(hand, at, stroke.string, stroke.fret, None, None, stroke.accent, "pluck", index)
    else:
        _pluck(hand, stroke, index, at, length)


def _pluck(hand: _Hand, stroke: Pluck, index: int, at: Fraction, length: Fraction) -> None:
    found = _thumb_string(hand, stroke, at) if stroke.finger == "p" else _finger_string(hand, stroke, at)
    if found is None:
        return
    if not 1 <= found.string <= hand.on.strings:
        hand.problem("string-missing", at, string=found.string, finger=stroke.finger)
        return
    fret = stroke.fret if stroke.fret is not None else found.fret
    if stroke.ornament is not None and stroke.ornament == Ornament("hammer"):
        fret = 0  # the string is plucked open, the shape's finger then hammers on
    _sound(
        hand, at, found.string, fret, stroke.finger, found.lane, stroke.accent, "pluck", index,
        found.overridden,
    )  # fmt: skip
    if stroke.finger == "p":
        hand.bass = found.string
    if stroke.ornament is not None:
        _ornament(hand, stroke.ornament, found.string, index, at, length)


class _Found(msgspec.Struct, frozen=True, gc=False):
    """Where a stroke goes: its string, a thumb stroke's bass number, a fret that is not the shape's."""

    string: int
    lane: int | None = None
    overridden: bool = False
    fret: int | None = None


def _thumb_string(hand: _Hand, stroke: Pluck, at: Fraction) -> _Found | None:
    basses = hand.assignment.basses
    if not basses:
        hand.problem("no-bass", at)
        return None
    lane = hand.cycle[hand.count % len(hand.cycle)] if stroke.lane is None else stroke.lane - 1
    hand.count = counted_on(hand.cycle, hand.count, stroke.lane)
    if lane >= len(basses):
        hand.problem("bass-missing", at, lane=lane + 1, last=len(basses))
        lane = len(basses) - 1
    choice = basses[lane]
    string = _fixed_string(hand, stroke)
    if string is None:
        string = _within(hand, choice.string + stroke.shift)
    fret = choice.fret if string == choice.string else None
    return _Found(string, lane + 1, choice.overridden, fret)


def _finger_string(hand: _Hand, stroke: Pluck, at: Fraction) -> _Found | None:
    fixed = _fixed_string(hand, stroke)
    if fixed is not None:
        return _Found(fixed)
    choice = hand.assignment.finger(stroke.finger)
    if choice is None:
        hand.problem("finger-idle", at, finger=stroke.finger)
        return None
    return _Found(_within(hand, choice.string + stroke.shift), overridden=choice.overridden)


def _within(hand: _Hand, string: int) -> int:
    """A shifted string number kept on the instrument: past string 1 the finger stays on 1."""
    return min(max(1, string), hand.on.strings)


def _fixed_string(hand: _Hand, stroke: Pluck) -> int | None:
    if not stroke.strings:
        return None
    key = (stroke.finger, stroke.strings)
    used = hand.turns.get(key, 0)
    if len(stroke.strings) > 1:
        hand.turns[key] = used + 1
    return stroke.strings[used % len(stroke.strings)]


def _sound(
    hand: _Hand,
    at: Fraction,
    string: int,
    fret: int | None,
    finger: str | None,
    lane: int | None,
    accent: int,
    kind: EventKind,
    slot: int,
    overridden: bool = False,
) -> None:
    if not 1 <= string <= hand.on.strings:
        hand.problem("string-missing", at, string=string, finger=finger or "")
        return
    held = hand.assignment.shape.fret(string) if fret is None else fret
    if held is None:
        hand.problem("muted-string", at, string=string, finger=finger or "")
    pitches = hand.known.pitches
    if (string, held) not in pitches:
        pitches[string, held] = pitch_on(hand.assignment, hand.on, hand.capo, string, held)
    pitch, degree = pitches[string, held]
    hand.events.append(
        Event(
            at,
            hand.syllable,
            finger,
            lane,
            string,
            held,
            pitch,
            degree,
            accent,
            kind,
            slot,
            overridden,
        )
    )


def pitch_on(
    assignment: Assignment, instrument: Instrument, capo: int, string: int, fret: int | None
) -> tuple[Pitch | None, str | None]:
    """Sounding pitch (spelled by the sounding chord) and degree of a string at a fret from the capo."""
    if fret is None:
        return None, None
    midi = instrument.open_midi(string) + capo + fret
    degree, note, _ = assignment.sounding.tone_at(midi)
    return pitch_from_midi(midi, note), str(degree)


def _sweep(hand: _Hand, stroke: Sweep, index: int, at: Fraction) -> None:
    shape = hand.assignment.shape
    low, high = (min(stroke.span), max(stroke.span)) if stroke.span is not None else _usual_span(hand, stroke)
    strings = [s for s in range(high, low - 1, -1) if 1 <= s <= hand.on.strings and shape.fret(s) is not None]
    if not strings:
        hand.problem("sweep-empty", at)
    if stroke.kind == "brush-up":
        strings.reverse()
    finger = "p" if stroke.kind == "thumb-brush" else "i"
    kind = "brush-down" if stroke.kind == "thumb-brush" else stroke.kind
    for string in strings:
        _sound(hand, at, string, None, finger, None, stroke.accent, kind, index)


def _usual_span(hand: _Hand, stroke: Sweep) -> tuple[int, int]:
    """The lowest and the highest string number that a hand covers: down from below the bar's last bass."""
    if stroke.kind in _SPANS:
        return _SPANS[stroke.kind]
    basses = hand.assignment.basses
    if stroke.kind == "brush-down" and hand.bass:
        return 1, hand.bass - 1
    return 1, basses[0].string if basses else hand.on.strings


_SPANS: dict[SweepKind, tuple[int, int]] = {"brush-up": (1, 3), "chuck": (2, 4)}


def _within_reach(assignment: Assignment, string: int, before: int, target: int) -> bool:
    """Whether a finger gets from one fret to another of a string while the others hold the shape.

    The reach is that of a shape: three frets, four from fret 5 on. A fret that the shape does not hold
    needs a finger that is free.
    """
    count = len(assignment.shape.frets)
    frets = assignment.shape.frets
    others = [f for i, f in enumerate(frets) if f and count - i != string]
    pressed = [*others, *(fret for fret in (before, target) if fret)]
    low, high = min(pressed, default=0), max(pressed, default=0)
    if high - low > _REACH + (low >= _WIDE_FROM):
        return False
    added = {fret for fret in (before, target) if fret} - {assignment.shape.fret(string)}
    fretting = assignment.fretting
    busy = {finger for finger in (fretting.fingers if fretting is not None else ()) if finger}
    return len(busy) + len(added) <= _FINGERS or not added


def _ornament(
    hand: _Hand, ornament: Ornament, string: int, index: int, at: Fraction, length: Fraction
) -> None:
    """The fretting hand's own note in the slot after the pluck; before a bar line half a slot after it."""
    target = ornament.fret
    if target is None:
        target = 0 if ornament.kind == "pull" else hand.assignment.shape.fret(string)
    before = hand.events[-1].fret
    if target is None or target == before:
        hand.problem("ornament-idle", at, kind=ornament.kind, string=string)
        return
    if ornament.kind != "slide" and not _within_reach(hand.assignment, string, before or 0, target):
        hand.problem("ornament-far", at, kind=ornament.kind, string=string, fret=max(target, before or 0))
    later = at + length if at + length < hand.bar_length else at + length / 2
    said, hand.syllable = hand.syllable, count_at(hand.meter, later + hand.missing)
    _sound(hand, later, string, target, None, None, 0, ornament.kind, index)
    hand.syllable = said
