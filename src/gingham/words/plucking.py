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
from gingham.language import figure, tr, tr_c, tr_n
from gingham.words.counts import strings_text
from gingham.words.names import FINGER_NAMES, PLUCKERS, degree_name, listed, signs
from gingham.words.plans import own_text

CUE = tr(
    "Lay the finger a little on its side, close to the fret, the thumb low behind the neck, wrist straight; press "
    "only as hard as it takes. Stop at pain: a capo or a smaller shape is as good."
)
NO_PINCH = tr("Never two strings at once on this chord.")
EVEN = tr("The thumb is alone on every beat, the fingers lie between.")


def place_text(place: HandPlace) -> str:
    """`Index on string 3, middle on 2, ring on 1: the hand is at place 3.`"""
    if not place.fingers:
        return tr("No finger plucks beside the thumb.")
    said = [
        tr("{finger} on string {string}", finger=FINGER_NAMES[finger], string=string)
        for finger, string in place.fingers
    ]
    text = listed(said)
    where = (
        tr(": the hand is at place {index_string}", index_string=place.index_string)
        if place.index_string is not None
        else ""
    )
    return f"{text[:1].upper()}{text[1:]}{where}."


def pick_text(strings: float) -> str:
    """Where a flat pick goes: it has no place of its own."""
    return tr(
        "A flat pick plays: no finger stands on a string. It crosses {strings:.1f} strings a bar.",
        strings=strings,
    )


def moved_text(place: HandPlace) -> str:
    """How the hand got there from the chord before."""
    if place.moved is None:
        return tr("Its fingers have gone different ways from the chord before.")
    if not place.moved:
        return tr("It stays where it was on the chord before.")
    by = abs(place.moved)
    if place.moved < 0:
        return tr_n(
            "It has gone {n} string toward the thinner ones.",
            "It has gone {n} strings toward the thinner ones.",
            by,
        )
    return tr_n(
        "It has gone {n} string toward the thicker ones.",
        "It has gone {n} strings toward the thicker ones.",
        by,
    )


def path_text(path: HandPath) -> str:
    """`Over the section the hand shifts 3 times, and the thumb crosses 4.5 strings a bar.`"""
    times = {0: tr("never shifts"), 1: tr("shifts once"), 2: tr("shifts twice")}.get(
        path.shifts, tr("shifts {shifts} times", shifts=path.shifts)
    )
    return tr(
        "Over the section the hand {times}, and the thumb crosses {thumb:.1f} strings a bar.",
        times=times,
        thumb=path.thumb,
    )


def calmer_text(each: Calmer) -> str:
    """`Calmer: fingers stay at home: no shift, 4.5 strings a bar. D would lose its third.`"""
    shifts = (
        tr("no shift")
        if not each.shifts
        else tr("1 shift")
        if each.shifts == 1
        else tr("{shifts} shifts", shifts=each.shifts)
    )
    cost = ""
    if each.bare:
        names = listed([signs(chord) for chord in each.bare])
        cost = tr_n(
            " {names} would lose its third.", " {names} would lose their third.", len(each.bare), names=names
        )
    return tr(
        "Calmer: {own}. Then {shifts}, {thumb:.1f} strings a bar.{cost}",
        own=own_text(each.own),
        shifts=shifts,
        thumb=each.thumb,
        cost=cost,
    )


def spacing_text(strings: frozenset[int], gaps: tuple[tuple[int, int], ...]) -> str:
    """`Strings in use: 6 4 3 2, string 5 skipped.`"""
    used = " ".join(str(string) for string in sorted(strings, reverse=True))
    skipped = [str(string) for one, other in gaps for string in range(one - 1, other, -1)]
    more = (
        tr_n(
            ", string {skipped} skipped", ", strings {skipped} skipped", len(skipped), skipped=listed(skipped)
        )
        if skipped
        else tr(", side by side")
    )
    return tr("Strings in use: {used}{more}.", used=used, more=more)


def pinch_text(each: Pinch) -> str:
    """`Thumb on 6 and middle on 2 at 1, over 5 strings; on top B, the third, on string 2.`"""
    who = listed(
        [
            tr("{plucker} on {string}", plucker=PLUCKERS[plucker], string=string)
            for plucker, string in reversed(each.plucks)
        ]
    )
    often = "" if each.times == 1 else tr(" ({times} times)", times=each.times)
    top = tr(
        "on top {top}, the {degree_name}, on string {top_string}",
        top=signs(str(each.top)),
        degree_name=degree_name(each.degree),
        top_string=each.top_string,
    )
    close = ""
    if each.close:
        pairs = listed([tr("{middle} and {ring}", middle=b, ring=a) for a, b in each.close])
        close = tr(" Strings {pairs} are neighbours: keep both fingers close and even.", pairs=pairs)
    return tr(
        "{who}{with_whom} at {count}{often}, over {span} strings; {top}.{close}",
        who=who[:1].upper(),
        with_whom=who[1:],
        count=each.count,
        often=often,
        span=each.span,
        top=top,
        close=close,
    )


