"""The tuner and the ring check in words: which way to turn, what a string did, and why it may have."""

from __future__ import annotations

from gingham.core.hands.motor import Motor
from gingham.core.listening.ringing import Ring
from gingham.core.listening.sitting import Tension
from gingham.core.listening.tuner import CLOSE_CENTS, TOO_HIGH_CENTS, Tone
from gingham.core.reasons import Reason
from gingham.language import tr, tr_c

_SLIGHT, _FAR = 12.0, 60.0
STATES = {
    "clear": tr_c("states", "clear"),
    "buzzing": tr_c("states", "buzzing"),
    "dead": tr("dead: it does not ring"),
    "unclear": tr("not clear enough to judge: pluck it by itself, a little stronger"),
}
_CAUSES = {
    "ring-nearer": tr("{finger} closer behind fret {fret}"),
    "ring-leaning": tr("{finger} on string {string} leans on it: stand it more upright"),
    "ring-barre": tr("roll the barre a little to its side, so that no crease of {finger} lies on the string"),
    "ring-pressure": tr("only then a little more pressure"),
    "ring-open": tr("else see whether something touches this open string, or pluck it less hard"),
}
TUNER_IDLE = tr("Press Listen and pluck a string.")
RING_IDLE = tr("Hold the chord and pluck its strings one by one: each is told clear, buzzing or dead.")
TUNER_WAITS = tr("Pluck a string, and let it ring.")
CARE = tr("Hand tired or sore? Stop here. Pain is not part of a clear note; a teacher can look at the hand.")


def tune_text(tone: Tone) -> str:
    """Which way to turn a peg and how far; when to stop."""
    cents = tone.cents
    if abs(cents) <= CLOSE_CENTS:
        return tr("in tune: leave it")
    if cents >= TOO_HIGH_CENTS:
        return tr(
            "{cents:.0f} cents too high: turn it down first. Tighter still, and it may break", cents=cents
        )
    how = tr("a hair") if abs(cents) <= _SLIGHT else tr("a good way") if abs(cents) > _FAR else tr("a little")
    after = tr("past the note and up again") if cents > _SLIGHT else tr("stop in the middle")
    if cents > 0:
        return tr(
            "{cents:.0f} cents too high: turn it down {how}, {after}", cents=cents, how=how, after=after
        )
    return tr("{cents:.0f} cents too low: turn it up {how}, {after}", cents=-cents, how=how, after=after)


def ring_text(ring: Ring, causes: tuple[Reason, ...]) -> str:
    """`buzzing. Try: finger 3 closer behind fret 3; …`."""
    tries = "; ".join(_cause_text(cause) for cause in causes)
    return STATES[ring.state] + (tr(". Try: {tries}", tries=tries) if tries else "")


def ring_waits(string: int) -> str:
    """What to do next."""
    return tr("Now pluck string {string}, and let it ring.", string=string)


def _cause_text(cause: Reason) -> str:
    values = dict(cause.values)
    sign = str(values.get("finger", ""))
    values["finger"] = (
        tr("the thumb")
        if sign == "T"
        else tr("finger {sign}", sign=sign)
        if sign not in ("", "-")
        else tr("the finger")
    )
    return _CAUSES[cause.code].format(**values)


def tension_text(found: Tension) -> str:
    """A sign of tension, said as a sign, with what helps."""
    return tr(
        "Over {takes} takes the loudness has spread from {from_db:.0f} to {to_db:.0f} dB and "
        "the time from {from_ms:.0f} to {to_ms:.0f} ms. That can be a sign of a tense or "
        "tired hand. Put the instrument down for five minutes, shake the hands out, straight "
        "relaxed wrist, and go on slower. Stop at pain; if it comes back, ask a teacher or a "
        "doctor.",
        takes=found.takes,
        from_db=found.from_db,
        to_db=found.to_db,
        from_ms=found.from_ms,
        to_ms=found.to_ms,
    )


def thumb_text(apart_db: float, takes: int) -> str:
    """The thumb against this player's own balance of strings."""
    way = tr("softer") if apart_db < 0 else tr("louder")
    return tr(
        "The thumb is {apart_db:.0f} dB {way} against the fingers than in the {takes} takes before.",
        apart_db=abs(apart_db),
        way=way,
        takes=takes,
    )


def hand_text(motor: Motor, takes: int) -> str:
    """A learned hand with the number behind it."""
    return tr(
        "From {takes} takes that held: the same finger again after {same_finger_s:.2f} s, "
        "the thumb after {thumb_s:.2f} s, from finger to finger {any_s:.2f} s. That is 85 % "
        "of the speed that you managed.",
        takes=takes,
        same_finger_s=motor.same_finger_s,
        thumb_s=motor.thumb_s,
        any_s=motor.any_s,
    )


def known_cause_codes() -> frozenset[str]:
    """Every code of a cause that has words."""
    return frozenset(_CAUSES)
