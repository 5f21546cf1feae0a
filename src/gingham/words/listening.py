"""What a take comes to, as sentences."""

from __future__ import annotations

from gingham.core.reasons import Reason
from gingham.language import tr, tr_c, tr_n
from gingham.words.counts import counted
from gingham.words.names import FINGER_NAMES, signs

_TEXTS = {
    "take-held": tr("{heard} of {total} plucks were on their strings."),
    "take-begins": tr("The take begins in bar {bar}."),
    "take-stops": tr("The take ends in bar {bar}."),
    "take-even": tr("The beat held: plucks lie within {ms} ms of it, at {tempo} beats a minute."),
    "take-change": tr("The change to {chord} in bar {bar} comes {ms} ms late{others}."),
    "take-gallop": tr("The {finger} is {ms} ms {side} the other fingers, again and again."),
    "take-uneven": tr("The plucks are uneven: they lie {ms} ms around your beat."),
    "take-drift": tr("You end {percent} % {way} than you began."),
    "take-missed": tr("{count} planned {plucks} not heard, the first in bar {bar}."),
    "take-wrong": tr(
        "{count} {plucks} on another string, the first in bar {bar}: string {string} instead of {planned}."
    ),
    "take-extra": tr("{count} {plucks} more than planned, the first on string {string}."),
    "take-accents": tr("The accents stand out: {db} dB over the same strings without one."),
    "take-swing": tr("The first half of the beat takes {share} hundredths of it; the piece has {meant}."),
    "take-swings": tr("It swings as it is meant: {share} to {meant} hundredths of the beat."),
    "take-flat": tr("The accents do not stand out: {db} dB over the same strings without one."),
    "take-soft-one": tr("The bass on 1 is {db} dB softer than the other basses: let it carry."),
    "take-loudness": tr("Plucks of one finger differ by {db} dB, louder and softer by turns."),
    "take-dies": tr(
        "String {string} {place} dies early, {count} times, first in bar {bar}: see whether it rings (F2, R)."
    ),
    "take-cut": tr(
        "{count} {plucks} stopped about {ms} ms before they need to be, first in bar {bar}: does a finger rest on its string early?"
    ),
    "take-with-click": tr("You stayed with the click: {ms} ms from it in the middle."),
    "take-off-click": tr("You are {ms} ms {way} the click, in the middle of all plucks."),
    "take-clipped": tr("The recording is too loud and cut off at its peaks: turn the microphone down."),
    "take-unclear": tr("{count} {plucks} not clear enough to be judged."),
}
_SIDES = {"late": tr("later than"), "behind": tr_c("sides", "behind")}


def take_text(reason: Reason) -> str:
    """One sentence of a take's summary."""
    values: dict[str, object] = dict(reason.values)
    count = values.get("count")
    if isinstance(count, int):
        values["plucks"] = tr_n("pluck", "plucks", count)
        if reason.code in ("take-missed", "take-unclear", "take-cut"):
            values["plucks"] = tr_n("pluck was", "plucks were", count)
        more = count - 1
        values["others"] = tr(", and {how_many} too", how_many=counted(more, "other change")) if more else ""
    if "fret" in values:
        values["place"] = tr("at fret {values}", values=values["fret"]) if values["fret"] else tr("open")
    if "chord" in values:
        values["chord"] = signs(str(values["chord"]))
    if "finger" in values:
        values["finger"] = FINGER_NAMES.get(str(values["finger"]), str(values["finger"]))
    values["side"] = _SIDES.get(str(values.get("side")), "")
    text = _TEXTS[reason.code].format(**values)
    return text[:1].upper() + text[1:]


def take_values(reason: Reason) -> dict[str, str | int]:
    """The numbers that a sentence was made from."""
    return {name: value for name, value in reason.values if isinstance(value, (str, int))}


def known_take_codes() -> frozenset[str]:
    """Every code of a summary that has words."""
    return frozenset(_TEXTS)
