"""What the bench says: guesses, ways to sit a figure, variations, fixes, tags, comparisons."""

from __future__ import annotations

from typing import TYPE_CHECKING

from gingham.core.patterns.shorthand import print_slot
from gingham.words.names import FINGER_NAMES, listed, signs

if TYPE_CHECKING:  # words for the bench do not need the bench itself: the window starts without it
    from fractions import Fraction

    from gingham.core.bench.audition import Heard
    from gingham.core.bench.costs import SoundCost
    from gingham.core.bench.ranking import Fix
    from gingham.core.bench.tags import Tags
    from gingham.core.judging.part import PatternPart, Rate
    from gingham.core.patterns.compare import Compared
    from gingham.core.patterns.mixing import Mix
    from gingham.core.patterns.said import Reading, Said
    from gingham.core.reasons import Reason, Value

_TEXTS = {
    "said-beats": "the thumb and down-strokes on the beats, the others between",
    "said-beats-rest": "the thumb and down-strokes on the beats, with rests to the end of the bar",
    "said-twice": "half a bar that comes twice",
    "said-even": "evenly over one bar",
    "said-filled": "one after the other, with rests to the end of the bar",
    "said-count": "on the beats that you count",
    "spoken-pinch": "A pinch is taken as thumb and middle.",
    "spoken-double": "A double is taken as index and middle.",
    "spoken-single": "A single pluck is taken as the index finger’s.",
    "spoken-pick": "A pluck without a name is taken as the index finger’s.",
    "spoken-together": "“{word}” is taken as plucked together.",
    "spoken-apart": "“{word}” is taken as one after the other.",
    "spoken-numbers-fingers": "Numbers are taken as fingers: 1 is the index finger.",
    "spoken-numbers-strings": "Numbers are taken as strings.",
    "spoken-dashes": "Dashes are taken as what parts the words, not as rests.",
    "spoken-list": "“And” is taken as the end of a list, not as plucked together.",
    "spoken-letter": "“{word}” is taken as string {string}: say low or high to choose.",
    "spoken-count-alone": "A count alone: the thumb is taken on the beats, index and middle by turns between.",
    "spoken-order": "This says the order but not the beats: choose how it sits.",
    "spoken-strings": "The fingers were found for the strings on {chord}.",
    "tap-grid": "Fitted to {count} places a beat; the taps are {ms} ms off on average.",
    "tap-moved": "The tap at {count} was {ms} ms {side} and was moved there.",
    "tap-joined": "Two fingers within {ms} ms at {count} were taken as a pinch.",
    "tap-bars": "It lasts {bars}.",
    "way-given": "on the beats as you said",
    "way-tapped": "as you tapped it",
    "way-even": "evenly over {bars}",
    "way-even-in": "evenly over {beats}",
    "way-rest-end": "{rests} at the end{where}",
    "way-rest-second": "{rests} after the first{where}",
    "way-spread": "spread out with {rests}{where}",
    "way-cut": "cut short by the bar: {groups}",
    "way-groups": "in groups: {groups}",
    "way-roll": "on across the bar line, round again after {bars}",
    "way-meter": "in {meter}, where it fills the bar",
    "way-uncountable": "{strokes} plucks cannot be spread evenly over {beats} so that they can be counted.",
    "var-outer": "{finger} on the outer string",
    "var-outer-turns": "{finger} on both strings by turns",
    "var-outer-last": "{finger} on the outer string the last time",
    "var-pinch": "a pinch with the {finger} on {count}",
    "var-pinch-every": "a pinch with the {finger} on every beat",
    "var-left-out": "without the {finger} on {count}",
    "var-filled": "the rest on {count} filled",
    "var-filled-all": "all rests filled",
    "var-halves": "the halves swapped",
    "var-inside-out": "index and middle swapped",
    "var-denser": "twice as dense",
    "var-beats-only": "only what is on the beats",
    "var-thumb-half": "the thumb on every other beat",
    "var-thumb-once": "the thumb once a bar",
    "fix-give": "Give beat {count} to the {to}",
    "fix-give-home": "Give beat {count} to the {to} on string {string}",
    "fix-stay": "Let the thumb stay on its first bass at beat {count}",
    "fix-leave-out": "Leave the {finger} out at beat {count}",
    "same-bar": "The same bar {times} times without an accent: a variation or an accent would give it shape.",
}
_THUMBS = {
    "beats": "every beat",
    "half": "beats 1 and 3",
    "once": "once a bar",
    "walking": "walking",
    "free": "free",
    "none": "none",
}
_DENSITIES = {"sparse": "sparse", "medium": "medium", "dense": "dense"}
_KINDS = {"added": "added", "left-out": "left out", "changed": "changed"}


def bench_text(reason: Reason) -> str:
    """A reason of the bench as a sentence or a phrase."""
    return _TEXTS[reason.code].format(**_shown(dict(reason.values)))


def reasons_of(said: Said, reading: Reading) -> list[str]:
    """Why each way of a reading is one; a reading that is not the likeliest says what it supposes instead."""
    other = [reason for reason in reading.supposed if reason not in said.supposed]
    before = "".join(f"{bench_text(reason)} " for reason in other)
    return [before + bench_text(way.reason) for way in reading.ways]


def known_bench_codes() -> frozenset[str]:
    """Every code of the bench that has words."""
    return frozenset(_TEXTS)


def cost_mark(cost: SoundCost) -> str:
    """What a variation loses in sound, in two or three words for a tile."""
    lost = [f"a {word}" for word, names in (("third", cost.thirds), ("root", cost.roots)) if names]
    lost += [f"string {cost.melody}"] if cost.melody is not None else []
    return f"loses {listed(lost)}" if lost else ""


