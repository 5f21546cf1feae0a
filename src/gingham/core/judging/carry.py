"""The part carries a note of the tune: one pluck more in a bar of its own."""

from __future__ import annotations

from fractions import Fraction

from gingham.core.errors import EditError
from gingham.core.judging.tune import Carrier, TuneCheck
from gingham.core.music.meter import SLOT_COUNTS
from gingham.core.patterns.grid import regridded
from gingham.core.patterns.pattern import Pattern, Pluck, Slot, StringStroke, order
from gingham.core.pieces.form_edits import add_fill, reshape_bar
from gingham.core.pieces.piece import Piece


def carried(piece: Piece, section: int, check: TuneCheck) -> Piece:
    """The piece with a note of the tune plucked where it lies, by the best of its carriers.

    The bar gets strokes of its own, so that no other bar changes. What the same finger plucked at that
    moment, or another one on that string, gives way.

    Raises
    ------
    EditError
        If nothing near the chord sounds the note, if it lies in a pick-up, or between all places that can
        be counted.
    """
    if not check.carriers:
        raise EditError("tune-no-string", chord=check.chord)
    bar, at = check.note.bar, check.note.at
    if bar < 1:
        raise EditError("tune-pickup")
    best = next((c for c in check.carriers if c.free and c.shape), check.carriers[0])
    of = piece.sections[section]
    name = of.pattern_in(bar)
    if name == of.pattern or sum(own.pattern == name for s in piece.sections for own in s.bars) > 1:
        piece = add_fill(piece, section, bar)
    base = piece.pattern(piece.sections[section].pattern_in(bar))
    pattern = _with_place(base, at)
    index = pattern.starts.index(at)
    return reshape_bar(piece, section, bar, pattern.with_slot(index, _joined(pattern.slots[index], best)))


def _with_place(pattern: Pattern, at: Fraction) -> Pattern:
    """The pattern on the coarsest grid that has all its places and `at`."""
    if at in pattern.starts[:-1]:
        return pattern
    for count in SLOT_COUNTS:
        found = regridded(pattern, (count,))
        if not found.moved and at in found.pattern.starts[:-1]:
            return found.pattern
    raise EditError("tune-between")


def _joined(slot: Slot, best: Carrier) -> Slot:
    """A place with the carrier's pluck in it."""

    def gives_way(stroke: object) -> bool:
        if isinstance(stroke, Pluck):
            return stroke.finger == best.finger or best.string in stroke.strings
        return isinstance(stroke, StringStroke) and stroke.string == best.string

    fret = None if best.shape else best.fret
    rest = tuple(stroke for stroke in slot if not gives_way(stroke))
    return order((*rest, Pluck(best.finger, strings=(best.string,), fret=fret)))
