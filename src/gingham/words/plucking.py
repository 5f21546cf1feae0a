"""What the plucking hand does, in words: where it stands, strings at once, the beats, what rings on, barres."""

from __future__ import annotations

from fractions import Fraction

from gingham.core.judging.barres import BarreChord, BarreLoad
from gingham.core.judging.hand_places import Calmer, HandPath, HandPlace
from gingham.core.judging.on_beats import OffTheRule
from gingham.core.judging.pinches import Pinch
from gingham.core.judging.rings_on import Clash, Ring
from gingham.core.judging.strokes_told import BrushCost
from gingham.core.music.meter import Meter
from gingham.words.names import FINGER_NAMES, PLUCKERS, degree_name, listed, signs
from gingham.words.plans import own_text

CUE = (
    "Lay the finger a little on its side, close to the fret, the thumb low behind the neck, wrist straight; press "
    "only as hard as it takes. Stop at pain: a capo or a smaller shape is as good."
)
NO_PINCH = "Never two strings at once on this chord."
EVEN = "The thumb is alone on every beat, the fingers lie between."


def place_text(place: HandPlace) -> str:
    """`Index on string 3, middle on 2, ring on 1: the hand is at place 3.`"""
    if not place.fingers:
        return "No finger plucks beside the thumb."
    said = [f"{FINGER_NAMES[finger]} on string {string}" for finger, string in place.fingers]
    text = listed(said)
    where = f": the hand is at place {place.index_string}" if place.index_string is not None else ""
    return f"{text[:1].upper()}{text[1:]}{where}."


def pick_text(strings: float) -> str:
    """Where a flat pick goes: it has no place of its own."""
    return f"A flat pick plays: no finger stands on a string. It crosses {strings:.1f} strings a bar."


def moved_text(place: HandPlace) -> str:
    """How the hand got there from the chord before."""
    if place.moved is None:
        return "Its fingers have gone different ways from the chord before."
    if not place.moved:
        return "It stays where it was on the chord before."
    way = "thinner" if place.moved < 0 else "thicker"
    by = abs(place.moved)
    return f"It has gone {by} {'string' if by == 1 else 'strings'} toward the {way} ones."


def path_text(path: HandPath) -> str:
    """`Over the section the hand shifts 3 times, and the thumb crosses 4.5 strings a bar.`"""
    times = {0: "never shifts", 1: "shifts once", 2: "shifts twice"}.get(
        path.shifts, f"shifts {path.shifts} times"
    )
    return f"Over the section the hand {times}, and the thumb crosses {path.thumb:.1f} strings a bar."


def calmer_text(each: Calmer) -> str:
    """`Calmer: fingers stay at home: no shift, 4.5 strings a bar. D would lose its third.`"""
    shifts = "no shift" if not each.shifts else "1 shift" if each.shifts == 1 else f"{each.shifts} shifts"
    cost = ""
    if each.bare:
        names = listed([signs(chord) for chord in each.bare])
        cost = f" {names} would lose {'its' if len(each.bare) == 1 else 'their'} third."
    return f"Calmer: {own_text(each.own)}. Then {shifts}, {each.thumb:.1f} strings a bar.{cost}"


def spacing_text(strings: frozenset[int], gaps: tuple[tuple[int, int], ...]) -> str:
    """`Strings in use: 6 4 3 2, string 5 skipped.`"""
    used = " ".join(str(string) for string in sorted(strings, reverse=True))
    skipped = [str(string) for one, other in gaps for string in range(one - 1, other, -1)]
    more = (
        f", string{'s' if len(skipped) > 1 else ''} {listed(skipped)} skipped"
        if skipped
        else ", side by side"
    )
    return f"Strings in use: {used}{more}."


def pinch_text(each: Pinch) -> str:
    """`Thumb on 6 and middle on 2 at 1, over 5 strings; on top B, the third, on string 2.`"""
    who = listed([f"{PLUCKERS[plucker]} on {string}" for plucker, string in reversed(each.plucks)])
    often = "" if each.times == 1 else f" ({each.times} times)"
    top = f"on top {signs(str(each.top))}, the {degree_name(each.degree)}, on string {each.top_string}"
    close = ""
    if each.close:
        pairs = listed([f"{b} and {a}" for a, b in each.close])
        close = f" Strings {pairs} are neighbours: keep both fingers close and even."
    return f"{who[:1].upper()}{who[1:]} at {each.count}{often}, over {each.span} strings; {top}.{close}"


def rates_text(rates: dict[str, float], tempo: int) -> str:
    """`Plucks a second at 72: thumb 1.2, index 0.6.`"""
    said = [f"{PLUCKERS[who]} {rate:.1f}" for who, rate in rates.items()]
    return f"Plucks a second at {tempo}: {', '.join(said)}." if said else ""