def cost_text(cost: SoundCost) -> str:
    """What a variation loses in sound as sentences, chord by chord; nothing where it loses nothing."""
    out = [
        f"The {tone} of {listed([signs(name) for name in names])} is heard no more."
        for tone, names in (("third", cost.thirds), ("root", cost.roots))
        if names
    ]
    if cost.melody is not None:
        out.append(f"String {cost.melody}, the outermost one, falls silent: a tune on it is lost.")
    return " ".join(out)


def counted(number: int, noun: str) -> str:
    """`one rest`, `2 rests`."""
    return f"one {noun}" if number == 1 else f"{number} {noun}s"


def _shown(values: dict[str, Value]) -> dict[str, object]:
    out: dict[str, object] = dict(values)
    for name in ("finger", "to"):
        if name in values:
            out[name] = FINGER_NAMES.get(str(values[name]), str(values[name]))
    for name in ("beat", "bar", "rest"):
        many = values.get(f"{name}s")
        if isinstance(many, int):
            out[f"{name}s"] = counted(many, name)
    groups = values.get("groups")
    if isinstance(groups, tuple):
        out["groups"] = "+".join(map(str, groups))
    if "places" in values:
        beats = values["beats"]
        where = f", {values['places']} places"
        out["where"] = f"{where} in {counted(beats, 'beat')}" if isinstance(beats, int) and beats else where
    return out


def fix_text(fix: Fix) -> str:
    """`Give beat 4& to the middle: 104 → 126.`"""
    return f"{bench_text(fix.reason)}: {fix.before} → {fix.after}."


def tags_text(tags: Tags) -> str:
    """One line of tags for the list."""
    parts = [
        f"{len(tags.fingers)} fingers",
        f"{_number(tags.strokes)} plucks a bar",
        _DENSITIES[tags.density],
    ]
    parts.append(f"thumb {_THUMBS[tags.thumb]}")
    for count, noun in ((tags.pinches, "pinch"), (tags.brushes, "brush"), (tags.chucks, "chuck")):
        if count:
            parts.append(
                f"{count} {noun}{'es' if count > 1 and noun != 'chuck' else 's' if count > 1 else ''}"
            )
    return ", ".join(parts)


def thumb_words(tag: str) -> str:
    """The thumb's rhythm in words."""
    return _THUMBS[tag]


def _number(value: object) -> str:
    number = float(value)  # type: ignore[arg-type]
    return f"{number:.0f}" if number == int(number) else f"{number:.1f}"


def part_text(part: PatternPart) -> str:
    """Which part of the pattern a short chord gets, and what it holds."""
    has = [name for name, there in (("root", part.root), ("third", part.third)) if there]
    lacks = [name for name, there in (("root", part.root), ("third", part.third)) if there is False]
    text = f"Of the pattern it gets {part.first} to {part.last}"
    if has:
        text += f", with the {listed(has)}"
    return f"{text}{', ' if has else ' '}without the {listed(lacks)}." if lacks else f"{text}."


def times_text(times: Fraction) -> str:
    """How often a pattern shorter or longer than the bar comes on a chord; nothing where it comes once."""
    if times <= 1:
        return ""
    whole, part = divmod(times, 1)
    return f"The pattern comes {whole} times{' and a part' if part else ''} here."


def rest_text(rest: tuple[int, int, int]) -> str:
    """What a chuck sweeps, and where it comes to rest so that the next pluck is ready."""
    first, last, place = rest
    swept = f"string {first}" if first == last else f"strings {first} to {last}"
    where = f"comes to rest on string {place}" if place else "comes to rest beyond the last string"
    return f"The chuck sweeps {swept} and {where}."


def rate_text(rates: tuple[Rate, ...]) -> str:
    """`thumb 2.4 a second, index 1.2`."""
    words = [f"{FINGER_NAMES[rate.finger]} {rate.per_s:.1f}" for rate in rates]
    return f"Plucks a second: {', '.join(words)}." if words else ""


def mix_text(mix: Mix) -> str:
    """What a mix was made of, and the seed that makes it again."""
    seed = f" (seed {mix.seed})" if mix.seed is not None else ""
    return f"{' · '.join(mix.used)}{seed}"


def comparison_text(places: tuple[Compared, ...], rotation: int | None) -> str:
    """What differs, place by place; a rotation is said as one."""
    if rotation is not None:
        return f"The same plucks, begun {counted(rotation, 'place')} later."
    found = [place for place in places if place.kind != "same"]
    if not found:
        return "The same plucks at the same places."
    return "; ".join(_place_text(place) for place in found) + "."


def _place_text(place: Compared) -> str:
    one, other = print_slot(place.one), print_slot(place.other)
    if place.kind == "changed":
        return f"{place.count}: {one} becomes {other}"
    return f"{place.count}: {one if place.kind == 'left-out' else other} {_KINDS[place.kind]}"


def heard_text(heard: Heard) -> str:
    """`up to 144 · 1 hard change`; conflicts first."""
    parts = (
        [f"{heard.conflicts} {'conflict' if heard.conflicts == 1 else 'conflicts'}"]
        if heard.conflicts
        else []
    )
    parts.append(f"up to {heard.limit}")
    if heard.hard_changes:
        parts.append(f"{heard.hard_changes} hard {'change' if heard.hard_changes == 1 else 'changes'}")
    return " · ".join(parts)
