"""Stages and the coming change in words."""

from __future__ import annotations

from collections.abc import Sequence
from fractions import Fraction

from gingham.core.judging.changes import Change, FingerMove
from gingham.core.music.meter import Meter, count_at
from gingham.core.practice.session import Item
from gingham.core.practice.stages import WITHOUT_TEMPO, Stage
from gingham.core.reasons import Reason, Value
from gingham.words.changes import fretting_finger
from gingham.words.names import FINGER_NAMES, signs

ORDER_NAMES = {
    "picking": "the picking hand first",
    "chords": "the chords first",
    "mixed": "both by turns",
    "sections": "section by section",
}
JOIN_NAMES = {
    "pimac": "thumb, index, middle, ring",
    "imacp": "fingers first, then the thumb",
    "pamic": "thumb, then from outside in",
}
OPENING_NAMES = {"free": "without a tempo", "count": "to a slow count from the start"}
SING_NAMES = {"hum": "hum first, then the words", "words": "the words from the start"}
STROKE_NAMES = {"chuck": "chuck", "brush-down": "down-stroke", "brush-up": "up-stroke"}
_STAGES = {
    "stage-free": "the order of strings on {chord}, no tempo",
    "stage-alone": "{finger} alone on {chord}",
    "stage-with": "with the {finger} on {chord}",
    "stage-stroke": "with the {stroke} on {chord}",
    "stage-half": "{which} half of the pattern",
    "stage-roots": "thumb over roots on strings {strings}",
    "stage-strum": "the shapes alone, each strummed once",
    "stage-pair": "two chords: {one} and {other}",
    "stage-steps": "{one} to {other} in steps",
    "stage-count": "{one} to {other}, counted",
    "stage-change": "the change {one} to {other}",
    "stage-bar": "bar {bar}, a bar of its own",
    "stage-seam": "into {section}, {one} to {other}",
    "stage-thumb-all": "the thumb on all chords",
    "stage-whole": "everything, all through",
    "stage-hum": "all through, humming the tune",
    "stage-words": "all through, with the words",
    "stage-aloud": "all through, answering aloud",
    "stage-own": "{name}",
}
_WHY = {
    "stage-free": (
        "Right strings come before tempo.",
        "Pluck in order, as slowly as you like; pauses are fine.",
    ),
    "stage-alone": ("The part hangs on it.", "Even beats on one chord, nothing else."),
    "stage-with": (
        "One finger joins what goes by itself.",
        "The new finger falls in; the others do not notice.",
    ),
    "stage-stroke": (
        "The stroke joins what goes by itself.",
        "Small and in time; the hand is back for the next pluck.",
    ),
    "stage-half": (
        "A short loop shows where it sticks.",
        "This half alone, the seam of the loop as even as the rest.",
    ),
    "stage-roots": (
        "The thumb must find each root without looking.",
        "Thumb alone; one chord of each string in turn.",
    ),
    "stage-strum": (
        "Shapes that land at once leave the picking hand free.",
        "One slow strum where each chord comes; all fingers land together.",
    ),
    "stage-pair": ("An easy pair first: the picking hand goes on.", "The plucks do not wait for the change."),
    "stage-steps": (
        "Slow parts make a quick change.",
        "Lighten, lift, set, then in time: one step a round, no tempo.",
    ),
    "stage-count": (
        "What is counted is compared tomorrow.",
        "Clean changes only, for {seconds} seconds; type how many.",
    ),
    "stage-change": (
        "It is one of the hardest changes here.",
        "Half a pattern on each side; the beat does not wait.",
    ),
    "stage-bar": ("It breaks the pattern.", "In and out of the bar without a gap."),
    "stage-seam": (
        "Sections are joined by a change like any other.",
        "The end and the beginning, round and round.",
    ),
    "stage-thumb-all": ("The thumb leads through the chords.", "Thumb alone, every chord."),
    "stage-whole": ("This is the part.", "All through; small slips are left behind."),
    "stage-hum": ("A hummed tune shows whether the hands go by themselves.", "Hum; the plucks stay even."),
    "stage-words": ("Words come last.", "Sing or speak the words; the plucks stay even."),
    "stage-aloud": ("What goes while you talk is automatic.", "Answer each question aloud and play on."),
    "stage-own": ("It stands in the piece.", "As its words say."),
}
_LADDER = {
    "ladder-start": "Begins at {tempo}.",
    "ladder-test": "The start test less a tenth.",
    "ladder-day": "Two steps below the last day.",
    "ladder-own": "Your own choice.",
    "ladder-back": "Back: two rounds were not clean.",
    "ladder-up": "Up: three clean rounds of the last four.",
    "ladder-goal": "The goal holds.",
    "ladder-tense": "It stays: it is getting uneven, a sign of tension. Rest, or go slower.",
}
_PLAN = {
    "plan-warm-up": "easy and slow first: the hands get warm",
    "plan-new": "the next stage in your order",
    "plan-change": "the weakest change: {percent} of a hundred rounds go wrong",
    "plan-change-guess": "the hardest change for the fingers; nothing is known of yours yet",
    "plan-change-late": "the weakest change: it waits {ms} ms",
    "plan-steps": "in steps first, then in time",
    "plan-due": "due: last played {days} days ago",
    "plan-rest": "rest: shake the hands out",
    "plan-rest-barre": "rest: that was much barre",
    "plan-run": "all through, for pleasure",
    "plan-stuck": "it sticks: this is the part that does",
    "plan-swapped": "instead of the other one",
}
ITEM_NAMES = {
    "warm-up": "warm-up",
    "new": "new",
    "change": "change",
    "due": "due",
    "rest": "rest",
    "run": "for pleasure",
}
ERROR_NAMES = {
    "uneven": "uneven",
    "strings": "other strings",
    "change": "late change",
    "time": "off the beat",
    "tense": "tense",
    "stopped": "broken off",
}
SOURCE_NAMES = {"marked": "marked", "tapped": "tapped", "heard": "heard"}
STEP_NAMES = {
    "lighten": "lighten: the fingers stay where they are, without pressing",
    "lift": "lift: just off the strings, no further",
    "set": "set: all fingers of the next shape at once, then press",
    "in-time": "in time: as it is played",
}


