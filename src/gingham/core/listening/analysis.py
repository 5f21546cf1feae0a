"""A recording held against what was asked for: question, hearing, report and picture in one."""

from __future__ import annotations

from collections.abc import Callable

import msgspec

from gingham.core.fitting.cache import FitCache
from gingham.core.listening.asked import Asked, Question, question, round_s, rounds_in
from gingham.core.listening.heard import Hearing
from gingham.core.listening.hearing import Tick, hear
from gingham.core.listening.report import Report, report
from gingham.core.listening.score import Mark, marks_of, sentences
from gingham.core.listening.sounds import Sound
from gingham.core.listening.taps import KeyTap, hear_taps
from gingham.core.music.meter import seconds
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
        """How many plucks hit, of how many that were to be judged."""
        judged = [mark for mark in self.marks if mark.state in ("right", "wrong", "missed")]
        return sum(mark.state == "right" or self.is_near(mark) for mark in judged), len(judged)

    def is_near(self, mark: Mark) -> bool:
        """Whether a wrong string counts as a hit: another of the held chord, where the piece allows it."""
        if mark.state != "wrong" or mark.heard is None:
            return False
        played = next((each for each in self.question.bars if each.number == mark.bar), None)
        if played is None or played.result.piece.rules.strict == "exact":
            return False
        on = played.result.assignment_at(played.bar, mark.at)
        return on is not None and on.fret(mark.heard) == mark.heard_fret


class Given(msgspec.Struct, frozen=True):
    """What a take is heard by: its sound, or keys that were tapped; `click_s` is when its first beat clicked.

    `click_s` is None without a click, else seconds of the file.
    """

    sound: Sound
    taps: tuple[KeyTap, ...] = ()
    click_s: float | None = None


def analyse(
    piece: Piece, asked: Asked, given: Given, tick: Tick = lambda _share: True, cache: FitCache | None = None
) -> Analysis:
    """Hear a take of a piece.

    Raises
    ------
    TakeError
        If it is other music, the section has gone, or `tick` gives it up.
    """
    shared = cache if cache is not None else FitCache()
    return analysed(lambda rounds: question(piece, asked, rounds, shared), given, tick)


def analysed(ask: Callable[[int], Question], given: Given, tick: Tick) -> Analysis:
    """Hear a take of whatever `ask` makes of a number of rounds. TakeError as for `analyse`."""
    tick(0.02)
    once = ask(1)
    rounds = rounds_in(once, given.sound.seconds)
    made = once if rounds == 1 else ask(rounds)
    hearing = _heard(given, made, tick)
    before = hearing.reach.start // len(once.plan.moments) if len(hearing.reach) else 0
    if before and rounds > 1:  # of equal rounds any could be the first: hear it from the first one on
        made = ask(rounds - before)
        hearing = _heard(given, made, tick)
    click_s = None if given.click_s is None else given.click_s + _until_first(made, before * round_s(once))
    said = report(hearing, made.plan, clipped=given.sound.clipped, free=made.asked.free, click_s=click_s)
    return Analysis(made, hearing, said, marks_of(made, hearing, said), sentences(made, hearing, said))


def _heard(given: Given, asked: Question, tick: Tick) -> Hearing:
    if given.taps:
        return hear_taps(given.taps, asked.plan, free=asked.asked.free)
    return hear(given.sound.samples, given.sound.rate, asked.plan, free=asked.asked.free, tick=tick)


def _until_first(asked: Question, rounds_s: float) -> float:
    """Seconds from the first beat of the first round to the first pluck of the question."""
    first, piece = asked.plan.plucks[0], asked.bars[0].result.piece
    start = next(each.start for each in asked.bars if each.number == first.bar)
    return rounds_s + seconds(start + first.at, piece.meter, piece.tempo)
