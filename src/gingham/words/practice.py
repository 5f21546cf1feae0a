"""Stages and the coming change in words."""

from __future__ import annotations

from collections.abc import Sequence
from fractions import Fraction

from gingham.core.judging.changes import Change, FingerMove
from gingham.core.music.meter import Meter, count_at
from gingham.core.practice.session import Item
from gingham.core.practice.stages import WITHOUT_TEMPO, Stage
from gingham.core.reasons import Reason, Value
from gingham.language import tr, tr_c, tr_n
from gingham.words.changes import fretting_finger
from gingham.words.names import FINGER_NAMES, signs

ORDER_NAMES = {
    "picking": tr("the picking hand first"),
    "chords": tr("the chords first"),
    "mixed": tr("both by turns"),
    "sections": tr("section by section"),
}
JOIN_NAMES = {
    "pimac": tr("thumb, index, middle, ring"),
    "imacp": tr("fingers first, then the thumb"),
    "pamic": tr("thumb, then from outside in"),
}
OPENING_NAMES = {"free": tr("without a tempo"), "count": tr("to a slow count from the start")}
SING_NAMES = {"hum": tr("hum first, then the words"), "words": tr("the words from the start")}
STROKE_NAMES = {
    "chuck": tr_c("stroke names", "chuck"),
    "brush-down": tr_c("stroke names", "down-stroke"),
    "brush-up": tr_c("stroke names", "up-stroke"),
}
_STAGES = {
    "stage-free": tr("the order of strings on {chord}, no tempo"),
    "stage-alone": tr("{finger} alone on {chord}"),
    "stage-with": tr("with the {finger} on {chord}"),
    "stage-stroke-alone": tr("{stroke} alone on {chord}"),
    "stage-stroke": tr("with the {stroke} on {chord}"),
    "stage-half": tr("{which} half of the pattern"),
    "stage-roots": tr("thumb over roots on strings {strings}"),
    "stage-strum": tr("the shapes alone, each strummed once"),
    "stage-pair": tr("two chords: {one} and {other}"),
    "stage-steps": tr("{one} to {other} in steps"),
    "stage-count": tr("{one} to {other}, counted"),
    "stage-change": tr("the change {one} to {other}"),
    "stage-bar": tr("bar {bar}, a bar of its own"),
    "stage-seam": tr("into {section}, {one} to {other}"),
    "stage-thumb-all": tr("the thumb on all chords"),
    "stage-whole": tr("everything, all through"),
    "stage-hum": tr("all through, humming the tune"),
    "stage-words": tr("all through, with the words"),
    "stage-aloud": tr("all through, answering aloud"),
    "stage-own": "{name}",
}
_WHY = {
    "stage-free": (
        tr("Right strings come before tempo."),
        tr("Pluck in order, as slowly as you like; pauses are fine."),
    ),
    "stage-alone": (tr("The part hangs on it."), tr("Even beats on one chord, nothing else.")),
    "stage-with": (
        tr("One finger joins what goes by itself."),
        tr("The new finger falls in; the others do not notice."),
    ),
    "stage-stroke-alone": (
        tr("The stroke must go by itself before anything is added."),
        tr("Small and even; the hand is back for the next one."),
    ),
    "stage-stroke": (
        tr("The stroke joins what goes by itself."),
        tr("Small and in time; the hand is back for the next pluck."),
    ),
    "stage-half": (
        tr("A short loop shows where it sticks."),
        tr("This half alone, the seam of the loop as even as the rest."),
    ),
    "stage-roots": (
        tr("The thumb must find each root without looking."),
        tr("Thumb alone; one chord of each string in turn."),
    ),
    "stage-strum": (
        tr("Shapes that land at once leave the picking hand free."),
        tr("One slow strum where each chord comes; all fingers land together."),
    ),
    "stage-pair": (
        tr("An easy pair first: the picking hand goes on."),
        tr("The plucks do not wait for the change."),
    ),
    "stage-steps": (
        tr("Slow parts make a quick change."),
        tr("Lighten, lift, set, then in time: one step a round, no tempo."),
    ),
    "stage-count": (
        tr("What is counted is compared tomorrow."),
        tr("Clean changes only, for {seconds} seconds; type how many."),
    ),
    "stage-change": (
        tr("It is one of the hardest changes here."),
        tr("Half a pattern on each side; the beat does not wait."),
    ),
    "stage-bar": (tr("It breaks the pattern."), tr("In and out of the bar without a gap.")),
    "stage-seam": (
        tr("Sections are joined by a change like any other."),
        tr("The end and the beginning, round and round."),
    ),
    "stage-thumb-all": (tr("The thumb leads through the chords."), tr("Thumb alone, every chord.")),
    "stage-whole": (tr("This is the part."), tr("All through; small slips are left behind.")),
    "stage-hum": (
        tr("A hummed tune shows whether the hands go by themselves."),
        tr("Hum; the plucks stay even."),
    ),
    "stage-words": (tr("Words come last."), tr("Sing or speak the words; the plucks stay even.")),
    "stage-aloud": (
        tr("What goes while you talk is automatic."),
        tr("Answer each question aloud and play on."),
    ),
    "stage-own": (tr("It stands in the piece."), tr("As its words say.")),
}
_LADDER = {
    "ladder-start": tr("Begins at {tempo}."),
    "ladder-test": tr("The start test less a tenth."),
    "ladder-day": tr("Two steps below the last day."),
    "ladder-own": tr("Your own choice."),
    "ladder-back": tr("Back: two rounds were not clean."),
    "ladder-up": tr("Up: three clean rounds of the last four."),
    "ladder-goal": tr("The goal holds."),
    "ladder-tense": tr("It stays: it is getting uneven, a sign of tension. Rest, or go slower."),
}
_PLAN = {
    "plan-warm-up": tr("easy and slow first: the hands get warm"),
    "plan-new": tr("the next stage in your order"),
    "plan-change": tr("the weakest change: {percent} of a hundred rounds go wrong"),
    "plan-change-guess": tr("the hardest change for the fingers; nothing is known of yours yet"),
    "plan-change-late": tr("the weakest change: it waits {ms} ms"),
    "plan-steps": tr("in steps first, then in time"),
    "plan-rest": tr("rest: shake the hands out"),
    "plan-rest-barre": tr("rest: that was much barre"),
    "plan-run": tr("all through, for pleasure"),
    "plan-stuck": tr("it sticks: this is the part that does"),
    "plan-swapped": tr("instead of the other one"),
}
ITEM_NAMES = {
    "warm-up": tr_c("item names", "warm-up"),
    "new": tr_c("item names", "new"),
    "change": tr_c("item names", "change"),
    "due": tr_c("item names", "due"),
    "rest": tr_c("item names", "rest"),
    "run": tr("for pleasure"),
}
ERROR_NAMES = {
    "uneven": tr_c("error names", "uneven"),
    "strings": tr("other strings"),
    "change": tr("late change"),
    "time": tr("off the beat"),
    "tense": tr_c("error names", "tense"),
    "stopped": tr("broken off"),
}
SOURCE_NAMES = {
    "marked": tr_c("source names", "marked"),
    "tapped": tr_c("source names", "tapped"),
    "heard": tr_c("source names", "heard"),
}
STEP_NAMES = {
    "lighten": tr("lighten: the fingers stay where they are, without pressing"),
    "lift": tr("lift: just off the strings, no further"),
    "set": tr("set: all fingers of the next shape at once, then press"),
    "in-time": tr("in time: as it is played"),
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
    return tr(
        "Plant {strings} first.",
        strings=", ".join(
            tr("{finger} on {string}", finger=FINGER_NAMES[finger], string=string) for finger, string in where
        ),
    )


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
        values["which"] = tr("first") if values["which"] == 1 else tr("second")
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
    values = dict(reason.values)
    if reason.code == "plan-due":
        days = int(values["days"])  # type: ignore[arg-type]
        if not days:
            return tr("due: last played today")
        return tr_n("due: last played a day ago", "due: last played {n} days ago", days)
    return _PLAN[reason.code].format(**values)


def known_stage_codes() -> frozenset[str]:
    """Every code of a stage that has words."""
    return frozenset(_STAGES) & frozenset(_WHY)


def known_practice_codes() -> frozenset[str]:
    """Every code of a ladder or a plan that has words."""
    return frozenset((*_LADDER, *_PLAN, "plan-due"))


def landing_lines(change: Change, meter: Meter) -> list[str]:
    """The fingers of a change in order of landing, each in a few large words."""
    return [_landing(move, change, meter) for move in change.fingers if move.kind != "lifts"]


def wait_text(wait: Fraction, meter: Meter) -> str:
    """`in 2 beats`, `now`: the beats until a chord comes, begun ones counted."""
    beats = -(-wait // meter.tempo_beat)
    return tr_n("in {n} beat", "in {n} beats", beats) if beats > 0 else tr("now")


def _landing(move: FingerMove, change: Change, meter: Meter) -> str:
    if move.kind == "stays" or move.to_place is None:
        return tr("{fretting_finger} stays", fretting_finger=fretting_finger(move.finger))
    string, fret = move.to_place
    verb = tr("slides to fret") if move.kind == "slides" else tr("to string {string} fret", string=string)
    when = ""
    if move.due is not None:
        when = tr(" by {count_at}", count_at=count_at(meter, (change.at + move.due) % meter.bar))
    return f"{fretting_finger(move.finger)} {verb} {fret}{when}"
