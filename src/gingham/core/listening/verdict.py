"""What a take comes to as an attempt: clean or not, by evenness, strings and changes; where it was not."""

from __future__ import annotations

from fractions import Fraction

import msgspec

from gingham.core.fitting.played import played_bars
from gingham.core.listening.analysis import Analysis, Given, analysed
from gingham.core.listening.asked import Asked, Question
from gingham.core.listening.hearing import Tick
from gingham.core.listening.plan import plan_of
from gingham.core.music.meter import seconds
from gingham.core.practice.attempt import Error, Figures, Spot
from gingham.core.practice.cutting import CutStage

UNEVEN_MS = 18.0
"""Plucks that lie farther around the beat than that (a standard deviation) are not even."""
STRINGS = 0.98
"""The share of plucks that must be on their strings."""
_OFF_CLICK_MS = 40.0
_MOST_SPOTS = 60


class Verdict(msgspec.Struct, frozen=True):
    """An attempt as it was heard."""

    clean: bool
    errors: tuple[Error, ...]
    spots: tuple[Spot, ...]
    figures: Figures


def hear_stage(
    cut: CutStage, section: str, given: Given, most: int, tick: Tick = lambda _share: True
) -> Analysis:
    """Hear at `most` so many rounds of a stage of practice; TakeError if it is other music, or nothing."""
    tempo = cut.results[0].piece.tempo

    def asked(rounds: int) -> Question:
        played = [(result, 1) for _ in range(min(most, rounds)) for result in cut.results]
        return Question(Asked(tempo, section), plan_of(played), tuple(played_bars(played)))

    return analysed(asked, given, tick)


def verdict(analysis: Analysis, begins: tuple[tuple[int, int, Fraction], ...] = ()) -> Verdict:
    """What was clean, and where it was not. `begins` says where the bars of a stage lie in the piece."""
    held, total = analysis.held
    said = analysis.report
    late = _late_changes(analysis)
    errors: list[Error] = []
    if total and held < STRINGS * total:
        errors.append("strings")
    if said.tempo and said.spread_ms > UNEVEN_MS:
        errors.append("uneven")
    if late:
        errors.append("change")
    if said.click_ms is not None and abs(said.click_ms) > _OFF_CLICK_MS:
        errors.append("time")
    if not held:
        errors.append("stopped")
    worst = max((change.ms for change in said.changes), default=0.0)
    figures = Figures(said.spread_ms, said.spread_db, max(0.0, worst), held, total)
    return Verdict(not errors, tuple(errors), tuple(_spots(analysis, late, begins))[:_MOST_SPOTS], figures)


def _late_changes(analysis: Analysis) -> dict[tuple[int, str], tuple[str, float]]:
    """The changes that come later than a quarter of a place: (chords, milliseconds) by bar and place."""
    bars = analysis.question.bars
    piece, pattern = bars[0].result.piece, bars[0].result.pattern
    most = 1000 * seconds(pattern.finest, piece.meter, piece.tempo) / 4
    names = [each.name for each in analysis.question.plan.held]
    out: dict[tuple[int, str], tuple[str, float]] = {}
    plan = analysis.question.plan
    before = {
        (plan.plucks[plan.moments[k][0]].bar, str(plan.plucks[plan.moments[k][0]].at)): names[
            plan.over[k - 1]
        ]
        for k in range(1, len(plan.moments))
        if plan.changes(k)
    }
    for change in analysis.report.changes:
        if change.ms > most:
            one = before.get((change.bar, change.at), "")
            out[change.bar, change.at] = (f"{one} > {change.chord}", change.ms)
    return out


def _spots(
    analysis: Analysis,
    late: dict[tuple[int, str], tuple[str, float]],
    begins: tuple[tuple[int, int, Fraction], ...],
) -> list[Spot]:
    """Late changes first, then wrong and missed plucks, in order of time."""
    bars = {each.number: (index, each) for index, each in enumerate(analysis.question.bars)}

    def at(number: int, place: Fraction) -> tuple[str, int, str]:
        index, played = bars[number]
        piece = played.result.piece
        if not begins:
            name = _section_name(played.result.section, piece.sections)
            return name, played.bar.number, str(place)
        section, bar, left = begins[index % len(begins)]
        return _section_name(section, piece.sections), bar, str(place + left)

    out = [
        Spot(*at(number, Fraction(place)), "change", names, round(ms, 1))
        for (number, place), (names, ms) in late.items()
    ]
    wrong = [
        mark
        for mark in analysis.marks
        if mark.state in ("wrong", "missed") and mark.bar in bars and not analysis.is_near(mark)
    ]
    return out + [Spot(*at(mark.bar, mark.at), "strings") for mark in wrong]


def _section_name(section: int, sections: tuple[object, ...]) -> str:
    found = sections[section] if 0 <= section < len(sections) else None
    return str(getattr(found, "name", ""))
