"""MusicXML, MIDI, tablature, CSV: out to other programs and in again, checked by independent readers."""

from __future__ import annotations

import csv
import io
import warnings
import zipfile
from fractions import Fraction
from functools import cache
from pathlib import Path
from xml.etree import ElementTree as ET

import mido
import pytest
from hypothesis import given
from hypothesis import strategies as st

from gingham.core.errors import FileError
from gingham.core.finding.find import find
from gingham.core.finding.part import Part, part_of
from gingham.core.fitting.performance import perform
from gingham.core.formats.events_csv import COLUMNS, events_csv
from gingham.core.formats.exports import export
from gingham.core.formats.midi import TICKS, midi_bytes
from gingham.core.formats.midi_in import part_from_midi
from gingham.core.formats.musicxml import musicxml
from gingham.core.formats.musicxml_in import part_from_musicxml
from gingham.core.formats.notation import note_values
from gingham.core.formats.piece_file import load_piece
from gingham.core.formats.tab import piece_tab
from gingham.core.formats.tab_in import part_from_tab
from gingham.core.music.chords import parse_chord
from gingham.core.patterns.shorthand import print_pattern
from gingham.core.pieces.piece import Piece
from gingham.core.values import replace
from gingham.data import FOLDER
from gingham.words.errors import say
from tests.conftest import make_piece

F = Fraction
DEMOS = ("forty-lanterns", "brine-and-barley", "netmenders-round")
TAB = """Quay Study
E2 A2 D3 G3 B3 E4, 4/4, 90 beats a minute

   G                 D/F#
E|-----------------|---------------|
B|0-------0--------|3-------3------|
G|------0-------0--|------2-------2|
D|----0-------0----|----0-------0--|
A|-----------------|---------------|
E|3-------3--------|2-------2------|
"""


@cache
def demo(name: str) -> Piece:
    """A piece of the demo scenario."""
    return load_piece(FOLDER / "demo" / f"{name}.gingham")


def tab_bytes(piece: Piece) -> bytes:
    """The piece as text tablature."""
    return piece_tab(perform(piece)).encode()


def xml_bytes(piece: Piece) -> bytes:
    """The piece as MusicXML."""
    return musicxml(perform(piece))


def from_tab(data: bytes, name: str = "") -> Part:
    """Read a text tablature."""
    return part_from_tab(data.decode(), name)


WAYS = {
    "musicxml": (xml_bytes, part_from_musicxml),
    "midi": (lambda piece: midi_bytes(perform(piece)), part_from_midi),
    "tab": (tab_bytes, from_tab),
}


def strings_of(part: Part) -> list[tuple[str, int, list[list[tuple[Fraction, int | None, int | None]]]]]:
    """When which string sounds at which fret, section by section."""
    return [
        (s.name, s.times, [[(n.at, n.string, n.fret) for n in bar.notes] for bar in s.bars])
        for s in part.sections
    ]


# MusicXML out.


@cache
def schema():
    """The MusicXML 4.0 schema, everything that it includes from files."""
    import musicxml as package
    import xmlschema

    folder = Path(package.__file__).parent / "generate_classes"
    locations = {
        "http://www.w3.org/XML/1998/namespace": str(folder / "xml.xsd"),
        "http://www.w3.org/1999/xlink": str(Path(xmlschema.__file__).parent / "schemas/XLINK/xlink.xsd"),
    }
    return xmlschema.XMLSchema(str(folder / "musicxml_4_0.xsd"), locations=locations)


RICH = "4/4 x4: p+m! i^ . m ; p1 a> . i ; d . u . ; k . p2!! c".replace("a> ", "a>5 ")


@pytest.mark.parametrize(
    "piece",
    [
        *map(demo, DEMOS),
        make_piece("| G | C7#9/E | N.C. | Dm7b5 G13 |", RICH),
        make_piece("(1/4 D) | G | C |"),
    ],
    ids=[*DEMOS, "rich", "pick-up"],
)
def test_musicxml_is_valid_against_the_published_schema(piece: Piece) -> None:
    """Sweeps, ornaments, accents, silence, odd chords, a pick-up: all of it is MusicXML 4.0."""
    data = xml_bytes(piece)
    assert list(schema().iter_errors(io.BytesIO(data))) == []
    broken = data.replace(b"<sign>TAB</sign>", b"<sign>ROPE</sign>")
    assert list(schema().iter_errors(io.BytesIO(broken))) != [], "the schema does look"


def heard_by_music21(data: bytes) -> list[tuple[Fraction, int, Fraction]]:
    """(onset, MIDI, length) in whole notes of every note that an independent library reads, ties joined."""
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        import music21

        score = music21.converter.parseData(data.decode(), format="musicxml").stripTies()
    out = []
    for note in score.flatten().notes:
        if isinstance(note, music21.harmony.ChordSymbol):
            continue
        onset, length = (F(note.offset) / 4, F(note.quarterLength) / 4)
        out += [(onset, pitch.midi, length) for pitch in note.pitches]
    return sorted(out)


