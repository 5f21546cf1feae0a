"""The house rules, held by tests: imports, sizes, keys, contrast, words, and the share of tests."""

from __future__ import annotations

import ast
import re
import shutil
import subprocess
import sys
from itertools import combinations
from pathlib import Path

import pytest
from PySide6.QtGui import QAction, QActionGroup, QColor
from PySide6.QtWidgets import QMenu

from gingham.app.look.theme import LINEN, NIGHT, Theme
from gingham.app.shell.actions import ACTIONS, clashes
from gingham.words import errors, reasons
from gingham.words.actions import key_lines

ROOT = Path(__file__).parents[2]
SOURCE = ROOT / "src" / "gingham"
FILES = sorted(SOURCE.rglob("*.py"))

_TYPES = "from typing import TYPE_CHECKING\nif TYPE_CHECKING:\n    "
PLANTS = {
    "nothing": ("core/music/meter.py", ""),
    "Qt in the core": ("core/music/meter.py", "import PySide6"),
    "a device in the core": ("core/sound/player.py", "import sounddevice"),
    "Qt in the command line": ("cli/records.py", "from PySide6 import QtCore"),
    "the core reaches the words": ("core/fitting/fit.py", "from gingham.words import names"),
    "a lower room reaches a higher one": ("core/music/key.py", "from gingham.core.pieces import piece"),
    "the command line reaches the window": ("cli/records.py", "from gingham.app.look import theme"),
    "what sounds reaches a view": (
        "app/sound/playing.py",
        f"{_TYPES}from gingham.app.views.builder import view",
    ),
    "the session reaches what sounds": ("app/session/shown.py", "from gingham.app.sound import transport"),
    "files reach what sounds": ("app/files/recent.py", "from gingham.app.sound import devices"),
    "a view reaches the window": (
        "app/views/capo/panel.py",
        f"{_TYPES}from gingham.app.shell import window",
    ),
    "a view reaches another": ("app/views/form/page.py", "from gingham.app.views.bench import desk"),
    "a circle in a room": ("app/session/document.py", f"{_TYPES}from gingham.app.session import shown"),
    "a room of the window without a place": ("app/attic/__init__.py", '"""Nowhere."""'),
    "a room without a place": ("core/attic/__init__.py", '"""Nowhere."""'),
}


def lint(folder: Path) -> subprocess.CompletedProcess[str]:
    """Run the import contracts on a copy of the package."""
    command = [
        str(Path(sys.executable).parent / "lint-imports"),
        "--no-cache",
        "--config",
        str(ROOT / "pyproject.toml"),
    ]
    return subprocess.run(
        command, cwd=folder, capture_output=True, text=True, env={"PYTHONPATH": str(folder)}, check=False
    )


@pytest.mark.parametrize("plant", PLANTS)
def test_each_import_rule_bites(plant: str, tmp_path: Path) -> None:
    """A planted violation breaks a contract; the message names the place."""
    shutil.copytree(SOURCE, tmp_path / "gingham", ignore=shutil.ignore_patterns("__pycache__", "data"))
    (tmp_path / "gingham" / "data").mkdir()
    shutil.copy(SOURCE / "data" / "__init__.py", tmp_path / "gingham" / "data")
    name, line = PLANTS[plant]
    target = tmp_path / "gingham" / name
    target.parent.mkdir(exist_ok=True)
    target.write_text((target.read_text() if target.exists() else "") + f"\n{line}\n")
    run = lint(tmp_path)
    if plant == "nothing":
        assert run.returncode == 0, run.stdout
    else:
        assert "BROKEN" in run.stdout or "attic" in run.stdout


def test_every_core_module_imports_where_qt_and_devices_are_blocked() -> None:
    """In a process of its own, with PySide6 and sounddevice made impossible."""
    names = [
        ".".join(p.relative_to(SOURCE.parent).with_suffix("").parts).removesuffix(".__init__")
        for p in FILES
        if p.relative_to(SOURCE).parts[0] in ("core", "words", "cli")
    ]
    code = f"import sys; sys.modules['PySide6'] = sys.modules['sounddevice'] = None\nfor n in {names!r}: __import__(n)"
    subprocess.run([sys.executable, "-c", code], check=True)
    assert len(names) > 50


