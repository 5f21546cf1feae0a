"""Where the thumb goes: the strings of bass 1, bass 2, … on one shape, each with its reasons."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from gingham.core.fitting.result import StringChoice
from gingham.core.instruments.instrument import Instrument
from gingham.core.music.chords import Chord
from gingham.core.pieces.rules import Rules
from gingham.core.reasons import Reason
from gingham.core.shapes.shape import Shape


@dataclass(frozen=True, slots=True)
class Held:
    """A chord as it is held: symbol, shape, instrument and capo (the symbol names the shape)."""

    chord: Chord
    shape: Shape
    on: Instrument
    capo: int

    def midi(self, string: int) -> int:
        """Pitch of a sounding string without the capo (MIDI number)."""
        return self.on.open_midi(string) + (self.shape.fret(string) or 0)

    def degree(self, string: int) -> str:
        """The degree that a sounding string gives."""
        return str(self.chord.tone_at(self.midi(string))[0])

    def sounds(self, string: int) -> bool:
        """Whether the shape lets the string sound."""
        return 1 <= string <= self.on.strings and self.shape.fret(string) is not None


def second_range(on: Instrument) -> tuple[int, ...]:
    """The thumb strings and the one more that a second bass may use."""
    thumb = on.thumb_strings
    return thumb if on.strings <= 4 else (*thumb, thumb[-1] - 1)


def basses(held: Held, rules: Rules, busy: Callable[[int, int], bool]) -> tuple[StringChoice, ...]:
    """The plan's basses on this chord, bass 1 first.

    `busy(first, string)` tells whether a finger needs `string` in a slot where the second bass falls,
    with bass 1 on `first`.
    """
    if rules.thumb.kind == "named":
        return tuple(_chosen(s, Reason.of("bass-named", string=s)) for s in rules.thumb.strings)
    first = bass_one(held, rules)
    if rules.thumb.kind == "root":
        return (first,)
    if held.on.strings <= 4:
        return (first, *_second_of_four(held, rules, first.string))
    if rules.thumb.kind == "string-4":
        return (first, _second(held, first.string, 4, "bass-string-4", busy))
    return (first, _second(held, first.string, partner(held.on, first.string), "bass-partner", busy))


def _chosen(string: int, *reasons: Reason) -> StringChoice:
    return StringChoice(string, reasons, string)


def bass_one(held: Held, rules: Rules) -> StringChoice:
    """Bass 1 by the rule `first`."""
    first = rules.first
    if first.kind == "named" and first.string is not None:
        return _chosen(first.string, Reason.of("first-named", string=first.string))
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


def _second_of_four(held: Held, rules: Rules, first: int) -> tuple[StringChoice, ...]:
    """Bass 2 on four strings or fewer: the other thumb string; `string-4` stays."""
    if rules.thumb.kind == "string-4":
        return (_chosen(first, Reason.of("bass-stays", string=first, why="string-4")),)
    for string in held.on.thumb_strings:
        if string != first:
            if held.sounds(string):
                return (_chosen(string, Reason.of("bass-other", string=string, degree=held.degree(string))),)
            return (_chosen(first, Reason.of("bass-stays", string=first, why="muted", other=string)),)
    return (_chosen(first, Reason.of("bass-stays", string=first, why="alone")),)


def partner(on: Instrument, first: int) -> int:
    """The second bass by string family: 6→4, 5→4, 4→3 on six strings; bass on 3 stays.

    On other string counts the two highest strings share a partner two below the highest, and each
    further one takes its neighbour, as long as the thumb's range goes.
    """
    second = on.strings - 2 if first >= on.strings - 1 else first - 1
    return second if second in second_range(on) else first


def _second(held: Held, first: int, wanted: int, code: str, busy: Callable[[int, int], bool]) -> StringChoice:
    """Bass 2 on `wanted`; if that is muted, the next sounding thumb string that no finger needs then."""
    if wanted == first:
        return _chosen(
            first,
            Reason.of("bass-stays", string=first, why="family" if code == "bass-partner" else "string-4"),
        )
    if held.sounds(wanted):
        return _chosen(wanted, Reason.of(code, string=wanted, degree=held.degree(wanted)))
    for string in range(wanted - 1, second_range(held.on)[-1] - 1, -1):
        if string != first and held.sounds(string) and not busy(first, string):
            reason = Reason.of("bass-next", string=string, muted=wanted, degree=held.degree(string))
            return _chosen(string, reason)
    return _chosen(first, Reason.of("bass-stays", string=first, why="muted", other=wanted))