@pytest.mark.parametrize("name", DEMOS)
def test_an_independent_library_reads_the_same_notes(name: str) -> None:
    """Pitches, onsets and durations: each onset lasts until the next one of its bar."""
    of = perform(demo(name))
    wanted = []
    begin = F(0)
    for result in of.results:
        for bar in result.bars:
            events = [e for e in bar.events if e.pitch is not None and not e.silent]
            onsets = sorted({e.at for e in events})
            for e in events:
                until = next((at for at in onsets if at > e.at), bar.length)
                wanted.append((begin + e.at, e.pitch.midi, until - e.at))
            begin += bar.length
    assert heard_by_music21(xml_bytes(demo(name))) == sorted(wanted)


def test_musicxml_says_tuning_capo_strings_fingers_and_frames() -> None:
    """What a player of another program needs to see."""
    root = ET.fromstring(xml_bytes(demo("forty-lanterns")))
    tuning = [t.findtext("tuning-step") + t.findtext("tuning-octave") for t in root.iter("staff-tuning")]
    assert tuning == ["E2", "A2", "D3", "G3", "B3", "E4"] and root.findtext(".//capo") == "2"
    first = root.find(".//note/notations/technical")
    assert (first.findtext("pluck"), first.findtext("string"), first.findtext("fret")) == ("p", "6", "3")
    harmony = root.find(".//harmony")
    assert harmony.findtext("root/root-step") == "A", "with the capo at 2 the shape G sounds A"
    frets = {n.findtext("string"): n.findtext("fret") for n in harmony.iter("frame-note")}
    assert frets == {"6": "3", "5": "2", "4": "0", "3": "0", "2": "0", "1": "3"}
    assert [r.text for r in root.iter("rehearsal")] == ["Verse", "Refrain", "Verse", "Refrain", "Ending"]
    assert [r.get("times") for r in root.iter("repeat") if r.get("direction") == "backward"] == ["2"]
    words = [(ly.findtext("syllabic"), ly.findtext("text")) for ly in root.iter("lyric")][:4]
    assert words == [("begin", "For"), ("end", "ty"), ("begin", "lan"), ("end", "terns")]


CHORDS = [
    "G",
    "Am7",
    "Dsus4",
    "E7#9",
    "Cmaj7/E",
    "F#m7b5",
    "Bdim7",
    "G6/9",
    "A5",
    "Dadd9",
    "Caug",
    "G13",
    "Bm(maj7)",
]


@pytest.mark.parametrize("text", CHORDS)
def test_chord_symbols_come_back_with_the_same_tones(text: str) -> None:
    """Out as root, kind and degrees, in again: the same degrees on the same root over the same bass."""
    data = xml_bytes(make_piece(f"| {text} |"))
    read = part_from_musicxml(data).sections[0].bars[0].chords[0].symbol
    one, other = parse_chord(text), parse_chord(read)
    assert (one.root, one.degrees, one.bass) == (other.root, other.degrees, other.bass)
    without = data.replace(b" text=", b" nothing=")
    plain = parse_chord(part_from_musicxml(without).sections[0].bars[0].chords[0].symbol)
    assert plain.root == one.root and plain.pitch_classes == one.pitch_classes, "by kind and degrees alone"


@given(st.integers(1, 96), st.sampled_from([8, 16, 32, 12, 24, 48]))
def test_every_length_of_a_grid_is_written_without_loss(count: int, grid: int) -> None:
    """The printed values add up to the length exactly."""
    length = F(count, grid)
    assert sum((v.length for v in note_values(length)), F(0)) == length


# MIDI out.


def test_midi_has_tempo_meter_markers_chords_words_and_a_channel_a_string() -> None:
    """Read by the library itself: what stands in the tracks."""
    piece = demo("forty-lanterns")
    file = mido.MidiFile(file=io.BytesIO(midi_bytes(perform(piece))), charset="utf-8")
    lead, strings = file.tracks
    kinds = {m.type: m for m in reversed(lead)}
    assert mido.tempo2bpm(kinds["set_tempo"].tempo) == pytest.approx(72, abs=0.01)
    assert (kinds["time_signature"].numerator, kinds["time_signature"].denominator) == (4, 4)
    assert [m.text for m in lead if m.type == "marker"][:3] == ["Verse", "Refrain", "Verse"]
    assert [m.text for m in lead if m.type == "text"][1:4] == ["G", "Am7", "Dsus4"]
    assert [m.text for m in lead if m.type == "lyrics"][:4] == ["For-", "ty", "lan-", "terns"]
    assert {m.channel for m in strings if m.type == "note_on"} == {0, 1, 2, 3, 4, 5}
    one = mido.MidiFile(file=io.BytesIO(midi_bytes(perform(piece), channels=False)))
    assert {m.channel for m in one.tracks[1] if m.type == "note_on"} == {0}


