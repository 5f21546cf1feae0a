"""Reasons and problems in plain words, the same on screen, sheet and command line."""

from __future__ import annotations

from gingham.core.judging.speed import Spot
from gingham.core.reasons import Problem, Reason, Value
from gingham.language import tr, tr_c
from gingham.words.names import FINGER_NAMES, degree_name, lane_name, signs

_REASONS = {
    "first-root": tr("it sounds the root {note} lowest"),
    "first-slash": tr("a slash bass: the symbol asks for {note}"),
    "first-not-root": tr(
        "a shortcut: this shape leaves the root out, so the lowest string: the bass is the {degree}"
    ),
    "first-lowest": tr("the lowest string that sounds"),
    "first-inversion": tr("the lowest string that sounds: an inversion, the bass is the {degree}"),
    "first-named-tune": tr("you named string {string} for the first bass: not the root, a bass for the tune"),
    "first-named": tr("you named string {string} for the first bass"),
    "first-four": tr("the thumb begins on the string nearest the chin"),
    "first-root-first": tr("it sounds the root, and you asked for the root first"),
    "first-only": tr("the string above it is silent in this shape"),
    "bass-named": tr("you named it"),
    "bass-opened": tr("you named it; the shape leaves it out, so it is {way}: the {degree}"),
    "own-fingers": tr(
        "the fingers chosen for this chord go before what you chose for chords of four strings"
    ),
    "bass-partner": tr("the partner of the first bass by string family"),
    "bass-string-4": tr("the second bass is always on string 4"),
    "bass-other": tr("the thumb’s other string"),
    "bass-fifth": tr("the fifth, {way}"),
    "bass-root": tr("the first bass is the fifth, so the root, {way}"),
    "bass-tour": tr("a chord tone that the thumb has not had yet: the {degree}, {way}"),
    "bass-next-up": tr("the next string that sounds below the index finger’s"),
    "bass-rises-over": tr(
        "the next string that sounds, toward string 1; string 5 is left out, with 6 it would be muddy"
    ),
    "bass-rises": tr("the next string that sounds, toward string 1"),
    "bass-next": tr("string {muted} is silent in this shape, and this is the next one that is free"),
    "bass-literal": tr("only the first bass moves on chords of four strings, as you chose"),
    "finger-home": tr("its home string"),
    "finger-shifted": tr("moved over one: the thumb needs string 3 here"),
    "thumb-makes-room": tr(
        "the thumb stays on string {string}: for a bass on {second} two fingers would meet on one string; leave a finger out, or put the second bass on string 5"
    ),
    "thumb-only": tr(
        "the thumb stays on string {string} where a finger has string {other}, as you chose for chords of four strings"
    ),
    "all-at-once": tr("all four strings at once, as you chose for chords of four strings"),
    "thumb-leaves-three": tr(
        "the thumb stays on string {string}: index, middle and ring have the other three"
    ),
    "finger-stays": tr("stays: there is no string beyond 1"),
    "finger-named": tr("you named it"),
    "finger-follows": tr("it follows the first bass"),
    "finger-meets-bass": tr("it follows the first bass, and meets the second bass here"),
    "overruled": tr("your choice (the rule says string {rule})"),
    "overruled-tune": tr("your choice (the rule says string {rule}): not the root, a bass for the tune"),
    "overruled-idle": tr("your choice (the rule gives this finger no string)"),
}
_STAYS = {
    "family": tr("the bass lies on string {string} and stays there"),
    "string-4": tr("the first bass is there already"),
    "muted": tr("string {other} is silent in this shape and no other is free, so the thumb stays"),
    "alone": tr("the thumb has one string here and stays"),
    "foreign": tr("the bass after the slash is outside the chord, so the thumb stays on it"),
}
_PROBLEMS = {
    "muted-string": tr(
        "{chord}: string {string} is silent in this shape, so this pluck gives nothing. Hold another shape, or pluck another string."
    ),
    "pick-apart": tr(
        "{chord}: a flat pick cannot pluck strings {string} and {other} at once. Brush over the strings between, leave one out, or pluck one after the other."
    ),
    "same-string": tr("{chord}: two fingers on string {string} at once. Move one of them."),
    "cuts-note": tr("Thumb and finger follow each other on string {string}: the first note is cut short."),
    "crossed": tr(
        "{chord}: the {finger} on string {string} and the {other} on string {over} cross. Give them each other’s string."
    ),
    "finger-twice": tr(
        "{chord}: the {finger} cannot pluck twice at once. Give one of the two to another finger."
    ),
    "bass-met": tr(
        "{chord}: the {finger} follows the bass onto string {string}, which the thumb needs. Let the thumb stay, or the fingers keep further off."
    ),
    "finger-idle": tr("{chord}: the {finger} has no string here. Give it one."),
    "bass-missing": tr(
        "{chord}: there is no {lane} bass in this thumb choice; the {last} bass is played. Choose a thumb with more strings, or let it count."
    ),
    "no-bass": tr("{chord}: the thumb has no string here."),
    "string-missing": tr("{chord}: there is no string {string} on this instrument."),
    "sweep-empty": tr("{chord}: no string sounds in this brush."),
    "ornament-idle": tr("{chord}: the {kind} on string {string} has nowhere to go."),
    "ornament-far": tr(
        "{chord}: no finger reaches fret {fret} on string {string} for the {kind} while the shape is held. Take a nearer fret, or a smaller shape."
    ),
    "no-shape": tr(
        "{chord}: no hand can hold this chord in this tuning. Give a shape in braces, or another chord."
    ),
    "no-third": tr("{chord}: the {degree} is never plucked, so it may sound bare."),
    "no-root": tr("{chord}: the root is never plucked."),
    "no-tone": tr("{chord}: the {degree} is never plucked, and you want to hear all that the name says."),
    "support-finger": tr(
        "{chord}: the little finger plucks, and it is what your hand leans on. Give its plucks to another finger, or let the hand float."
    ),
    "support-chuck": tr(
        "{chord}: for a chuck the hand comes down on the strings; a little finger on the top is in its way. Let it go there."
    ),
    "muddy": tr(
        "{chord}: strings {one} and {two} ring together and sound muddy; string {clearer} is clearer."
    ),
    "voice-unheard": tr("{chord}: the note that moves on string {string} is never plucked."),
    "shape-length": tr(
        "{chord}: the shape {text} has {given} places for {strings} strings. Another is held."
    ),
    "shape-neck": tr(
        "{chord}: the shape {text} needs fret {fret}, past the neck’s end at {most}. Another is held."
    ),
    "no-grip": tr("{chord}: four fingers and the thumb cannot hold {shape}."),
    "foreign-tone": tr("{chord}: string {string} sounds {note}, which the symbol does not name."),
}
_SPOTS = {
    "same-finger": tr("{finger}: string {from_string} then string {to_string} so soon"),
    "thumb-jump": tr("thumb: a jump from string {from_string} to string {to_string}"),
    "thumb-again": tr("thumb: string {from_string} then string {to_string} so soon"),
    "pick-again": tr("the pick: twice {finger} so soon"),
    "pick-jump": tr("the pick: a jump from string {from_string} to string {to_string}"),
    "next-finger": tr("the next finger follows closely"),
    "crossed": tr("{finger}: string {to_string} lies across the finger before it"),
    "pinch-stretch": tr("{finger}: a wide pinch from string {from_string} to string {to_string}"),
    "change-window": tr("fretting finger {finger} has little time to reach string {to_string}"),
}
_AGAIN = tr("{finger}: string {to_string} again so soon")
_SAME_FINGER = ("same-finger", "thumb-again")
_ORNAMENTS = {
    "hammer": tr_c("ornaments", "hammer-on"),
    "pull": tr_c("ornaments", "pull-off"),
    "slide": tr_c("ornaments", "slide"),
}


