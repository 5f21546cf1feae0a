"""What a reader had to guess, and what it found, in words."""

from __future__ import annotations

from gingham.core.finding.exceptions import Exceptional
from gingham.core.judging.departures import Departure
from gingham.core.music.meter import Meter, count_at
from gingham.core.reasons import Reason
from gingham.words.bench import counted
from gingham.words.names import signs
from gingham.words.plans import PLAN_WORDS

_GUESSES = {
    "read-first-part": "The file has {parts} parts; the first one with tablature, or with notes, was read.",
    "read-tuning": "No tuning stands in the file; {tuning} was taken.",
    "read-meter": "No meter stands in the file; {meter} was taken.",
    "read-grid": "Notes lay beside the beat; each was moved to the nearest of {grid} places of a whole note.",
    "read-even": "No counts stand under the strings; the columns of a bar were taken as even.",
    "found-rules": "Read with {thumb}, and {fingers}{rolls}.",
    "chart-bar-each": "Chords without bar lines: each was taken for a bar. Put / or more chords into a bar to change that.",
    "chart-places": "Bar {bar} has {given} chords that do not share its beats evenly; the first one was held longer.",
    "chart-left-out": "“{text}” was left out: it is no chord.",
    "chart-name": "A part without a heading was called “Part”.",
}
_FINGERS = {
    "shift": "fingers that move over for the thumb",
    "home": "fingers at home",
    "follow:0": "fingers beside the bass",
    "follow:1": "fingers one string off the bass",
}
_KEPT = {
    "plucks": "kept as single plucks",
    "bar": "kept as a bar of its own",
    "": "not kept note for note",
}


def guess_text(guess: Reason) -> str:
    """A guess as a sentence."""
    values: dict[str, object] = dict(guess.values)
    values["thumb"] = PLAN_WORDS[plan].told if (plan := str(values.get("thumb"))) in PLAN_WORDS else ""
    values["fingers"] = _FINGERS.get(str(values.get("fingers", "")), values.get("fingers", ""))
    values["rolls"] = "; the pattern rolls on over bar lines" if values.get("align") == "run" else ""
    return _GUESSES[guess.code].format(**values)


def known_guess_codes() -> frozenset[str]:
    """Every guess that has words."""
    return frozenset(_GUESSES)


def exception_text(each: Exceptional) -> str:
    """`Verse, bar 8: 3 notes more, 4 fewer; kept as a bar of its own`."""
    parts = []
    if each.added:
        parts.append(f"{counted(each.added, 'note')} of its own")
    if each.missing:
        parts.append(f"{counted(each.missing, 'note')} of the pattern missing")
    return f"{each.section}, bar {each.bar}: {', '.join(parts) or 'other notes'}; {_KEPT[each.kept]}"


def departure_text(each: Departure, meter: Meter, pattern: str) -> str:
    """`Bar 8 plays Turnaround; back to Hearth at bar 9`."""
    where = f"Bar {each.first}" if not each.at else f"Bar {each.first}, {count_at(meter, each.at)}"
    what = f"plays {signs(each.pattern)}" if each.pattern else "has plucks changed by hand"
    if each.back is None:
        return f"{where} {what}, to the end of the section"
    count = f", {count_at(meter, each.back_at)}" if each.back_at else ""
    return f"{where} {what}; back to {signs(pattern)} at bar {each.back}{count}"