@pytest.mark.parametrize("name", DEMOS)
def test_midi_notes_lie_where_the_part_has_them(name: str) -> None:
    """Onsets to the tick; every note ends, and never overlaps the next one of its string."""
    of = perform(demo(name))
    wanted, begin = [], F(0)
    for result, times in zip(of.results, of.times, strict=True):
        for _ in range(times):
            for bar in result.bars:
                wanted += [
                    ((begin + e.at) * 4 * TICKS, e.pitch.midi, e.string - 1) for e in bar.events if e.pitch
                ]
                begin += bar.length
    file = mido.MidiFile(file=io.BytesIO(midi_bytes(of)))
    now, on, found = 0, {}, []
    for message in file.tracks[1]:
        now += message.time
        if message.type == "note_on":
            assert message.channel not in on, "the string still sounds"
            on[message.channel] = message.note
            found.append((now, message.note, message.channel))
        elif message.type == "note_off":
            assert on.pop(message.channel) == message.note
    assert sorted(found) == sorted(wanted) and not on


# In again.


@pytest.mark.parametrize("way", list(WAYS))
@pytest.mark.parametrize("name", DEMOS)
def test_the_demo_pieces_go_out_and_come_back(name: str, way: str) -> None:
    """Strings, frets, bars, sections and form are the same after the finder has read them."""
    write, read = WAYS[way]
    piece = demo(name)
    found = find(read(write(piece)))
    assert strings_of(part_of(perform(found.piece))) == strings_of(part_of(perform(piece)))
    assert (found.piece.tempo, found.piece.capo, found.piece.meter) == (piece.tempo, piece.capo, piece.meter)
    assert found.piece.instrument == piece.instrument and found.piece.title == piece.title
    assert found.piece.performance.ending == piece.performance.ending
    words = " ".join(" ".join(s.words) for s in found.piece.sections)
    assert "lan-terns" in words or name != "forty-lanterns"


@pytest.mark.parametrize("way", list(WAYS))
def test_versions_of_a_pattern_and_pinned_grips_come_back(way: str) -> None:
    """Another version on D, one for roots on string 4, a barre that was pinned: string for string, fret for fret."""
    write, read = WAYS[way]
    lines = "4/4 x2: p+m . p i ; p m p i\nwhen D: p . i m p . i m\nwhen 4: p i m i p i m i"
    piece = make_piece("| C{x32010:032010} | D | F{133211} | Dm{xx0231} |", lines)
    found = find(read(write(piece)))
    assert strings_of(part_of(perform(found.piece))) == strings_of(part_of(perform(piece)))


@pytest.mark.parametrize("way", list(WAYS))
def test_a_pick_up_comes_back(way: str) -> None:
    """Bar 0 is as long as it was, and its notes lie in it."""
    write, read = WAYS[way]
    piece = make_piece("(1/4 D) | G | C | G |")
    part = read(write(piece))
    assert part.sections[0].bars[0].length == F(1, 4)
    assert strings_of(part) == strings_of(part_of(perform(piece)))


def test_pitches_alone_are_enough_where_chords_stand() -> None:
    """MIDI on one channel: strings and frets are found from the chords."""
    piece = demo("brine-and-barley")
    part = part_from_midi(midi_bytes(perform(piece), channels=False))
    assert all(n.string is None for bar in part.bars() for n in bar.notes)
    assert strings_of(part_of(perform(find(part).piece))) == strings_of(part_of(perform(piece)))


def test_other_people_s_tablature_is_read_by_its_columns() -> None:
    """No counts, no letters: even columns, said as a guess."""
    part = part_from_tab(TAB)
    assert (part.title, part.tempo, str(part.meter)) == ("Quay Study", 90, "4/4")
    assert [c.symbol for bar in part.bars() for c in bar.chords] == ["G", "D/F#"]
    first = part.sections[0].bars[0].notes
    assert [(str(n.at), n.string, n.fret) for n in first] == [
        ("0", 6, 3), ("0", 2, 0), ("1/4", 4, 0), ("3/8", 3, 0), ("1/2", 6, 3), ("1/2", 2, 0), ("3/4", 4, 0), ("7/8", 3, 0),
    ]  # fmt: skip
    assert "read-even" in {g.code for g in part.guesses}
    found = find(part)
    assert print_pattern(found.piece.patterns[0].pattern) == "4/4 x2: p+m . p i" and not found.exceptions


