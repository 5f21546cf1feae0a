"""Chord symbols: root, degrees, slash bass.

The grammar is a table of qualities, an extension, and changes. What a plain number means follows the
common practice for chord symbols, with two house rules from the design: 11 keeps the third, 13 leaves
out the 11.
"""

from __future__ import annotations

import re
from functools import lru_cache

import msgspec

from gingham.core.errors import ChordSymbolError
from gingham.core.music.degree import FOREIGN, Degree, between, parse_degree
from gingham.core.music.pitch import Note, note_from_match, plain_accidentals, spell_pitch_class

MAX_SYMBOL = 60  # the longest symbol that says anything has about thirty characters
_ROOT = re.compile(r"([A-G])(##|#|bb|b|)")
_BASS = re.compile(r"/([A-Ga-g])(##|#|bb|b|)$")

# What may follow the root, longest first: (spellings, third, fifth, what a plain 7
# means, the seventh that is there without a number).
_QUALITIES: tuple[tuple[re.Pattern[str], str, str, str, str], ...] = (
    (re.compile(r"(?:min|m|-)\(?(?:maj|Maj|M|Δ)"), "b3", "5", "7", "7"),
    (re.compile(r"major|maj|Maj|MAJ|[mM][aA](?=[0-9])|M|Δ|△"), "3", "5", "7", ""),
    (re.compile(r"minor|min|mi|m|-"), "b3", "5", "b7", ""),
    (re.compile(r"dim|°|º|o(?!m)"), "b3", "b5", "bb7", ""),
    (re.compile(r"ø|Ø"), "b3", "b5", "b7", "b7"),
    (re.compile(r"aug|\+"), "3", "#5", "b7", ""),
    (re.compile(r""), "3", "5", "b7", ""),
)
_SEVENTH_AND_UP = {"7": "", "9": "9", "11": "9 11", "13": "9 13"}
_EXTENSION = re.compile(r"6/9|69|6|11|13|7|9|5|2|4")
_CHANGE = re.compile(
    r"(?P<sus>sus(?:2/?4|2|4)?)"
    r"|(?P<add>add|/)(?P<added>[b#]?(?:2|4|6|9|11|13))"
    r"|(?P<omit>no|omit)(?P<omitted>[1357])"
    r"|(?P<alter>[b#+-])(?P<altered>5|9|11|13)"
    r"|(?P<raised>\+|aug)"
    r"|(?P<major>maj7|Maj7|M7|Δ7?)"
)


class Chord(msgspec.Struct, frozen=True, gc=False):
    """A chord symbol that has been read: the text as typed, root, degrees upward, bass if slashed.

    Made by `parse_chord` and `chord_of` alone: the last two fields follow from the others.
    """

    text: str
    root: Note
    degrees: tuple[Degree, ...]
    bass: Note | None
    tones: tuple[tuple[Degree, Note], ...]
    """Each degree with its spelled note, the slash bass (if foreign) last."""
    pitch_classes: frozenset[int]
    """Pitch classes 0–11 of all tones, slash bass included."""

    @property
    def bass_note(self) -> Note:
        """The note that the symbol puts lowest: the slash bass, else the root."""
        return self.bass if self.bass is not None else self.root

    @property
    def foreign_bass(self) -> Note | None:
        """The slash bass, if it is outside the chord that stands before the slash."""
        return self.bass if len(self.tones) > len(self.degrees) else None

    def tone_at(self, pitch_class: int) -> tuple[Degree, Note, bool]:
        """Degree, spelled note and whether the chord contains it, for any pitch class."""
        for degree, note in self.tones:
            if note.pitch_class == pitch_class % 12:
                return degree, note, True
        degree = FOREIGN[(pitch_class - self.root.pitch_class) % 12]
        note = degree.above(self.root)
        if abs(note.alter) > 1:
            note = spell_pitch_class(pitch_class, flats=note.alter < 0)
        return degree, note, False

    def transposed(self, root: Note, bass: Note | None) -> Chord:
        """The same chord on another root, its text respelled."""
        tail = plain_accidentals(self.text)[len(str(self.root)) :]
        if self.bass is not None:
            tail = tail[: tail.rindex("/")]
        text = f"{root}{tail}" + (f"/{bass}" if bass is not None else "")
        return chord_of(text, root, self.degrees, bass)


def chord_of(text: str, root: Note, degrees: tuple[Degree, ...], bass: Note | None) -> Chord:
    """The chord of these degrees, its tones spelled."""
    own = tuple((degree, degree.above(root)) for degree in degrees)
    classes = frozenset(note.pitch_class for _, note in own)
    if bass is not None and bass.pitch_class not in classes:
        own = (*own, (between(root, bass), bass))
        classes |= {bass.pitch_class}
    return Chord(text, root, degrees, bass, own, classes)


