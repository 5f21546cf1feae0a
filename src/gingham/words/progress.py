"""Where a stage stands, what is due, how far it still is: plain numbers, no cheering."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from datetime import date

from gingham.core.practice.attempt import Attempt, Spot
from gingham.core.practice.entries import Note
from gingham.core.practice.ladder import CLEAN_NEEDED, ROUND_S, Ladder, step_up
from gingham.core.practice.review import DayTempo, Due, Forecast
from gingham.core.practice.stages import WITHOUT_TEMPO, Stage
from gingham.language import tr
from gingham.words.counts import counted
from gingham.words.dates import day_text, on_day
from gingham.words.names import signs
from gingham.words.practice import ERROR_NAMES, ITEM_NAMES, SOURCE_NAMES, ladder_text

RESTING = tr("It hurt: ladder and barre rest until you say that it is well.")
HURT_ASKED = tr("What did you feel, and where? Enter keeps it; empty is fine.")
NO_PLAN = tr("No plan yet: type chords in Build first.")
BARRE_OFFER = tr(
    "Much barre: Shapes shows others without one, a capo another key. Try that before you repeat it."
)


def next_step(stage: Stage, standing: Ladder, tempo: int) -> str:
    """`68: two clean rounds of three. Then 71.`"""
    if stage.kind in WITHOUT_TEMPO:
        return tr("No tempo: C when it was right.")
    if stage.kind == "count":
        return tr("Space starts the clock.")
    if standing.tries or standing.best:
        if tempo >= standing.goal and standing.reached:
            return tr("{tempo}: the goal holds.", tempo=tempo)
        then = step_up(tempo, standing.goal)
        goes_on = tr("Then {then}.", then=then) if then > tempo else tr("Then it is done.")
        return tr(
            "{tempo}: {clean} of {clean_needed} clean. {goes_on} {ladder}",
            tempo=tempo,
            clean=standing.clean,
            clean_needed=CLEAN_NEEDED,
            goes_on=goes_on,
            ladder=ladder_text(standing.why),
        )
    return tr(
        "{tempo}: three clean rounds of {round_s:.0f} seconds go a step up.", tempo=tempo, round_s=ROUND_S
    )


def where_it_stands(days: Sequence[DayTempo], ahead: Forecast | None, due: Due | None, today: date) -> str:
    """Since when and how fast it was clean, how many days it may still take, when it is due."""
    parts = []
    if days:
        first, best = days[0], max(day.tempo for day in days)
        since = tr("{best} since", best=best) if best > first.tempo else tr("not faster since")
        parts.append(f"{first.tempo} {on_day(first.day, today)}, {since}")
    if ahead is not None:
        most = (
            tr(" to {most}", most=ahead.most) if ahead.most is not None and ahead.most > ahead.least else ""
        )
        more = tr(" or more") if ahead.most is None else ""
        parts.append(
            tr(
                "goal in {least}{most}{more} days of practice at this rate",
                least=ahead.least,
                most=most,
                more=more,
            )
        )
    if due is not None:
        parts.append(due_text(due, today))
    text = "; ".join(parts)
    return f"{text[:1].upper()}{text[1:]}." if text else ""


def sources_text(attempts: Sequence[Attempt]) -> str:
    """`6 rounds marked, 3 heard`: each is shown as what it is."""
    counts = Counter(attempt.source for attempt in attempts)
    if set(counts) <= {"marked"}:
        return ""
    return tr(
        "Rounds: {rounds}.",
        rounds=", ".join(f"{count} {SOURCE_NAMES[source]}" for source, count in counts.most_common()),
    )


def due_text(due: Due, today: date) -> str:
    """`due today`, `due in 3 days`, `due since 2 days`."""
    late = due.late_by(today)
    if late > 0:
        return tr("due since {how_many}", how_many=counted(late, "day"))
    return tr("due today") if not late else tr("due in {how_many}", how_many=counted(-late, "day"))


def slips_text(slips: Sequence[Spot]) -> str:
    """`Verse bar 3 late change (C to G/B), bar 5 uneven`: by bar, each once."""
    parts: list[str] = []
    section = ""
    for spot in slips:
        where = (
            tr("{section} bar {bar}", section=spot.section, bar=spot.bar)
            if spot.section != section
            else tr("bar {bar}", bar=spot.bar)
        )
        section = spot.section
        one, _, other = spot.change.partition(" > ")
        change = tr(" ({one} to {other})", one=signs(one), other=signs(other)) if spot.change else ""
        parts.append(f"{where} {ERROR_NAMES[spot.error]}{change}")
    return ", ".join(dict.fromkeys(parts))


def part_text(kind: str, index: int, count: int, left_s: float, words: str) -> str:
    """`2 of 6 · new · with the index on G, 56 · 4:10`."""
    return tr(
        "{index} of {count}  ·  {kind}  ·  {words}  ·  {clock}",
        index=index + 1,
        count=count,
        kind=ITEM_NAMES[kind],
        words=words,
        clock=clock_text(left_s),
    )


def clock_text(seconds: float) -> str:
    """Minutes and seconds."""
    whole = int(seconds + 0.5)
    return f"{whole // 60}:{whole % 60:02}"


def note_text(note: Note, today: date) -> str:
    """A note with its day."""
    what = {"note": "", "hand": tr("hand: "), "hurt": tr("it hurt: "), "well": tr("well again")}[note.kind]
    return f"{day_text(date.fromisoformat(note.made[:10]), today)}: {what}{note.text}".rstrip(": ")
