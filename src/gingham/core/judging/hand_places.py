"""Where the plucking hand stands: the string that the index owns, the shifts at changes, what they cost."""

from __future__ import annotations

from collections.abc import Callable
from itertools import pairwise

import msgspec

from gingham.core.errors import GinghamError
from gingham.core.fitting.fit import fit
from gingham.core.fitting.result import Event, Result
from gingham.core.pieces.own_edits import set_section_rules
from gingham.core.pieces.plans import PICKING_PLANS
from gingham.core.pieces.rules import FingerPolicy, OwnRules, ThumbPlan
from gingham.core.values import replace


class HandPlace(msgspec.Struct, frozen=True, gc=False):
    """The hand on one chord: (finger, string) of those that pluck there, and how far it came.

    `moved` is by how many strings the whole hand goes from the chord before, towards the lower numbers if
    negative; 0 where it stays, None where single fingers go different ways.
    """

    span: int
    chord: str
    fingers: tuple[tuple[str, int], ...]
    moved: int | None

    @property
    def index_string(self) -> int | None:
        """The place of the hand as players number it: the string that the index owns."""
        return dict(self.fingers).get("i")


class HandPath(msgspec.Struct, frozen=True, gc=False):
    """The hand over a section: its places, how often it shifts, and the strings that the thumb crosses.

    `thumb` is in strings a bar, going round.
    """

    places: tuple[HandPlace, ...]
    shifts: int
    thumb: float


class Calmer(msgspec.Struct, frozen=True, gc=False):
    """The same section with less travel: what to choose, the path then, and chords that lose their third."""

    own: OwnRules
    shifts: int
    thumb: float
    bare: tuple[str, ...]


def hand_path(result: Result) -> HandPath:
    """Where the hand stands on every chord of a section, its seam included."""
    found: list[tuple[int, str, tuple[tuple[str, int], ...]]] = []
    used = {event.finger for bar in result.bars for event in bar.events if event.plucked and event.finger}
    for index, span in enumerate(result.spans):
        if span.assignment is None:
            continue
        fingers = tuple((f, choice.string) for f, choice in span.assignment.fingers if f in used)
        found.append((index, span.assignment.chord.text, fingers))
    places = tuple(
        HandPlace(
            index, chord, fingers, _moved(found[number - 1][2], fingers)
        )  # the first comes from the last
        for number, (index, chord, fingers) in enumerate(found)
    )
    return HandPath(places, sum(place.moved != 0 for place in places), thumb_travel(result))


def _moved(before: tuple[tuple[str, int], ...], after: tuple[tuple[str, int], ...]) -> int | None:
    now = dict(after)
    steps = {now[finger] - string for finger, string in before if finger in now}
    return steps.pop() if len(steps) == 1 else 0 if not steps else None


def thumb_travel(result: Result) -> float:
    """Strings that the thumb crosses in a bar on average, from the last pluck back to the first too."""
    return _travel(result, lambda event: event.finger == "p" and event.plucked and not event.silent)


def pick_travel(result: Result) -> float:
    """Strings that a flat pick crosses in a bar on average, going round."""
    return _travel(result, lambda event: bool(event.pick) and event.plucked and not event.silent)


def _travel(result: Result, counts: Callable[[Event], bool]) -> float:
    strings = [event.string for bar in result.bars for event in bar.events if counts(event)]
    if len(strings) < 2:
        return 0.0
    crossed = sum(abs(b - a) for a, b in pairwise([*strings, strings[0]]))
    return crossed / max(1, len(result.bars))


def calmer(result: Result) -> tuple[Calmer, ...]:
    """The thumb that crosses the fewest strings, and fingers that stay, where that is less than now.

    Each is fitted, so this takes some fits' time.
    """
    path = hand_path(result)
    own = result.piece.sections[result.section].own
    thumb = own.over(result.piece.rules).thumb
    others = [kind for kind in PICKING_PLANS if kind != thumb.kind]
    thumbs = [replace(own, thumb=ThumbPlan(kind, each_bar=thumb.each_bar)) for kind in others]
    stays = [replace(own, fingers=FingerPolicy("home"), four_string="thumb-only")]
    found = list[Calmer]()
    best = _least([_tried(result, each) for each in thumbs], key=lambda c: (c.thumb, len(c.bare)))
    if best is not None and best.thumb < path.thumb:
        found.append(best)
    if path.shifts:
        still = _least([_tried(result, each) for each in stays], key=lambda c: (c.shifts, len(c.bare)))
        if still is not None and still.shifts < path.shifts:
            found.append(still)
    return tuple(found)


def _tried(result: Result, own: OwnRules) -> Calmer | None:
    """What a section is with other rules of its own; None if it cannot be fitted."""
    try:
        other = fit(set_section_rules(result.piece, result.section, own), result.section)
    except GinghamError:
        return None
    had = {fault.values for span in result.spans for fault in span.faults if fault.code == "no-third"}
    bare = [
        span.assignment.chord.text
        for span in other.spans
        if span.assignment is not None
        and any(fault.code == "no-third" and fault.values not in had for fault in span.faults)
    ]
    path = hand_path(other)
    return Calmer(own, path.shifts, path.thumb, tuple(dict.fromkeys(bare)))


def _least(found: list[Calmer | None], key: Callable[[Calmer], tuple[float, int]]) -> Calmer | None:
    return min((each for each in found if each is not None), key=key, default=None)
