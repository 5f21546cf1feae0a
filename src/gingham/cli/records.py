"""The answers of the command line as records; their JSON schemas are in docs/cli.md."""

from __future__ import annotations

import msgspec

from gingham.words.take_answer import PlannedPlace


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


class FitWhy(msgspec.Struct):
    """Why a bass (`p1`, …) or a finger has its string on a chord: the chief reason, and all as a sentence."""

    lane: str
    string: int
    code: str
    text: str


class FitChord(msgspec.Struct):
    """One span: `fingers` in shape order (0 none, T thumb); `at` and `length` of a whole note as text."""

    symbol: str
    sounding: str
    shape: str | None
    fingers: str | None
    bar: int
    at: str
    length: str
    bass: list[int]
    heard: list[str]
    hold: str | None
    why: list[FitWhy]


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
    """`gingham fit`: `tuning` is without the capo, highest string number first; `tempo` in counted beats."""

    instrument: str
    tuning: list[str]
    capo: int
    meter: str
    tempo: float
    swing: str
    pickup: str
    chords: list[FitChord]
    events: list[FitEvent]
    limit: FitLimit
    problems: list[FitProblem]
    supposed: list[str]


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


class SaidWay(msgspec.Struct):
    """One way to sit what was said: shorthand, its count, and why."""

    pattern: str
    count: str
    why: str


class SayAnswer(msgspec.Struct):
    """`gingham say`, the likeliest way first; `supposed` is what had to be guessed."""

    read_as: str
    ways: list[SaidWay]
    supposed: list[str]


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
    supposed: list[str]


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
    supposed: list[str]


class ChangeFinger(msgspec.Struct):
    """One fretting finger in a change (5 is the thumb); places are [string, fret].

    `free` and `due`, of a whole note from the change, are when it may lift and when it must have landed;
    `slots` and `ms` the window between (null where it is never plucked).
    """

    finger: int
    kind: str
    from_place: list[int] | None
    to_place: list[int] | None
    slots: str | None
    ms: int | None
    squeak: bool
    free: str | None
    due: str | None


class ChangeRecord(msgspec.Struct):
    """One change, its fingers in order of landing; `block` is how many frets the whole shape slides."""

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
    block: int
    text: str


class HeldChord(msgspec.Struct):
    """One chord as it is held: `fingers` in shape order, 0 = none, T = thumb."""

    symbol: str
    shape: str
    fingers: str | None
    bar: int
    at: str


class ChangesAnswer(msgspec.Struct):
    """`gingham changes`, in order, the seam last; `hardest` names the hardest one."""

    changes: list[ChangeRecord]
    hardest: str | None
    chords: list[HeldChord]
    supposed: list[str]


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


class SimulatedNote(msgspec.Struct):
    """A pluck as the simulated player played it: `kind` is ok, wrong or extra."""

    t_s: float
    string: int
    pitch: str
    level_db: float
    planned: PlannedPlace | None
    kind: str


class SimulateAnswer(msgspec.Struct):
    """`gingham simulate`: what was played, and what was left out; also written beside the take."""

    take: str
    seconds: float
    seed: int
    faults: dict[str, float]
    notes: list[SimulatedNote]
    missed: list[PlannedPlace]
