"""Chord changes: which fretting fingers stay, slide or move, when each must land, what the picking hand does.

For a finger that must land somewhere else, the window is the time from the end of its old string's ring (its
last pluck plus one slot) to the first pluck of its new string. A string that is not plucked sets no deadline.
A player who holds whole shapes has less: from the old chord's very last pluck, whose ring is given up, to the
new chord's first one.
"""

from __future__ import annotations

from fractions import Fraction
from typing import Literal

import msgspec

from gingham.core.courtesy import give_way
from gingham.core.fitting.result import Assignment, Event, Result
from gingham.core.music.meter import seconds
from gingham.core.shapes.shape import Shape
from gingham.core.values import replace

_WHOLE_CHANGE = Fraction(10_000)
_BLOCK = 1.5  # fingers that a whole shape slid along the neck is worth

MoveKind = Literal["stays", "slides", "moves", "lands", "lifts"]
Picking = Literal["nothing", "thumb", "hand"]


class FingerMove(msgspec.Struct, frozen=True, gc=False):
    """What one fretting finger does: `kind` is `stays`, `slides`, `moves`, `lands` or `lifts`.

    `from_place` and `to_place` are (string, fret); of a barre the highest string number. Times are in whole
    notes from the change: `free` is when the finger may lift (what it held has rung), `due` when it must have
    landed (None: never plucked there), `window` what lies between. `slots` counts the pattern's places in the
    window.
    """

    finger: int
    kind: MoveKind
    from_place: tuple[int, int] | None
    to_place: tuple[int, int] | None
    window: Fraction | None
    due: Fraction | None
    slots: Fraction | None
    squeak: bool = False
    free: Fraction | None = None


class Change(msgspec.Struct, frozen=True, gc=False):
    """One chord change at a bar and position. `seam` is the way into the start of a section.

    `fingers` are in order of landing. `block` says by how many frets the whole shape slides along the neck as
    one (0: it does not); its fingers then share one window. `picking` is `nothing`, `thumb` (from one string
    to another) or `hand` (the fingers take other strings). `difficulty` is in fingers: 1.0 is one to set
    within a second.
    """

    bar: int
    at: Fraction
    before: str
    after: str
    seam: bool
    fingers: tuple[FingerMove, ...]
    picking: Picking
    thumb: tuple[int, int]
    difficulty: float
    block: int = 0

    @property
    def squeak(self) -> bool:
        """Whether a finger slides along a wound string."""
        return any(move.squeak for move in self.fingers)

    @property
    def tightest(self) -> FingerMove | None:
        """The finger that has the least time; None where none has to be anywhere."""
        timed = [move for move in self.fingers if move.window is not None and move.kind != "stays"]
        return min(timed, key=lambda move: move.window or Fraction(0), default=None)


def changes(result: Result) -> tuple[Change, ...]:
    """All changes of a fitted section in order of the bars they lead into; the seam (into the first) last."""
    count = len(result.spans)
    found = [change_into(result, index % count) for index in range(1, count + 1)] if count > 1 else []
    return tuple(change for change in found if change is not None)


def change_into(result: Result, index: int) -> Change | None:
    """The change into one span; into the first it comes from the last one (the loop's seam).

    None where nothing changes, or where there is silence on either side.
    """
    return change_from((result, (index - 1) % len(result.spans)), (result, index))


def change_between(one: Result, other: Result) -> Change | None:
    """The change from the end of one section into the start of another, or of the same one.

    None where nothing changes, or where there is silence on either side.
    """
    if not one.spans or not other.spans:
        return None
    return change_from((one, len(one.spans) - 1), (other, 0))


def change_from(before: tuple[Result, int], after: tuple[Result, int]) -> Change | None:
    """The change between any two spans, as where a loop comes round: (result, index of the span) each.

    None where nothing changes, or where there is silence on either side.
    """
    one = before[0].spans[before[1]].assignment
    other = after[0].spans[after[1]].assignment
    if one is None or other is None or (one.chord == other.chord and one.shape == other.shape):
        return None
    return _ChangeReader((*before, one), (*after, other)).change()


def hardest(found: tuple[Change, ...]) -> tuple[Change, ...]:
    """Each different change once, the hardest first."""
    worst: dict[tuple[str, str], Change] = {}
    for change in found:
        key = (change.before, change.after)
        if key not in worst or change.difficulty > worst[key].difficulty:
            worst[key] = change
    return tuple(sorted(worst.values(), key=lambda change: -change.difficulty))


