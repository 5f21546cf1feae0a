"""Which string each finger takes on one chord."""

from __future__ import annotations

from gingham.core.fitting.result import StringChoice
from gingham.core.instruments.instrument import Instrument
from gingham.core.pieces.plans import PLANS
from gingham.core.pieces.rules import FOLLOWING, FingerPolicy, ThumbPlan
from gingham.core.reasons import Reason


def home_strings(instrument: Instrument, plan: ThumbPlan, *, three: bool = False) -> dict[str, int]:
    """Finger homes: i 3, m 2, a 1; on four strings i 2, m 1 unless the thumb has one string only.

    `three` says that the pattern leaves the thumb one string there, or needs all three fingers.
    """
    if instrument.strings <= 3:
        return {"i": 2, "m": 1}
    if instrument.strings == 4 and not PLANS[plan.kind].stays_on_four and not three:
        return {"i": 2, "m": 1}
    return {"i": 3, "m": 2, "a": 1}


def finger_strings(
    instrument: Instrument,
    plan: ThumbPlan,
    policy: FingerPolicy,
    first_bass: int,
    second_bass: int | None,
    *,
    three: bool = False,
) -> tuple[tuple[str, StringChoice], ...]:
    """The string of every finger under a policy.

    `second_bass` is the string of bass 2 if the pattern plucks it and the fingers are to make room; `three`
    as in `home_strings`.
    """
    if policy.kind == "named":
        return tuple((finger, _choice(string, "finger-named")) for finger, string in policy.strings)
    if policy.kind in FOLLOWING:
        return _following(first_bass, FOLLOWING[policy.kind], second_bass)
    home = home_strings(instrument, plan, three=three)
    if policy.kind == "shift" and second_bass == 3 and instrument.strings > 4:
        return tuple(
            (finger, _choice(max(1, string - 1), "finger-shifted" if string > 1 else "finger-stays"))
            for finger, string in home.items()
        )
    return tuple((finger, _choice(string, "finger-home")) for finger, string in home.items())


def _following(
    first_bass: int, between: int, second_bass: int | None
) -> tuple[tuple[str, StringChoice], ...]:
    """The index beside bass 1 with some strings between, then middle and ring, while there are any."""
    out = []
    for number, finger in enumerate("ima"):
        string = first_bass - 1 - between - number
        if string >= 1:
            code = "finger-meets-bass" if string == second_bass else "finger-follows"
            out.append((finger, _choice(string, code)))
    return tuple(out)


def _choice(string: int, code: str) -> StringChoice:
    return StringChoice(string, (Reason.of(code, string=string),), string)