def written_by_music21(piece: Piece) -> bytes:
    """The same notes and chords as another program writes them: pitches only, no strings, no tuning."""
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        from music21 import chord, harmony, note, stream
        from music21 import meter as m21_meter
        from music21.musicxml.m21ToXml import GeneralObjectExporter

        part = stream.Part()
        for result in perform(piece).results:
            for bar in result.bars:
                measure = stream.Measure(number=bar.number)
                if bar.number == 1:
                    measure.append(m21_meter.TimeSignature("4/4"))
                for index in bar.spans:
                    span = result.spans[index].span
                    if span.bar == bar.number:
                        measure.insert(float(span.at * 4), harmony.ChordSymbol(span.chord.text))
                onsets = sorted({e.at for e in bar.events})
                for at, until in zip(onsets, [*onsets[1:], bar.length], strict=True):
                    pitches = [e.pitch.midi for e in bar.events if e.at == at]
                    made = note.Note(pitches[0]) if len(pitches) == 1 else chord.Chord(pitches)
                    made.quarterLength = float((until - at) * 4)
                    measure.insert(float(at * 4), made)
                part.append(measure)
        return GeneralObjectExporter(stream.Score([part])).parse()


def test_what_another_program_has_written_is_read_by_its_pitches_and_chords() -> None:
    """No strings, no tuning: strings are found, the pattern too, and the tuning that was taken is said."""
    piece = make_piece("| G | C | D | Em | G | C | D | G |")
    part = part_from_musicxml(written_by_music21(piece))
    assert "read-tuning" in {guess.code for guess in part.guesses}
    found = find(part)
    assert found.exceptions == ()
    mine = [[(n.at, n.midi) for n in bar.notes] for bar in part_of(perform(piece)).bars()]
    theirs = [[(n.at, n.midi) for n in bar.notes] for bar in part_of(perform(found.piece)).bars()]
    assert [sorted(bar) for bar in mine] == [sorted(bar) for bar in theirs]
    assert [c.symbol for bar in part.bars() for c in bar.chords] == ["G", "C", "D", "Em", "G", "C", "D", "G"]


def test_compressed_musicxml_is_opened() -> None:
    """`.mxl` is a zip with the score in it."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as packed:
        packed.writestr("META-INF/container.xml", "<container/>")
        packed.writestr("score.musicxml", xml_bytes(demo("netmenders-round")))
    assert part_from_musicxml(out.getvalue()).title == "Netmender's Round"


def test_two_staves_and_several_parts_are_narrowed_down() -> None:
    """The part with tablature is read, and that is said."""
    root = ET.fromstring(xml_bytes(demo("netmenders-round")))
    other = ET.fromstring(
        '<part id="P0"><measure number="1"><note><pitch><step>C</step><octave>2</octave></pitch><duration>1</duration></note></measure></part>'
    )
    root.insert(list(root).index(root.find("part")), other)
    part = part_from_musicxml(ET.tostring(root))
    assert part.on.id == "ukulele" and part.guesses[0].code == "read-first-part"


def test_csv_has_a_row_for_every_pluck() -> None:
    """Its heading, exact positions, seconds from the beginning."""
    piece = make_piece("| G{320003} | C{x32010} |", tempo=60)
    rows = list(csv.DictReader(io.StringIO(events_csv(perform(piece)).decode())))
    assert tuple(rows[0]) == COLUMNS and len(rows) == 16
    second = next(r for r in rows if r["bar"] == "2")
    assert (second["at"], second["time_s"], second["chord"], second["string"], second["pitch"]) == (
        "0", "4.000000", "C", "5", "C3",
    )  # fmt: skip
    risky = replace(piece, sections=(replace(piece.sections[0], name="=SUM(A1)"),))
    assert b"'=SUM(A1)" in events_csv(perform(risky)), "no spreadsheet takes a name for a formula"


def test_every_format_is_written_all_or_nothing(tmp_path: Path, monkeypatch) -> None:
    """A full disk leaves the old file whole; an empty piece writes none."""
    from gingham.core.pieces.chordline import ChordLine

    piece = make_piece("| G |")
    empty = replace(piece, sections=(replace(piece.sections[0], chords=ChordLine(())),))
    for suffix in (".musicxml", ".mid", ".txt", ".csv", ".wav", ".flac"):
        out = tmp_path / f"out{suffix}"
        assert export(piece, out) == out.stat().st_size
        with pytest.raises(FileError) as caught:
            export(empty, out)
        assert caught.value.code == "export-empty"

    def full(_descriptor: int) -> None:
        raise OSError(28, "No space left on device")

    before = {path: path.read_bytes() for path in tmp_path.iterdir()}
    monkeypatch.setattr("os.fsync", full)
    for path in before:
        with pytest.raises(FileError) as caught:
            export(make_piece("| C |"), path)
        assert str(path) in say(caught.value) and "no space left" in say(caught.value)
    assert {path: path.read_bytes() for path in tmp_path.iterdir()} == before