def test_a_changed_value_is_checked(tmp_path: Path) -> None:
    """The one way to change a value: a wrong field and a wrong type are errors of mypy, a right one is none."""
    plant = tmp_path / "plant.py"
    plant.write_text(
        "from gingham.core.reasons import Reason\nfrom gingham.core.values import replace\n"
        'made = Reason.of("x")\nreplace(made, code="y")\nreplace(made, cod="y")\nreplace(made, code=3)\n'
    )
    command = [sys.executable, "-m", "mypy", "--config-file", str(ROOT / "pyproject.toml"), str(plant)]
    run = subprocess.run(command, cwd=ROOT, capture_output=True, text=True, check=False)
    wrong = [line.split(":")[1] for line in run.stdout.splitlines() if ": error:" in line]
    assert wrong == ["5", "6"], run.stdout
    assert not [
        p.name for p in FILES if "from msgspec.structs import" in p.read_text() and p.name != "values.py"
    ]


def lengths(path: Path) -> list[tuple[int, str]]:
    """Length without docstring, and name, of every function of a file."""
    out = []
    for node in ast.walk(ast.parse(path.read_text())):
        if isinstance(node, ast.FunctionDef | ast.AsyncFunctionDef):
            doc = node.body[0].end_lineno - node.body[0].lineno + 1 if ast.get_docstring(node) else 0
            out.append((node.end_lineno - node.lineno + 1 - doc, f"{path.name}:{node.name}"))
    return out


def too_large(files: list[Path]) -> list[str]:
    """Files over 500 lines, functions over 50, and a word if not nine of ten have 25 at most."""
    out = [path.name for path in files if len(path.read_text().splitlines()) > 500]
    sizes = sorted(size for path in files for size in lengths(path))
    out += [name for size, name in sizes if size > 50]
    return out + (["too many long ones"] if sizes and sizes[int(0.9 * len(sizes))][0] > 25 else [])


def test_sizes(tmp_path: Path) -> None:
    """The same for the program, its tests and its tools; planted ones are found."""
    assert too_large(FILES) == []
    for folder in ("tests", "benchmarks", "scripts"):
        assert too_large(sorted((ROOT / folder).rglob("*.py"))) == []
    plant = tmp_path / "plant.py"
    for text, found in (
        ("x = 1\n" * 501, ["plant.py"]),
        ("def f():\n" + "    x = 1\n" * 50, ["plant.py:f", "too many long ones"]),
        ("def f():\n" + "    x = 1\n" * 25, ["too many long ones"]),
    ):
        plant.write_text(text)
        assert too_large([plant]) == found


def test_every_module_and_public_function_says_what_it_is_for() -> None:
    """Docstrings on modules, public classes and public functions."""
    missing = []
    for path in FILES:
        tree = ast.parse(path.read_text())
        nodes = [
            n
            for n in ast.walk(tree)
            if isinstance(n, ast.FunctionDef | ast.ClassDef) and not n.name.startswith("_")
        ]
        inner = {
            id(c) for n in ast.walk(tree) if isinstance(n, ast.FunctionDef) for c in ast.walk(n) if c is not n
        }
        missing += [f"{path.name}:{n.name}" for n in nodes if id(n) not in inner and not ast.get_docstring(n)]
        if not ast.get_docstring(tree):
            missing.append(path.name)
    assert missing == []


def source_lines(folder: Path) -> int:
    """Lines that are neither blank nor comments."""
    return sum(
        1
        for path in folder.rglob("*.py")
        for line in path.read_text().splitlines()
        if line.strip() and not line.strip().startswith("#")
    )


def test_tests_are_a_quarter_to_a_third_of_the_code() -> None:
    """The house's own measure: tests ÷ src."""
    assert 0.25 <= source_lines(ROOT / "tests") / source_lines(ROOT / "src") <= 0.34


def test_no_two_actions_share_a_key_and_all_are_explained() -> None:
    """One table: every id once, every action with a text, every key in the key help."""
    assert clashes() == []
    assert len({action.id for action in ACTIONS}) == len(ACTIONS)
    for action in ACTIONS:
        assert action.text and (action.tip or action.key)
        assert action.key in key_lines([(each.key, each.text) for each in ACTIONS])
    twice = (ACTIONS[0], *ACTIONS)
    assert clashes(twice), "a planted clash is found"


def connections(action: QAction) -> int:
    """How much is connected to an action."""
    return sum(action.receivers(f"2{signal}(bool)") for signal in ("triggered", "toggled"))


