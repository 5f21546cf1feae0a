"""What a take is held against: a section or some of its bars, round and round, or the whole form."""

from __future__ import annotations

import hashlib
from fractions import Fraction
from math import ceil

import msgspec

from gingham.core.errors import TakeError
from gingham.core.fitting.cache import FitCache
from gingham.core.fitting.fit import fit
from gingham.core.fitting.performance import perform
from gingham.core.fitting.played import PlayedBar, played_bars
from gingham.core.fitting.result import Result
from gingham.core.listening.plan import TakePlan, plan_of
from gingham.core.music.meter import seconds
from gingham.core.pieces.edits import set_tempo
from gingham.core.pieces.piece import Piece
from gingham.core.values import replace

_MOST_ROUNDS = 64


class Asked(msgspec.Struct, frozen=True, omit_defaults=True):
    """What was to be played: a section by its name (None is the whole form), bars of it, beats a minute.

    A `free` take has no tempo: order and strings alone are looked at.
    """

    tempo: int
    section: str | None = None
    bars: tuple[int, int] | None = None
    free: bool = False


class Question(msgspec.Struct, frozen=True):
    """A plan, and the bars it was made of: what a take is heard against, and where it lies in the piece."""

    asked: Asked
    plan: TakePlan
    bars: tuple[PlayedBar, ...]

    @property
    def mark(self) -> str:
        """A short text that is another one as soon as other plucks are asked for."""
        said = [(p.bar, p.at, p.string, p.midi, p.finger) for p in self.plan.plucks if p.bar <= self._round]
        return hashlib.sha256(repr(said).encode()).hexdigest()[:12]

    @property
    def _round(self) -> int:
        """The number of the last bar of the first round."""
        first = self.bars[0].bar
        again = (each.number for each in self.bars[1:] if each.bar is first)
        return next(again, self.bars[-1].number + 1) - 1


def question(piece: Piece, asked: Asked, rounds: int = 1, cache: FitCache | None = None) -> Question:
    """What is asked for, a section so many times; the whole form once.

    Raises
    ------
    TakeError
        If the section is no longer there, or nothing would sound in it.
    """
    timed = piece if asked.tempo == piece.tempo else set_tempo(piece, asked.tempo)
    results = _whole(timed, cache) if asked.section is None else [(_part(timed, asked, cache), rounds)]
    if not any(bar.events for result, _ in results for bar in result.bars):
        raise TakeError("take-nothing")
    return Question(asked, plan_of(results), tuple(played_bars(results)))


def rounds_in(once: Question, lasts_s: float) -> int:
    """How many rounds there can be in a take of so many seconds; 1 for a whole form."""
    if once.asked.section is None:
        return 1
    return min(_MOST_ROUNDS, max(1, ceil(lasts_s / round_s(once))))


def round_s(once: Question) -> float:
    """How many seconds one round lasts in its tempo."""
    piece = once.bars[0].result.piece
    return seconds(sum((each.bar.length for each in once.bars), Fraction(0)), piece.meter, piece.tempo)


def _whole(piece: Piece, cache: FitCache | None) -> list[tuple[Result, int]]:
    whole = perform(piece, cache=cache)
    return list(zip(whole.results, whole.times, strict=True))


def _part(piece: Piece, asked: Asked, cache: FitCache | None) -> Result:
    """The section, or the bars of it that were looped."""
    index = next((i for i, s in enumerate(piece.sections) if s.name == asked.section), None)
    if index is None:
        raise TakeError("take-section", name=asked.section or "")
    result = fit(piece, index, cache)
    if asked.bars is None:
        return result
    first, last = asked.bars
    return replace(result, bars=tuple(bar for bar in result.bars if first <= bar.number <= last), plan=())
