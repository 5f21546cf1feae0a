"""The command line: answers follow their schemas, bad input is one line and exit 2."""

from __future__ import annotations

import json
import subprocess
import sys
from pathlib import Path

import jsonschema
import pytest
from scripts.cli_schemas import document, schemas

from gingham.cli.main import main
from gingham.core.formats.piece_file import save_piece
from gingham.core.pieces.chordline import ChordLine
from gingham.core.values import replace
from tests.conftest import HEARTH, make_piece

ROOT = Path(__file__).parents[2]
FIT = ["fit", "--chords", "| G | D/F# C |", "--pattern", "4/4 x2: p+m . p i ; p m p i"]


def ask(capsys: pytest.CaptureFixture[str], *arguments: str, schema: str = "") -> dict:
    """The JSON answer of a command, checked against the schema of docs/cli.md."""
    assert main([*arguments, "--json"]) == 0
    answer = json.loads(capsys.readouterr().out)
    jsonschema.validate(answer, schemas()[schema or arguments[0]])
    return answer


def test_spell(capsys) -> None:
    """E7#9 has F##."""
    answer = ask(capsys, "spell", "E7#9")
    assert answer["tones"][-1] == {"degree": "#9", "note": "F##"}


def test_shapes_with_a_capo_name_what_sounds(capsys) -> None:
    """Pitches sound, frets count from the capo, degrees are the symbol's."""
    answer = ask(capsys, "shapes", "G", "--capo", "2")
    best = answer["shapes"][0]
    assert (best["shape"], best["fingers"]) == ("320003", "210003")
    assert best["strings"][0] == {"string": 6, "fret": 3, "pitch": "A2", "degree": "1"}


def test_fit(capsys) -> None:
    """Spans, events, positions as fractions, hold, limit."""
    answer = ask(capsys, *FIT, "--capo", "2")
    assert [(c["symbol"], c["sounding"], c["bar"], c["at"], c["length"]) for c in answer["chords"]] == [
        ("G", "A", 1, "0", "1"), ("D/F#", "E/G#", 2, "0", "1/2"), ("C", "D", 2, "1/2", "1/2"),
    ]  # fmt: skip
    assert answer["chords"][0]["bass"] == [6, 4] and answer["chords"][0]["hold"] == "3x000x"
    first = answer["events"][0]
    assert (first["finger"], first["lane"], first["string"], first["pitch"], first["degree"]) == (
        "p",
        "p1",
        6,
        "A2",
        "1",
    )
    assert answer["limit"]["tempo"] > 40 and answer["problems"] == []


def test_musical_problems_are_data_not_failures(capsys) -> None:
    """A pluck on a muted string is in the answer, exit 0."""
    answer = ask(capsys, "fit", "--chords", "| C{x3201x} |", "--pattern", "4/4 x1: p i p/1 m")
    assert {p["code"] for p in answer["problems"]} == {"muted-string", "no-third"}


def test_names_capos_and_changes(capsys) -> None:
    """Shape to symbols, both names, the easiest position, windows of a change; all as their schemas say."""
    assert ask(capsys, "name", "x32030")["names"][0] == {"symbol": "Cadd9"}
    at = ask(capsys, "capo", "--chords", "| G | D/F# |", "--at", "2")
    assert at["chords"] == [
        {"shape_symbol": "G", "sounding": "A"}, {"shape_symbol": "D/F#", "sounding": "E/G#"},
    ]  # fmt: skip
    best = ask(capsys, "capo", "--chords", "| B | E |", "--best", schema="capo --best")
    assert best["positions"][0]["barres"] == 0
    answer = ask(
        capsys, "changes", "--chords", "| C{x32010} | G{320003} |", "--pattern", "4/4 x2: p m p i ; p m p i",
        "--tempo", "72",
    )  # fmt: skip
    first = answer["changes"][0]
    assert (first["before"], first["after"], first["thumb"]) == ("C", "G", [5, 6])
    moved = next(f for f in first["fingers"] if f["finger"] == 3)
    assert (moved["slots"], moved["ms"], moved["to_place"]) == ("3", 1250, [6, 3])
    assert answer["changes"][-1]["seam"] and answer["hardest"].startswith("C to G")


def test_plain_answers(capsys) -> None:
    """A table, or tablature with the count line under it."""
    for arguments, expected in (
        (["spell", "D/F#"], "bass F#"),
        (["shapes", "C"], "x32010"),
        (FIT, "1  1& 2 2& 3 3& 4 4&"),
        (["name", "x32010"], "C\n"),
        (["name", "x12121"], "no symbol"),
        (["capo", "--chords", "| G |", "--at", "2"], "sounds"),
        (["capo", "--chords", "| B |", "--best"], "barres"),
        (["changes", "--chords", "| G | C |", "--pattern", "4/4 x2: p i m i p i m i"], "Hardest"),
        (["changes", "--chords", "| G | % |", "--pattern", "4/4 x1: p i m i"], "never changes"),
    ):
        assert main(arguments) == 0
        assert expected in capsys.readouterr().out


