"""The menu entry, icons and file type: valid, put in place for one user, and away without a trace."""

from __future__ import annotations

import configparser
import json
import os
import re
import shutil
import subprocess
from pathlib import Path
from xml.etree import ElementTree as ET

import pytest
from scripts.flatpak_manifest import MACHINES, MANIFEST, ROOT, locked, manifest, suits
from scripts.man_page import PAGE, page

from gingham import __version__
from gingham.arguments import COMMANDS
from gingham.cli.desktop import PLACES
from gingham.cli.main import main
from gingham.data import FOLDER

DESKTOP = FOLDER / "desktop"
APP = "org.gingham.Gingham"


def tool(name: str) -> str:
    """A checker of the desktop's; without it the test is left out."""
    found = shutil.which(name)
    if found is None:
        pytest.skip(f"{name} is not installed")
    return found


def test_every_file_has_its_place_and_the_names_agree() -> None:
    """Entry, icons and types name each other; the newest release is the program's version."""
    assert {path.name for path in DESKTOP.iterdir()} == set(PLACES)
    entry = configparser.ConfigParser(interpolation=None)
    entry.optionxform = str  # type: ignore[assignment, method-assign]  # keys have capitals
    entry.read(DESKTOP / f"{APP}.desktop")
    main_part = entry["Desktop Entry"]
    actions = main_part["Actions"].rstrip(";").split(";")
    assert main_part["Icon"] == APP and actions == ["new-piece", "practise"]
    assert [entry[f"Desktop Action {name}"]["Exec"] for name in actions] == [
        "gingham --new",
        "gingham --practise",
    ]
    mime = ET.parse(DESKTOP / f"{APP}.xml").getroot()
    kinds = [each.get("type") for each in mime]
    assert main_part["MimeType"].rstrip(";").split(";") == kinds
    meta = ET.parse(DESKTOP / f"{APP}.metainfo.xml").getroot()
    assert meta.findtext("id") == APP and meta.findtext("launchable") == f"{APP}.desktop"
    assert meta.find("releases/release").get("version") == __version__  # type: ignore[union-attr]


def test_the_checkers_of_the_desktop_find_nothing() -> None:
    """The menu entry as desktop-file-validate sees it."""
    done = subprocess.run(
        [tool("desktop-file-validate"), str(DESKTOP / f"{APP}.desktop")],
        capture_output=True,
        text=True,
        check=False,
    )
    assert (done.returncode, done.stdout) == (0, "")


def test_the_metainfo_is_valid() -> None:
    """As appstreamcli sees it, without the network."""
    done = subprocess.run(
        [tool("appstreamcli"), "validate", "--no-net", str(DESKTOP / f"{APP}.metainfo.xml")],
        capture_output=True, text=True, check=False,
    )  # fmt: skip
    assert done.returncode == 0, done.stdout


def test_put_in_place_and_taken_away_without_a_trace(tmp_path: Path, monkeypatch, capsys) -> None:
    """The entry starts this very program; somebody else's entry beside it stays."""
    base = tmp_path / "a home" / "share"
    monkeypatch.setenv("XDG_DATA_HOME", str(base))
    assert main(["desktop"]) == 0
    files = [base / folder / name for name, folder in PLACES.items()]
    assert all(path.is_file() for path in files)
    lines = (base / "applications" / f"{APP}.desktop").read_text().splitlines()
    program = next(line for line in lines if line.startswith("TryExec=")).removeprefix("TryExec=")
    assert Path(program).is_absolute() and sum(line.startswith(f"Exec={program}") for line in lines) == 3
    other = base / "applications" / "other.desktop"
    other.write_text("[Desktop Entry]\n")
    assert main(["desktop", "--remove"]) == 0
    assert str(files[0]) in capsys.readouterr().out
    left = {path.name for path in base.rglob("*") if path.is_file()}
    assert left <= {"other.desktop", "mimeinfo.cache"}
    other.unlink()
    assert main(["desktop", "--remove"]) == 0 and "Nothing of Gingham" in capsys.readouterr().out
    assert not any(path.is_file() for path in base.rglob("*"))


def test_a_package_gets_the_files_as_they_are(tmp_path: Path) -> None:
    """Into a share folder of its own: the entry starts whatever `gingham` is found on the path."""
    assert main(["desktop", "--into", str(tmp_path / "share")]) == 0
    for name, folder in PLACES.items():
        assert (tmp_path / "share" / folder / name).read_bytes() == (DESKTOP / name).read_bytes()


