"""Files that last: the schema, older versions, fields of newer programs, damage."""

from __future__ import annotations

import json
from pathlib import Path

import jsonschema
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from gingham.core.errors import FileError
from gingham.core.fitting.performance import perform
from gingham.core.formats.piece_file import piece_from_bytes, piece_to_bytes
from gingham.core.formats.records import VERSION, schema
from gingham.core.pieces.edits import remove_override, rename_section
from gingham.core.pieces.piece import Piece
from gingham.data import FOLDER
from gingham.words.errors import say
from tests.conftest import make_piece

ROOT = Path(__file__).parents[2]


def test_the_schema_in_the_manual_is_the_one_of_the_records() -> None:
    """docs/gingham-piece.schema.json is made by scripts/file_schema.py and kept in step."""
    assert json.loads((ROOT / "docs" / "gingham-piece.schema.json").read_text()) == schema()


@pytest.mark.parametrize("name", ["forty-lanterns", "brine-and-barley", "netmenders-round"])
def test_demo_pieces_are_valid_by_the_schema(name: str) -> None:
    """Checked by another library; a damaged one is not."""
    data = json.loads((FOLDER / "demo" / f"{name}.gingham").read_text())
    jsonschema.validate(data, schema())
    assert data["version"] == VERSION
    for broken in (
        {**data, "tempo": "fast"},
        {**data, "version": 1},
        {k: v for k, v in data.items() if k != "title"},
    ):
        with pytest.raises(jsonschema.ValidationError):
            jsonschema.validate(broken, schema())


def test_a_stored_file_of_version_1_is_read_as_it_was_meant() -> None:
    """Its sections, its exceptions; it is written as the present version."""
    old = (ROOT / "tests" / "data" / "old" / "version-1.gingham").read_bytes()
    assert json.loads(old)["version"] == 1
    piece = piece_from_bytes(old)
    assert piece.sections[0].repeats == 3 and len(piece.overrides) == 2
    assert perform(piece).times == (3,), "no ending was known: it stops"
    written = json.loads(piece_to_bytes(piece))
    assert written["version"] == VERSION and piece_from_bytes(piece_to_bytes(piece)) == piece


def test_stages_marked_in_version_2_belong_to_the_first_section() -> None:
    """They did not say their section, and showed as done in every one."""
    plain = json.loads(piece_to_bytes(make_piece("| G | C |")))
    plain |= {"version": 2, "done": ["alone-p-G"]}
    piece = piece_from_bytes(json.dumps(plain).encode())
    assert piece.done == ("Verse · alone-p-G",) and piece_from_bytes(piece_to_bytes(piece)) == piece
    assert rename_section(piece, 0, "Refrain").done == ("Refrain · alone-p-G",)


def test_a_bar_mark_in_old_words_stays_plain_text() -> None:
    """Version 1 knew no marks in words; now they would mean bars."""
    data = json.loads((ROOT / "tests" / "data" / "old" / "version-1.gingham").read_text())
    data["sections"][0]["words"] = ["over | and under"]
    assert piece_from_bytes(json.dumps(data).encode()).sections[0].words == ("over / and under",)
    data["version"] = 2
    data |= {"performance": {"ending": "stop"}, "practice": {"ending": "loop"}}
    assert piece_from_bytes(json.dumps(data).encode()).sections[0].words == ("over | and under",)


def with_strangers() -> tuple[dict[str, object], Piece]:
    """A file with fields that this program does not know, everywhere."""
    data = json.loads((FOLDER / "demo" / "netmenders-round.gingham").read_text())
    data["colour"] = {"sail": "red"}
    data["rules"]["mood"] = "calm"
    data["performance"]["lights"] = 40
    data["patterns"][0]["author"] = "class"
    data["sections"][0]["stage"] = ["left"]
    data["overrides"][0]["why"] = "because"
    return data, piece_from_bytes(json.dumps(data).encode())


def test_unknown_fields_come_back_where_they_were() -> None:
    """Top, rules, form, pattern, section, exception."""
    data, piece = with_strangers()
    written = json.loads(piece_to_bytes(piece))
    assert written["colour"] == {"sail": "red"} and written["rules"]["mood"] == "calm"
    assert written["performance"]["lights"] == 40 and written["patterns"][0]["author"] == "class"
    assert written["sections"][0]["stage"] == ["left"] and written["overrides"][0]["why"] == "because"
    assert piece_from_bytes(piece_to_bytes(piece)) == piece
    assert data.keys() <= written.keys()


def test_unknown_fields_follow_what_they_belong_to() -> None:
    """A renamed section keeps its own; a removed exception takes its own along."""
    _, piece = with_strangers()
    renamed = json.loads(piece_to_bytes(rename_section(piece, 0, "Ring")))
    assert renamed["sections"][0]["stage"] == ["left"]
    without = json.loads(piece_to_bytes(remove_override(piece, piece.overrides[0])))
    assert all("why" not in override for override in without["overrides"])


def test_forms_bars_words_tune_and_remarks_are_kept() -> None:
    """Everything that makes a whole piece survives the file."""
    piece = piece_from_bytes((FOLDER / "demo" / "forty-lanterns.gingham").read_bytes())
    assert piece.performance.turns and piece.sections[0].bars and piece.sections[0].tune and piece.notes
    assert piece_from_bytes(piece_to_bytes(piece)) == piece


DAMAGE = [
    (("performance", "ending"), "applause", "performance"),
    (("performance", "turns"), [{"section": "Nowhere"}], "performance"),
    (("sections", 0, "bars"), [{"bar": 2, "pattern": "Nowhere"}], "sections[0]"),
    (("sections", 0, "tune"), "| H4 |", "sections[0]"),
    (("sections", 0, "bars"), [{"bar": "two", "pattern": "x"}], "$.sections[0].bars[0].bar"),
]


@pytest.mark.parametrize(("path", "value", "place"), DAMAGE)
def test_damage_in_the_new_fields_is_told_with_its_place(
    path: tuple[str | int, ...], value: object, place: str
) -> None:
    """The message names where to look."""
    data = json.loads((FOLDER / "demo" / "netmenders-round.gingham").read_text())
    inner = data
    for step in path[:-1]:
        inner = inner[step]
    inner[path[-1]] = value
    with pytest.raises(FileError) as caught:
        piece_from_bytes(json.dumps(data).encode(), "net.gingham")
    assert place in say(caught.value) and "net.gingham" in say(caught.value)


@settings(max_examples=150)
@given(st.lists(st.tuples(st.integers(0, 10**5), st.integers(0, 255)), min_size=1, max_size=8))
def test_damaged_piece_files_are_read_or_refused(places: list[tuple[int, int]]) -> None:
    """Whatever bytes are changed, it is a piece or one fault."""
    data = bytearray((FOLDER / "demo" / "netmenders-round.gingham").read_bytes())
    for at, value in places:
        data[at % len(data)] = value
    try:
        assert piece_from_bytes(bytes(data), "x").sections
    except FileError as error:
        assert say(error)
