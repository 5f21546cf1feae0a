"""A plan as `gingham fit --json` prints it, read."""

from __future__ import annotations

from fractions import Fraction
from pathlib import Path

import msgspec

from gingham.core.errors import FileError, GinghamError
from gingham.core.formats.atomic import read_bytes
from gingham.core.formats.suffix import SUFFIX
from gingham.core.listening.plan import Held, Planned, TakePlan, gathered
from gingham.core.music.meter import Meter, parse_meter
from gingham.core.music.pitch import parse_pitch
from gingham.core.pieces.tempo import parse_swing
from gingham.core.shapes.shape import parse_shape
from gingham.core.sound.timeline import swung

_MOST_MB = 20
_STRAIGHT = Fraction(1, 2)


class _Event(msgspec.Struct):
    bar: int
    at: str
    string: int
    kind: str = "pluck"
    pitch: str | None = None
    finger: str | None = None
    accent: int = 0


class _Chord(msgspec.Struct):
    symbol: str
    bar: int
    at: str
    shape: str | None = None


class _Fit(msgspec.Struct):
    events: list[_Event]
    chords: list[_Chord]
    tuning: list[str]
    meter: str
    tempo: float
    capo: int = 0
    swing: str | float = "1/2"
    pickup: str = "0"


def read_plan(path: Path) -> TakePlan:
    """Read the plan of a take; FileError if it is missing, damaged, a piece, or has no pluck."""
    if path.suffix.lower() == SUFFIX:
        raise FileError("plan-is-piece", path=str(path))
    try:
        fit = msgspec.json.decode(read_bytes(path, _MOST_MB), type=_Fit)
    except (msgspec.DecodeError, msgspec.ValidationError, UnicodeError) as error:
        raise FileError("plan-format", path=str(path), why=str(error)) from error
    try:
        plan = _plan(fit)
    except (GinghamError, ValueError, ZeroDivisionError, IndexError) as error:
        raise FileError("plan-format", path=str(path), why=str(error)) from error
    if not plan.plucks:
        raise FileError("plan-empty", path=str(path))
    return plan


def _plan(fit: _Fit) -> TakePlan:
    meter = parse_meter(fit.meter)
    pickup = Fraction(fit.pickup)
    swing = parse_swing(fit.swing) if isinstance(fit.swing, str) and fit.swing not in ("", "0") else _STRAIGHT
    if not 5 <= fit.tempo <= 1000:
        raise ValueError(f"tempo {fit.tempo}")
    opens = [parse_pitch(name).midi for name in fit.tuning]
    tuning = tuple(midi + fit.capo for midi in reversed(opens))
    plucks = []
    for event in fit.events:
        if event.pitch is not None and event.kind != "chuck":
            at = Fraction(event.at)
            sounds = swung(at, meter, swing) if event.bar else at
            t_s = _seconds(_start(event.bar, meter, pickup) + sounds, meter, fit.tempo)
            midi = parse_pitch(event.pitch).midi
            plucks.append(
                Planned(event.bar, at, t_s, event.string, midi, event.finger, event.kind, event.accent)
            )
    held = []
    for chord in fit.chords:
        if chord.shape:
            frets = parse_shape(chord.shape).frets
            pitches = tuple(
                (len(frets) - i, tuning[len(frets) - i - 1] + fret)
                for i, fret in enumerate(frets)
                if fret is not None
            )
            t_s = _seconds(_start(chord.bar, meter, pickup) + Fraction(chord.at), meter, fit.tempo)
            held.append(Held(t_s, chord.symbol, pitches))
    return gathered(plucks, held or [Held(0.0, "", tuple(enumerate(tuning, 1)))], tuning, meter, fit.tempo)


def _start(bar: int, meter: Meter, pickup: Fraction) -> Fraction:
    return pickup + (bar - 1) * meter.bar if bar else Fraction(0)


def _seconds(time: Fraction, meter: Meter, tempo: float) -> float:
    return float(time / meter.tempo_beat) * 60.0 / tempo