@pytest.mark.parametrize(
    ("arguments", "place"),
    [
        (["spell", "H"], "H"),
        (["shapes", "C", "--tuning", "E2 A2"], "3 to 10 strings"),
        (["shapes", "C", "--capo", "99"], "capo"),
        (["shapes", "C", "--capo", "two"], "two"),
        (["shapes", "C", "--instrument", "harp"], "harp"),
        (["fit", "--chords", "| G C D |", "--pattern", "4/4 x2: p"], "at 3"),
        (["fit", "--chords", "| G |", "--pattern", "4/4 x2: p zz"], "zz"),
        (["fit", "--chords", "| G |", "--pattern", "p i m"], "4/4 x2:"),
        ([*FIT, "--thumb", "elbow"], "elbow"),
        ([*FIT, "--align", "left"], "left"),
        ([*FIT, "--swing", "2"], "--swing"),
        ([*FIT, "--tempo", "3"], "20 to 320"),
        (["shapes", "G", "--context", "| G{0003} |"], "6 strings"),
        (["fit", "--chords", "| C | G{0003} |", "--pattern", "4/4 x1: p"], "--chords at 8"),
        (["fit", "--chords", "| G |"], "--pattern"),
        (["name", "x9q"], "x9q"),
        (["name", "0003"], "6 strings"),
        (["capo", "--chords", "| G |", "--at", "99"], "--at"),
        (["capo", "--chords", "| G |"], "--best"),
        (["export", "nowhere.gingham", "x.wav"], "nowhere.gingham"),
    ],
)
def test_bad_input_is_one_line_and_exit_2(capsys, arguments: list[str], place: str) -> None:
    """No traceback, nothing on standard output, the place named."""
    try:
        status = main(arguments)
    except SystemExit as ended:
        status = ended.code
    out = capsys.readouterr()
    assert status == 2 and out.out == ""
    assert out.err.count("\n") == 1 and place in out.err


def test_export(capsys, tmp_path: Path) -> None:
    """A piece file to tablature."""
    save_piece(make_piece("| G |"), tmp_path / "a.gingham")
    answer = ask(capsys, "export", str(tmp_path / "a.gingham"), str(tmp_path / "a.txt"))
    assert answer["bytes"] == (tmp_path / "a.txt").stat().st_size


def test_a_take_is_simulated_and_listened_to(capsys, tmp_path: Path) -> None:
    """By schema; with the piece, and with what `fit --json` prints; every sentence has its numbers."""
    piece, take = tmp_path / "a.gingham", tmp_path / "a.flac"
    save_piece(make_piece("| G{320003} | C | D | G{320003} |", tempo=90), piece)
    made = ask(
        capsys,
        "simulate",
        str(piece),
        str(take),
        "--fault",
        "gallop=50",
        "--fault",
        "missed=2",
        "--seed",
        "4",
    )
    assert json.loads(take.with_suffix(".truth.json").read_text())["notes"] == made["notes"]
    answer = ask(capsys, "listen", str(take), "--piece", str(piece))
    assert answer["take"]["tempo"] == pytest.approx(90, rel=0.02) and answer["take"]["sample_rate"] == 44_100
    left_out = [(m["bar"], m["at"], m["string"]) for m in made["missed"]]
    found = [(m["bar"], m["at"], m["string"]) for m in [*answer["missed"], *answer["unclear"]]]
    assert set(left_out) <= set(found) and len(answer["missed"]) <= 3
    late = {finger["finger"]: finger["late_ms"] for finger in answer["fingers"]}
    assert late["i"] - late["p"] == pytest.approx(50, abs=10)
    for sentence in answer["summary"]:
        assert all(
            str(value) in sentence["text"] or name == "side"
            for name, value in sentence["values"].items()
            if name not in ("count", "finger", "chord", "way")
        )
    assert (
        main(
            [
                "fit",
                "--chords",
                "| G{320003} | C | D | G{320003} |",
                "--pattern",
                HEARTH,
                "--tempo",
                "90",
                "--json",
            ]
        )
        == 0
    )
    (tmp_path / "plan.json").write_text(capsys.readouterr().out)
    again = ask(capsys, "listen", str(take), "--against", str(tmp_path / "plan.json"))
    assert [n["t_s"] for n in again["notes"]] == [n["t_s"] for n in answer["notes"]]
    assert main(["listen", str(take), "--piece", str(piece), "--free"]) == 0
    assert "plucks were on their strings" in capsys.readouterr().out


