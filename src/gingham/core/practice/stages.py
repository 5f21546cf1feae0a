"""What a stage of practice is: what it loops, what is heard of it, how fast it begins and where it goes.

Each stage has a tempo of its own. A stage that doubles the strokes feels twice as fast at the same tempo, so
what is kept bearable is strokes a second: `BEARABLE` by level, and three quarters of the hand limit at most;
none is faster than the comfortable top speed of the section, both hands together.
"""

from __future__ import annotations

from collections.abc import Mapping
from fractions import Fraction
from hashlib import blake2b
from typing import Literal

import msgspec

from gingham.core.fitting.result import Event, FittedBar, FittedSpan, Result
from gingham.core.fitting.strokes import pitch_on
from gingham.core.reasons import Reason
from gingham.core.values import replace

StageKind = Literal["loop", "free", "steps", "count", "strum", "aloud", "hum", "words"]
"""How it is practised: looped in time; without a tempo; a change in steps; changes counted against the clock;
the shapes strummed; while answering aloud; humming; singing the words."""
StageGroup = Literal["own", "hand", "chords", "change", "whole", "voice"]
"""What it is about, for the order of learning and for the record."""
BEARABLE = {"starting": 1.8, "growing": 3.0, "fluent": 5.0}
"""Strokes a second that a hand of this level learns at: our own starting values."""
STEPS = ("lighten", "lift", "set", "in-time")
"""A change of chord in steps, one a round."""
RUN = "all through"
"""What the record calls a run of the whole piece, which is no stage."""
WITHOUT_TEMPO = frozenset({"free", "steps"})


class Passage(msgspec.Struct, frozen=True, gc=False):
    """A stretch of a section in whole notes from its start; `end` None is its end."""

    section: int
    begin: Fraction
    end: Fraction


class Stage(msgspec.Struct, frozen=True, gc=False):
    """One stage: its name for the record, why, what is looped, what is not heard of it, how fast.

    `muted` holds fingers (the empty name: the fretting hand's own notes) and kinds of strokes. Tempi are in
    counted beats a minute: `tempo` to begin with, `floor` the slowest that makes sense, `goal` where it is
    to go. `strokes` is how often a beat something is plucked at the densest. `mark` says what exactly is
    asked: it is another one after an edit that changes that. `section` is the first one it is in.
    """

    id: str
    kind: StageKind
    group: StageGroup
    reason: Reason
    muted: frozenset[str]
    passages: tuple[Passage, ...]
    tempo: int
    floor: int
    goal: int
    strokes: float
    mark: str
    section: int = 0
    hard: float = 0.0
    """Of a change: how hard it is for the fingers beside the hardest of its section, 0 to 1."""

    def hears(self, event: Event) -> bool:
        """Whether a stroke is part of the stage."""
        return heard(event, self.muted)


def heard(event: Event, muted: frozenset[str]) -> bool:
    """Whether a stroke is heard when these fingers and kinds of strokes are not."""
    return (event.finger or "") not in muted and event.kind not in muted


def asked_of(result: Result, muted: frozenset[str]) -> Result:
    """A fitted section with nothing but what is heard; equal bars stay one value."""
    known: dict[int, tuple[Event, ...]] = {}
    bars = []
    for bar in result.bars:
        if id(bar.events) not in known:
            known[id(bar.events)] = tuple(event for event in bar.events if heard(event, muted))
        bars.append(replace(bar, events=known[id(bar.events)]))
    return replace(result, bars=tuple(bars))


def strummed(result: Result) -> Result:
    """A fitted section with nothing but its shapes, brushed once where each comes."""
    bars = []
    for bar in result.bars:
        events: list[Event] = []
        for index in bar.spans:
            fitted = result.spans[index]
            if fitted.span.bar != bar.number or fitted.assignment is None:
                continue
            events += _brushed(result, fitted)
        bars.append(replace(bar, events=tuple(events)))
    return replace(result, bars=tuple(bars))


def _brushed(result: Result, fitted: FittedSpan) -> list[Event]:
    """The shape of a chord as it enters, string by string from the highest number."""
    assignment, out = fitted.assignment, list[Event]()
    assert assignment is not None
    for string in range(result.piece.instrument.strings, 0, -1):
        fret = assignment.shape.fret(string)
        if fret is not None:
            pitch, degree = pitch_on(assignment, result.piece.instrument, result.piece.capo, string, fret)
            out.append(Event(fitted.span.at, "", None, None, string, fret, pitch, degree, 0, "brush-down", 0))
    return out


def heard_in(stage: Stage, results: Mapping[int, Result]) -> dict[int, Result]:
    """The sections that a stage is in, with only what it asks for."""
    sections = {passage.section for passage in stage.passages}
    if stage.kind == "strum":
        return {section: strummed(results[section]) for section in sections}
    return {section: asked_of(results[section], stage.muted) for section in sections}


def cut_bars(result: Result, passage: Passage) -> list[tuple[Fraction, Fraction, Fraction, FittedBar]]:
    """The bars of a passage: where each begins in the section, from and to where in it, and the bar."""
    out = []
    for start, bar in result.timed_bars():
        left, right = max(passage.begin, start), min(passage.end, start + bar.length)
        if left < right:
            out.append((start, left - start, right - start, bar))
    return out


def length_of(stage: Stage) -> Fraction:
    """How long one round lasts, in whole notes."""
    return sum((passage.end - passage.begin for passage in stage.passages), Fraction(0))


def mark_of(passages: tuple[Passage, ...], results: Mapping[int, Result], muted: frozenset[str]) -> str:
    """A short digest of every stroke and chord that is asked for: string, fret, finger, kind and when."""
    made = blake2b(digest_size=6)
    known: dict[tuple[int, tuple[int, ...], Fraction, Fraction], bytes] = {}
    for passage in passages:
        result = results[passage.section]
        made.update(f"{result.piece.meter};".encode())
        for _, left, right, bar in cut_bars(result, passage):
            held = tuple(id(result.spans[index].assignment) for index in bar.spans)
            key = (id(bar.events), held, left, right)
            if key not in known:
                known[key] = _asked(result, bar, left, right, muted)
            made.update(known[key])
    return made.hexdigest()


def _asked(result: Result, bar: FittedBar, left: Fraction, right: Fraction, muted: frozenset[str]) -> bytes:
    """What a part of a bar asks for, in one line."""
    held = [result.spans[index].assignment for index in bar.spans]
    told = [f"{each.chord.text}{{{each.shape}}}" if each is not None else "-" for each in held]
    told += [
        f"{event.at} {event.string} {event.fret} {event.finger} {event.kind}"
        for event in bar.events
        if left <= event.at < right and not event.silent and heard(event, muted)
    ]
    return f"{left} {right} {told};".encode()
