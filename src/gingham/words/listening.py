"""What a take comes to, as sentences."""

from __future__ import annotations

from gingham.core.reasons import Reason
from gingham.words.bench import counted
from gingham.words.names import FINGER_NAMES, signs

_TEXTS = {
    "take-held": "{heard} of {total} plucks were on their strings.",
    "take-begins": "The take begins in bar {bar}.",
    "take-stops": "The take ends in bar {bar}.",
    "take-even": "The beat held: plucks lie within {ms} ms of it, at {tempo} beats a minute.",
    "take-change": "The change to {chord} in bar {bar} comes {ms} ms late{others}.",
    "take-gallop": "The {finger} is {ms} ms {side} the other fingers, again and again.",
    "take-uneven": "The plucks are uneven: they lie {ms} ms around your beat.",
    "take-drift": "You end {percent} % {way} than you began.",
    "take-missed": "{count} planned {plucks} not heard, the first in bar {bar}.",
    "take-wrong": "{count} {plucks} on another string, the first in bar {bar}: string {string} instead of {planned}.",
    "take-extra": "{count} {plucks} more than planned, the first on string {string}.",
    "take-accents": "The accents stand out: {db} dB over the same strings without one.",
    "take-swing": "The first half of the beat takes {share} hundredths of it; the piece has {meant}.",
    "take-swings": "It swings as it is meant: {share} to {meant} hundredths of the beat.",
    "take-flat": "The accents do not stand out: {db} dB over the same strings without one.",
    "take-soft-one": "The bass on 1 is {db} dB softer than the other basses: let it carry.",
    "take-loudness": "Plucks of one finger differ by {db} dB, louder and softer by turns.",
    "take-dies": "String {string} {place} dies early, {count} times, first in bar {bar}: see whether it rings (F2, R).",
    "take-cut": "{count} {plucks} stopped about {ms} ms before they need to be, first in bar {bar}: does a finger rest on its string early?",
    "take-with-click": "You stayed with the click: {ms} ms from it in the middle.",
    "take-off-click": "You are {ms} ms {way} the click, in the middle of all plucks.",
    "take-clipped": "The recording is too loud and cut off at its peaks: turn the microphone down.",
    "take-unclear": "{count} {plucks} not clear enough to be judged.",
}
_SIDES = {"late": "later than", "behind": "behind"}


def take_text(reason: Reason) -> str:
    """One sentence of a take's summary."""
    values: dict[str, object] = dict(reason.values)
    count = values.get("count")
    if isinstance(count, int):
        values["plucks"] = "pluck" if count == 1 else "plucks"
        if reason.code in ("take-missed", "take-unclear", "take-cut"):
            values["plucks"] = "pluck was" if count == 1 else "plucks were"
        more = count - 1
        values["others"] = f", and {counted(more, 'other change')} too" if more else ""
    if "fret" in values:
        values["place"] = f"at fret {values['fret']}" if values["fret"] else "open"
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
