"""Roman numerals, worked out by hand."""

from __future__ import annotations

import pytest

from gingham.core.fitting.fit import fit
from gingham.core.music.chords import parse_chord
from gingham.core.music.key import parse_key
from gingham.core.music.numeral import numeral
from gingham.words.panel import chord_lines
from tests.conftest import make_piece


@pytest.mark.parametrize(
    ("key", "chords", "expected"),
    [
        ("G", "G Am Bm C D Em F#dim", "I ii iii IV V vi vii°"),
        ("G", "Am7 D7 Gmaj7 Cmaj9 D13 Em11", "ii7 V7 Imaj7 IVmaj9 V13 vi11"),
        ("G", "F Bb Eb E7 C#m7b5 D+ Caug7", "bVII bIII bVI VI7 #ivø7 V+ IV+7"),
        (
            "G",
            "Dsus4 D7sus4 Csus2 Cadd9 G6 G6/9 G5 D7b9 D7#5",
            "Vsus4 V7sus4 IVsus2 IVadd9 I6 I6/9 I V7b9 V+7",
        ),
        ("Am", "Am Bdim C Dm E7 F G G#dim7 F#m7b5", "i ii° III iv V7 VI VII #vii°7 #viø7"),
        ("Bb", "Bb Cm7 F7 Gm Ebmaj7 Abmaj7 E", "I ii7 V7 vi IVmaj7 bVIImaj7 #IV"),
        ("F#m", "F#m C#7 D Bm E", "i V7 VI iv VII"),
        ("C", "Cm(maj7) Dm6 G/B Dbmaj7", "imaj7 ii6 V bIImaj7"),
    ],
)
def test_what_a_chord_is_in_its_key(key: str, chords: str, expected: str) -> None:
    """Major and minor keys, borrowed chords, suspensions and colours."""
    assert " ".join(numeral(parse_chord(name), parse_key(key)) for name in chords.split()) == expected


def test_the_panel_says_the_numeral_and_the_bass() -> None:
    """In the key of the piece's shapes; a slash bass as the chord's own degree."""
    result = fit(make_piece("| G | G/B | D7/C | Bb |", key=parse_key("G")))
    said = [next(line.text for line in chord_lines(result, i) if " in G" in line.text) for i in range(4)]
    assert said == ["I in G", "I in G, third in the bass", "V7 in G, seventh in the bass", "♭III in G"]
