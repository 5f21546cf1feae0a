"""Where the thumb goes: the strings of bass 1, bass 2, … on one shape, each with its reasons."""

from __future__ import annotations

from collections.abc import Callable

import msgspec

from gingham.core.fitting.held import Held
from gingham.core.fitting.reach import Reach, way_to
from gingham.core.fitting.result import StringChoice
from gingham.core.hands.motor import Motor
from gingham.core.instruments.instrument import Instrument
from gingham.core.music.roughness import roughness
from gingham.core.pieces.plans import NAMED, PLANS
from gingham.core.pieces.rules import Rules, ThumbPlan
from gingham.core.reasons import Reason


class Thumb(msgspec.Struct, frozen=True, gc=False):
    """What choosing the basses needs beside the chord: the plan, and what pattern and tempo allow.

    `busy(first, string)` tells whether a finger needs `string` where the second bass falls, with bass 1 on
    `first`. `time_s` is the time between two plucks of the thumb, `index` the string of the index finger.
    Where `clear_below` is given, a free choice goes to a pair less rough than that if there is one.
    """

    plan: ThumbPlan
    busy: Callable[[int, int], bool]
    time_s: float
    motor: Motor
    index: int | None
    clear_below: float | None = None


def second_range(instrument: Instrument) -> tuple[int, ...]:
    """The thumb strings and the one more that a second bass may use."""
    thumb = instrument.thumb_strings
    return thumb if instrument.strings <= 4 else (*thumb, thumb[-1] - 1)


def basses(held: Held, rules: Rules, thumb: Thumb) -> tuple[StringChoice, ...]:
    """The plan's basses on this chord, bass 1 first."""
    plan = thumb.plan
    if plan.kind == NAMED:
        return tuple(_named(held, string, plan.strings[0], thumb) for string in plan.strings)
    first = bass_one(held, rules)
    if PLANS[plan.kind].most == 1:
        return (first,)
    if held.on.strings <= 4:
        return (first, *_second_of_four(held, plan, first.string))
    return (first, *PICKERS[plan.kind](held, first.string, thumb))


def _named(held: Held, string: int, first: int, thumb: Thumb) -> StringChoice:
    """A string that the player names; one that the shape mutes is opened or stopped where a hand can."""
    choice = _chosen(string, Reason.of("bass-named", string=string))
    if held.sounds(string):
        return choice
    fifth = [note.pitch_class for degree, note in held.chord.tones if degree.number == 5]
    tones = dict.fromkeys((*fifth, *(note.pitch_class for _, note in held.chord.tones)))
    ways = [
        way
        for tone in tones
        if (way := way_to(held, string, tone, first, thumb.time_s, thumb.motor)) is not None
    ]
    way = min(ways, key=lambda way: _WAYS.index(way.kind), default=None)  # the fifth before other tones
    return choice if way is None else _by_way(held, way, "bass-opened")


def _string_four(held: Held, first: int, thumb: Thumb) -> tuple[StringChoice, ...]:
    return (_second(held, first, 4, "bass-string-4", thumb),)


def _pair(held: Held, first: int, thumb: Thumb) -> tuple[StringChoice, ...]:
    return (_second(held, first, partner(held.on, first), "bass-partner", thumb),)


def _root_fifth(held: Held, first: int, thumb: Thumb) -> tuple[StringChoice, ...]:
    """The chord's fifth as spelled (the root if bass 1 is the fifth), lower ones first; else the partner.

    A slash bass outside the chord stays.
    """
    foreign = held.chord.foreign_bass
    if foreign is not None and held.midi(first) % 12 == foreign.pitch_class:
        return (_chosen(first, Reason.of("bass-stays", string=first, why="foreign")),)
    fifth = next((note for degree, note in held.chord.tones if degree.number == 5), None)
    if fifth is None:
        return _pair(held, first, thumb)
    is_fifth = held.midi(first) % 12 == fifth.pitch_class
    wanted = held.chord.root.pitch_class if is_fifth else fifth.pitch_class
    altered = not is_fifth and (fifth.pitch_class - held.chord.root.pitch_class) % 12 != _PERFECT
    lower = _lower(held, first, wanted, thumb)
    if altered and lower is not None and lower.kind != "shape":
        lower = None  # a diminished or augmented fifth only where the shape has it
    hard = lower is not None and lower.kind == "fuller"  # a fuller grip only if the shape has none above
    way = (_higher(held, first, wanted) or lower) if hard else (lower or _higher(held, first, wanted))
    if way is None:
        return _pair(held, first, thumb)
    return (_by_way(held, way, "bass-root" if is_fifth else "bass-fifth"),)


