"""Stages and the coming change in words."""

from __future__ import annotations

from fractions import Fraction

from gingham.core.judging.changes import Change, FingerMove
from gingham.core.music.meter import Meter, count_at
from gingham.core.practice.stages import Stage
from gingham.core.reasons import Value
from gingham.words.changes import fretting_finger
from gingham.words.names import FINGER_NAMES, signs

ORDER_NAMES = {
    "picking": "the picking hand first",
    "chords": "the chords first",
    "mixed": "both by turns",
}
_STAGES = {
    "stage-alone": "{finger} alone on {chord}",
    "stage-with": "with the {finger} on {chord}",
    "stage-half": "{which} half of the pattern",
    "stage-pair": "two chords: {one} and {other}",
    "stage-seam": "into {section}, {one} to {other}",
    "stage-change": "the change {one} to {other}",
    "stage-thumb-all": "the thumb on all chords",
    "stage-whole": "everything, all through",
}


def stage_text(stage: Stage) -> str:
    """`Thumb alone on G, at 72`."""
    return f"{stage_name(stage)}, at {stage.tempo}"


def stage_name(stage: Stage) -> str:
    """`Thumb alone on G`."""
    values: dict[str, Value] = dict(stage.reason.values)
    if "finger" in values:
        values["finger"] = FINGER_NAMES[str(values["finger"])]
    for name in ("chord", "one", "other"):
        if name in values:
            values[name] = signs(str(values[name]))
    if "which" in values:
        values["which"] = "first" if values["which"] == 1 else "second"
    text = _STAGES[stage.reason.code].format(**values)
    return f"{text[:1].upper()}{text[1:]}"


def known_stage_codes() -> frozenset[str]:
    """Every code of a stage that has words."""
    return frozenset(_STAGES)


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
