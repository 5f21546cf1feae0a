"""The thumb's line over a section: its notes with degrees, jumps, and inversions that would make it step."""

from __future__ import annotations

from fractions import Fraction

import msgspec

from gingham.core.fitting.result import Assignment, Result
from gingham.core.music.pitch import Pitch
from gingham.core.shapes.search import shapes_for

JUMP = 8  # semitones from which a step of the line is a jump
_STEP = 2


class BassNote(msgspec.Struct, frozen=True, gc=False):
    """One note of the thumb: where it is, what it sounds, how far from the note before (semitones).

    `enters` says that a chord enters with it.
    """

    bar: int
    at: Fraction
    span: int
    pitch: Pitch
    degree: str
    string: int
    leap: int
    enters: bool

    @property
    def jumps(self) -> bool:
        """Whether the line leaps into a new chord; within a chord the thumb's alternation is no jump."""
        return self.enters and abs(self.leap) >= JUMP


class Inversion(msgspec.Struct, frozen=True, gc=False):
    """Another bass for one chord that makes the line step: the symbol to type, and the steps around it."""

    span: int
    symbol: str
    before: int
    after: int


def bass_line(result: Result) -> tuple[BassNote, ...]:
    """Every note that the thumb plucks, in order."""
    out: list[BassNote] = []
    for bar in result.bars:
        for event in bar.events:
            if event.finger == "p" and event.plucked and not event.silent and event.pitch is not None:
                leap = event.pitch.midi - out[-1].pitch.midi if out else 0
                span = result.span_at(bar, event.at)
                enters = not out or out[-1].span != span
                degree = event.degree or ""
                out.append(
                    BassNote(bar.number, event.at, span, event.pitch, degree, event.string, leap, enters)
                )
    return tuple(out)


def inversions(result: Result) -> tuple[Inversion, ...]:
    """Chords from or to which the line leaps, with a chord tone within a step of both neighbours' basses.

    Only where the slash chord has a shape that can be held.
    """
    out: list[Inversion] = []
    firsts = [_first(span.assignment, result) for span in result.spans]
    for index in range(1, len(firsts) - 1):
        before, now, after = firsts[index - 1], firsts[index], firsts[index + 1]
        assignment = result.spans[index].assignment
        if (
            before is None
            or now is None
            or after is None
            or assignment is None
            or assignment.chord.bass is not None
        ):
            continue
        if abs(now - before) <= _STEP and abs(after - now) <= _STEP:
            continue
        found = _between(result, assignment, before, after)
        if found is not None:
            out.append(Inversion(index, *found))
    return tuple(out)


def _first(assignment: Assignment | None, result: Result) -> int | None:
    """Bass 1 of a chord as it sounds without the capo."""
    if assignment is None or not assignment.basses:
        return None
    fret = assignment.fret(assignment.basses[0].string)
    return None if fret is None else result.piece.instrument.open_midi(assignment.basses[0].string) + fret


def _between(result: Result, assignment: Assignment, before: int, after: int) -> tuple[str, int, int] | None:
    """The slash chord whose bass lies within a step of both neighbours."""
    for degree, note in assignment.chord.tones:
        if degree.number not in (3, 5, 7):
            continue
        low = next((m for m in range(min(before, after) - _STEP, max(before, after) + _STEP + 1)
                    if m % 12 == note.pitch_class), None)  # fmt: skip
        if low is None or abs(low - before) > _STEP or abs(after - low) > _STEP or low in (before, after):
            continue
        chord = assignment.chord.transposed(assignment.chord.root, note)
        if shapes_for(chord, result.piece.instrument, result.piece.capo):
            return chord.text, low - before, after - low
    return None
