"""Piece files: what is saved comes back; damage, newer files and full disks are said; exports."""

from __future__ import annotations

import io
import json
import wave
from fractions import Fraction
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from gingham.app.shell.start import demo_documents
from gingham.core.errors import FileError
from gingham.core.fitting.whole import fit_piece
from gingham.core.formats import atomic
from gingham.core.formats.exports import export
from gingham.core.formats.piece_file import load_piece, piece_from_bytes, piece_to_bytes, save_piece
from gingham.core.formats.tab import section_tab
from gingham.core.instruments.instrument import instrument
from gingham.core.music.key import parse_key
from gingham.core.pieces.chordline import ChordLine
from gingham.core.pieces.piece import ChordOverride, HereOverride, Piece, RulesOverride
from gingham.core.pieces.rules import OwnRules, Rules, parse_fingers, parse_first, parse_thumb
from gingham.core.shapes.shape import parse_shape
from gingham.core.values import replace
from gingham.words.errors import say
from tests.conftest import make_piece

FULL = make_piece(
    "(1/4 D) | G / / D/F# | Em7{022030} ~Em7{022033} | % | N.C. |",
    "4/4 x2: p1+m . p2 i^ ; p m/2/1! d3-1 k\nwhen 6: p . . . . . . .",
    capo=3,
    tempo=91,
    swing=Fraction(3, 5),
    key=parse_key("Em"),
    instrument=instrument("guitar", "D2 A2 D3 G3 B3 E4"),
    rules=Rules(
        parse_thumb("named:6,4"),
        parse_fingers("named:i2,m1"),
        parse_first("named:5"),
        "chord",
        "fluent",
        "alone",
        "avoid",
        Fraction(13, 10),
        "whole",
        "march",
        "pim",
        "nail",
        "nylon",
        four_string="literal",
        pick="economy",
        support="resting",
        tones="few",
        strict="near",
        stand_ins="suiting",
    ),
    done=("alone-p-G", "whole"),
    overrides=(
        HereOverride("Verse", 2, Fraction(3, 8), "m", None),
        ChordOverride("G", parse_shape("320003"), "p2", 5),
        RulesOverride("G", parse_shape("320003"), OwnRules(parse_thumb("root-fifth"), hand="pi")),
    ),
)
OWN = OwnRules(
    parse_thumb("rise+each-bar+walk"),
    parse_fingers("home"),
    parse_first("named:5"),
    "thumb-only",
    "pim",
    "whole",
    "lilt",
)
FULL = replace(FULL, sections=(replace(FULL.sections[0], own=OWN, repeats=3),))


@pytest.mark.parametrize("piece", [FULL, make_piece("| G |"), *(d.piece for d in demo_documents())])
def test_what_is_saved_comes_back(piece: Piece, tmp_path: Path) -> None:
    """Every field of a piece, exceptions and demo pieces included."""
    path = tmp_path / "piece.gingham"
    save_piece(piece, path)
    assert load_piece(path) == piece


def test_the_full_piece_leaves_no_rule_at_its_default() -> None:
    """So that a rule which is not saved cannot come back by chance."""
    plain = Rules()
    assert [f for f in Rules.__struct_fields__ if getattr(FULL.rules, f) == getattr(plain, f)] == []


def test_a_piece_without_chords_can_be_saved() -> None:
    """A piece just begun is a piece."""
    empty = replace(FULL, sections=(replace(FULL.sections[0], chords=ChordLine(())),))
    assert piece_from_bytes(piece_to_bytes(empty)) == empty


def damaged(**changes: object) -> bytes:
    """The full piece's file with some fields changed."""
    return json.dumps({**json.loads(piece_to_bytes(FULL)), **changes}).encode()


