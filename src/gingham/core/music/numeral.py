"""Roman numerals: what a chord is in a key, whatever its letters are.

The common convention: the numeral counts the scale's steps, small letters for a minor third, ° and ø for the
diminished and half-diminished, + for the augmented; a minor key is counted on its natural scale (C in Am is
III, G♯dim is ♯vii°).
"""

from __future__ import annotations

from gingham.core.music.chords import Chord
from gingham.core.music.key import SCALES, Key

_NUMERALS = ("I", "II", "III", "IV", "V", "VI", "VII")
_SEVENTHS = {"b7": "", "bb7": "", "7": "maj"}


def numeral(chord: Chord, key: Key) -> str:
    """`ii7`, `V7`, `bVII`, `#vii°7`, `Imaj9`, `IVsus2`; a slash bass is left to `chord.bass`."""
    step = (chord.root.step - key.tonic.step) % 7
    usual = SCALES[key.minor][step]
    alter = (chord.root.pitch_class - key.tonic.pitch_class - usual + 6) % 12 - 6
    left = {str(degree) for degree in chord.degrees} - {"1", "5"}
    name = _NUMERALS[step].lower() if "b3" in left else _NUMERALS[step]
    sign = "#" * alter if alter > 0 else "b" * -alter
    return sign + name + _mark(left) + _extension(left) + _rest(left)


def _mark(left: set[str]) -> str:
    """The sign of third and fifth; takes from `left` what it says."""
    if {"b3", "b5"} <= left:
        left -= {"b3", "b5"}
        return "ø" if "b7" in left else "°"
    if {"3", "#5"} <= left:
        left -= {"3", "#5"}
        return "+"
    return ""


def _extension(left: set[str]) -> str:
    """Seventh with what is stacked on it, or sixth."""
    seventh = next((degree for degree in _SEVENTHS if degree in left), None)
    if seventh is None:
        sixth = "6/9" if {"6", "9"} <= left else "6" if "6" in left else ""
        left -= set(sixth.split("/"))
        return sixth
    top = "13" if "13" in left else "11" if {"9", "11"} <= left else "9" if "9" in left else "7"
    left -= {seventh, *(d for d in ("9", "11", "13") if int(d) <= int(top))}
    return _SEVENTHS[seventh] + top


def _rest(left: set[str]) -> str:
    """Suspensions, a missing third, what is added or altered."""
    has_third = bool(left & {"3", "b3"})
    extra = sorted(left - {"3", "b3"}, key=lambda degree: int(degree.lstrip("#b")))
    if not extra and not has_third:
        return ""
    if not has_third:
        return "".join(f"sus{degree}" if degree in ("2", "4") else degree for degree in extra)
    return "".join(degree if degree[0] in "#b" else f"add{degree}" for degree in extra)
