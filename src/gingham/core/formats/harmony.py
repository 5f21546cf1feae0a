"""Chord symbols as MusicXML says them: a root, one of its kinds, degrees added or changed."""

from __future__ import annotations

from gingham.core.errors import InputError
from gingham.core.music.chords import Chord, parse_chord
from gingham.core.music.degree import Degree, parse_degree

# The degrees of each kind (MusicXML 4.0, kind-value), most degrees first where several would do.
_KINDS: dict[str, tuple[str, str]] = {
    "major": ("1 3 5", ""),
    "minor": ("1 b3 5", "m"),
    "augmented": ("1 3 #5", "aug"),
    "diminished": ("1 b3 b5", "dim"),
    "dominant": ("1 3 5 b7", "7"),
    "major-seventh": ("1 3 5 7", "maj7"),
    "minor-seventh": ("1 b3 5 b7", "m7"),
    "diminished-seventh": ("1 b3 b5 bb7", "dim7"),
    "augmented-seventh": ("1 3 #5 b7", "aug7"),
    "half-diminished": ("1 b3 b5 b7", "m7b5"),
    "major-minor": ("1 b3 5 7", "m(maj7)"),
    "major-sixth": ("1 3 5 6", "6"),
    "minor-sixth": ("1 b3 5 6", "m6"),
    "dominant-ninth": ("1 3 5 b7 9", "9"),
    "major-ninth": ("1 3 5 7 9", "maj9"),
    "minor-ninth": ("1 b3 5 b7 9", "m9"),
    "dominant-11th": ("1 3 5 b7 9 11", "11"),
    "major-11th": ("1 3 5 7 9 11", "maj11"),
    "minor-11th": ("1 b3 5 b7 9 11", "m11"),
    "dominant-13th": ("1 3 5 b7 9 13", "13"),
    "major-13th": ("1 3 5 7 9 13", "maj13"),
    "minor-13th": ("1 b3 5 b7 9 13", "m13"),
    "suspended-second": ("1 2 5", "sus2"),
    "suspended-fourth": ("1 4 5", "sus4"),
    "power": ("1 5", "5"),
}
_SETS = {kind: frozenset(degrees.split()) for kind, (degrees, _) in _KINDS.items()}
Change = tuple[int, int, str]
"""Degree number, its semitones from the major or perfect one, and add, alter or subtract."""


def kind_of(chord: Chord) -> tuple[str, tuple[Change, ...]]:
    """The kind that needs the fewest changes, and the changes."""
    own = {str(d) for d in chord.degrees}
    kind = min(_SETS, key=lambda k: (len(_changes(own, _SETS[k])), -len(_SETS[k] & own)))
    return kind, tuple(_changes(own, _SETS[kind]))


def _changes(own: set[str], base: frozenset[str]) -> list[Change]:
    extra = sorted(map(parse_degree, own - base), key=lambda d: d.number)
    gone = sorted(map(parse_degree, base - own), key=lambda d: d.number)
    out: list[Change] = []
    for degree in extra:
        instead = next((g for g in gone if g.number == degree.number), None)
        if instead is not None:
            gone.remove(instead)
            out.append((degree.number, degree.alter, "alter"))
        else:
            out.append((degree.number, degree.alter, "add"))
    return out + [(degree.number, degree.alter, "subtract") for degree in gone]


def suffix_of(chord: Chord) -> str:
    """What stands behind the root in the symbol, the slash bass left out."""
    tail = chord.text[len(str(chord.root)) :]
    return tail[: tail.rindex("/")] if chord.bass is not None and "/" in tail else tail


def symbol(root: str, kind: str, text: str | None, changes: tuple[Change, ...], bass: str) -> str:
    """The symbol of a harmony that was read: spelled as its text where that says the same as its kind.

    Texts are free in MusicXML (`mi7`, `-7`), so that the kind decides what sounds wherever it is known.
    """
    slash = f"/{bass}" if bass else ""
    by_text = None if text is None else _chord(f"{root}{text}{slash}")
    if kind not in _KINDS:
        return by_text.text if by_text is not None else f"{root}{slash}"
    by_kind = _chord(f"{root}{_KINDS[kind][1]}{''.join(map(_spoken, changes))}{slash}")
    if by_text is not None and (by_kind is None or by_text.degrees == by_kind.degrees):
        return by_text.text
    return by_kind.text if by_kind is not None else f"{root}{slash}"


def _chord(text: str) -> Chord | None:
    try:
        return parse_chord(text)
    except InputError:
        return None


def _spoken(change: Change) -> str:
    number, alter, how = change
    if how == "subtract":
        return f"no{number}"
    degree = str(Degree(number, alter))
    return f"add{degree}" if how == "add" and not alter else f"({degree})"