@pytest.mark.parametrize(
    ("data", "code", "words"),
    [
        (b"", "file-format", "not a Gingham piece"),
        (b"\xff\xfe{}", "file-format", "not a Gingham piece"),
        (b'{"format": "other"}', "file-format", "not a Gingham piece"),
        (damaged(version=99), "file-newer", "newer Gingham"),
        (damaged(tempo="fast"), "file-damaged", "$.tempo"),
        (damaged(tempo=9000), "file-damaged", "9000"),
        (damaged(capo=40), "file-damaged", "capo"),
        (damaged(tuning="E2 A2"), "file-damaged", "3 to 10 strings"),
        (damaged(meter="4/5"), "file-damaged", "4/5"),
        (damaged(sections=[]), "file-damaged", "one section"),
        (damaged(patterns=[]), "file-damaged", "no pattern called"),
        (damaged(patterns=[{"name": "Mine", "line": "4/4 x2: p q"}]), "file-damaged", "“q”"),
        (damaged(sections=[{"name": "A", "chords": "| H |", "pattern": "Mine"}]), "file-damaged", "sections[0]"),
        (damaged(overrides=[{"kind": "here", "section": "A", "bar": 1, "at": "1/0", "finger": "p", "string": 1}]),
         "file-damaged", "overrides[0]"),
        (damaged(rules={"thumb": "elbow"}), "file-damaged", "elbow"),
    ],
)  # fmt: skip
def test_a_damaged_file_is_said_with_its_place(data: bytes, code: str, words: str) -> None:
    """One message, no other exception."""
    with pytest.raises(FileError) as caught:
        piece_from_bytes(data, "lantern.gingham")
    assert caught.value.code == code
    assert words in say(caught.value) and "\n" not in say(caught.value)


@given(st.integers(0, 2000), st.binary(min_size=1, max_size=4))
def test_bytes_changed_anywhere_are_read_or_refused(at: int, other: bytes) -> None:
    """Flipped and cut files never raise anything but the one error."""
    whole = piece_to_bytes(FULL)
    for data in (whole[:at] + other + whole[at + len(other) :], whole[:at]):
        try:
            piece_from_bytes(data)
        except FileError as error:
            assert say(error)


def test_a_full_disk_leaves_the_old_file(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """Nothing half-written, nothing left beside it."""
    path = tmp_path / "piece.gingham"
    save_piece(FULL, path)
    before = path.read_bytes()

    def full(_descriptor: int) -> None:
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(atomic.os, "fsync", full)
    with pytest.raises(FileError, match="file-write") as caught:
        save_piece(replace(FULL, title="Other"), path)
    assert "no space left" in say(caught.value)
    assert path.read_bytes() == before and list(tmp_path.iterdir()) == [path]


def test_missing_files_and_folders_are_said(tmp_path: Path) -> None:
    """Opening what is not there, a folder, and writing into nowhere."""
    for path, code in ((tmp_path / "none.gingham", "file-missing"), (tmp_path, "file-open")):
        with pytest.raises(FileError) as caught:
            load_piece(path)
        assert caught.value.code == code
    with pytest.raises(FileError, match="file-write"):
        save_piece(FULL, tmp_path / "no" / "folder.gingham")


def test_tablature_shows_frets_fingers_and_counts() -> None:
    """Read off by eye: every line of a bar of C."""
    tab = section_tab(fit_piece(make_piece("| C{x32010} |"))[0]).splitlines()
    assert tab == [
        "   C",
        "E|---------------------|",
        "B|1------------1-------|",
        "G|--------0---------0--|",
        "D|------2---------2----|",
        "A|3----------3---------|",
        "E|---------------------|",
        "  pm    p i  p m  p i",
        "  1  1& 2 2& 3 3& 4 4&",
    ]


def test_long_sections_break_into_lines_that_stay_even() -> None:
    """All string lines of one system are equally long."""
    tab = section_tab(fit_piece(make_piece("| Gmaj7 Am7 Bm7 Cmaj7 | " + "G | " * 11))[0])
    for system in tab.split("\n\n"):
        strings = system.split("\n")[1:7]
        assert len({len(line) for line in strings}) == 1
        assert all(len(line) < 130 for line in strings)


def test_exports_by_suffix(tmp_path: Path) -> None:
    """Text and sound; anything else is refused with what there is."""
    piece = make_piece("| G | C |", tempo=240)
    export(piece, tmp_path / "a.txt")
    assert "Lantern test" in (tmp_path / "a.txt").read_text()
    export(piece, tmp_path / "a.wav")
    with wave.open(io.BytesIO((tmp_path / "a.wav").read_bytes())) as sound:
        assert (sound.getnchannels(), sound.getsampwidth(), sound.getframerate()) == (2, 2, 44_100)
        assert sound.getnframes() > 2 * 44_100
    with pytest.raises(FileError) as caught:
        export(piece, tmp_path / "a.xyz")
    assert ".txt" in say(caught.value)