def different_changes(result: Result) -> tuple[Change, ...]:
    """Each change once: equal neighbours under the same part of the pattern change alike."""
    known: dict[tuple[int, int, int], Change | None] = {}
    count = len(result.spans)
    for index in range(count if count > 1 else 0):
        before = result.spans[index - 1]
        bar = result.bar(result.spans[index].span.bar)
        key = (id(before.assignment), id(result.spans[index].assignment), id(bar.phases if bar else None))
        if key not in known:
            give_way()
            known[key] = change_into(result, index)
    return tuple(change for change in known.values() if change is not None)


def _plucks(result: Result, index: int) -> tuple[list[tuple[Fraction, Event]], Fraction]:
    """The plucks of one span in time, each with its time from the span's start, and how long it lasts."""
    span = result.spans[index].span
    out: list[tuple[Fraction, Event]] = []
    begins = -span.at
    for bar in result.bars_of(index):
        for event in bar.events:
            time = begins + event.at if begins else event.at
            if _sounds(event) and 0 <= time < span.length:
                out.append((time, event))
        begins += bar.length
    return out, span.length


def last_held(result: Result, index: int, finger: int) -> tuple[int, Event] | None:
    """The last pluck of a span that needs a fretting finger, with its bar's number; None if none does."""
    span = result.spans[index]
    place = _places(span.assignment).get(finger) if span.assignment is not None else None
    if place is None:
        return None
    found = [
        (bar.number, event)
        for bar in result.bars_of(index)
        for event in bar.events
        if _sounds(event) and _held_by(event, place) and result.span_at(bar, event.at) == index
    ]
    return found[-1] if found else None


def _sounds(event: Event) -> bool:
    return not event.silent and event.fret is not None


Place = tuple[int, int, tuple[int, ...]]
"""String, fret, and all the strings that a finger holds."""


def _places(assignment: Assignment) -> dict[int, Place]:
    """Where each fretting finger stands."""
    out: dict[int, Place] = {}
    if assignment.fretting is None:
        return out
    count = len(assignment.shape.frets)
    for index, (finger, fret) in enumerate(
        zip(assignment.fretting.fingers, assignment.shape.frets, strict=True)
    ):
        if finger and fret:
            string, first, held = out.get(finger, (count - index, fret, ()))
            out[finger] = (string, first, (*held, count - index))
    return out


_Side = tuple[Result, int, Assignment]
"""A fitted section, the index of a span in it, and the assignment there."""


