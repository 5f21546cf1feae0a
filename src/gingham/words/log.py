"""The pictures of the record in words."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from datetime import date
from fractions import Fraction

from gingham.core.music.meter import Meter, count_at
from gingham.core.practice.review import DayTempo
from gingham.core.practice.summary import DayMinutes
from gingham.language import tr, tr_c
from gingham.words.counts import counted
from gingham.words.dates import day_text, on_day
from gingham.words.names import signs

GROUP_NAMES = {
    "hand": tr("picking hand"),
    "chords": tr_c("group names", "chords"),
    "change": tr_c("group names", "changes"),
    "whole": tr("all through"),
}
EMPTY = tr(
    "Nothing is kept yet. On Practise, C keeps a clean round and N one that was not; takes that are heard come here too."
)
NO_LINES = tr("Tempi show here once a stage has been clean on two days.")
NOT_WRONG = tr("Where rounds go wrong shows here: N, E, S or K on Practise while it happens, or a take.")
SCOPES = {"piece": tr("this piece"), "all": tr("all pieces")}


def day_words(day: DayMinutes, today: date) -> str:
    """`Tuesday: 18 minutes (changes 6, picking hand 12), barre 6`."""
    if not day.total:
        return tr("{day}: nothing", day=day_text(day.day, today))
    parts = ", ".join(
        f"{GROUP_NAMES[group]} {minutes:.0f}" for group, minutes in day.minutes.items() if minutes >= 0.5
    )
    barre = tr(", barre {barre:.0f}", barre=day.barre) if day.barre >= 0.5 else ""
    inside = f" ({parts})" if parts else ""
    return f"{day_text(day.day, today)}: {counted(max(1, round(day.total)), 'minute')}{inside}{barre}"


def line_words(name: str, days: Sequence[DayTempo], today: date) -> str:
    """`the change C to G/B: 52 on Monday, 56 today`."""
    first, last = days[0], days[-1]
    return f"{name}: {first.tempo} {on_day(first.day, today)}, {last.tempo} {on_day(last.day, today)}"


def counts_words(change: str, counts: Sequence[tuple[date, float]]) -> str:
    """`clean changes a minute, C to G/B: 18, 20, 24`."""
    one, _, other = change.partition(" > ")
    rates = ", ".join(f"{rate:.0f}" for _, rate in counts)
    return tr(
        "clean changes a minute, {one} to {other}: {rates}", one=signs(one), other=signs(other), rates=rates
    )


def places_words(places: Counter[Fraction], meter: Meter) -> str:
    """`mostly on 1 and 3&`: the places of the bar at which most goes wrong."""
    most = [count_at(meter, at) for at, _ in places.most_common(2)]
    return tr("mostly on {most}", most=tr(" and ").join(most)) if most else ""


def kinds_words(kinds: Mapping[str, int], names: Mapping[str, str]) -> str:
    """`late change 9, uneven 4`."""
    return ", ".join(f"{names.get(kind, kind)} {count}" for kind, count in kinds.items())


def tuned_words(tuned: int, of: int) -> str:
    """`strings in tune before playing: 4 of the last 5 days`."""
    return (
        tr(
            "strings in tune before playing: {tuned} of the last {how_many}",
            tuned=tuned,
            how_many=counted(of, "day"),
        )
        if of
        else ""
    )


def streak_words(now: int, best: int) -> str:
    """Clean tries in a row."""
    return tr("clean in a row: {now} now, {best} at best", now=now, best=best) if best else ""


def delete_question(count: int, begin: str, end: str, scope: str) -> str:
    """Before a part of the record goes."""
    return tr(
        "Delete {how_many} with what belongs to them from {begin} to {end}, {scope}? This "
        "cannot be undone; a backup can be made first.",
        how_many=counted(count, "attempt"),
        begin=begin,
        end=end,
        scope=scope,
    )
