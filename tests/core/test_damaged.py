"""Damaged, hostile and foreign files: read, or refused with the place; nothing else."""

from __future__ import annotations

from fractions import Fraction
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from gingham.core.errors import FileError
from gingham.core.fitting.performance import perform
from gingham.core.formats.imports import read_part, read_part_or_chart, text_of
from gingham.core.formats.midi import midi_bytes
from gingham.core.formats.midi_in import part_from_midi
from gingham.core.formats.musicxml_in import part_from_musicxml
from gingham.core.formats.tab_in import part_from_tab
from gingham.core.music.meter import meter
from gingham.words.errors import say
from tests.conftest import make_piece
from tests.core.test_exchange import TAB, WAYS, from_tab, xml_bytes

F = Fraction

BILLION = b"""<?xml version="1.0"?><!DOCTYPE lolz [<!ENTITY a "ha"><!ENTITY b "&a;&a;&a;&a;">]>
<score-partwise><part id="P1"><measure><note><lyric><text>&b;</text></lyric></note></measure></part></score-partwise>"""
OUTSIDE = b"""<!DOCTYPE x [<!ENTITY f SYSTEM "file:///etc/passwd">]><score-partwise><work><work-title>&f;</work-title></work></score-partwise>"""
ODD_METER = b"<score-partwise><part id='P1'><measure number='7'><attributes><time><beats>77</beats><beat-type>3</beat-type></time></attributes><note><pitch><step>C</step><octave>3</octave></pitch><duration>1</duration></note></measure></part></score-partwise>"
FIVE = "\n".join(f"{name}|--0--1--2--3--|" for name in "EBGDA")
RAGGED = TAB.replace("A|-----------------|", "A|--------------|--")
BAD = [
    (part_from_musicxml, BILLION, "xml-hostile"),
    (part_from_musicxml, OUTSIDE, "xml-hostile"),
    (part_from_musicxml, b"<score-partwise><part>", "xml-broken"),
    (part_from_musicxml, b"\x00\xff\xfe", "xml-broken"),
    (part_from_musicxml, b"<score-timewise/>", "xml-kind"),
    (part_from_musicxml, b"<score-partwise/>", "xml-no-part"),
    (part_from_musicxml, ODD_METER, "xml-value"),
    (
        part_from_musicxml,
        ODD_METER.replace(b"77", b"4").replace(b">3<", b">4<").replace(b"<duration>1", b"<duration>1e9"),
        "xml-value",
    ),
    (part_from_musicxml, b"PK\x03\x04nonsense", "xml-broken"),
    (part_from_midi, b"MThd", "midi-broken"),
    (part_from_midi, b"RIFFxxxx", "midi-broken"),
    (part_from_midi, b"", "midi-broken"),
    (from_tab, b"no tablature here", "tab-none"),
    (from_tab, FIVE.encode(), "tab-lines"),
    (from_tab, RAGGED.encode(), "tab-ragged"),
    (from_tab, TAB.replace("4/4", "99/8").encode(), "part-meter"),
    (from_tab, TAB.replace("E2 A2", "E9 A9").encode(), "part-tuning"),
    (from_tab, TAB.replace("4/4", "capo 18, 4/4").encode(), "tab-capo"),
]


@pytest.mark.parametrize(("read", "data", "code"), BAD, ids=[f"{c}-{i}" for i, (_, _, c) in enumerate(BAD)])
def test_a_file_that_cannot_be_read_is_told_with_its_name(read, data: bytes, code: str) -> None:
    """One fault, with the file and the place."""
    with pytest.raises(FileError) as caught:
        read(data, "harbour.xyz")
    assert caught.value.code == code
    assert "harbour.xyz" in say(caught.value) and "\n" not in say(caught.value)


def test_a_midi_file_cut_short_anywhere_is_read_or_refused() -> None:
    """Never anything else than a part or a fault of the file."""
    whole = midi_bytes(perform(make_piece("| G | C |")))
    for end in range(0, len(whole), 7):
        try:
            part = part_from_midi(whole[:end], "cut.mid")
        except FileError as error:
            assert say(error)
        else:
            assert part.sections


def test_line_and_string_stand_in_the_message() -> None:
    """A tablature of five lines names its first line; a string too many names the string."""
    with pytest.raises(FileError) as caught:
        from_tab(("One\n\n" + FIVE).encode(), "quay.txt")
    assert "quay.txt, line 3: a block of 5 lines" in say(caught.value)
    data = xml_bytes(make_piece("| G |")).replace(b"<string>6</string>", b"<string>9</string>")
    with pytest.raises(FileError) as caught:
        part_from_musicxml(data, "quay.xml")
    assert caught.value.values["string"] == 9


def test_readers_go_by_suffix_and_encoding(tmp_path: Path) -> None:
    """UTF-16 and Latin-1 texts are read, a picture is not, an unknown suffix is told."""
    for encoding in ("utf-8", "utf-8-sig", "utf-16", "latin-1"):
        (tmp_path / "t.tab").write_bytes(TAB.encode(encoding))
        assert read_part(tmp_path / "t.tab").title == "Quay Study"
    with pytest.raises(FileError) as caught:
        text_of(b"\x89PNG\0\0", "p.txt")
    assert caught.value.code == "text-binary"
    (tmp_path / "x.docx").write_bytes(b"")
    for name, code in (("x.docx", "import-suffix"), ("gone.mid", "file-missing")):
        with pytest.raises(FileError) as caught:
            read_part(tmp_path / name)
        assert caught.value.code == code
    (tmp_path / "chart.txt").write_text("| G | C |")
    assert read_part_or_chart(tmp_path / "chart.txt", meter(4, 4)).sections[0].chords == "| G | C |"


# Anything at all.


def mangled(data: bytes, places: list[tuple[int, int]]) -> bytes:
    """Some bytes changed."""
    out = bytearray(data)
    for at, value in places:
        out[at % len(out)] = value
    return bytes(out)


@pytest.mark.parametrize("way", list(WAYS))
@settings(max_examples=120)
@given(places=st.lists(st.tuples(st.integers(0, 10**6), st.integers(0, 255)), min_size=1, max_size=12))
def test_damaged_files_are_read_or_refused(way: str, places: list[tuple[int, int]]) -> None:
    """No reader does anything but give a part or a FileError, whatever bytes are changed."""
    write, read = WAYS[way]
    data = mangled(write(make_piece("| G | Am7 |")), places)
    try:
        part = read(data, "x") if way != "tab" else part_from_tab(data.decode("latin-1"), "x")
    except FileError as error:
        assert say(error)
    else:
        assert all(n.at >= 0 for bar in part.bars() for n in bar.notes)


@settings(max_examples=150)
@given(st.text(alphabet="-|0123 \neEADGB/hpx4&Gm#", max_size=400))
def test_any_text_is_a_tablature_or_a_fault(text: str) -> None:
    """Nothing else comes out."""
    try:
        assert part_from_tab(text, "x").sections is not None
    except FileError as error:
        assert say(error)