def test_every_action_does_something(window) -> None:
    """More is connected to it than to one that only stands in its menu and its group."""
    for spec in ACTIONS:
        action = window.actions_by_id[spec.id]
        assert action.shortcut().toString() == "" or spec.key
        idle = QAction(spec.text, window)
        idle.setCheckable(spec.check)
        QMenu(window).addAction(idle)
        if spec.group:
            QActionGroup(window).addAction(idle)
        window.addAction(idle)
        assert connections(action) > connections(idle), spec.id


def luminance(colour: QColor) -> float:
    """Relative luminance of WCAG 2.1."""
    parts = [c / 12.92 if c <= 0.04045 else ((c + 0.055) / 1.055) ** 2.4 for c in colour.getRgbF()[:3]]
    return 0.2126 * parts[0] + 0.7152 * parts[1] + 0.0722 * parts[2]


def contrast(one: str | QColor, other: str | QColor) -> float:
    """Contrast ratio of WCAG 2.1."""
    a, b = sorted((luminance(QColor(one)), luminance(QColor(other))))
    return (b + 0.05) / (a + 0.05)


def under_deuteranopia(colour: QColor) -> tuple[float, float, float]:
    """A colour as red-green blind eyes see it (Viénot, Brettel and Mollon 1999, linear RGB)."""
    r, g, b = [c / 12.92 if c <= 0.04045 else ((c + 0.055) / 1.055) ** 2.4 for c in colour.getRgbF()[:3]]
    return (0.29275 * r + 0.70725 * g, 0.29275 * r + 0.70725 * g, -0.02234 * r + 0.02234 * g + b)


@pytest.mark.parametrize("theme", [LINEN, NIGHT], ids=lambda t: t.name)
def test_texts_and_marks_have_contrast(theme: Theme) -> None:
    """4.5:1 for every text on every ground it stands on, marks and greys included."""
    for ground in (theme.ground, theme.panel, theme.field, theme.selected):
        for text in (theme.ink, theme.quiet, theme.fault):
            assert contrast(text, ground) >= 4.5, (text, ground)
    for finger, dye in theme.fingers:
        assert contrast(theme.on_finger, dye) >= 4.5, finger
        assert contrast(dye, theme.panel) >= 4.5, finger
    assert contrast(theme.on_accent, theme.accent) >= 4.5
    assert contrast("#999999", LINEN.panel) < 4.5, "the measure tells a weak grey"


@pytest.mark.parametrize("theme", [LINEN, NIGHT], ids=lambda t: t.name)
def test_fingers_are_told_apart_by_more_than_hue(theme: Theme) -> None:
    """Red-green blind eyes still see thumb against fingers; letters do the rest."""
    thumb = under_deuteranopia(theme.finger("p"))
    for finger in "ima":
        other = under_deuteranopia(theme.finger(finger))
        assert sum(abs(a - b) for a, b in zip(thumb, other, strict=True)) > 0.1, finger
    dyes = {QColor(dye).rgb() for _, dye in theme.fingers}
    assert len(dyes) == 5 and all(a != b for a, b in combinations(dyes, 2))


def test_the_screen_speaks_the_player_s_words() -> None:
    """Slot, lane, cell, policy and fit are words of the code, never of the screen."""
    shown = (
        [a.text + " " + a.tip for a in ACTIONS]
        + list(errors._TEXTS.values())
        + list(reasons._PROBLEMS.values())
    )
    for text in shown:
        plain = re.sub(r"\{\w+\}", "", text).lower()
        assert not re.search(r"\b(slot|lane|cell(?! cursor)|policy|span|override)s?\b", plain), text


def test_numbers_from_outside_have_one_reader() -> None:
    """No pattern takes other scripts' digits, and nobody else turns a text into a number."""
    wrong = re.compile(r"\\d|\.isdigit\(|\.isdecimal\(|\.isnumeric\(|\bFraction\(\w*text|\bint\(text")
    found = [
        f"{path.name}: {line.strip()}"
        for path in FILES
        if path.name != "numbers.py" and path.relative_to(SOURCE).parts[0] in ("core", "cli", "app")
        for line in path.read_text().splitlines()
        if wrong.search(line)
    ]
    assert found == []
    assert wrong.search('re.compile(r"\\d+")') and wrong.search("Fraction(text)")
