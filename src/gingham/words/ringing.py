"""The tuner and the ring check in words: which way to turn, what a string did, and why it may have."""

from __future__ import annotations

from gingham.core.hands.motor import Motor
from gingham.core.listening.ringing import Ring
from gingham.core.listening.sitting import Tension
from gingham.core.listening.tuner import CLOSE_CENTS, TOO_HIGH_CENTS, Tone
from gingham.core.reasons import Reason

_SLIGHT, _FAR = 12.0, 60.0
STATES = {
    "clear": "clear",
    "buzzing": "buzzing",
    "dead": "dead: it does not ring",
    "unclear": "not clear enough to judge: pluck it by itself, a little stronger",
}
_CAUSES = {
    "ring-nearer": "{finger} closer behind fret {fret}",
    "ring-leaning": "{finger} on string {string} leans on it: stand it more upright",
    "ring-barre": "roll the barre a little to its side, so that no crease of {finger} lies on the string",
    "ring-pressure": "only then a little more pressure",
    "ring-open": "else see whether something touches this open string, or pluck it less hard",
}
TUNER_IDLE = "Press Listen and pluck a string."
RING_IDLE = "Hold the chord and pluck its strings one by one: each is told clear, buzzing or dead."
TUNER_WAITS = "Pluck a string, and let it ring."
CARE = "Hand tired or sore? Stop here. Pain is not part of a clear note; a teacher can look at the hand."


def tune_text(tone: Tone) -> str:
    """Which way to turn a peg and how far; when to stop."""
    cents = tone.cents
    if abs(cents) <= CLOSE_CENTS:
        return "in tune: leave it"
    if cents >= TOO_HIGH_CENTS:
        return f"{cents:.0f} cents too high: turn it down first. Tighter still, and it may break"
    how = "a hair" if abs(cents) <= _SLIGHT else "a good way" if abs(cents) > _FAR else "a little"
    way = "down" if cents > 0 else "up"
    after = "past the note and up again" if cents > _SLIGHT else "stop in the middle"
    return f"{abs(cents):.0f} cents too {'high' if cents > 0 else 'low'}: turn it {way} {how}, {after}"


def ring_text(ring: Ring, causes: tuple[Reason, ...]) -> str:
    """`buzzing. Try: finger 3 closer behind fret 3; …`."""
    tries = "; ".join(_cause_text(cause) for cause in causes)
    return STATES[ring.state] + (f". Try: {tries}" if tries else "")


def ring_waits(string: int) -> str:
    """What to do next."""
    return f"Now pluck string {string}, and let it ring."


def _cause_text(cause: Reason) -> str:
    values = dict(cause.values)
    sign = str(values.get("finger", ""))
    values["finger"] = (
        "the thumb" if sign == "T" else f"finger {sign}" if sign not in ("", "-") else "the finger"
    )
    return _CAUSES[cause.code].format(**values)


def tension_text(found: Tension) -> str:
    """A sign of tension, said as a sign, with what helps."""
    return (
        f"Over {found.takes} takes the loudness has spread from {found.from_db:.0f} to {found.to_db:.0f} dB and"
        f" the time from {found.from_ms:.0f} to {found.to_ms:.0f} ms. That can be a sign of a tense or tired"
        " hand. Put the instrument down for five minutes, shake the hands out, straight relaxed wrist, and go on"
        " slower. Stop at pain; if it comes back, ask a teacher or a doctor."
    )


def thumb_text(apart_db: float, takes: int) -> str:
    """The thumb against this player's own balance of strings."""
    way = "softer" if apart_db < 0 else "louder"
    return f"The thumb is {abs(apart_db):.0f} dB {way} against the fingers than in the {takes} takes before."


def hand_text(motor: Motor, takes: int) -> str:
    """A learned hand with the number behind it."""
    return (
        f"From {takes} takes that held: the same finger again after {motor.same_finger_s:.2f} s, the thumb after"
        f" {motor.thumb_s:.2f} s, from finger to finger {motor.any_s:.2f} s. That is 85 % of the speed that you"
        " managed."
    )


def known_cause_codes() -> frozenset[str]:
    """Every code of a cause that has words."""
    return frozenset(_CAUSES)
