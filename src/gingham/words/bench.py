"""What the bench says: guesses, ways to sit a figure, variations, fixes, tags, comparisons."""

from __future__ import annotations

from collections import Counter
from typing import TYPE_CHECKING

from gingham.core.patterns.shorthand import print_slot
from gingham.language import figure, tr, tr_c, tr_n
from gingham.words.counts import counted
from gingham.words.names import FINGER_NAMES, degree_name, listed, signs

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
    "said-beats": tr("the thumb and down-strokes on the beats, the others between"),
    "said-beats-rest": tr("the thumb and down-strokes on the beats, with rests to the end of the bar"),
    "said-twice": tr("half a bar that comes twice"),
    "said-even": tr("evenly over one bar"),
    "said-filled": tr("one after the other, with rests to the end of the bar"),
    "said-count": tr("on the beats that you count"),
    "spoken-pinch": tr("A pinch is taken as thumb and middle."),
    "spoken-double": tr("A double is taken as index and middle."),
    "spoken-single": tr("A single pluck is taken as the index finger’s."),
    "spoken-pick": tr("A pluck without a name is taken as the index finger’s."),
    "spoken-together": tr("“{word}” is taken as plucked together."),
    "spoken-apart": tr("“{word}” is taken as one after the other."),
    "spoken-numbers-fingers": tr("Numbers are taken as fingers: 1 is the index finger."),
    "spoken-numbers-strings": tr("Numbers are taken as strings."),
    "spoken-dashes": tr("Dashes are taken as what parts the words, not as rests."),
    "spoken-list": tr("“And” is taken as the end of a list, not as plucked together."),
    "spoken-letter": tr("“{word}” is taken as string {string}: say low or high to choose."),
    "spoken-count-alone": tr(
        "A count alone: the thumb is taken on the beats, index and middle by turns between."
    ),
    "spoken-order": tr("This says the order but not the beats: choose how it sits."),
    "spoken-strings": tr("The fingers were found for the strings on {chord}."),
    "tap-grid": tr("Fitted to {count} places a beat; the taps are {ms} ms off on average."),
    "tap-moved": tr("The tap at {count} was {ms} ms {side} and was moved there."),
    "tap-joined": tr("Two fingers within {ms} ms at {count} were taken as a pinch."),
    "tap-bars": tr("It lasts {bars}."),
    "way-given": tr("on the beats as you said"),
    "way-tapped": tr("as you tapped it"),
    "way-even": tr("evenly over {bars}"),
    "way-even-in": tr("evenly over {beats}"),
    "way-rest-end": tr("{rests} at the end{where}"),
    "way-rest-second": tr("{rests} after the first{where}"),
    "way-spread": tr("spread out with {rests}{where}"),
    "way-cut": tr("cut short by the bar: {groups}"),
    "way-groups": tr("in groups: {groups}"),
    "way-roll": tr("on across the bar line, round again after {bars}"),
    "way-meter": tr("in {meter}, where it fills the bar"),
    "way-uncountable": tr(
        "{strokes} plucks cannot be spread evenly over {beats} so that they can be counted."
    ),
    "var-outer": tr("{finger} on the outer string"),
    "var-outer-turns": tr("{finger} on both strings by turns"),
    "var-outer-last": tr("{finger} on the outer string the last time"),
    "var-pinch": tr("a pinch with the {finger} on {count}"),
    "var-pinch-every": tr("a pinch with the {finger} on every beat"),
    "var-left-out": tr("without the {finger} on {count}"),
    "var-filled": tr("the rest on {count} filled"),
    "var-filled-all": tr("all rests filled"),
    "var-halves": tr("the halves swapped"),
    "var-inside-out": tr("index and middle swapped"),
    "var-denser": tr("twice as dense"),
    "var-beats-only": tr("only what is on the beats"),
    "var-thumb-half": tr("the thumb on every other beat"),
    "var-thumb-once": tr("the thumb once a bar"),
    "fix-give": tr("Give beat {count} to the {to}"),
    "fix-give-home": tr("Give beat {count} to the {to} on string {string}"),
    "fix-stay": tr("Let the thumb stay on its first bass at beat {count}"),
    "fix-leave-out": tr("Leave the {finger} out at beat {count}"),
    "same-bar": tr(
        "The same bar {times} times without an accent: a variation or an accent would give it shape."
    ),
}
_THUMBS = {
    "beats": tr("every beat"),
    "half": tr("beats 1 and 3"),
    "once": tr("once a bar"),
    "walking": tr_c("thumbs", "walking"),
    "free": tr_c("thumbs", "free"),
    "none": tr_c("thumbs", "none"),
}
_DENSITIES = {
    "sparse": tr_c("densities", "sparse"),
    "medium": tr_c("densities", "medium"),
    "dense": tr_c("densities", "dense"),
}
_KINDS = {"added": tr_c("kinds", "added"), "left-out": tr("left out"), "changed": tr_c("kinds", "changed")}


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
    lost = [
        tr("a {word}", word=degree_name(degree))
        for degree, names in (("3", cost.thirds), ("1", cost.roots))
        if names
    ]
    lost += [tr("string {melody}", melody=cost.melody)] if cost.melody is not None else []
    return tr("loses {lost}", lost=listed(lost)) if lost else ""


