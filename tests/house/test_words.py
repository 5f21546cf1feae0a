"""Whatever the program can raise, report or give as a reason has words; sources are named for formulas."""

from __future__ import annotations

import ast
import re
from collections import defaultdict
from pathlib import Path

import gingham.core.errors
from gingham.words import (
    bench,
    errors,
    importing,
    listening,
    notices,
    practice,
    reasons,
    repairs,
    ringing,
    shapes,
)
from gingham.words.actions import ACTION_WORDS
from gingham.words.notices import NOTICES

SOURCE = Path(__file__).parents[2] / "src" / "gingham"
FILES = sorted(SOURCE.rglob("*.py"))
SPOKEN = {
    "fault": errors.known_codes(),
    "problem": reasons.known_problems(),
    "reason": reasons.known_reasons()
    | reasons.known_problems()  # some are said beside the chord
    | reasons.known_spots()
    | bench.known_bench_codes()
    | practice.known_stage_codes()
    | practice.known_practice_codes()
    | importing.known_guess_codes()
    | repairs.known_repair_codes()
    | listening.known_take_codes()
    | ringing.known_cause_codes()
    | shapes.known_why_codes(),
}


def kind_of(call: ast.Call) -> str | None:
    """Whether a call makes a fault, a problem or a reason of the code that is its first argument."""
    name = ast.unparse(call.func)
    if name in ("Reason.of", "Spot"):
        return "reason"
    if name == "Problem.of" or name.endswith(".problem"):
        return "problem"
    own = getattr(gingham.core.errors, name, None)
    return "fault" if own else None


def constants(node: ast.expr) -> set[str]:
    """The codes that an expression can be."""
    if isinstance(node, ast.Constant):
        return {node.value} if isinstance(node.value, str) else set()
    return constants(node.body) | constants(node.orelse) if isinstance(node, ast.IfExp) else set()


def codes(tree: ast.Module) -> dict[str, set[str]]:
    """The codes of a module by kind, also those that go through a variable or a parameter called `code`."""
    out: dict[str, set[str]] = defaultdict(set)
    calls = [node for node in ast.walk(tree) if isinstance(node, ast.Call)]
    for call in calls:
        if (kind := kind_of(call)) is not None and call.args:
            out[kind] |= constants(call.args[0])
    for function in (node for node in ast.walk(tree) if isinstance(node, ast.FunctionDef)):
        inside = list(ast.walk(function))
        kinds = {
            kind
            for call in inside
            if isinstance(call, ast.Call) and call.args and (kind := kind_of(call)) is not None
            and isinstance(call.args[0], ast.Name) and call.args[0].id == "code"
        }  # fmt: skip
        found: set[str] = set()
        for node in inside:
            if isinstance(node, ast.Assign) and ast.unparse(node.targets[0]) == "code":
                found |= constants(node.value)
        names = [argument.arg for argument in function.args.args if argument.arg not in ("self", "cls")]
        if "code" in names:
            for call in calls:
                if ast.unparse(call.func).split(".")[-1] == function.name and len(call.args) > names.index(
                    "code"
                ):
                    found |= constants(call.args[names.index("code")])
        for kind in kinds:
            out[kind] |= found
    return out


def unsaid(kind: str, tree: ast.Module) -> set[str]:
    """Codes of a module that have no words."""
    return codes(tree)[kind] - SPOKEN[kind]


def test_every_code_has_words() -> None:
    """Whatever the core raises or reports can be said."""
    trees = [ast.parse(path.read_text()) for path in FILES]
    for kind, least in (("fault", 100), ("problem", 15), ("reason", 60)):
        found = set().union(*(codes(tree)[kind] for tree in trees))
        assert found - SPOKEN[kind] == set(), kind
        assert len(found) >= least, "the search itself finds what there is"


def test_a_planted_code_is_found() -> None:
    """Straight, by a variable, by a choice, by a parameter."""
    plants = {
        "fault": "raise FileError('planted', path=name)",
        "problem": "def f(self, code, at):\n    self.out.append(Problem.of(code, at))\ndef g(me):\n    me.f('planted', 1)",
        "reason": "def f(a):\n    code = 'first-root' if a else 'planted'\n    return Reason.of(code)",
    }
    for kind, text in plants.items():
        assert unsaid(kind, ast.parse(text)) == {"planted"}


SOURCES = {
    "core/sound/string.py": "Fletcher",
    "core/music/roughness.py": "Sethares",
}


def nameless(text: str) -> bool:
    """Whether a module doc speaks of a model or a formula without saying where it comes from, and when."""
    doc = ast.get_docstring(ast.parse(text)) or ""
    speaks = re.search(r"\b(formula|model is|After [A-Z])", doc)
    return bool(speaks) and not re.search(r"\b(19|20)\d\d\b|DESIGN|docs/decisions", doc)


def test_sources_are_named_for_formulas() -> None:
    """What comes from a paper says so, with its year; a planted one does not."""
    for path, author in SOURCES.items():
        assert author in (ast.get_docstring(ast.parse((SOURCE / path).read_text())) or "")
    assert [path.name for path in FILES if nameless(path.read_text())] == []
    assert nameless('"""The model is a loop."""') and not nameless('"""After Ash (1983)."""')


def literal_texts(tree: ast.Module) -> list[str]:
    """The string constants of a module that are no docstrings."""
    alone = {id(node.value) for node in ast.walk(tree) if isinstance(node, ast.Expr)}
    return [
        node.value
        for node in ast.walk(tree)
        if isinstance(node, ast.Constant) and isinstance(node.value, str) and id(node) not in alone
    ]


def noticed(files: list[Path]) -> set[str]:
    """The codes of all notices that are said."""
    calls = [
        node
        for path in files
        for node in ast.walk(ast.parse(path.read_text()))
        if isinstance(node, ast.Call) and ast.unparse(node.func) == "notice"
    ]
    return {code for call in calls for code in constants(call.args[0])}


def test_every_notice_has_its_words_and_is_said() -> None:
    said = noticed(FILES)
    built = {
        "click-0",
        "click-1",
        "click-2",
        "finger-silent",
        "finger-heard",
        "rest",
        "rest-none",
        "rest-shrinking",
    }
    assert said <= set(NOTICES) and set(NOTICES) - said == built
    assert notices.notice("written", path="x.pdf") == "Written to x.pdf"


def test_no_window_spells_a_key_of_an_action() -> None:
    """Keys in tips and notices come from the table: a key that is changed there is told everywhere."""
    keys = {words.key for words in ACTION_WORDS.values() if len(words.key) > 2}
    spelled = {
        f"{path.name}: {text}"
        for path in FILES
        if path.name not in ("actions.py", "places.py")
        for text in literal_texts(ast.parse(path.read_text()))
        if " " in text and any(re.search(rf"(?<![\w+]){re.escape(key)}(?![\w+])", text) for key in keys)
    }
    assert spelled == set()
