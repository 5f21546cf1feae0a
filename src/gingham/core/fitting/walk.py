"""Walk-ups and walk-downs: the thumb's last strokes before a change step into the next bass.

The last one or two thumb strokes of a chord, never its first, move by the key's scale (or, where that cannot
be reached, by semitone) into bass 1 of the next chord. Only notes that the hand can reach are taken: what the
shape sounds there, an open string that the shape leaves silent, or a fret near the hand for a finger that
holds nothing plucked any more.
"""

from __future__ import annotations

from collections.abc import Iterator

import msgspec

from gingham.core.fitting.result import Assignment, Event
from gingham.core.instruments.instrument import Instrument
from gingham.core.music.key import Key
from gingham.core.music.pitch import NATURAL, pitch_from_midi
from gingham.core.values import replace

_MAJOR, _MINOR = NATURAL, (0, 2, 3, 5, 7, 8, 10)
_REACH = 1  # frets beyond the shape's own that a free finger gets to
_HAND = 4  # fretting fingers


class Own(msgspec.Struct, frozen=True, gc=False):
    """An event of one chord: the index of its bar, its index in the bar, itself."""

    bar: int
    index: int
    event: Event


class Walker(msgspec.Struct, frozen=True, gc=False):
    """What every walk of a section has in common."""

    on: Instrument
    capo: int
    key: Key

    def walk(self, own: list[Own], one: Assignment, other: Assignment) -> list[tuple[Own, Event]]:
        """The strokes of chord `one` that walk into `other`, each with the event that takes its place.

        `own` are all events of chord `one` in order of time. Empty where there is no way.
        """
        strokes = [each for each in own if _is_thumb(each.event)][1:][-2:]
        now, target = self._bass(one), self._bass(other)
        if not strokes or now is None or target is None or now == target:
            return []
        for notes in self._approaches(now, target):
            chosen = strokes[-len(notes) :]
            if len(chosen) == len(notes):
                found = [self._at(own, s, note, one) for s, note in zip(chosen, notes, strict=True)]
                if all(event is not None for event in found):
                    return [(s, e) for s, e in zip(chosen, found, strict=True) if e is not None]
        return []

    def _bass(self, assignment: Assignment) -> int | None:
        """Bass 1 without the capo (MIDI)."""
        if not assignment.basses:
            return None
        fret = assignment.fret(assignment.basses[0].string)
        return None if fret is None else self.on.open_midi(assignment.basses[0].string) + fret

    def _approaches(self, now: int, target: int) -> Iterator[list[int]]:
        """Notes that lead to the target, the best first: from the side of the present bass, by scale, two."""
        ways = (-1, 1) if now < target else (1, -1)
        for way in ways:
            scale = self._scale_steps(target, way)
            semitones = [target + 2 * way, target + way]
            yield from (scale, scale[1:], semitones, semitones[1:])

    def _scale_steps(self, target: int, way: int) -> list[int]:
        """The two notes of the key before the target, coming from below (−1) or above (1)."""
        tones = _MINOR if self.key.minor else _MAJOR
        classes = {(self.key.tonic.pitch_class + tone) % 12 for tone in tones}
        near = [note for note in (target + way * k for k in range(1, 6)) if note % 12 in classes]
        return [near[1], near[0]]

    def _at(self, own: list[Own], stroke: Own, midi: int, one: Assignment) -> Event | None:
        """The stroke with another note; None if no thumb string gives that note in reach."""
        here = (stroke.bar, stroke.event.at)
        fingers = [each for each in own if not _is_thumb(each.event)]
        busy = {each.event.string for each in fingers if (each.bar, each.event.at) == here}
        later = {each.event.string for each in fingers if (each.bar, each.event.at) >= here}
        places = []
        for string in self.on.thumb_strings:
            fret = midi - self.on.open_midi(string)
            cost = _reach_cost(one, string, fret, later) if string not in busy else None
            if cost is not None and 0 <= fret <= self.on.frets - self.capo:
                places.append((cost, string, fret))
        if not places:
            return None
        _, string, fret = min(places)
        return self._event(stroke.event, string, fret, one)

    def _event(self, event: Event, string: int, fret: int, one: Assignment) -> Event:
        sounds = self.on.open_midi(string) + fret + self.capo
        degree, note, _ = one.sounding.tone_at(sounds)
        pitch = pitch_from_midi(sounds, note)
        changed = replace(event, string=string, fret=fret, pitch=pitch, degree=str(degree), kind="walk")
        return replace(changed, instead=event.string)


def _is_thumb(event: Event) -> bool:
    return event.finger == "p" and event.kind == "pluck" and not event.silent


def _reach_cost(one: Assignment, string: int, fret: int, later: set[int]) -> int | None:
    """What sounding a fret costs the hand that holds chord `one` while the strings `later` are still needed.

    0 what the shape gives, 1 an open string (its finger lifted if nothing plucks it), 2 and more a fret near
    the hand, by distance; None out of reach.
    """
    if one.shape.fret(string) == fret:
        return 0
    if string in later:
        return None
    if fret == 0:
        return 1
    held = [f for f in one.shape.frets if f]
    low, high = (min(held), max(held)) if held else (1, 3)
    if not low - _REACH <= fret <= max(high, low + 2) + _REACH or len(_needed(one, later)) >= _HAND:
        return None
    return 2 + max(0, fret - high, low - fret)


def _needed(assignment: Assignment, strings: set[int]) -> set[int]:
    """Fretting fingers that hold one of the strings."""
    if assignment.fretting is None:
        return set()
    count = len(assignment.shape.frets)
    return {f for i, f in enumerate(assignment.fretting.fingers) if f and count - i in strings}