def cost_text(cost: SoundCost) -> str:
    """What a variation loses in sound as sentences, chord by chord; nothing where it loses nothing."""
    out = [
        tr(
            "The {tone} of {name} is heard no more.",
            tone=degree_name(degree),
            name=listed([signs(name) for name in names]),
        )
        for degree, names in (("3", cost.thirds), ("1", cost.roots))
        if names
    ]
    if cost.melody is not None:
        out.append(
            tr("String {melody}, the outermost one, falls silent: a tune on it is lost.", melody=cost.melody)
        )
    return " ".join(out)


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
        where = tr(", {values} places", values=values["places"])
        out["where"] = (
            tr("{where} in {how_many}", where=where, how_many=counted(beats, "beat"))
            if isinstance(beats, int) and beats
            else where
        )
    return out


def fix_text(fix: Fix) -> str:
    """`Give beat 4& to the middle: 104 → 126.`"""
    return f"{bench_text(fix.reason)}: {fix.before} → {fix.after}."


def tags_text(tags: Tags) -> str:
    """One line of tags for the list."""
    parts = [
        tr("{fingers} fingers", fingers=len(tags.fingers)),
        tr("{number} plucks a bar", number=_number(tags.strokes)),
        _DENSITIES[tags.density],
    ]
    parts.append(tr("thumb {thumb}", thumb=_THUMBS[tags.thumb]))
    if tags.pinches:
        parts.append(tr_n("{n} pinch", "{n} pinches", tags.pinches))
    if tags.brushes:
        parts.append(tr_n("{n} brush", "{n} brushes", tags.brushes))
    if tags.chucks:
        parts.append(tr_n("{n} chuck", "{n} chucks", tags.chucks))
    return ", ".join(parts)


def density_words(tag: str) -> str:
    """How dense a pattern is, in a word."""
    return _DENSITIES[tag]


def thumb_words(tag: str) -> str:
    """The thumb's rhythm in words."""
    return _THUMBS[tag]


def _number(value: object) -> str:
    number = float(value)  # type: ignore[arg-type]
    return figure(number, ".0f" if number == int(number) else ".1f")


def part_text(part: PatternPart) -> str:
    """Which part of the pattern a short chord gets, and what it holds."""
    tones = ((degree_name("1"), part.root), (degree_name("3"), part.third))
    has = [name for name, there in tones if there]
    lacks = [name for name, there in tones if there is False]
    text = tr("Of the pattern it gets {first} to {last}", first=part.first, last=part.last)
    if has:
        text += tr(", with the {assignment}", assignment=listed(has))
    if lacks and not has:
        return tr("{text} without the {lacks}.", text=text, lacks=listed(lacks))
    return tr("{text}, without the {lacks}.", text=text, lacks=listed(lacks)) if lacks else f"{text}."


def times_text(times: Fraction) -> str:
    """How often a pattern shorter or longer than the bar comes on a chord; nothing where it comes once."""
    if times <= 1:
        return ""
    whole, part = divmod(times, 1)
    if part:
        return tr("The pattern comes {whole} times and a part here.", whole=whole)
    return tr("The pattern comes {whole} times here.", whole=whole)


def rest_text(rest: tuple[int, int, int]) -> str:
    """What a chuck sweeps, and where it comes to rest so that the next pluck is ready."""
    first, last, place = rest
    swept = (
        tr("string {first}", first=first)
        if first == last
        else tr("strings {first} to {last}", first=first, last=last)
    )
    where = (
        tr("comes to rest on string {place}", place=place)
        if place
        else tr("comes to rest beyond the last string")
    )
    return tr("The chuck sweeps {swept} and {where}.", swept=swept, where=where)


def rate_text(rates: tuple[Rate, ...]) -> str:
    """`thumb 2.4 a second, index 1.2`."""
    words = [f"{FINGER_NAMES[rate.finger]} {figure(rate.per_s, '.1f')}" for rate in rates]
    return tr("Plucks a second: {words}.", words=", ".join(words)) if words else ""


def mix_text(mix: Mix) -> str:
    """What a mix was made of, and the seed that makes it again."""
    seed = tr(" (seed {seed})", seed=mix.seed) if mix.seed is not None else ""
    if mix.by_place and not mix.used:
        return tr("the patterns are alike at every place")
    used = mix.used
    if mix.by_place:
        counts = Counter(mix.used)
        used = tuple(
            tr_n("{name} at one place", "{name} at {n} places", counts[name], name=name)
            for name in sorted(counts)
        )
    return f"{' · '.join(used)}{seed}"


def comparison_text(places: tuple[Compared, ...], rotation: int | None) -> str:
    """What differs, place by place; a rotation is said as one."""
    if rotation is not None:
        return tr("The same plucks, begun {how_many} later.", how_many=counted(rotation, "place"))
    found = [place for place in places if place.kind != "same"]
    if not found:
        return tr("The same plucks at the same places.")
    return "; ".join(_place_text(place) for place in found) + "."


def _place_text(place: Compared) -> str:
    one, other = print_slot(place.one), print_slot(place.other)
    if place.kind == "changed":
        return tr("{count}: {one} becomes {other}", count=place.count, one=one, other=other)
    return f"{place.count}: {one if place.kind == 'left-out' else other} {_KINDS[place.kind]}"


def heard_text(heard: Heard) -> str:
    """`up to 144 · 1 hard change`; conflicts first."""
    parts = [tr_n("{n} conflict", "{n} conflicts", heard.conflicts)] if heard.conflicts else []
    parts.append(tr("up to {limit}", limit=heard.limit))
    if heard.hard_changes:
        parts.append(tr_n("{n} hard change", "{n} hard changes", heard.hard_changes))
    return " · ".join(parts)
