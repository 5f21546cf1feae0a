"""Reasons and problems in plain words, the same on screen, sheet and command line."""

from __future__ import annotations

from gingham.core.judging.speed import Spot
from gingham.core.reasons import Problem, Reason, Value
from gingham.words.names import FINGER_NAMES, degree_name, lane_name, signs

_REASONS = {
    "first-root": "it sounds the root {note} lowest",
    "first-slash": "a slash bass: the symbol asks for {note}",
    "first-not-root": "a shortcut: this shape leaves the root out, so the lowest string: the bass is the {degree}",
    "first-lowest": "the lowest string that sounds",
    "first-inversion": "the lowest string that sounds: an inversion, the bass is the {degree}",
    "first-named-tune": "you named string {string} for the first bass: not the root, a bass for the tune",
    "first-named": "you named string {string} for the first bass",
    "first-four": "the thumb begins on the string nearest the chin",
    "first-root-first": "it sounds the root, and you asked for the root first",
    "first-only": "the string above it is silent in this shape",
    "bass-named": "you named it",
    "bass-opened": "you named it; the shape leaves it out, so it is {way}: the {degree}",
    "own-fingers": "the fingers chosen for this chord go before what you chose for chords of four strings",
    "bass-partner": "the partner of the first bass by string family",
    "bass-string-4": "the second bass is always on string 4",
    "bass-other": "the thumb’s other string",
    "bass-fifth": "the fifth, {way}",
    "bass-root": "the first bass is the fifth, so the root, {way}",
    "bass-tour": "a chord tone that the thumb has not had yet: the {degree}, {way}",
    "bass-next-up": "the next string that sounds below the index finger’s",
    "bass-rises-over": "the next string that sounds, toward string 1; string 5 is left out, with 6 it would be muddy",
    "bass-rises": "the next string that sounds, toward string 1",
    "bass-next": "string {muted} is silent in this shape, and this is the next one that is free",
    "bass-literal": "only the first bass moves on chords of four strings, as you chose",
    "finger-home": "its home string",
    "finger-shifted": "moved over one: the thumb needs string 3 here",
    "thumb-makes-room": "the thumb stays on string {string}: for a bass on {second} two fingers would meet on one string; leave a finger out, or put the second bass on string 5",
    "finger-stays": "stays: there is no string beyond 1",
    "finger-named": "you named it",
    "finger-follows": "it follows the first bass",
    "finger-meets-bass": "it follows the first bass, and meets the second bass here",
    "overruled": "your choice (the rule says string {rule})",
    "overruled-tune": "your choice (the rule says string {rule}): not the root, a bass for the tune",
    "overruled-idle": "your choice (the rule gives this finger no string)",
}
_STAYS = {
    "family": "the bass lies on string {string} and stays there",
    "string-4": "the first bass is there already",
    "muted": "string {other} is silent in this shape and no other is free, so the thumb stays",
    "alone": "the thumb has one string here and stays",
}
_PROBLEMS = {
    "muted-string": "{chord}: string {string} is silent in this shape, so this pluck gives nothing. Hold another shape, or pluck another string.",
    "pick-apart": "{chord}: a flat pick cannot pluck strings {string} and {other} at once. Brush over the strings between, leave one out, or pluck one after the other.",
    "same-string": "{chord}: two fingers on string {string} at once. Move one of them.",
    "cuts-note": "Thumb and finger follow each other on string {string}: the first note is cut short.",
    "crossed": "{chord}: the {finger} on string {string} and the {other} on string {over} cross. Give them each other’s string.",
    "finger-twice": "{chord}: the {finger} cannot pluck twice at once. Give one of the two to another finger.",
    "bass-met": "{chord}: the {finger} follows the bass onto string {string}, which the thumb needs. Let the thumb stay, or the fingers keep further off.",
    "finger-idle": "{chord}: the {finger} has no string here. Give it one.",
    "bass-missing": "{chord}: there is no {lane} bass in this thumb choice; the {last} bass is played. Choose a thumb with more strings, or let it count.",
    "no-bass": "{chord}: the thumb has no string here.",
    "string-missing": "{chord}: there is no string {string} on this instrument.",
    "sweep-empty": "{chord}: no string sounds in this brush.",
    "ornament-idle": "{chord}: the {kind} on string {string} has nowhere to go.",
    "ornament-far": "{chord}: no finger reaches fret {fret} on string {string} for the {kind} while the shape is held. Take a nearer fret, or a smaller shape.",
    "no-shape": "{chord}: no hand can hold this chord in this tuning. Give a shape in braces, or another chord.",
    "no-third": "{chord}: the {degree} is never plucked, so it may sound bare.",
    "no-root": "{chord}: the root is never plucked.",
    "no-tone": "{chord}: the {degree} is never plucked, and you want to hear all that the name says.",
    "support-finger": "{chord}: the little finger plucks, and it is what your hand leans on. Give its plucks to another finger, or let the hand float.",
    "support-chuck": "{chord}: for a chuck the hand comes down on the strings; a little finger on the top is in its way. Let it go there.",
    "muddy": "{chord}: strings {one} and {two} ring together and sound muddy; string {clearer} is clearer.",
    "voice-unheard": "{chord}: the note that moves on string {string} is never plucked.",
    "shape-length": "{chord}: the shape {text} has {given} places for {strings} strings. Another is held.",
    "shape-neck": "{chord}: the shape {text} needs fret {fret}, past the neck’s end at {most}. Another is held.",
    "no-grip": "{chord}: four fingers and the thumb cannot hold {shape}.",
    "foreign-tone": "{chord}: string {string} sounds {note}, which the symbol does not name.",
}
_SPOTS = {
    "same-finger": "{finger}: string {from_string} then string {to_string} so soon",
    "thumb-jump": "thumb: a jump from string {from_string} to string {to_string}",
    "thumb-again": "thumb: string {from_string} then string {to_string} so soon",
    "pick-again": "the pick: twice {finger} so soon",
    "pick-jump": "the pick: a jump from string {from_string} to string {to_string}",
    "next-finger": "the next finger follows closely",
    "crossed": "{finger}: string {to_string} lies across the finger before it",
    "pinch-stretch": "{finger}: a wide pinch from string {from_string} to string {to_string}",
    "change-window": "fretting finger {finger} has little time to reach string {to_string}",
}
_AGAIN = "{finger}: string {to_string} again so soon"
_SAME_FINGER = ("same-finger", "thumb-again")
_ORNAMENTS = {"hammer": "hammer-on", "pull": "pull-off", "slide": "slide"}