def test_the_flatpak_manifest_has_what_the_lock_has(tmp_path: Path) -> None:
    """Each locked package for both machines, each wheel with a hash of the lock, nothing from a network at build."""
    made = json.loads(MANIFEST.read_text())
    packages = locked((ROOT / "requirements" / "run.txt").read_text())
    assert "pyside6-essentials" in packages and len(packages) > 8
    wheels = next(module for module in made["modules"] if module["name"] == "libraries")["sources"]
    for name, (version, hashes) in packages.items():
        found = [each for each in wheels if each["sha256"] in hashes]
        machines = {machine for each in found for machine in each.get("only-arches", MACHINES)}
        assert machines == set(MACHINES) and all(version in each["url"] for each in found), name
    assert len(wheels) == len({each["sha256"] for each in wheels}) and made == manifest(wheels)
    assert not any("--share=network" in each for each in made["finish-args"])
    if builder := shutil.which("flatpak-builder"):
        shown = subprocess.run(
            [builder, "--show-manifest", str(MANIFEST)], cwd=tmp_path, capture_output=True, check=False
        )
        assert shown.returncode == 0, shown.stderr


@pytest.mark.parametrize(
    ("name", "machine", "fits"),
    [
        ("numpy-2.5.5-cp312-cp312-manylinux_2_27_x86_64.whl", "x86_64", True),
        ("numpy-2.5.5-cp312-cp312-manylinux_2_27_x86_64.whl", "aarch64", False),
        ("numpy-2.5.5-cp312-cp312-musllinux_1_2_x86_64.whl", "x86_64", False),
        ("numpy-2.5.5-cp313-cp313-manylinux_2_27_x86_64.whl", "x86_64", False),
        ("numpy-2.5.5-cp313-cp313t-manylinux_2_27_x86_64.whl", "x86_64", False),
        ("shiboken6-6.11.3-cp310-abi3-manylinux_2_34_x86_64.whl", "x86_64", True),
        ("later-1.0-cp313-abi3-manylinux_2_34_x86_64.whl", "x86_64", False),
        ("mido-1.3.3-py3-none-any.whl", "aarch64", True), ("mido-1.3.3.tar.gz", "x86_64", False),
    ],
)  # fmt: skip
def test_which_wheel_suits(name: str, machine: str, fits: bool) -> None:
    """Tags of Python, of its interface and of the machine, by hand."""
    assert suits(name, machine) is fits


def test_a_piece_is_known_by_its_name_and_by_its_bytes(tmp_path: Path, monkeypatch) -> None:
    """xdg-mime tells the type of a demo piece, with and without its suffix."""
    asks, _ = tool("xdg-mime"), tool("update-mime-database")
    base = tmp_path / "share"
    monkeypatch.setenv("XDG_DATA_HOME", str(base))
    assert main(["desktop"]) == 0
    for name in ("lanterns.gingham", "lanterns"):
        path = tmp_path / name
        shutil.copy(FOLDER / "demo" / "forty-lanterns.gingham", path)
        env = {**os.environ, "XDG_DATA_HOME": str(base), "HOME": str(tmp_path)}
        done = subprocess.run(
            [asks, "query", "filetype", str(path)], capture_output=True, text=True, check=False, env=env
        )
        assert done.stdout.strip() == "application/vnd.gingham.piece+json"


def test_a_folder_that_cannot_be_written_is_said(tmp_path: Path, monkeypatch, capsys) -> None:
    """One line, and nothing half done is called done."""
    (tmp_path / "share").write_text("a file stands here")
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "share"))
    assert main(["desktop"]) == 2
    assert capsys.readouterr().err.count("\n") == 1


def test_the_man_page_and_the_notes_are_in_step() -> None:
    """The page is made from the parsers; the notes begin with the version that is built."""
    assert PAGE.read_text() == page(), "run scripts/man_page.py"
    notes = (PAGE.parents[1] / "release-notes.md").read_text()
    assert notes.split("## ")[1].startswith(f"{__version__} (")


def test_the_man_page_is_read_without_a_warning() -> None:
    """By groff itself; every command has its part."""
    done = subprocess.run(
        [tool("groff"), "-man", "-Tutf8", "-ww", str(PAGE)], capture_output=True, text=True, check=False
    )
    assert (done.returncode, done.stderr) == (0, "")
    plain = re.sub(r".\x08", "", done.stdout)  # bold is a letter over itself
    assert all(f"\n   {name}\n" in plain for name in COMMANDS)
