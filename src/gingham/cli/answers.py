"""The answers of the command line as records; their JSON schemas are in docs/cli.md."""

from __future__ import annotations

import msgspec

from gingham.core.bench.capo import CapoPlace
from gingham.core.fitting.result import Event, Result
from gingham.core.instruments.instrument import Instrument
from gingham.core.judging.changes import Change, hardest
from gingham.core.judging.muddy import muddy_pairs
from gingham.core.judging.speed import Limit
from gingham.core.music.chords import Chord
from gingham.core.music.meter import seconds
from gingham.core.music.pitch import pitch_from_midi
from gingham.core.pieces.piece import Piece
from gingham.core.shapes.fretting import THUMB
from gingham.core.shapes.search import RankedShape
from gingham.words.changes import change_text, change_title
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


class FingerStroke(msgspec.Struct):
    """One pluck with its finger (`down` or `up` for a pick); null where the hand has too few fingers."""

    bar: int
    at: str
    count: str
    finger: str | None
    string: int
    accent: int


class FingerAnswer(msgspec.Struct):
    """`gingham finger`; `impossible` are the plucks that had to be left out, as [place from 1, string]."""

    hand: str
    strokes: list[FingerStroke]
    limit: FitLimit
    impossible: list[list[int]]


class FigureWay(msgspec.Struct):
    """One way to sit a figure: `rounds` is after how many bars figure and bar line meet again."""

    kind: str
    text: str
    pattern: str
    align: str
    count: str
    rounds: int


class FigureAnswer(msgspec.Struct):
    """`gingham figure`; `uneven` says why it cannot be spread evenly over a bar, null if it can."""

    strokes: int
    meter: str
    ways: list[FigureWay]
    uneven: str | None


class Name(msgspec.Struct):
    """One plausible symbol."""

    symbol: str


class NameAnswer(msgspec.Struct):
    """`gingham name`, best first."""

    names: list[Name]


class BothNames(msgspec.Struct):
    """A shape's symbol and what it sounds above the capo."""

    shape_symbol: str
    sounding: str


class CapoAnswer(msgspec.Struct):
    """`gingham capo --at N`."""

    capo: int
    chords: list[BothNames]


class CapoPosition(msgspec.Struct):
    """One position of `gingham capo --best`; `differ` are sounding chords whose plucked pitches differ."""

    capo: int
    effort: float
    barres: int
    chords: list[BothNames]
    differ: list[str]


class CapoBestAnswer(msgspec.Struct):
    """`gingham capo --best`, easiest first."""

    positions: list[CapoPosition]


class ChangeFinger(msgspec.Struct):
    """One fretting finger in a change; places are [string, fret], `slots` and `ms` its window (or null)."""

    finger: int
    kind: str
    from_place: list[int] | None
    to_place: list[int] | None
    slots: str | None
    ms: int | None
    squeak: bool


class ChangeRecord(msgspec.Struct):
    """One change, its fingers in order of landing."""

    before: str
    after: str
    bar: int
    at: str
    seam: bool
    fingers: list[ChangeFinger]
    picking: str
    thumb: list[int]
    squeak: bool
    difficulty: float
    text: str


class ChangesAnswer(msgspec.Struct):
    """`gingham changes`, in order, the seam last; `hardest` names the hardest one."""

    changes: list[ChangeRecord]
    hardest: str | None


class ExportAnswer(msgspec.Struct):
    """`gingham export`."""

    piece: str
    out: str
    bytes: int


class ReadPattern(msgspec.Struct):
    """A pattern that was found, as shorthand."""

    name: str
    line: str


class ReadSection(msgspec.Struct):
    """A section with its chords, the name of its pattern, how often it is played in a row."""

    name: str
    chords: str
    pattern: str
    repeats: int


class ReadException(msgspec.Struct):
    """A bar that breaks its pattern: notes more and fewer; `kept` is plucks, bar or empty (not kept)."""

    section: str
    bar: int
    added: int
    missing: int
    kept: str


class ReadAnswer(msgspec.Struct):
    """`gingham read`: `order` is empty where the sections are played as they stand."""

    file: str
    title: str
    tuning: str
    capo: int
    meter: str
    tempo: int
    thumb: str
    fingers: str
    patterns: list[ReadPattern]
    sections: list[ReadSection]
    order: str
    ending: str
    exceptions: list[ReadException]
    guesses: list[str]


ANSWERS: dict[str, type[msgspec.Struct]] = {
    "spell": SpellAnswer,
    "shapes": ShapesAnswer,
    "name": NameAnswer,
    "capo": CapoAnswer,
    "capo --best": CapoBestAnswer,
    "fit": FitAnswer,
    "finger": FingerAnswer,
    "figure": FigureAnswer,
    "changes": ChangesAnswer,
    "export": ExportAnswer,
    "read": ReadAnswer,
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
    fingers = "".join("T" if f == THUMB else str(f) for f in ranked.fretting.fingers)
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
    found = sorted([*result.problems(), *muddy_pairs(result)], key=lambda pair: (pair[0], pair[1].at))
    problems = [FitProblem(bar, str(p.at), p.code, problem_text(p)) for bar, p in found]
    return FitAnswer(chords, events, limit_record(limit), problems)


def limit_record(limit: Limit) -> FitLimit:
    """A limit with its spots in words."""
    spots = [FitSpot(s.bar, str(s.at), s.count, s.finger, s.tempo, spot_text(s)) for s in limit.spots]
    return FitLimit(limit.tempo, spots)


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


def name_answer(found: tuple[Chord, ...]) -> NameAnswer:
    """Plausible symbols, best first."""
    return NameAnswer([Name(chord.text) for chord in found])


def capo_answer(capo: int, names: tuple[tuple[Chord, Chord], ...]) -> CapoAnswer:
    """Both names of each chord."""
    return CapoAnswer(capo, _both(names))


def capo_best_answer(places: tuple[CapoPlace, ...]) -> CapoBestAnswer:
    """Every position, the easiest first."""
    return CapoBestAnswer(
        [CapoPosition(p.capo, p.effort, p.barres, _both(p.shapes), list(p.differ)) for p in places]
    )


def _both(names: tuple[tuple[Chord, Chord], ...]) -> list[BothNames]:
    return [BothNames(shape.text, sounds.text) for shape, sounds in names]


def changes_answer(found: tuple[Change, ...], piece: Piece) -> ChangesAnswer:
    """Changes in order, and which is the hardest."""
    worst = hardest(found)
    return ChangesAnswer(
        [_change(change, piece) for change in found], change_title(worst[0]) if worst else None
    )


def _change(change: Change, piece: Piece) -> ChangeRecord:
    fingers = [
        ChangeFinger(
            move.finger,
            move.kind,
            None if move.from_place is None else list(move.from_place),
            None if move.to_place is None else list(move.to_place),
            None if move.slots is None else str(move.slots),
            None if move.window is None else round(1000 * seconds(move.window, piece.meter, piece.tempo)),
            move.squeak,
        )
        for move in change.fingers
    ]
    return ChangeRecord(
        change.before, change.after, change.bar, str(change.at), change.seam, fingers, change.picking,
        list(change.thumb), change.squeak, change.difficulty, change_text(change, piece.meter, piece.tempo),
    )  # fmt: skip