_REMEDIES = {
    "remedy-fingers": "other fingers: {one} then {other}; {count} stay",
    "remedy-early": "leave the pluck at {count} of bar {bar} out, so that the finger is free earlier",
    "remedy-lift": "lift the finger clear of the string and set it again, instead of sliding: no squeak",
    "remedy-stand-in": "{chord} {shape} instead",
}


def remedy_text(reason: Reason) -> str:
    """A way out of a change, as a clause."""
    return _REMEDIES[reason.code].format(**_shown(dict(reason.values)))


_SUPPOSED = {
    "supposed-bars": "without bar lines each chord is a bar",
    "supposed-first-line": "the first bar line was added",
    "supposed-last-line": "the last bar line was added",
    "supposed-slots": "the places for each beat were taken as x{counts}",
}


def supposed_text(reason: Reason) -> str:
    """What was supposed in a line that was not written out, as a clause."""
    return _SUPPOSED[reason.code].format(**dict(reason.values))


def reason_text(reason: Reason) -> str:
    """A reason as a clause that can follow a dash."""
    values = dict(reason.values)
    if reason.code == "bass-stays":
        return _STAYS[str(values["why"])].format(**values)
    return _REASONS[reason.code].format(**_shown(values))


def problem_text(problem: Problem) -> str:
    """A problem as one sentence with what to do."""
    return _PROBLEMS[problem.code].format(**_shown(dict(problem.values)))


def spot_text(spot: Spot) -> str:
    """What makes a spot slow, with its bar and count."""
    again = spot.from_string == spot.to_string
    text = (_AGAIN if again and spot.code in _SAME_FINGER else _SPOTS[spot.code]).format(
        finger=FINGER_NAMES.get(spot.finger, spot.finger),
        from_string=spot.from_string,
        to_string=spot.to_string,
    )
    return f"{text} (bar {spot.bar}, beat {spot.count})"


def known_problems() -> frozenset[str]:
    """Every problem code that has words."""
    return frozenset(_PROBLEMS)


_WAYS = {
    "shape": "which this shape gives",
    "open": "on the open string, which the shape leaves out",
    "barre": "with the barre laid one string further",
    "hop": "for which finger {finger} hops over; it has {time_s:.1f} s",
    "fuller": "for which one more finger is set down: hold the fuller shape",
}


def _shown(values: dict[str, Value]) -> dict[str, object]:
    out: dict[str, object] = dict(values)
    for name in ("degree",):
        if name in values:
            out[name] = degree_name(str(values[name]))
    for name in ("note", "chord"):
        if name in values:
            out[name] = signs(str(values[name]))
    if "finger" in values:
        out["finger"] = FINGER_NAMES.get(str(values["finger"]), "finger")
    if str(values.get("other")) in FINGER_NAMES:
        out["other"] = FINGER_NAMES[str(values["other"])]
    for name in ("lane", "last"):
        if name in values:
            out[name] = lane_name(f"p{values[name]}").removesuffix(" bass")
    if "way" in values:
        out["way"] = _WAYS[str(values["way"])].format(**values, time_s=int(str(values.get("ms", 0))) / 1000)
    if "kind" in values:
        out["kind"] = _ORNAMENTS[str(values["kind"])]
    return out


def known_spots() -> frozenset[str]:
    """Every code of what makes a place slow that has words."""
    return frozenset(_SPOTS)


def known_reasons() -> frozenset[str]:
    """Every reason code that has words."""
    return frozenset(_REASONS) | {"bass-stays"} | frozenset(_SUPPOSED) | frozenset(_REMEDIES)