_REMEDIES = {
    "remedy-fingers": tr("other fingers: {one} then {other}; {count} stay"),
    "remedy-early": tr("leave the pluck at {count} of bar {bar} out, so that the finger is free earlier"),
    "remedy-lift": tr("lift the finger clear of the string and set it again, instead of sliding: no squeak"),
    "remedy-stand-in": tr("{chord} {shape} instead"),
}


def remedy_text(reason: Reason) -> str:
    """A way out of a change, as a clause."""
    return _REMEDIES[reason.code].format(**_shown(dict(reason.values)))


_SUPPOSED = {
    "supposed-bars": tr("without bar lines each chord is a bar"),
    "supposed-first-line": tr("the first bar line was added"),
    "supposed-last-line": tr("the last bar line was added"),
    "supposed-slots": tr("the places for each beat were taken as x{counts}"),
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


def reasons_text(reasons: tuple[Reason, ...]) -> str:
    """All reasons of a choice as one sentence."""
    text = "; ".join(map(reason_text, reasons))
    return text[:1].upper() + text[1:] + "."


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
    return tr("{text} (bar {bar}, beat {count})", text=text, bar=spot.bar, count=spot.count)


def known_problems() -> frozenset[str]:
    """Every problem code that has words."""
    return frozenset(_PROBLEMS)


_WAYS = {
    "shape": tr("which this shape gives"),
    "open": tr("on the open string, which the shape leaves out"),
    "barre": tr("with the barre laid one string further"),
    "hop": tr("for which finger {finger} hops over; it has {time_s:.1f} s"),
    "fuller": tr("for which one more finger is set down: hold the fuller shape"),
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
