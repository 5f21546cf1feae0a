"""The picking pattern: which finger plays in which slot of the beat grid. It belongs to the hand."""

from __future__ import annotations

from collections.abc import Iterator
from fractions import Fraction
from functools import lru_cache
from itertools import pairwise
from typing import Literal

import msgspec

from gingham.core.music.meter import Meter, slot_lengths
from gingham.core.values import replace

FINGERS = ("p", "i", "m", "a", "c")
EVERYONE = frozenset({*FINGERS, ""})
"""All that can be heard: five fingers, and the fretting hand's own notes under the empty name."""
MOST_ACCENT = 2


Align = Literal["bar", "chord", "run"]
"""How a pattern is laid on bars: from every bar line, from every chord, or running on."""
PickWay = Literal["down", "up"]
OrnamentKind = Literal["hammer", "pull", "slide"]
SweepKind = Literal["brush-down", "brush-up", "thumb-brush", "chuck"]


class Ornament(msgspec.Struct, frozen=True, gc=False):
    """What the fretting hand does in the slot after the pluck: `hammer`, `pull` or `slide`.

    `fret` is None where the shape decides (hammer-on to the shape's fret, pull-off to the open string).
    """

    kind: OrnamentKind
    fret: int | None = None


class Pluck(msgspec.Struct, frozen=True, gc=False):
    """One finger plucking one string.

    `lane` is the thumb's bass number (None: the plan's next). `shift` moves toward string 1 (negative
    string numbers: −1 is `'`). `strings` fixes the string; several are taken by turns. `fret` replaces
    the shape's fret.
    """

    finger: str
    lane: int | None = None
    shift: int = 0
    strings: tuple[int, ...] = ()
    fret: int | None = None
    ornament: Ornament | None = None
    accent: int = 0


class StringStroke(msgspec.Struct, frozen=True, gc=False):
    """A bare string number: the finger is found from the chord it is read against."""

    string: int
    fret: int | None = None
    accent: int = 0


class Sweep(msgspec.Struct, frozen=True, gc=False):
    """Several strings with one movement: `brush-down`, `brush-up`, `thumb-brush` or `chuck`.

    `span` is (from, to) in string numbers; None means the sounding strings above bass 1.
    """

    kind: SweepKind
    span: tuple[int, int] | None = None
    accent: int = 0


Stroke = Pluck | StringStroke | Sweep
Slot = tuple[Stroke, ...]


class Variant(msgspec.Struct, frozen=True, gc=False):
    """Other slots for chords whose bass 1 is on a string (`when` a number) or for one symbol."""

    when: str
    slots: tuple[Slot, ...]


class Pattern(msgspec.Struct, frozen=True, gc=False):
    """Strokes on a grid: slots per counted beat, slots, and break points (slot indices).

    `read_on` is the symbol of the chord on which bare strings were meant; empty for the first one. `picks`
    are the player's own ways of a flat pick, one for each plucked place, going round.
    """

    meter: Meter
    per_beat: tuple[int, ...]
    slots: tuple[Slot, ...]
    breaks: tuple[int, ...] = ()
    variants: tuple[Variant, ...] = ()
    read_on: str = ""
    picks: tuple[PickWay, ...] = ()

    @property
    def starts(self) -> tuple[Fraction, ...]:
        """Where each slot begins, and after the last one where the pattern ends (of a whole note)."""
        return slot_starts(self.meter, self.per_beat, len(self.slots))

    @property
    def finest(self) -> Fraction:
        """The shortest slot, as a fraction of a whole note."""
        return _finest(self.meter, self.per_beat, len(self.slots))

    @property
    def length(self) -> Fraction:
        """Length of the pattern as a fraction of a whole note."""
        return self.starts[-1]

    def strokes(self) -> Iterator[tuple[int, Stroke]]:
        """All strokes with their slot index."""
        for index, slot in enumerate(self.slots):
            for stroke in slot:
                yield index, stroke

    def as_variant(self, when: str | None) -> Pattern:
        """The pattern with the slots of its variant called `when`; itself if that is None."""
        for variant in self.variants:
            if variant.when == when:
                return replace(self, slots=variant.slots)
        return self

    def with_variant(self, when: str | None, slots: tuple[Slot, ...]) -> Pattern:
        """The pattern with other slots: its own if `when` is None, else those of that variant."""
        if when is None:
            return replace(self, slots=slots)
        changed = tuple(Variant(when, slots) if v.when == when else v for v in self.variants)
        return replace(self, variants=changed)

    def with_variants_of(self, other: Pattern) -> Pattern:
        """The pattern with another one's variants."""
        return replace(self, variants=other.variants)

    def with_slot(self, index: int, slot: Slot) -> Pattern:
        """The pattern with one slot replaced."""
        return replace(self, slots=(*self.slots[:index], slot, *self.slots[index + 1 :]))


