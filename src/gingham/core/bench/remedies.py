"""Ways out of a tight or squeaking change: other fingers, an earlier lift, lifting, a stand-in."""

from __future__ import annotations

from collections.abc import Iterator
from fractions import Fraction
from itertools import product

import msgspec

from gingham.core.bench.substitutes import substitutes
from gingham.core.fitting.cache import FitCache
from gingham.core.fitting.fit import fit
from gingham.core.fitting.result import Assignment, Result
from gingham.core.hands.motor import motor_of
from gingham.core.judging.changes import Change, change_into, last_held
from gingham.core.music.meter import seconds
from gingham.core.pieces.edits import add_override, pin_grip, replace_chord
from gingham.core.pieces.piece import HereOverride, Piece
from gingham.core.reasons import Reason
from gingham.core.shapes.fingers import print_fretting
from gingham.core.shapes.fretting import Fingers, frettings

_WORTH = 0.3  # fingers of difficulty that other fingers must save


class Remedy(msgspec.Struct, frozen=True, gc=False):
    """One way out: what it is, and the piece with it (None where it is the hand's own to do)."""

    reason: Reason
    piece: Piece | None


def is_tight(change: Change, piece: Piece) -> bool:
    """Whether some finger has less time than a hand of the piece's level needs to move it."""
    move = change.tightest
    if move is None or move.window is None:
        return False
    time_s = seconds(max(move.window, Fraction(0)), piece.meter, piece.tempo)
    return time_s < motor_of(piece.rules.level).hop_s


def remedies(result: Result, index: int) -> tuple[Remedy, ...]:
    """The ways out of the change into one span; none where it is neither tight nor squeaks."""
    change = change_into(result, index)
    if change is None or not (is_tight(change, result.piece) or change.squeak):
        return ()
    out = [*_other_fingers(result, index, change)]
    if is_tight(change, result.piece):
        out += _earlier_lift(result, index, change)
    if change.squeak:
        out.append(Remedy(Reason.of("remedy-lift"), None))
    return (*out, *_stand_in(result, index, change))


def _other_fingers(result: Result, index: int, change: Change) -> Iterator[Remedy]:
    """The fingering of both chords with which the change is easiest, if it is worth it."""
    one, other = result.spans[index - 1].assignment, result.spans[index].assignment
    assert one is not None and other is not None
    best: tuple[float, Remedy] | None = None
    cache = FitCache()
    for mine, theirs in product(_ways(one), _ways(other)):
        piece = pin_grip(result.piece, one.chord.text, one.shape, mine)
        piece = pin_grip(piece, other.chord.text, other.shape, theirs)
        tried = change_into(fit(piece, result.section, cache), index)
        if tried is None or (best is not None and tried.difficulty >= best[0]):
            continue
        quiet = change.squeak and not tried.squeak
        if tried.difficulty <= change.difficulty - (0.0 if quiet else _WORTH):
            stays = sum(move.kind == "stays" for move in tried.fingers)
            held = (f"{one.shape}:{print_fretting(mine)}", f"{other.shape}:{print_fretting(theirs)}")
            reason = Reason.of("remedy-fingers", one=held[0], other=held[1], count=stays)
            best = (tried.difficulty, Remedy(reason, piece))
    if best is not None:
        yield best[1]


def _ways(assignment: Assignment) -> list[Fingers]:
    return [way.fingers for way in frettings(assignment.shape)]


def _earlier_lift(result: Result, index: int, change: Change) -> Iterator[Remedy]:
    """The last pluck that keeps the tight finger down, left out."""
    least = change.tightest.window if change.tightest is not None else None
    tight = [move.finger for move in change.fingers if move.window == least and move.kind != "stays"]
    found = [last_held(result, (index - 1) % len(result.spans), finger) for finger in tight]
    held = [each for each in found if each is not None and each[1].finger is not None]
    if not held:
        return
    bar, event = max(held, key=lambda each: (each[0], each[1].at))
    assert event.finger is not None
    section = result.piece.sections[result.section].name
    piece = add_override(result.piece, HereOverride(section, bar, event.at, event.finger, None))
    tried = change_into(fit(piece, result.section), index)
    if tried is not None and least is not None and _least_window(tried) > least:
        yield Remedy(Reason.of("remedy-early", count=event.count, bar=bar), piece)


def _least_window(change: Change) -> Fraction:
    """The time of the finger that has the least; without any there is all the time."""
    move = change.tightest
    return Fraction(1) if move is None or move.window is None else move.window


def _stand_in(result: Result, index: int, change: Change) -> Iterator[Remedy]:
    """The first stand-in for the second chord with which the change is easier."""
    for each in substitutes(result, index):
        span = result.spans[index].span
        piece = replace_chord(result.piece, result.section, span, each.chord.text, each.shape)
        tried = change_into(fit(piece, result.section), index)
        if tried is None or tried.difficulty <= change.difficulty - _WORTH:
            yield Remedy(Reason.of("remedy-stand-in", chord=each.chord.text, shape=str(each.shape)), piece)
            return
