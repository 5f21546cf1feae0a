"""Does the part sound the tune? For each note of it: who plucks it, or what would carry it."""

from __future__ import annotations

import msgspec

from gingham.core.fitting.result import Assignment, Event, FittedBar, Result
from gingham.core.music.pitch import Pitch, pitch_from_midi
from gingham.core.pieces.lyrics import TuneNote
from gingham.core.pieces.piece import Piece

_REACH = 3  # frets from the shape's own that a finger may stretch to


class Carrier(msgspec.Struct, frozen=True, gc=False):
    """A way to sound a note: `finger` (p i m a c) on `string` at `fret` (from the capo).

    `shape` tells that the chord as it is held sounds it there; else that fret has to be stopped anew.
    `free` that the finger has nothing else to do at that moment.
    """

    finger: str
    string: int
    fret: int
    shape: bool
    free: bool


class TuneCheck(msgspec.Struct, frozen=True, gc=False):
    """A note of the tune: `by` is the finger that plucks it already, `carriers` what would, best first.

    `string_plucked` tells that the string is plucked at that moment, but at another fret.
    """

    note: TuneNote
    pitch: Pitch
    chord: str
    by: str | None
    string_plucked: bool
    carriers: tuple[Carrier, ...]


def tune_pitch(note: TuneNote, piece: Piece) -> Pitch:
    """The sounding pitch of a note of the tune, however it is given."""
    if note.pitch is not None:
        return note.pitch
    string = min(note.string or 1, piece.instrument.strings)
    return pitch_from_midi(piece.instrument.open_midi(string) + piece.capo + (note.fret or 0))


def tune_checks(result: Result) -> tuple[TuneCheck, ...]:
    """Every note of the section's tune that lies in a bar with a chord, in order."""
    bars = {bar.number: bar for bar in result.bars}
    out = []
    for note in result.piece.sections[result.section].tune:
        bar = bars.get(note.bar)
        assignment = result.assignment_at(bar, note.at) if bar is not None else None
        if bar is not None and assignment is not None:
            out.append(_check(result, bar, assignment, note))
    return tuple(out)


def _check(result: Result, bar: FittedBar, assignment: Assignment, note: TuneNote) -> TuneCheck:
    pitch = tune_pitch(note, result.piece)
    now = [e for e in bar.events if e.at == note.at and not e.silent]
    sounding = [e for e in now if e.pitch is not None and e.pitch.midi == pitch.midi]
    if note.string is not None:
        sounding = [e for e in sounding if e.string == note.string]
    by = next((e.finger or e.kind for e in sounding), None)
    carriers = () if by is not None else _carriers(result, assignment, now, pitch, note.string)
    at_hand = {c.string for c in carriers}
    return TuneCheck(note, pitch, assignment.chord.text, by, any(e.string in at_hand for e in now), carriers)


def _carriers(
    result: Result, assignment: Assignment, now: list[Event], pitch: Pitch, string: int | None
) -> tuple[Carrier, ...]:
    instrument, capo = result.piece.instrument, result.piece.capo
    held = [fret for fret in assignment.shape.frets if fret]
    low, high = (min(held), max(held)) if held else (0, 0)
    out = []
    for each in range(1, instrument.strings + 1):
        fret = pitch.midi - instrument.open_midi(each) - capo
        if not 0 <= fret <= instrument.frets - capo or string not in (None, each):
            continue
        own = assignment.fret(each) == fret
        near = not fret or not held or high - _REACH <= fret <= low + _REACH
        if own or near:
            finger = _finger_for(result, assignment, each)
            busy = any(e.finger == finger and e.string != each for e in now)
            out.append(Carrier(finger, each, fret, own, not busy))
    return tuple(sorted(out, key=lambda c: (not c.shape, not c.free, c.string)))


def _finger_for(result: Result, assignment: Assignment, string: int) -> str:
    """Whose string it is; else the finger of the nearest string on that side."""
    for finger, choice in assignment.fingers:
        if choice.string == string:
            return finger
    if any(choice.string == string for choice in assignment.basses):
        return "p"
    near = [(abs(c.string - string), f) for f, c in assignment.fingers if f in result.piece.rules.hand]
    lowest = max((c.string for _, c in assignment.fingers), default=0)
    return "p" if string > lowest or not near else min(near)[1]