class _ChangeReader:
    """Reads one change off the time line."""

    def __init__(self, before: _Side, after: _Side) -> None:
        self.result, self.after, self.other = after
        left, index, self.one = before
        self.seam = self.after == 0
        self.slot = min(left.finest(), self.result.finest())
        old, self.length = _plucks(left, index)
        self.old = [(time - self.length, event) for time, event in old]
        self.new, _ = _plucks(self.result, self.after)

    def change(self) -> Change:
        """The change with its fingers in order of landing."""
        before, now = _places(self.one), _places(self.other)
        block = _block(before, now)
        both = sorted({*before, *now})
        moves = [self._move(finger, before.get(finger), now.get(finger)) for finger in both]
        if block:
            moves = self._as_one(moves)
        moves.sort(key=lambda move: (move.kind == "lifts", _late(move.due), move.finger))
        span = self.result.spans[self.after].span
        picking, thumb = self._picking()
        return Change(
            span.bar, span.at, self.one.chord.text, self.other.chord.text, self.seam, tuple(moves), picking,
            thumb, self._difficulty(moves, block), block,
        )  # fmt: skip

    def _move(self, finger: int, old: Place | None, new: Place | None) -> FingerMove:
        free = self._free(old) if old is not None else -self.length
        if new is None:
            assert old is not None
            return FingerMove(finger, "lifts", old[:2], None, None, None, None, free=free)
        due = self._due(new)
        if old is not None and _stays(old, new, self.other.shape):
            return FingerMove(finger, "stays", old[:2], new[:2], None, due, None)
        window = None if due is None else due - free
        slides = old is not None and old[0] == new[0] and old[1] != new[1]
        kind: MoveKind = "lands" if old is None else "slides" if slides else "moves"
        squeak = slides and new[0] in self.result.piece.instrument.wound
        slots = None if window is None else window / self.slot
        place = None if old is None else old[:2]
        return FingerMove(finger, kind, place, new[:2], window, due, slots, squeak, free)

    def _as_one(self, moves: list[FingerMove]) -> list[FingerMove]:
        """The hand leaves when the last string has rung, and must have arrived for the first."""
        free = max(move.free for move in moves if move.free is not None)
        dues = [move.due for move in moves if move.due is not None]
        due = min(dues) if dues else None
        window = None if due is None else due - free
        slots = None if window is None else window / self.slot
        return [replace(move, free=free, due=due, window=window, slots=slots) for move in moves]

    def _due(self, new: Place) -> Fraction | None:
        """When the first of the finger's strings is plucked at its fret, from the change on."""
        whole = self.other.hold == "whole"
        return next((time for time, event in self.new if whole or _held_by(event, new)), None)

    def _free(self, old: Place) -> Fraction:
        """When the last of the finger's strings has rung on the old chord: its last pluck plus one slot.

        A string that sounds open, or at another fret, needs no finger of the shape.
        """
        if self.one.hold == "whole":
            return self.old[-1][0] if self.old else -self.length
        last = next((time for time, event in reversed(self.old) if _held_by(event, old)), None)
        return -self.length if last is None else min(Fraction(0), last + self.slot)

    def _picking(self) -> tuple[Picking, tuple[int, int]]:
        """What the picking hand must do: nothing, the thumb alone, or the whole hand."""
        fingers = {f: c.string for f, c in self.one.fingers}
        used = {e.finger for _, e in (*self.old, *self.new) if e.finger and e.finger != "p"}
        moved = any(fingers.get(f) != c.string for f, c in self.other.fingers if f in used)
        one = self.one.basses[0].string if self.one.basses else 0
        other = self.other.basses[0].string if self.other.basses else 0
        same = [c.string for c in self.one.basses] == [c.string for c in self.other.basses]
        return ("hand" if moved else "nothing" if same else "thumb"), (one, other)

    def _difficulty(self, moves: list[FingerMove], block: int) -> float:
        """Fingers to set, each harder the further it goes and the less time it has (a second is enough).

        A shape that slides as one is one finger and a half.
        """
        piece, total = self.result.piece, 0.0
        for move in moves[:1] if block else moves:
            if move.kind in ("stays", "lifts"):
                continue
            travel = 1.0
            if move.from_place is not None and move.to_place is not None:
                strings = abs(move.from_place[0] - move.to_place[0])
                travel = 0.5 + 0.2 * strings + 0.3 * abs(move.from_place[1] - move.to_place[1])
            time_s = 1.0 if move.window is None else seconds(move.window, piece.meter, piece.tempo)
            travel *= _BLOCK if block else 1.0
            total += travel * max(0.4, min(3.0, 1.0 / max(time_s, 0.05)))
        return round(total + {"nothing": 0.0, "thumb": 0.2, "hand": 0.6}[self._picking()[0]], 2)


def _held_by(event: Event, place: Place) -> bool:
    """Whether a sounding string needs the finger that stands there."""
    return event.string in place[2] and event.fret == place[1]


def _stays(old: Place, new: Place, shape: Shape) -> bool:
    """Whether a finger need not move: the same fret, where it goes on lying or is laid over more strings.

    A barre cannot stay over a string that must sound below it now.
    """
    if old[1] != new[1]:
        return False
    if set(old[2]) <= set(new[2]):
        return True
    covered = range(old[2][-1], old[2][0] + 1)
    under = [shape.fret(string) for string in covered]
    return set(new[2]) <= set(covered) and all(fret is None or fret >= new[1] for fret in under)


def _block(before: dict[int, Place], now: dict[int, Place]) -> int:
    """By how many frets a whole shape slides, each finger on its own strings; 0 if it does not."""
    if len(now) < 2 or before.keys() != now.keys():
        return 0
    ways = {now[finger][1] - before[finger][1] for finger in now}
    if len(ways) != 1 or any(before[finger][2] != now[finger][2] for finger in now):
        return 0
    return ways.pop()


def _late(due: Fraction | None) -> Fraction:
    return _WHOLE_CHANGE if due is None else due