_PERFECT = 7  # semitones


def _lower(held: Held, first: int, wanted: int, thumb: Thumb) -> Reach | None:
    """A thumb string that gives the pitch class below bass 1, one of the shape before any other."""
    low = held.midi(first)
    found = [
        way
        for string in held.on.thumb_strings
        if string != first
        and (way := way_to(held, string, wanted, first, thumb.time_s, thumb.motor)) is not None
        and held.on.open_midi(string) + way.fret < low
    ]
    return min(found, key=lambda way: (_WAYS.index(way.kind), -way.string), default=None)


def _higher(held: Held, first: int, wanted: int) -> Reach | None:
    """A thumb string of the shape that sounds the pitch class above bass 1, the highest number first."""
    for string in held.on.thumb_strings:
        fret = held.shape.fret(string)
        if string != first and fret is not None and held.midi(string) % 12 == wanted:
            return Reach(string, fret, "shape")
    return None


def _by_way(held: Held, way: Reach, code: str) -> StringChoice:
    degree, _, _ = held.chord.tone_at(held.on.open_midi(way.string) + way.fret)
    reason = Reason.of(
        code, string=way.string, degree=str(degree), way=way.kind, finger=way.finger,
        ms=round(1000 * way.time_s),
    )  # fmt: skip
    fret = None if way.kind == "shape" else way.fret
    return StringChoice(way.string, (reason,), way.string, fret=fret)


def _up_and_back(held: Held, first: int, thumb: Thumb) -> tuple[StringChoice, ...]:
    """Every sounding string between bass 1 and the index finger's."""
    last = thumb.index if thumb.index is not None else 3
    strings = [s for s in range(first - 1, last, -1) if held.sounds(s)]
    return tuple(_chosen(s, Reason.of("bass-next-up", string=s, degree=held.degree(s))) for s in strings)


def _rise(held: Held, first: int, thumb: Thumb) -> tuple[StringChoice, ...]:
    """The next two sounding strings toward string 1; string 5 is left out after a bass on 6."""
    skip = held.on.strings - 1 if first == held.on.strings else None
    strings = [s for s in range(first - 1, 0, -1) if held.sounds(s) and s != skip][:2]
    code = "bass-rises" if skip is None else "bass-rises-over"
    return tuple(_chosen(s, Reason.of(code, string=s, degree=held.degree(s))) for s in strings)


def _tour(held: Held, first: int, thumb: Thumb) -> tuple[StringChoice, ...]:
    """The partner, then a chord degree on a thumb string of its own: a new one if there is any."""
    pair = _pair(held, first, thumb)
    used = {held.midi(string) % 12 for string in (first, pair[0].string) if held.sounds(string)}
    tones = [note.pitch_class for _, note in held.chord.tones]
    for wanted in ([tone for tone in tones if tone not in used], tones):
        way = _anywhere(held, first, pair[0].string, wanted, thumb)
        if way is not None:
            return (*pair, _by_way(held, way, "bass-tour"))
    return pair


def _anywhere(held: Held, first: int, second: int, wanted: list[int], thumb: Thumb) -> Reach | None:
    """A way to one of the tones in the thumb's range, on a string of its own: held before open before a hop.

    The whole shape is not changed for it.
    """
    found = [
        way
        for tone in wanted
        for string in held.on.thumb_strings
        if string not in (first, second)
        and (way := way_to(held, string, tone, first, thumb.time_s, thumb.motor)) is not None
        and way.kind != "fuller"
    ]

    def rank(way: Reach) -> tuple[int, bool, int]:
        return (_WAYS.index(way.kind), _too_rough(held, first, way.string, thumb, way.fret), -way.string)

    return min(found, key=rank, default=None)


def _too_rough(held: Held, first: int, string: int, thumb: Thumb, fret: int | None = None) -> bool:
    """Whether a string makes a muddy pair with bass 1, for a player who wants to avoid those."""
    if thumb.clear_below is None or not held.sounds(first):
        return False
    midi = held.on.open_midi(string) + fret if fret is not None else held.midi(string)
    return roughness(held.midi(first) + held.capo, midi + held.capo) >= thumb.clear_below


