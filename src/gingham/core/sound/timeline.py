"""The result in time: what sounds when, in whole notes from the start, swing applied."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction
from itertools import accumulate

from gingham.core.fitting.result import FittedBar, Result
from gingham.core.music.meter import Meter
from gingham.core.pieces.piece import Piece
from gingham.core.sound.feel import bright, gain

_BRUSH_SPREAD = Fraction(1, 200)  # of a whole note between two strings of a brush


@dataclass(frozen=True, slots=True)
class Note:
    """One string sounding from `at` (whole notes from the timeline's start, already swung).

    `gain` is 0–1, `thumb` says who plucks, `bright` that a finger follows through. `midi` is None for a
    chuck, which only stops the string.
    """

    at: float
    string: int
    midi: int | None
    gain: float
    thumb: bool
    soft: bool = False
    bright: bool = False


@dataclass(frozen=True, slots=True)
class Place:
    """Where a bar of the timeline begins, and which section and bar number it is."""

    at: float
    section: int
    bar: int


@dataclass(frozen=True, slots=True)
class Timeline:
    """Notes in order of time, clicks (position, strong), places of bars, and the length in whole notes."""

    notes: tuple[Note, ...]
    clicks: tuple[tuple[float, bool], ...]
    places: tuple[Place, ...]
    length: float
    beat: float
    bar: float

    def place(self, at: float) -> tuple[Place, float]:
        """The bar at a position, and how far into it (whole notes)."""
        found = self.places[0]
        for place in self.places:
            if place.at > at + 1e-9:
                break
            found = place
        return found, at - found.at


def swung(at: Fraction, of: Meter, swing: Fraction) -> Fraction:
    """A straight position within a bar moved by swing: the beat's first half takes `swing` of it."""
    if swing == Fraction(1, 2):
        return at
    beat = of.tempo_beat
    whole, part = divmod(at, beat)
    share = part / beat
    half = Fraction(1, 2)
    late = 2 * share * swing if share < half else swing + 2 * (share - half) * (1 - swing)
    return (whole + late) * beat


def timeline(results: list[Result], *, repeats: bool = True, bars: tuple[int, int] | None = None) -> Timeline:
    """The sections one after the other; `bars` (first, last) cuts the first section to those bars."""
    notes: list[Note] = []
    clicks: list[tuple[float, bool]] = []
    places: list[Place] = []
    start = Fraction(0)
    piece = results[0].piece
    for result in results:
        times = piece.sections[result.section].repeats if repeats else 1
        for _ in range(times):
            for bar in result.bars:
                if bars is not None and not bars[0] <= bar.number <= bars[1]:
                    continue
                places.append(Place(float(start), result.section, bar.number))
                clicks += _clicks(start, bar.length, piece.meter)
                notes += _notes(start, bar, piece)
                start += bar.length
    notes.sort(key=lambda note: note.at)
    return Timeline(
        tuple(notes),
        tuple(clicks),
        tuple(places),
        float(start),
        float(piece.meter.tempo_beat),
        float(piece.meter.bar),
    )


def clicks_alone(of: Meter, bars: int) -> Timeline:
    """Bars of nothing but clicks on the counted beats."""
    starts = [of.bar * number for number in range(bars)]
    clicks = tuple(click for start in starts for click in _clicks(start, of.bar, of))
    places = tuple(Place(float(start), 0, number) for number, start in enumerate(starts, 1))
    return Timeline((), clicks, places, float(of.bar * bars), float(of.tempo_beat), float(of.bar))


def _clicks(start: Fraction, length: Fraction, of: Meter) -> list[tuple[float, bool]]:
    out, at = [], Fraction(0)
    offset = of.bar - length  # a pick-up ends where the bar line is
    for beat in of.beats:
        if at >= offset:
            out.append((float(start + at - offset), at == 0))
        at += beat
    return out


def _notes(start: Fraction, bar: FittedBar, piece: Piece) -> list[Note]:
    of, profile = piece.meter, piece.rules.accents
    beats = frozenset(accumulate(of.beats[:-1], initial=Fraction(0)))
    out: list[Note] = []
    swept: dict[Fraction, int] = {}
    missing = of.bar - bar.length  # a pick-up swings as the end of a bar does
    for event in bar.events:
        if event.silent or (event.pitch is None and event.kind != "chuck"):
            continue
        at = start + swung(event.at + missing, of, piece.swing) - missing
        if event.kind in ("brush-down", "brush-up"):
            at += _BRUSH_SPREAD * swept.get(event.at, 0)
            swept[event.at] = swept.get(event.at, 0) + 1
        midi = None if event.kind == "chuck" or event.pitch is None else event.pitch.midi
        soft = event.kind in ("hammer", "pull", "slide")
        loud = gain(event, profile, event.at + missing, beats)
        shine = bright(event, profile)
        out.append(Note(float(at), event.string, midi, loud, event.finger == "p", soft, shine))
    return out
