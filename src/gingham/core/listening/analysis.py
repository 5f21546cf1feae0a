"""A recording held against what was asked for: question, hearing, report and picture in one."""

from __future__ import annotations

import msgspec

from gingham.core.fitting.cache import FitCache
from gingham.core.listening.asked import Asked, Question, question, rounds_in
from gingham.core.listening.hearing import Hearing, Tick, hear
from gingham.core.listening.report import Report, report
from gingham.core.listening.score import Mark, marks_of, sentences
from gingham.core.listening.sounds import Sound
from gingham.core.pieces.piece import Piece
from gingham.core.reasons import Reason


class Analysis(msgspec.Struct, frozen=True):
    """All that is known of a take. `said` are the sentences, `marks` the picture."""

    question: Question
    hearing: Hearing
    report: Report
    marks: tuple[Mark, ...]
    said: tuple[Reason, ...]

    @property
    def held(self) -> tuple[int, int]:
        """How many plucks were on their strings, of how many that were to be judged."""
        states = [mark.state for mark in self.marks]
        return states.count("right"), sum(state in ("right", "wrong", "missed") for state in states)


def analyse(
    piece: Piece, asked: Asked, sound: Sound, tick: Tick = lambda _share: True, cache: FitCache | None = None
) -> Analysis:
    """Hear a take of a piece.

    Raises
    ------
    TakeError
        If it is other music, the section has gone, or `tick` gives it up.
    """
    shared = cache if cache is not None else FitCache()
    tick(0.02)
    once = question(piece, asked, 1, shared)
    rounds = rounds_in(once, sound.seconds)
    made = once if rounds == 1 else question(piece, asked, rounds, shared)
    hearing = hear(sound.samples, sound.rate, made.plan, free=asked.free, tick=tick)
    before = hearing.reach.start // len(once.plan.moments) if len(hearing.reach) else 0
    if before and rounds > 1:  # of equal rounds any could be the first: hear it from the first one on
        made = question(piece, asked, rounds - before, shared)
        hearing = hear(sound.samples, sound.rate, made.plan, free=asked.free, tick=tick)
    said = report(hearing, made.plan, clipped=sound.clipped, free=asked.free)
    return Analysis(made, hearing, said, marks_of(made, hearing, said), sentences(made, hearing, said))