_WAYS = ("shape", "open", "barre", "hop", "fuller")
PICKERS: dict[str, Callable[[Held, int, Thumb], tuple[StringChoice, ...]]] = {
    "pair": _pair,
    "string-4": _string_four,
    "root-fifth": _root_fifth,
    "up-and-back": _up_and_back,
    "rise": _rise,
    "tour": _tour,
}
"""For each plan of more than one bass: the ones after bass 1, on more than four strings."""


def _chosen(string: int, *reasons: Reason) -> StringChoice:
    return StringChoice(string, reasons, string)


def bass_one(held: Held, rules: Rules) -> StringChoice:
    """Bass 1 by the rule `first`."""
    first = rules.first
    if first.kind == "named" and first.string is not None:
        tune = held.sounds(first.string) and not held.is_bass(first.string)
        return _chosen(
            first.string, Reason.of("first-named-tune" if tune else "first-named", string=first.string)
        )
    if held.on.strings <= 4:
        return _first_of_four(held, first.kind == "root-first")
    if first.kind != "lowest":
        wanted = held.chord.bass_note
        strings = [s for s in held.on.thumb_strings if held.sounds(s)]
        roots = [s for s in strings if held.midi(s) % 12 == wanted.pitch_class]
        if roots:
            string = min(roots, key=held.midi)
            code = "first-slash" if held.chord.bass is not None else "first-root"
            return _chosen(string, Reason.of(code, string=string, note=str(wanted)))
    string = min(held.shape.sounding, key=held.midi)
    code = "first-lowest" if first.kind == "lowest" else "first-not-root"
    if code == "first-lowest" and not held.is_bass(string):
        code = "first-inversion"
    return _chosen(string, Reason.of(code, string=string, degree=held.degree(string)))


def _first_of_four(held: Held, root_first: bool) -> StringChoice:
    """Bass 1 on four strings or fewer: the highest string number, or the one that sounds the root."""
    strings = [s for s in held.on.thumb_strings if held.sounds(s)]
    if not strings:
        string = held.shape.sounding[0]
        return _chosen(string, Reason.of("first-only", string=string, degree=held.degree(string)))
    if root_first:
        roots = [s for s in strings if held.midi(s) % 12 == held.chord.bass_note.pitch_class]
        if roots:
            return _chosen(roots[0], Reason.of("first-root-first", string=roots[0]))
    string = strings[0]
    if string != held.on.strings:
        return _chosen(string, Reason.of("first-only", string=string, degree=held.degree(string)))
    return _chosen(string, Reason.of("first-four", string=string, degree=held.degree(string)))


def _second_of_four(held: Held, plan: ThumbPlan, first: int) -> tuple[StringChoice, ...]:
    """Bass 2 on four strings or fewer: the other thumb string, or none."""
    if PLANS[plan.kind].stays_on_four:
        return (_chosen(first, Reason.of("bass-stays", string=first, why="string-4")),)
    for string in held.on.thumb_strings:
        if string != first:
            if held.sounds(string):
                return (_chosen(string, Reason.of("bass-other", string=string, degree=held.degree(string))),)
            return (_chosen(first, Reason.of("bass-stays", string=first, why="muted", other=string)),)
    return (_chosen(first, Reason.of("bass-stays", string=first, why="alone")),)


def partner(instrument: Instrument, first: int) -> int:
    """The second bass by string family: 6→4, 5→4, 4→3 on six strings; bass on 3 stays.

    On other string counts the two highest strings share a partner two below the highest, and each
    further one takes its neighbour, as long as the thumb's range goes.
    """
    second = instrument.strings - 2 if first >= instrument.strings - 1 else first - 1
    return second if second in second_range(instrument) else first


def _second(held: Held, first: int, wanted: int, code: str, thumb: Thumb) -> StringChoice:
    """Bass 2 on `wanted`; if that is muted, the next sounding thumb string that no finger needs then."""
    if wanted == first:
        return _chosen(
            first,
            Reason.of("bass-stays", string=first, why="family" if code == "bass-partner" else "string-4"),
        )
    if held.sounds(wanted):
        return _chosen(wanted, Reason.of(code, string=wanted, degree=held.degree(wanted)))
    others = range(wanted - 1, second_range(held.on)[-1] - 1, -1)
    free = [s for s in others if s != first and held.sounds(s) and not thumb.busy(first, s)]
    if free:
        string = min(free, key=lambda s: (_too_rough(held, first, s, thumb), -s))
        reason = Reason.of("bass-next", string=string, muted=wanted, degree=held.degree(string))
        return _chosen(string, reason)
    return _chosen(first, Reason.of("bass-stays", string=first, why="muted", other=wanted))