def stressed_text(found: dict[str, tuple[str, ...]]) -> str:
    """`Louder: middle on 2& and 4.`; empty where nobody is."""
    said = [f"{PLUCKERS[finger]} on {listed(list(counts))}" for finger, counts in found.items()]
    return f"Louder: {'; '.join(said)}." if said else ""


def passed_text(strings: tuple[int, ...]) -> str:
    """The thumb’s way over silent strings; empty where there are none."""
    if not strings:
        return ""
    word = "string" if len(strings) == 1 else "strings"
    verb = "is" if len(strings) == 1 else "are"
    return f"The thumb passes over {word} {listed([str(s) for s in strings])}, which {verb} silent here: lift it over."


def back_text(place: HandPlace, thumb: int | None) -> str:
    """Where the fingers stand again after a brush or a chuck."""
    said = ([f"thumb on {thumb}"] if thumb is not None else []) + [
        f"{FINGER_NAMES[finger]} on {string}" for finger, string in place.fingers
    ]
    return f"After each brush or chuck back to: {listed(said)}." if said else ""


def brush_cost_text(cost: BrushCost | None) -> str:
    """What the thumb's brush would cost; empty where nobody brushes."""
    if cost is None:
        return ""
    comes = "the thumb has to come back over the strings to its next bass"
    if cost.thumb >= cost.fingers:
        return f"If the thumb brushed, the top speed would stay at {cost.fingers}, although {comes}."
    return f"If the thumb brushed, the top speed would fall from {cost.fingers} to {cost.thumb}: {comes}."


_OFF = {
    "empty": "nothing on {counts}",
    "finger": "a finger instead of the thumb on {counts}",
    "pinch": "a finger with the thumb on {counts}",
    "thumb-between": "the thumb between beats, on {counts}",
}


def beats_text(found: tuple[OffTheRule, ...]) -> str:
    """`Thumb on the beats, fingers between, but: a finger with the thumb on 1.`"""
    if not found:
        return EVEN
    said = [_OFF[each.kind].format(counts=listed(list(each.counts))) for each in found]
    return f"Thumb on the beats, fingers between, but for {listed(said)}."


_ENDED = {"again": "plucked again", "change": "ended by the change", "damped": "damped"}


def ring_lines(found: tuple[Ring, ...], meter: Meter) -> list[str]:
    """`String 6: rings 2 beats, plucked again`: each string's longest ring, of strings that ring alike one line."""
    longest: dict[int, Ring] = {}
    for ring in found:
        if ring.string not in longest or ring.length > longest[ring.string].length:
            longest[ring.string] = ring
    by: dict[tuple[Fraction, str], list[int]] = {}
    for string, ring in sorted(longest.items(), reverse=True):
        by.setdefault((ring.length, ring.ended), []).append(string)
    return [
        f"String{'s' if len(strings) > 1 else ''} {listed([str(s) for s in strings])}: up to "
        f"{_beats(length, meter)}, then {_ENDED[ended]}"
        for (length, ended), strings in by.items()
    ]


def clash_text(each: Clash, meter: Meter) -> str:
    """`F♯ on string 4 comes while G on string 6 still rings, for 1 beat (bar 3 at 2): damp string 6.`"""
    new, old = signs(str(each.new.note)), signs(str(each.old.note))
    return (
        f"{new} on string {each.new.string} comes while {old} on string {each.old.string} still rings, for "
        f"{_beats(each.together, meter)} (bar {each.bar} at {each.count}): the side of the thumb can damp string "
        f"{each.old.string}."
    )


def _beats(length: Fraction, meter: Meter) -> str:
    beats = float(length / meter.tempo_beat)
    return (
        "1 beat" if beats == 1 else f"{beats:g} beats" if beats == round(beats, 1) else f"{beats:.1f} beats"
    )


def barre_text(each: BarreChord) -> str:
    """`F: a barre at fret 1 over strings 6 to 1, for 8 beats; of what you pluck it sounds strings 6 and 1.`"""
    needed = listed([str(string) for string in each.needed])
    word = "string" if len(each.needed) == 1 else "strings"
    truly = (
        f"of what you pluck it sounds {word} {needed}" if each.needed else "none of what you pluck needs it"
    )
    one, other = each.strings
    return (
        f"{signs(each.chord)}: a barre at fret {each.fret} over strings {one} to {other}, for {float(each.beats):g} "
        f"beats; {truly}."
    )


def load_text(load: BarreLoad) -> str:
    """`Barre chords: 4 a minute, held for 25 % of the time.`"""
    return f"Barre chords: {load.a_minute:.0f} a minute, held for {100 * load.share:.0f} % of the time."
