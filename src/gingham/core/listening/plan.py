"""What a take is held against: every planned pluck in seconds, and what each string is at every time."""

from __future__ import annotations

from bisect import bisect_right
from fractions import Fraction

import msgspec

from gingham.core.fitting.played import played_bars
from gingham.core.fitting.result import FittedBar, Result
from gingham.core.instruments.instrument import Instrument
from gingham.core.music.meter import Meter, seconds
from gingham.core.pieces.piece import Piece
from gingham.core.sound.timeline import swung

_NEAR_S = 1e-4
SOFT = frozenset({"hammer", "pull", "slide"})
"""Notes of the fretting hand: no finger plucks them, so that a take need not show an onset."""
SWEPT = frozenset({"brush-down", "brush-up", "chuck"})


class Planned(msgspec.Struct, frozen=True, gc=False):
    """One planned pluck: `bar` as it is counted (pick-up 0), `at` straight, of a whole note from its start.

    `t_s` is when it should sound, in seconds after the first one; `midi` its sounding pitch.
    """

    bar: int
    at: Fraction
    t_s: float
    string: int
    midi: int
    finger: str | None
    kind: str
    accent: int = 0


class Held(msgspec.Struct, frozen=True, gc=False):
    """What the strings are from `t_s` on: pairs of (string, midi) of every string that can sound."""

    t_s: float
    name: str
    pitches: tuple[tuple[int, int], ...]


class TakePlan(msgspec.Struct, frozen=True):
    """Plucks in order of time, gathered into moments; what is held when; the instrument; beats a minute.

    `moments` are indices of the plucks that are struck together, `times` when (seconds from the first),
    `over` the chord (index into `held`) at each of them.
    """

    plucks: tuple[Planned, ...]
    moments: tuple[tuple[int, ...], ...]
    times: tuple[float, ...]
    over: tuple[int, ...]
    held: tuple[Held, ...]
    tuning: tuple[int, ...]
    """The open strings' sounding pitches above the capo, string 1 first."""
    meter: Meter
    tempo: float

    def changes(self, moment: int) -> bool:
        """Whether another chord is held at a moment than at the one before."""
        return moment > 0 and (
            self.held[self.over[moment]].pitches != self.held[self.over[moment - 1]].pitches
        )

    def strings_at(self, moment: int) -> dict[int, int]:
        """String to pitch: the chord's strings, with what is planned on them at this moment."""
        out = dict(self.held[self.over[moment]].pitches)
        out.update((self.plucks[i].string, self.plucks[i].midi) for i in self.moments[moment])
        return out


def gathered(
    plucks: list[Planned], held: list[Held], tuning: tuple[int, ...], meter: Meter, tempo: float
) -> TakePlan:
    """A plan from its plucks and chords, in any order; times begin at the first pluck."""
    plucks = sorted(plucks, key=lambda p: (p.t_s, -p.string))
    first = plucks[0].t_s if plucks else 0.0
    plucks = [msgspec.structs.replace(p, t_s=p.t_s - first) for p in plucks]
    held = sorted((msgspec.structs.replace(h, t_s=h.t_s - first) for h in held), key=lambda h: h.t_s)
    moments: list[list[int]] = []
    for index, pluck in enumerate(plucks):
        if moments and pluck.t_s - plucks[moments[-1][0]].t_s < _NEAR_S:
            moments[-1].append(index)
        else:
            moments.append([index])
    times = tuple(plucks[moment[0]].t_s for moment in moments)
    starts = [each.t_s for each in held]
    over = tuple(max(0, bisect_right(starts, t + _NEAR_S) - 1) for t in times)
    return TakePlan(tuple(plucks), tuple(map(tuple, moments)), times, over, tuple(held), tuning, meter, tempo)


def open_strings(instrument: Instrument, capo: int) -> tuple[int, ...]:
    """The pitches of the open strings above the capo, string 1 first."""
    return tuple(instrument.open_midi(string) + capo for string in range(1, instrument.strings + 1))


def plan_of(results: list[tuple[Result, int]]) -> TakePlan:
    """What fitted sections ask for, each as often as it is played; bars are counted as they are played."""
    piece = results[0][0].piece
    tuning = open_strings(piece.instrument, piece.capo)
    plucks: list[Planned] = []
    held: list[Held] = []
    for each in played_bars(results):
        plucks += _plucks(each.bar, each.number, each.start, piece)
        held += _held(each.result, each.bar, each.start, piece, tuning)
    return gathered(plucks, held, tuning, piece.meter, float(piece.tempo))


def _seconds(time: Fraction, piece: Piece) -> float:
    return seconds(time, piece.meter, piece.tempo)


def _plucks(bar: FittedBar, number: int, start: Fraction, piece: Piece) -> list[Planned]:
    out = []
    for event in bar.events:
        if event.silent or event.pitch is None or event.kind == "chuck":
            continue
        at = swung(event.at, piece.meter, piece.swing) if bar.number else event.at
        out.append(
            Planned(
                number, event.at, _seconds(start + at, piece), event.string, event.pitch.midi, event.plucker,
                event.kind, event.accent,
            )
        )  # fmt: skip
    return out


def _held(
    result: Result, bar: FittedBar, start: Fraction, piece: Piece, tuning: tuple[int, ...]
) -> list[Held]:
    out = []
    for index in bar.spans:
        span, assignment = result.spans[index].span, result.spans[index].assignment
        at = span.at if span.bar == bar.number else Fraction(0)
        if assignment is not None and span.chord is not None:
            frets = ((s, assignment.fret(s)) for s in range(1, len(tuning) + 1))
            pitches = tuple((s, tuning[s - 1] + fret) for s, fret in frets if fret is not None)
            out.append(Held(_seconds(start + at, piece), span.chord.text, pitches))
    return out
