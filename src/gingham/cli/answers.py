"""The answers of the command line as records; their JSON schemas are in docs/cli.md."""

from __future__ import annotations

import msgspec

from gingham.core.fitting.result import Event, Result
from gingham.core.instruments.instrument import Instrument
from gingham.core.judging.speed import Limit
from gingham.core.music.chords import Chord
from gingham.core.music.pitch import pitch_from_midi
from gingham.core.shapes.search import RankedShape
from gingham.words.reasons import problem_text, spot_text


class Tone(msgspec.Struct):
    """One tone of a chord."""

    degree: str
    note: str


class SpellAnswer(msgspec.Struct):
    """`gingham spell`."""

    symbol: str
    root: str
    bass: str
    tones: list[Tone]


class ShapeString(msgspec.Struct):
    """One string of a shape; fret, pitch and degree are null on a string that is not played."""

    string: int
    fret: int | None
    pitch: str | None
    degree: str | None


class ShapeAnswer(msgspec.Struct):
    """One shape: fingers in shape order, 0 = none, T = thumb."""

    shape: str
    fingers: str
    effort: float
    strings: list[ShapeString]


class ShapesAnswer(msgspec.Struct):
    """`gingham shapes`, best first."""

    shapes: list[ShapeAnswer]


class FitChord(msgspec.Struct):
    """One span: `at` and `length` are fractions of a whole note as text."""

    symbol: str
    sounding: str
    shape: str | None
    bar: int
    at: str
    length: str
    bass: list[int]
    heard: list[str]
    hold: str | None


class FitEvent(msgspec.Struct):
    """One string sounding; `fret` counts from the capo, `pitch` sounds."""

    bar: int
    at: str
    count: str
    finger: str | None
    lane: str | None
    string: int
    fret: int | None
    pitch: str | None
    degree: str | None
    accent: int
    kind: str


class FitSpot(msgspec.Struct):
    """A spot that sets the hand limit."""

    bar: int
    at: str
    count: str
    finger: str
    tempo: float
    text: str


class FitLimit(msgspec.Struct):
    """The highest comfortable tempo in counted beats a minute."""

    tempo: int
    spots: list[FitSpot]


class FitProblem(msgspec.Struct):
    """A musical problem at its place."""

    bar: int
    at: str
    code: str
    text: str


class FitAnswer(msgspec.Struct):
    """`gingham fit`."""

    chords: list[FitChord]
    events: list[FitEvent]
    limit: FitLimit
    problems: list[FitProblem]


class ExportAnswer(msgspec.Struct):
    """`gingham export`."""

    piece: str
    out: str
    bytes: int


ANSWERS: dict[str, type[msgspec.Struct]] = {
    "spell": SpellAnswer,
    "shapes": ShapesAnswer,
    "fit": FitAnswer,
    "export": ExportAnswer,
}


def spell_answer(chord: Chord) -> SpellAnswer:
    """Root, bass and tones of a chord."""
    tones = [Tone(str(degree), str(note)) for degree, note in chord.tones]
    return SpellAnswer(chord.text, str(chord.root), str(chord.bass_note), tones)


def shapes_answer(chord: Chord, found: tuple[RankedShape, ...], on: Instrument, capo: int) -> ShapesAnswer:
    """Shapes with what each string sounds."""
    return ShapesAnswer([_shape(chord, ranked, on, capo) for ranked in found])


def _shape(chord: Chord, ranked: RankedShape, on: Instrument, capo: int) -> ShapeAnswer:
    strings = []
    for string in range(on.strings, 0, -1):
        fret = ranked.shape.fret(string)
        if fret is None:
            strings.append(ShapeString(string, None, None, None))
            continue
        degree, note, _ = chord.tone_at(on.open_midi(string) + fret)
        midi = on.open_midi(string) + fret + capo
        pitch = pitch_from_midi(midi, note if capo % 12 == 0 else None)
        strings.append(ShapeString(string, fret, str(pitch), str(degree)))
    fingers = "".join(map(str, ranked.fretting.fingers))
    return ShapeAnswer(str(ranked.shape), fingers, ranked.effort, strings)


def fit_answer(result: Result, limit: Limit) -> FitAnswer:
    """A fitted section with its hand limit and problems."""
    chords = []
    for fitted in result.spans:
        span, on = fitted.span, fitted.assignment
        chords.append(
            FitChord(
                span.chord.text if span.chord else "N.C.",
                on.sounding.text if on else (span.chord.text if span.chord else "N.C."),
                str(on.shape) if on else None,
                span.bar,
                str(span.at),
                str(span.length),
                [choice.string for choice in on.basses] if on else [],
                list(fitted.heard),
                str(fitted.hold) if fitted.hold is not None else None,
            )
        )
    events = [_event(bar.number, event) for bar in result.bars for event in bar.events if not event.silent]
    spots = [FitSpot(s.bar, str(s.at), s.count, s.finger, s.tempo, spot_text(s)) for s in limit.spots]
    problems = [FitProblem(bar, str(p.at), p.code, problem_text(p)) for bar, p in result.problems()]
    return FitAnswer(chords, events, FitLimit(limit.tempo, spots), problems)


def _event(bar: int, event: Event) -> FitEvent:
    return FitEvent(
        bar,
        str(event.at),
        event.count,
        event.finger,
        f"p{event.lane}" if event.lane is not None else None,
        event.string,
        event.fret,
        str(event.pitch) if event.pitch is not None else None,
        event.degree,
        event.accent,
        event.kind,
    )
