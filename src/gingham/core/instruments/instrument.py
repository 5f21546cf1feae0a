"""Instruments: strings with their open pitches, frets, and what the strings are like."""

from __future__ import annotations

import re

import msgspec

from gingham.core.errors import PitchError, TuningError
from gingham.core.music.pitch import Pitch, parse_pitch
from gingham.core.values import replace

MIN_STRINGS, MAX_STRINGS = 3, 10
_LOWEST_MIDI, _HIGHEST_MIDI = 24, 88  # C1 to E6: below and above no plucked string of these sizes speaks


class Instrument(msgspec.Struct, frozen=True, gc=False):
    """An instrument as it is strung.

    `tuning` runs from the highest string number to string 1, as tunings are spoken. `wound` holds the
    string numbers that squeak under a sliding finger. `scale_mm` is the length of the open string.
    """

    id: str
    tuning: tuple[Pitch, ...]
    frets: int
    scale_mm: int
    wound: frozenset[int]
    nylon: bool = False

    @property
    def strings(self) -> int:
        """How many strings there are."""
        return len(self.tuning)

    def open_midi(self, string: int) -> int:
        """MIDI number of the open string; string 1 is the last one of the tuning."""
        return self.tuning[self.strings - string].midi

    @property
    def reentrant(self) -> bool:
        """Whether some higher string number sounds above a lower one."""
        midis = [pitch.midi for pitch in self.tuning]
        return midis != sorted(midis)

    @property
    def thumb_strings(self) -> tuple[int, ...]:
        """Strings for the first bass: 6 5 4 on a guitar, 4 and 3 on four strings, else the upper half."""
        return tuple(range(self.strings, self.strings // 2, -1))

    def tuning_text(self) -> str:
        """The tuning as it is typed: `E2 A2 D3 G3 B3 E4`."""
        return " ".join(map(str, self.tuning))


def _make(id: str, tuning: str, frets: int, scale_mm: int, wound: set[int], nylon: bool) -> Instrument:
    return Instrument(
        id, tuple(parse_pitch(p) for p in tuning.split()), frets, scale_mm, frozenset(wound), nylon
    )


CATALOGUE: dict[str, Instrument] = {
    instrument.id: instrument
    for instrument in (
        _make("guitar", "E2 A2 D3 G3 B3 E4", 19, 650, {4, 5, 6}, False),
        _make("ukulele", "G4 C4 E4 A4", 15, 380, set(), True),
        _make("ukulele-low", "G3 C4 E4 A4", 15, 380, {4}, True),
        _make("ukulele-baritone", "D3 G3 B3 E4", 18, 510, {3, 4}, True),
    )
}


def instrument(id: str, tuning: str | None = None) -> Instrument:
    """The catalogue's instrument `id`, retuned if a tuning text is given.

    Raises
    ------
    TuningError
        Unknown instrument, an unreadable pitch, fewer than 3 or more than 10 strings, or a pitch that no
        string of this kind can hold.
    """
    if id not in CATALOGUE:
        raise TuningError("instrument", text=id, known=tuple(CATALOGUE))
    base = CATALOGUE[id]
    return base if tuning is None else retuned(base, tuning)


def retuned(base: Instrument, text: str) -> Instrument:
    """`base` with the open pitches of `text` (highest string number first); TuningError as above.

    Players also say `DADGBE` or `D A D G B E`, each string as near to its usual pitch as it goes, and
    `drop D`, the string nearest to the thumb lowered to that note.
    """
    text = _written_out(base, text)
    pitches: list[Pitch] = []
    at = 0
    for word in text.split():
        start = text.index(word, at)
        at = start + len(word)
        try:
            pitch = parse_pitch(word)
        except PitchError as error:
            raise TuningError("tuning-pitch", start=start, end=at, text=word) from error
        if not _LOWEST_MIDI <= pitch.midi <= _HIGHEST_MIDI:
            raise TuningError("tuning-range", start=start, end=at, text=word)
        pitches.append(pitch)
    if not MIN_STRINGS <= len(pitches) <= MAX_STRINGS:
        raise TuningError("tuning-strings", start=0, end=len(text), given=len(pitches))
    wound = (
        base.wound
        if len(pitches) == base.strings
        else frozenset(string for string in range(1, len(pitches) + 1) if pitches[-string].midi < 55)
    )
    return replace(base, tuning=tuple(pitches), wound=wound)


def _written_out(base: Instrument, text: str) -> str:
    """What players say of a tuning as pitches; anything else as it is."""
    if text.strip().lower() == "standard":
        return " ".join(map(str, base.tuning))
    dropped = re.fullmatch(r"\s*drop(?:ped)?[\s-]+([A-Ga-g][#b]?)\s*", text, re.IGNORECASE)
    if dropped:
        low = _nearest(dropped[1], base.tuning[0], below=True)
        return " ".join(map(str, (low, *base.tuning[1:])))
    plain = "".join(text.split())
    if re.fullmatch(r"[A-Ga-g]+", plain) and len(plain) == base.strings:
        names = list(plain)  # `gCEA`, `dadgbe`: a letter for each string
    else:
        names = re.findall(r"[A-G][#b]?", text) if re.fullmatch(r"(?:\s*[A-G][#b]?)+\s*", text) else []
    if len(names) != base.strings:
        return text
    return " ".join(str(_nearest(name, usual)) for name, usual in zip(names, base.tuning, strict=True))


def _nearest(name: str, usual: Pitch, *, below: bool = False) -> Pitch:
    """The pitch of a note name nearest to a string's usual one; not above it where it is lowered."""
    found = [parse_pitch(f"{name[:1].upper()}{name[1:]}{octave}") for octave in range(9)]
    low = [pitch for pitch in found if not below or pitch.midi <= usual.midi]
    return min(low, key=lambda pitch: (abs(pitch.midi - usual.midi), pitch.midi))


def check_capo(instrument: Instrument, capo: int) -> int:
    """`capo` if it leaves at least five frets to play on; TuningError otherwise."""
    if not 0 <= capo <= instrument.frets - 5:
        raise TuningError("capo", given=capo, most=instrument.frets - 5)
    return capo