@lru_cache(maxsize=512)
def slot_starts(meter: Meter, per_beat: tuple[int, ...], count: int) -> tuple[Fraction, ...]:
    """Where each of `count` slots of a grid begins, and after the last one where they end."""
    lengths = slot_lengths(meter, per_beat)
    out = [Fraction(0)]
    for index in range(count):
        out.append(out[-1] + lengths[index % len(lengths)])
    return tuple(out)


@lru_cache(maxsize=512)
def _finest(meter: Meter, per_beat: tuple[int, ...], count: int) -> Fraction:
    return min(end - begin for begin, end in pairwise(slot_starts(meter, per_beat, count)))


def order(slot: Slot) -> Slot:
    """The strokes of a slot in the order in which they are written: thumb first, then i m a c, sweeps."""

    def rank(stroke: Stroke) -> int:
        return FINGERS.index(stroke.finger) if isinstance(stroke, Pluck) else 5

    return tuple(sorted(slot, key=rank))


def toggled(pattern: Pattern, index: int, finger: str, lane: int | None = None) -> Pattern:
    """`pattern` with `finger` taken out of slot `index` if it plays there, else put in."""
    slot = pattern.slots[index]
    rest = tuple(s for s in slot if not (isinstance(s, Pluck) and s.finger == finger))
    if len(rest) == len(slot):
        rest = order((*slot, Pluck(finger, lane=lane)))
    return pattern.with_slot(index, rest)


def moved(pattern: Pattern, source: int, target: int, finger: str, to_finger: str | None = None) -> Pattern:
    """`pattern` with the finger's stroke taken from slot `source` to `target`, as another finger if given.

    A stroke of the same finger that is already there gives way.
    """
    stroke = next(s for s in pattern.slots[source] if isinstance(s, Pluck) and s.finger == finger)
    name = to_finger or finger
    arrived = replace(stroke, finger=name, lane=stroke.lane if name == "p" else None)
    without = pattern.with_slot(source, tuple(s for s in pattern.slots[source] if s is not stroke))
    there = tuple(s for s in without.slots[target] if not (isinstance(s, Pluck) and s.finger == name))
    return without.with_slot(target, order((*there, arrived)))


def sweep_moved(pattern: Pattern, source: int, target: int) -> Pattern:
    """`pattern` with the brush or chuck of slot `source` in `target`; one that is there already gives way."""
    sweeps = tuple(s for s in pattern.slots[source] if isinstance(s, Sweep))
    without = pattern.with_slot(source, tuple(s for s in pattern.slots[source] if s not in sweeps))
    there = tuple(s for s in without.slots[target] if not isinstance(s, Sweep))
    return without.with_slot(target, order((*there, *sweeps)))


def changed(pattern: Pattern, index: int, finger: str, stroke: Pluck) -> Pattern:
    """`pattern` with the stroke of `finger` in slot `index` replaced by `stroke`."""
    slot = tuple(stroke if isinstance(s, Pluck) and s.finger == finger else s for s in pattern.slots[index])
    return pattern.with_slot(index, slot)


def with_bass(pattern: Pattern, index: int, number: int) -> Pattern:
    """The thumb in slot `index` on its bass `number`; by the count again if it has that number already."""
    old = next((s for s in pattern.slots[index] if isinstance(s, Pluck) and s.finger == "p"), None)
    if old is None:
        return toggled(pattern, index, "p", number)
    return changed(pattern, index, "p", replace(old, lane=None if old.lane == number else number))


def accented(pattern: Pattern, index: int) -> Pattern:
    """The strokes of slot `index` with one accent more, after two with none."""
    slot = pattern.slots[index]
    level = (max((stroke.accent for stroke in slot), default=0) + 1) % (MOST_ACCENT + 1)
    return pattern.with_slot(index, tuple(replace(stroke, accent=level) for stroke in slot))


def shifted(stroke: Pluck, string: int, to_string: int) -> Pluck:
    """`stroke`, which now plucks `string`, moved to `to_string` on this chord and as far on every other.

    Further than two strings from its own, the shorthand has no shift: the string itself is then written.
    """
    shift = stroke.shift + to_string - string
    if stroke.strings or abs(shift) > 2:
        return replace(stroke, shift=0, strings=(to_string,))
    return replace(stroke, shift=shift)
