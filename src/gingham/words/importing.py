"""What a reader had to guess, and what it found, in words."""

from __future__ import annotations

from gingham.core.finding.exceptions import Exceptional
from gingham.core.judging.departures import Departure
from gingham.core.music.meter import Meter, count_at
from gingham.core.reasons import Reason
from gingham.language import tr
from gingham.words.counts import counted
from gingham.words.names import signs
from gingham.words.plans import PLAN_WORDS

_GUESSES = {
    "read-first-part": tr(
        "The file has {parts} parts; the first one with tablature, or with notes, was read."
    ),
    "read-tuning": tr("No tuning stands in the file; {tuning} was taken."),
    "read-meter": tr("No meter stands in the file; {meter} was taken."),
    "read-grid": tr(
        "Notes lay beside the beat; each was moved to the nearest of {grid} places of a whole note."
    ),
    "read-even": tr("No counts stand under the strings; the columns of a bar were taken as even."),
    "found-rules": tr("Read with {thumb}, and {fingers}{rolls}."),
    "chart-bar-each": tr(
        "Chords without bar lines: each was taken for a bar. Put / or more chords into a bar to change that."
    ),
    "chart-places": tr(
        "Bar {bar} has {given} chords that do not share its beats evenly; the first one was held longer."
    ),
    "chart-left-out": tr("“{text}” was left out: it is no chord."),
    "chart-name": tr("A part without a heading was called “Part”."),
}
_FINGERS = {
    "shift": tr("fingers that move over for the thumb"),
    "home": tr("fingers at home"),
    "follow:0": tr("fingers beside the bass"),
    "follow:1": tr("fingers one string off the bass"),
}
_KEPT = {
    "plucks": tr("kept as single plucks"),
    "bar": tr("kept as a bar of its own"),
    "": tr("not kept note for note"),
}


def guess_text(guess: Reason) -> str:
    """A guess as a sentence."""
    values: dict[str, object] = dict(guess.values)
    values["thumb"] = PLAN_WORDS[plan].told if (plan := str(values.get("thumb"))) in PLAN_WORDS else ""
    values["fingers"] = _FINGERS.get(str(values.get("fingers", "")), values.get("fingers", ""))
    values["rolls"] = tr("; the pattern rolls on over bar lines") if values.get("align") == "run" else ""
    return _GUESSES[guess.code].format(**values)


def known_guess_codes() -> frozenset[str]:
    """Every guess that has words."""
    return frozenset(_GUESSES)


def exception_text(each: Exceptional) -> str:
    """`Verse, bar 8: 3 notes more, 4 fewer; kept as a bar of its own`."""
    parts = []
    if each.added:
        parts.append(tr("{how_many} of its own", how_many=counted(each.added, "note")))
    if each.missing:
        parts.append(tr("{how_many} of the pattern missing", how_many=counted(each.missing, "note")))
    return tr(
        "{section}, bar {bar}: {parts}; {kept}",
        section=each.section,
        bar=each.bar,
        parts=", ".join(parts) or tr("other notes"),
        kept=_KEPT[each.kept],
    )


def departure_text(each: Departure, meter: Meter, pattern: str) -> str:
    """`Bar 8 plays Turnaround; back to Hearth at bar 9`."""
    where = (
        tr("Bar {first}", first=each.first)
        if not each.at
        else tr("Bar {first}, {count_at}", first=each.first, count_at=count_at(meter, each.at))
    )
    what = (
        tr("plays {pattern}", pattern=signs(each.pattern))
        if each.pattern
        else tr("has plucks changed by hand")
    )
    if each.back is None:
        return tr("{where} {what}, to the end of the section", where=where, what=what)
    count = f", {count_at(meter, each.back_at)}" if each.back_at else ""
    return tr(
        "{where} {what}; back to {pattern} at bar {back}{count}",
        where=where,
        what=what,
        pattern=signs(pattern),
        back=each.back,
        count=count,
    )