def stage_name(stage: Stage) -> str:
    """`Thumb alone on G`."""
    text = _STAGES[stage.reason.code].format(**_named(stage))
    return f"{text[:1].upper()}{text[1:]}"


def stage_why(stage: Stage, seconds: int = 60) -> tuple[str, str]:
    """Why a stage is there, and what it asks for; changes are counted over so many `seconds`."""
    why, asks = _WHY[stage.reason.code]
    return why, asks.format(**{**_named(stage), "seconds": seconds})


def plant_text(where: Sequence[tuple[str, int]]) -> str:
    """`Plant the thumb on 6, index on 3, middle on 2 before you begin.`"""
    if not where:
        return ""
    return f"Plant {', '.join(f'{FINGER_NAMES[finger]} on {string}' for finger, string in where)} first."


def _named(stage: Stage) -> dict[str, Value]:
    values: dict[str, Value] = dict(stage.reason.values)
    if "finger" in values:
        values["finger"] = FINGER_NAMES[str(values["finger"])]
    if "stroke" in values:
        values["stroke"] = STROKE_NAMES[str(values["stroke"])]
    for name in ("chord", "one", "other"):
        if name in values:
            values[name] = signs(str(values[name]))
    if "which" in values:
        values["which"] = "first" if values["which"] == 1 else "second"
    return values


def ladder_text(reason: Reason) -> str:
    """What moved a ladder last."""
    return _LADDER[reason.code].format(**dict(reason.values))


def item_text(item: Item, stage: Stage | None) -> str:
    """`the change C to G/B, 56`; a rest says what for."""
    if stage is None:
        return plan_text(item.why)
    tempo = f", {item.tempo}" if item.tempo and stage.kind not in WITHOUT_TEMPO else ""
    return f"{stage_name(stage)}{tempo}"


def plan_text(reason: Reason) -> str:
    """Why a part is in the plan."""
    text = _PLAN[reason.code].format(**dict(reason.values))
    return text.replace("1 days", "a day").replace("0 days ago", "today")


def known_stage_codes() -> frozenset[str]:
    """Every code of a stage that has words."""
    return frozenset(_STAGES) & frozenset(_WHY)


def known_practice_codes() -> frozenset[str]:
    """Every code of a ladder or a plan that has words."""
    return frozenset((*_LADDER, *_PLAN))


def landing_lines(change: Change, meter: Meter) -> list[str]:
    """The fingers of a change in order of landing, each in a few large words."""
    return [_landing(move, change, meter) for move in change.fingers if move.kind != "lifts"]


def wait_text(wait: Fraction, meter: Meter) -> str:
    """`in 2 beats`, `now`: the beats until a chord comes, begun ones counted."""
    beats = -(-wait // meter.tempo_beat)
    return f"in {beats} {'beat' if beats == 1 else 'beats'}" if beats > 0 else "now"


def _landing(move: FingerMove, change: Change, meter: Meter) -> str:
    if move.kind == "stays" or move.to_place is None:
        return f"{fretting_finger(move.finger)} stays"
    string, fret = move.to_place
    verb = "slides to fret" if move.kind == "slides" else f"to string {string} fret"
    when = ""
    if move.due is not None:
        when = f" by {count_at(meter, (change.at + move.due) % meter.bar)}"
    return f"{fretting_finger(move.finger)} {verb} {fret}{when}"