@lru_cache(maxsize=4096)
def parse_chord(text: str) -> Chord:
    """Read a chord symbol such as Am7, D/F#, E7#9, Cø, G6/9 or F(add9).

    Raises
    ------
    ChordSymbolError
        With `start`/`end` on the part that means nothing.
    """
    if len(text) > MAX_SYMBOL:
        raise ChordSymbolError("chord-long", start=0, end=len(text), most=MAX_SYMBOL)
    plain = plain_accidentals(text)
    root_match = _ROOT.match(plain)
    if not root_match:
        raise ChordSymbolError("chord-root", start=0, end=len(text), text=text)
    body, bass = plain, None
    bass_match = _BASS.search(plain)
    if bass_match:
        body, bass = plain[: bass_match.start()], note_from_match(bass_match)
    root = note_from_match(root_match)
    degrees = _read_degrees(text, body, root_match.end())
    return chord_of(text, root, degrees, bass)


def _read_degrees(text: str, body: str, at: int) -> tuple[Degree, ...]:
    """Degrees of the part between root and slash bass; `at` is where it begins in `body`."""
    quality, third, fifth, seventh, own_seventh = next(
        (found[0], *row[1:]) for row in _QUALITIES if (found := row[0].match(body, at))
    )
    at += len(quality)
    tones: dict[int, Degree] = {1: Degree(1), 3: parse_degree(third), 5: parse_degree(fifth)}
    if own_seventh:
        tones[7] = parse_degree(own_seventh)
    at = _read_extension(text, body, at, quality, seventh, tones)
    while at < len(body):
        if body[at] in "(), ":
            at += 1
            continue
        match = _CHANGE.match(body, at)
        if not match:
            raise ChordSymbolError("chord-tail", start=at, end=len(text), text=text, part=text[at:])
        _apply_change(match, tones)
        at = match.end()
    return tuple(sorted(tones.values(), key=lambda degree: (degree.number, degree.alter)))


def _read_extension(
    text: str, body: str, at: int, quality: str, seventh: str, tones: dict[int, Degree]
) -> int:
    """Read 5, 6, 69, 7, 9, 11 or 13 after the quality into `tones`; the offset after it."""
    match = _EXTENSION.match(body, at)
    if not match:
        # A bare triangle is the major seventh chord; a bare "maj" is the triad.
        if quality in ("Δ", "△"):
            tones[7] = Degree(7)
        return at
    number = match[0]
    if number in _SEVENTH_AND_UP:
        tones[7] = parse_degree(seventh)
        for degree in _SEVENTH_AND_UP[number].split():
            tones[int(degree)] = Degree(int(degree))
    elif number == "5" and not quality:
        del tones[3]
    elif number in ("2", "4") and not quality:
        # C2 and C4 are read as added tones, the way players write them over a held chord.
        tones[int(number)] = Degree(int(number))
    elif number.startswith("6"):
        tones[6] = Degree(6)
        if len(number) > 1:
            tones[9] = Degree(9)
    else:
        raise ChordSymbolError("chord-tail", start=at, end=len(text), text=text, part=text[at:])
    return match.end()


def _apply_change(match: re.Match[str], tones: dict[int, Degree]) -> None:
    """Apply one sus, add, omit, alteration or late major seventh to `tones`."""
    if match["sus"]:
        tones.pop(3, None)
        for number in (
            (2, 4) if "2" in match["sus"] and "4" in match["sus"] else (2 if "2" in match["sus"] else 4,)
        ):
            tones[number] = Degree(number)
    elif match["added"]:
        degree = parse_degree(match["added"])
        tones[_free_key(tones, degree)] = degree
    elif match["omitted"]:
        tones.pop(int(match["omitted"]), None)
    elif match["altered"]:
        sign = "#" if match["alter"] in "#+" else "b"
        degree = parse_degree(sign + match["altered"])
        current = tones.get(degree.number)
        if current is not None and current.alter and current != degree:
            tones[_free_key(tones, degree)] = degree  # b9 beside #9, b5 beside #5
        else:
            tones[degree.number] = degree
    elif match["raised"]:
        tones[5] = parse_degree("#5")
    else:
        tones[7] = Degree(7)


def _free_key(tones: dict[int, Degree], degree: Degree) -> int:
    """A key under which `degree` can stand beside another degree of the same number."""
    return degree.number if degree.number not in tones else 100 + degree.number