def rates_text(rates: dict[str, float], tempo: int) -> str:
    """`Plucks a second at 72: thumb 1.2, index 0.6.`"""
    said = [f"{PLUCKERS[who]} {figure(rate, '.1f')}" for who, rate in rates.items()]
    return tr("Plucks a second at {tempo}: {said}.", tempo=tempo, said=", ".join(said)) if said else ""


def stressed_text(found: dict[str, tuple[str, ...]]) -> str:
    """`Louder: middle on 2& and 4.`; empty where nobody is."""
    said = [
        tr("{finger} on {list}", finger=PLUCKERS[finger], list=listed(list(counts)))
        for finger, counts in found.items()
    ]
    return tr("Louder: {said}.", said="; ".join(said)) if said else ""


def passed_text(strings: tuple[int, ...]) -> str:
    """The thumb’s way over silent strings; empty where there are none."""
    if not strings:
        return ""
    return tr_n(
        "The thumb passes over string {strings}, which is silent here: lift it over.",
        "The thumb passes over strings {strings}, which are silent here: lift it over.",
        len(strings),
        strings=listed([str(s) for s in strings]),
    )


def back_text(place: HandPlace, thumb: int | None) -> str:
    """Where the fingers stand again after a brush or a chuck."""
    said = ([tr("thumb on {thumb}", thumb=thumb)] if thumb is not None else []) + [
        tr("{finger} on {string}", finger=FINGER_NAMES[finger], string=string)
        for finger, string in place.fingers
    ]
    return tr("After each brush or chuck back to: {said}.", said=listed(said)) if said else ""


def brush_cost_text(cost: BrushCost | None) -> str:
    """What the thumb's brush would cost; empty where nobody brushes."""
    if cost is None:
        return ""
    comes = tr("the thumb has to come back over the strings to its next bass")
    if cost.thumb >= cost.fingers:
        return tr(
            "If the thumb brushed, the top speed would stay at {fingers}, although {comes}.",
            fingers=cost.fingers,
            comes=comes,
        )
    return tr(
        "If the thumb brushed, the top speed would fall from {fingers} to {thumb}: {comes}.",
        fingers=cost.fingers,
        thumb=cost.thumb,
        comes=comes,
    )


_OFF = {
    "empty": tr("nothing on {counts}"),
    "finger": tr("a finger instead of the thumb on {counts}"),
    "pinch": tr("a finger with the thumb on {counts}"),
    "thumb-between": tr("the thumb between beats, on {counts}"),
}


def beats_text(found: tuple[OffTheRule, ...]) -> str:
    """`Thumb on the beats, fingers between, but: a finger with the thumb on 1.`"""
    if not found:
        return EVEN
    said = [_OFF[each.kind].format(counts=listed(list(each.counts))) for each in found]
    return tr("Thumb on the beats, fingers between, but for {said}.", said=listed(said))


_ENDED = {
    "again": tr("plucked again"),
    "change": tr("ended by the change"),
    "damped": tr_c("ended", "damped"),
}


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
        tr_n(
            "String {strings}: up to {beats}, then {ended}",
            "Strings {strings}: up to {beats}, then {ended}",
            len(strings),
            strings=listed([str(s) for s in strings]),
            beats=_beats(length, meter),
            ended=_ENDED[ended],
        )
        for (length, ended), strings in by.items()
    ]


def clash_text(each: Clash, meter: Meter) -> str:
    """`F♯ on string 4 comes while G on string 6 still rings, for 1 beat (bar 3 at 2): damp string 6.`"""
    new, old = signs(str(each.new.note)), signs(str(each.old.note))
    return tr(
        "{new} on string {string} comes while {old} on string {old_string} still rings, for "
        "{beats} (bar {bar} at {count}): the side of the thumb can damp string {old_string}.",
        new=new,
        string=each.new.string,
        old=old,
        old_string=each.old.string,
        beats=_beats(each.together, meter),
        bar=each.bar,
        count=each.count,
    )


def _beats(length: Fraction, meter: Meter) -> str:
    beats = float(length / meter.tempo_beat)
    return (
        tr("1 beat")
        if beats == 1
        else tr("{beats:g} beats", beats=beats)
        if beats == round(beats, 1)
        else tr("{beats:.1f} beats", beats=beats)
    )


def barre_text(each: BarreChord) -> str:
    """`F: a barre at fret 1 over strings 6 to 1, for 8 beats; of what you pluck it sounds strings 6 and 1.`"""
    truly = (
        tr("of what you pluck it sounds {strings}", strings=strings_text(each.needed))
        if each.needed
        else tr("none of what you pluck needs it")
    )
    one, other = each.strings
    return tr(
        "{chord}: a barre at fret {fret} over strings {one} to {other}, for {beats:g} beats; {truly}.",
        chord=signs(each.chord),
        fret=each.fret,
        one=one,
        other=other,
        beats=float(each.beats),
        truly=truly,
    )


def load_text(load: BarreLoad) -> str:
    """`Barre chords: 4 a minute, held for 25 % of the time.`"""
    return tr(
        "Barre chords: {a_minute:.0f} a minute, held for {share:.0f} % of the time.",
        a_minute=load.a_minute,
        share=100 * load.share,
    )