def test_a_piece_is_no_plan_of_a_take(capsys, tmp_path: Path) -> None:
    """What to write instead is said in the one line."""
    piece, take = tmp_path / "a.gingham", tmp_path / "a.wav"
    save_piece(make_piece("| G{320003} |"), piece)
    assert main(["simulate", str(piece), str(take)]) == 0
    assert main(["listen", str(take), "--against", str(piece)]) != 0
    said = capsys.readouterr().err
    assert said.count("\n") == 1 and f"Give it as --piece {piece}" in said


def test_the_command_runs_without_loading_qt() -> None:
    """`gingham spell` in a process of its own; an unknown word is one line."""
    code = "import sys; from gingham.__main__ import main; sys.argv = ['gingham', 'spell', 'G']; main(); print('PySide6' in sys.modules)"
    run = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True)
    assert run.stdout.endswith("False\n")
    wrong = subprocess.run(
        [sys.executable, "-m", "gingham", "spel"], capture_output=True, text=True, check=False
    )
    assert wrong.returncode == 2 and wrong.stderr.count("\n") == 1


def test_the_schemas_in_the_manual_are_in_step() -> None:
    """docs/cli.md is made by scripts/cli_schemas.py."""
    assert document((ROOT / "docs" / "cli.md").read_text()) == (ROOT / "docs" / "cli.md").read_text()


@pytest.mark.parametrize(
    ("chords", "pattern", "options", "lane", "said"),
    [
        ("| G |", "4/4 x2: p m p i", (), "p1", "It sounds the root G lowest."),
        ("| D |", "4/4 x2: p m p i ; p m p i", (), "i", "Moved over one: the thumb needs string 3 here."),
        ("| D |", "4/4 x2: p i m a ; p i m a", (), "p1", "two fingers would meet on one string; leave a finger out"),
        ("| D |", "4/4 x2: p m p i", ("--four-string", "thumb only"), "p1", "stays on string 4 where a finger has"),
        ("| D |", "4/4 x2: p m p i", ("--four-string", "block"), "p1", "all four strings at once"),
        ("| C |", "4/4 x2: p i m a", ("--instrument", "ukulele"), "p1", "have the other three"),
        ("| C/B |", "4/4 x2: p m p i", ("--thumb", "root-fifth"), "p2", "outside the chord"),
    ],
)  # fmt: skip
def test_fit_says_why_each_string(capsys, chords, pattern, options, lane, said) -> None:
    """In the answer for programs as in the table; a space in a rule's name is read as its dash."""
    asked = ["fit", "--chords", chords, "--pattern", pattern, *options]
    assert main([*asked, "--json"]) == 0
    why = json.loads(capsys.readouterr().out)["chords"][0]["why"]
    assert said in next(each["text"] for each in why if each["lane"] == lane)
    assert main(asked) == 0
    assert said in capsys.readouterr().out


def test_a_take_may_have_no_fault_and_no_fault_may_be_empty(capsys, tmp_path: Path) -> None:
    """`--fault` can be left out; given without a value it is bad input."""
    save_piece(make_piece("| G{320003} |"), tmp_path / "a.gingham")
    take = str(tmp_path / "a.wav")
    made = ask(capsys, "simulate", str(tmp_path / "a.gingham"), take)
    assert made["faults"] == {} and made["missed"] == []
    with pytest.raises(SystemExit, match="2"):
        main(["simulate", str(tmp_path / "a.gingham"), take, "--fault=--"])
    assert "--fault" in capsys.readouterr().err


@pytest.mark.parametrize(
    "arguments",
    [
        *(["export", "PIECE", f"o.{suffix}"] for suffix in ("mid", "musicxml", "wav", "flac", "txt", "csv")),
        ["simulate", "PIECE", "o.wav"], ["simulate", "PIECE", "o.wav", "--section", "A"],
        ["listen", "nothing.wav", "--piece", "PIECE"],
    ],
)  # fmt: skip
def test_a_piece_without_chords_has_nothing_to_write_or_to_hear(
    capsys, tmp_path: Path, monkeypatch, arguments: list[str]
) -> None:
    """One line, and no file begun."""
    monkeypatch.chdir(tmp_path)
    piece = make_piece("| G |")
    empty = replace(piece, sections=(replace(piece.sections[0], chords=ChordLine(())),))
    save_piece(empty, tmp_path / "PIECE.gingham")
    named = [text.replace("PIECE", "PIECE.gingham") for text in arguments]
    assert main(named) == 2
    out, err = capsys.readouterr()
    assert out == "" and err.count("\n") == 1
    assert [path.name for path in tmp_path.iterdir()] == ["PIECE.gingham"]
