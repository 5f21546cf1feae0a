"""Meters, counted beats, slots per beat, and the syllables to count aloud."""

from __future__ import annotations

import re
from fractions import Fraction
from functools import lru_cache
from itertools import accumulate

import msgspec

from gingham.core.errors import MeterError

SLOT_COUNTS = (1, 2, 3, 4, 6)
_MAX_BEATS = 32
# Usual groupings of eighths where the bar is not made of threes.
_GROUPS = {5: (3, 2), 7: (2, 2, 3), 8: (3, 3, 2), 10: (3, 3, 2, 2), 11: (3, 3, 3, 2)}
_SYLLABLES = {
    1: ("",),
    2: ("", "&"),
    3: ("", "la", "li"),
    4: ("", "e", "&", "a"),
    6: ("", "ta", "la", "ta", "li", "ta"),
}


class Meter(msgspec.Struct, frozen=True, gc=False):
    """A meter `count/unit` with its counted beats.

    `groups` holds the length of each counted beat in units: (1, 1, 1, 1) for 4/4, (3, 3) for 6/8,
    (2, 2, 3) for 7/8.
    """

    count: int
    unit: int
    groups: tuple[int, ...]

    @property
    def bar(self) -> Fraction:
        """Length of a bar as a fraction of a whole note."""
        return Fraction(self.count, self.unit)

    @property
    def beats(self) -> tuple[Fraction, ...]:
        """Length of each counted beat as a fraction of a whole note."""
        return tuple(Fraction(group, self.unit) for group in self.groups)

    @property
    def beat_starts(self) -> tuple[Fraction, ...]:
        """Where each counted beat begins in the bar, as a fraction of a whole note."""
        return tuple(accumulate(self.beats[:-1], initial=Fraction(0)))

    @property
    def tempo_beat(self) -> Fraction:
        """The beat that the tempo counts: the dotted quarter in 6/8, 9/8, 12/8, else the unit's beat.

        Where the counted beats differ (5/8, 7/8) the tempo counts quarters.
        """
        if len(set(self.groups)) == 1:
            return Fraction(self.groups[0], self.unit)
        return Fraction(2, self.unit)

    def __str__(self) -> str:
        return f"{self.count}/{self.unit}"


@lru_cache(maxsize=128)
def meter(count: int, unit: int) -> Meter:
    """The meter with its usual counted beats.

    Raises
    ------
    MeterError
        If the unit is not 2, 4 or 8 or the count is not 1–32.
    """
    if unit not in (2, 4, 8) or not 1 <= count <= _MAX_BEATS:
        raise MeterError("meter", text=f"{count}/{unit}")
    if unit != 8 or count < 3:
        return Meter(count, unit, (1,) * count)
    if count % 3 == 0:
        return Meter(count, unit, (3,) * (count // 3))
    if count in _GROUPS:
        return Meter(count, unit, _GROUPS[count])
    return Meter(count, unit, (2,) * ((count - 3) // 2) + (3,) if count % 2 else (2,) * (count // 2))


def parse_meter(text: str) -> Meter:
    """Read 4/4, 6/8 and the like; MeterError otherwise."""
    match = re.fullmatch(r"([0-9]{1,2})/([0-9]{1,2})", text.strip())
    if not match:
        raise MeterError("meter", text=text)
    return meter(int(match[1]), int(match[2]))


@lru_cache(maxsize=1024)
def slot_lengths(meter: Meter, per_beat: tuple[int, ...]) -> tuple[Fraction, ...]:
    """Lengths of all slots of one bar, as fractions of a whole note.

    `per_beat` has one slot count for every counted beat, or a single one for all.

    Raises
    ------
    MeterError
        If the number of slot counts is not 1 or the number of counted beats, or one is not 1 2 3 4 6.
    """
    counts = per_beat * len(meter.groups) if len(per_beat) == 1 else per_beat
    if len(counts) != len(meter.groups):
        raise MeterError("slots-per-beat", meter=str(meter), beats=len(meter.groups), given=len(per_beat))
    for count in counts:
        if count not in SLOT_COUNTS:
            raise MeterError("slot-count", given=count)
    return tuple(beat / count for beat, count in zip(meter.beats, counts, strict=True) for _ in range(count))


@lru_cache(maxsize=4096)
def count_at(meter: Meter, at: Fraction) -> str:
    """The syllables of the position `at` (from the bar's start), such as 1, 2&, 3e; '·' off every grid.

    In n/8 meters each eighth has a number of its own (1 to 6) and halves of it are '&'.
    """
    if meter.unit == 8:
        eighths = at * 8
        whole = int(eighths)
        rest = eighths - whole
        return str(whole + 1) if not rest else f"{whole + 1}&" if rest == Fraction(1, 2) else "·"
    start = Fraction(0)
    for number, beat in enumerate(meter.beats, 1):
        if at < start + beat:
            return _syllable(number, (at - start) / beat)
        start += beat
    return "·"


def _syllable(number: int, part: Fraction) -> str:
    """Beat number and syllable for `part`, the share of the beat that has passed (0 ≤ part < 1)."""
    for count in (2, 4, 3, 6):
        index = part * count
        if index.denominator == 1:
            return f"{number}{_SYLLABLES[count][int(index)]}"
    return "·"


def seconds(length: Fraction, meter: Meter, tempo_bpm: float) -> float:
    """How long `length` (of a whole note) lasts at `tempo_bpm` counted beats a minute."""
    return float(length / meter.tempo_beat) * 60.0 / tempo_bpm
