"""Chord symbols: a table, and an independent library as the oracle."""

from __future__ import annotations

from pathlib import Path

import pytest
from music21 import harmony

from gingham.core.errors import ChordSymbolError
from gingham.core.music.chords import parse_chord
from gingham.core.music.key import guess_key, parse_key, sounding

TABLE = [
    line.split("\t")
    for line in (Path(__file__).parent.parent / "data" / "chords.tsv").read_text().splitlines()
    if not line.startswith("#")
]
ROOTS = ["C", "C#", "Db", "D", "Eb", "E", "F", "F#", "Gb", "G", "Ab", "A", "Bb", "B"]
# Our spelling → music21's. 13 is left out: there it holds the 11, here (by design) it does not.
QUALITIES = {
    "": "", "m": "m", "7": "7", "maj7": "maj7", "m7": "m7", "dim": "dim", "dim7": "dim7", "aug": "aug",
    "m7b5": "ø7", "6": "6", "m6": "m6", "9": "9", "maj9": "M9", "m9": "m9", "11": "11", "m11": "m11",
    "sus2": "sus2", "sus4": "sus4", "m(maj7)": "mM7", "7#5": "7+", "5": "power", "add9": "add9",
    "madd9": "madd9", "7b9": "7 add b9", "7#9": "7 add #9", "7#11": "7 add #11", "7b5": "7 alter b5",
    "maj7#11": "maj7 add #11", "6/9": "6 add 9", "add11": "add11",
}  # fmt: skip


@pytest.mark.parametrize(("symbol", "tones"), TABLE)
def test_tones_of_the_table(symbol: str, tones: str) -> None:
    """Every spelling of the design's list gives the degrees and notes that players expect."""
    assert " ".join(f"{degree}={note}" for degree, note in parse_chord(symbol).tones) == tones


@pytest.mark.filterwarnings("ignore")
def test_an_independent_library_spells_the_same() -> None:
    """Over 400 symbols the spelled notes are those of music21."""
    seen = 0
    for root in ROOTS:
        for ours, theirs in QUALITIES.items():
            expected = {p.name for p in harmony.ChordSymbol(root.replace("b", "-") + theirs).pitches}
            mine = {str(note).replace("b", "-") for _, note in parse_chord(root + ours).tones}
            assert mine == expected, root + ours
            seen += 1
    assert seen >= 300


@pytest.mark.parametrize(
    ("symbol", "start", "end"),
    [("H", 0, 1), ("Cfoo", 1, 4), ("C7alt", 2, 5), ("", 0, 0), ("Cm5", 2, 3), ("C/H", 1, 3)],
)
def test_a_wrong_symbol_is_marked_where_it_is_wrong(symbol: str, start: int, end: int) -> None:
    """The error's place is the part that means nothing."""
    with pytest.raises(ChordSymbolError) as caught:
        parse_chord(symbol)
    assert (caught.value.start, caught.value.end) == (start, end)


@pytest.mark.parametrize(
    ("line", "capo", "expected"),
    [
        ("G C D Em", 2, "A D E F#m"),
        ("G C D Em", 3, "Bb Eb F Gm"),
        ("C G/B Am F", 1, "Db Ab/C Bbm Gb"),
        ("D A/C# Bm F#7", 2, "E B/D# C#m G#7"),
        ("Em7 B7#9", 1, "Fm7 C7#9"),
        ("Am F", 12, "Am F"),
    ],
)
def test_capo_names_are_spelled_by_the_sounding_key(line: str, capo: int, expected: str) -> None:
    """Both roots and slash basses move with the key."""
    chords = tuple(parse_chord(symbol) for symbol in line.split())
    key = guess_key(chords)
    assert " ".join(sounding(chord, capo, key).text for chord in chords) == expected


@pytest.mark.parametrize(
    ("line", "key"),
    [("G Am7 D G", "G"), ("Am F C G Am", "Am"), ("D G A7 D", "D"), ("Dm Gm A7 Dm", "Dm"), ("", "C")],
)
def test_the_key_is_guessed_from_the_chords(line: str, key: str) -> None:
    """First and last chord and the scale decide."""
    assert str(guess_key(tuple(parse_chord(symbol) for symbol in line.split()))) == key
    assert str(parse_key(key)) == key
