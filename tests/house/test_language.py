"""Texts for players come from the catalogue: the source is searched for what does not, and what is extracted is whole."""

from __future__ import annotations

import ast
import re
from datetime import date
from pathlib import Path

import pytest
from babel.messages.catalog import Catalog
from scripts import translations

from gingham import language
from gingham.words.chapters import Chapter, in_language, texts_of
from gingham.words.counts import counted, strings_text
from gingham.words.dates import date_text

SOURCE = Path(__file__).parents[2] / "src" / "gingham"
ROOMS = ("app", "words", "paper")
_PHRASE = re.compile(r"[A-Za-z’']{2,}[,.:;]? +[A-Za-z]{2,}")
NOT_SAID = {
    "app/shell/start.py": "the command line, which is English everywhere",
    "words/finding.py": "words that players bring along, keyed by their language",
    "words/counts.py": "keys of the table of nouns",
}
THREADS_AND_DEVICES = {
    "silent clock", "simulated player", "simulated input", "simulated strings", "take writer", "stage player",
    "stage listener", "take listener", "take player", "take maker", "tapped keys",
}  # fmt: skip
TYPED = ("thumb pinch thumb index", "<span style='color:")
"""What is typed is the same everywhere; marks are no words."""


def untold(tree: ast.Module) -> list[str]:
    """The phrases of a module that go through none of `tr`, `tr_c`, `tr_n`: docstrings and errors apart."""
    apart: set[int] = set()
    for node in ast.walk(tree):
        told = isinstance(node, ast.Call) and ast.unparse(node.func) in ("tr", "tr_c", "tr_n")
        alone = isinstance(node, ast.Expr) and isinstance(node.value, ast.Constant)
        if told or alone or isinstance(node, ast.Raise):
            apart |= {id(each) for each in ast.walk(node)}
    return [
        node.value
        for node in ast.walk(tree)
        if isinstance(node, ast.Constant) and isinstance(node.value, str) and id(node) not in apart
        and _PHRASE.search(node.value)
    ]  # fmt: skip


def test_no_phrase_stands_outside_the_catalogue() -> None:
    """None in the window, its words and its sheets; a planted one is found."""
    found = [
        (str(path.relative_to(SOURCE)), words)
        for room in ROOMS
        for path in sorted((SOURCE / room).rglob("*.py"))
        for words in untold(ast.parse(path.read_text()))
        if str(path.relative_to(SOURCE)) not in NOT_SAID
    ]
    assert [
        each for each in found if each[1] not in THREADS_AND_DEVICES and not each[1].startswith(TYPED)
    ] == []
    planted = (
        'label.setText("Pluck it")\nother.setText(tr("Pluck it"))\n"""Words alone."""\nf"{n} more strings"'
    )
    assert untold(ast.parse(planted)) == ["Pluck it", " more strings"]


def test_every_text_is_extracted_once_and_filled_by_name() -> None:
    """Thousands of texts; every place in them has a name, so that a language can have its own order."""
    catalog = translations.extracted()
    assert len(catalog) > 2500
    for message in catalog:
        for text in message.id if isinstance(message.id, tuple) else (message.id,):
            assert not translations.fields(text) & {"", "0", "1"}, text
    assert catalog.get("Play   Space") is not None
    assert catalog.get("beyond", context="pick rows") is not None
    assert catalog.get(("one bar", "{n} bars")) is not None
    assert catalog.get("Your hands") is not None, "the help too"


def test_texts_are_literal() -> None:
    """What is computed cannot be extracted: the first words of every call stand there as they are."""
    for path in SOURCE.rglob("*.py"):
        if path.name == "chapters.py":  # its paragraphs are extracted from the help
            continue
        for node in ast.walk(ast.parse(path.read_text())):
            if isinstance(node, ast.Call) and ast.unparse(node.func) in ("tr", "tr_c", "tr_n"):
                texts = node.args[: 1 if ast.unparse(node.func) == "tr" else 2]
                assert all(isinstance(each, ast.Constant) for each in texts), (path.name, node.lineno)


def unfilled(tree: ast.Module) -> list[str]:
    """Texts with a place that their call does not fill: it would fail where it is said."""
    out = []
    for node in ast.walk(tree):
        name = ast.unparse(node.func) if isinstance(node, ast.Call) else ""
        if (
            name not in ("tr", "tr_n")
            or not isinstance(node, ast.Call)
            or not (node.keywords or name == "tr_n")
        ):
            continue  # a text without values is a template, filled elsewhere
        given = {each.arg for each in node.keywords} | ({"n"} if name == "tr_n" else set())
        texts = [
            each.value for each in node.args[: 1 if name == "tr" else 2] if isinstance(each, ast.Constant)
        ]
        if None not in given:  # **values
            out += [str(text) for text in texts if not translations.fields(str(text)) <= given]
    return out


def test_every_place_of_a_text_is_filled() -> None:
    """Where a text is said with values, each of its places has one; a planted one without is found."""
    assert [words for path in SOURCE.rglob("*.py") for words in unfilled(ast.parse(path.read_text()))] == []
    planted = 'tr("bar {bar} of {bars}", bar=3)\ntr_n("{n} bar", "{n} {bars}", 3)\ntr("bar {bar}", bar=1)'
    assert unfilled(ast.parse(planted)) == ["bar {bar} of {bars}", "{n} {bars}"]


@pytest.mark.parametrize(
    ("environment", "languages"),
    [
        ({}, []),
        ({"LANG": "C.UTF-8"}, []),
        ({"LANG": "en_GB.UTF-8"}, []),
        ({"LANG": "de_AT.UTF-8"}, ["de_AT.UTF-8"]),
        ({"LANG": "de_DE.UTF-8", "LC_ALL": "C"}, []),
        ({"LANG": "en_US.UTF-8", "LANGUAGE": "sv:de"}, ["sv", "de"]),
        ({"LANG": "de_DE.UTF-8", "LANGUAGE": ""}, ["de_DE.UTF-8"]),
        ({"LANGUAGE": "en:de", "LANG": "de_DE.UTF-8"}, []),
    ],
)
def test_the_desktop_says_which_language(environment: dict[str, str], languages: list[str]) -> None:
    """As gettext reads it; where English comes first nothing is looked for."""
    assert language.wanted(environment) == languages


def german() -> Catalog:
    """A few texts, one of them with a field that does not exist."""
    catalog = Catalog(locale="de")
    catalog.add(("one bar", "{n} bars"), ("ein Takt", "{n} Takte"))
    catalog.add(("string {which}", "strings {which}"), ("Saite {which}", "Saiten {which}"))
    catalog.add("{all_but_last} and {last}", "{all_but_last} und {last}")
    catalog.add("saves {saved:.1f}", "spart {saved:.1f}")
    catalog.add(".", ",", context="decimal point")
    catalog.add("%Y-%m-%d", "%d.%m.%Y", context="a date, as in strftime")
    catalog.add("fret {fret}", "Bund {bund}")
    catalog.add("Every chord", "Jeder Akkord")
    return catalog


@pytest.fixture
def in_german(tmp_path: Path, monkeypatch) -> None:
    """As if the desktop spoke German, the catalogue in the player's own folder."""
    monkeypatch.setattr(language, "_spoken", None)
    monkeypatch.setattr(language, "_name", "")
    translations.compile_into(german(), tmp_path / "data" / "gingham" / "locale", "de")
    language.speak({"LANG": "de_AT.UTF-8"})


def test_a_catalogue_of_the_players_own_is_spoken(in_german) -> None:
    """Plurals, the decimal point and wrong fields, which give way to English; what is missing stays English."""
    assert language.spoken() == "de"
    assert [counted(n, "bar") for n in (1, 4)] == ["ein Takt", "4 Takte"]
    assert strings_text((5, 4)) == "Saiten 5 und 4"
    assert language.tr("saves {saved:.1f}", saved=1.25) == "spart 1,2"
    assert language.figure(0.5, "g") == "0,5"
    assert date_text(date(2026, 11, 30)) == "2026-11-30", "tables are filled when their module is loaded"
    assert language.tr("fret {fret}", fret=3) == "fret 3"
    assert language.tr("No such text") == "No such text"


def test_the_help_is_spoken_paragraph_by_paragraph(in_german) -> None:
    """Headings keep their marks; what is to be typed, pictures and tables stay as they are."""
    chapter = Chapter.from_text(
        "# Every chord\n\nNot translated.\n\n    p i m i\n\n![x](y.png)\n\n## Every chord\n"
    )
    assert texts_of(chapter) == ["Every chord", "Not translated.", "Every chord"]
    said = in_language(chapter)
    assert said.title == "Jeder Akkord"
    assert said.text == "# Jeder Akkord\n\nNot translated.\n\n    p i m i\n\n![x](y.png)\n\n## Jeder Akkord\n"


def test_english_stays_where_no_catalogue_can_be_read(tmp_path: Path, monkeypatch) -> None:
    """None, or one that is damaged."""
    monkeypatch.setattr(language, "_spoken", None)
    monkeypatch.setattr(language, "_name", "")
    language.speak({"LANG": "sv_SE.UTF-8"})
    damaged = tmp_path / "data" / "gingham" / "locale" / "de" / "LC_MESSAGES" / "gingham.mo"
    damaged.parent.mkdir(parents=True)
    damaged.write_bytes(b"\xde\x12\x04\x95not a catalogue")
    language.speak({"LANG": "de_DE.UTF-8"})
    assert language.spoken() == "" and language.tr("Every chord") == "Every chord"


def test_faults_of_a_translation_are_named() -> None:
    """A field that the text has not would fail in the window: such a catalogue is not built."""
    wrong = list(translations.faults(german()))
    assert len(wrong) == 1 and "Bund {bund}" in wrong[0]


def test_the_machine_made_language_keeps_what_is_no_words() -> None:
    """Fields, marks, keys of menus and what is typed; all else is accented, and longer."""
    said = translations.disguised("Bar {bar:.1f}: <b>type</b> `p i m`, see [this](a.md) &Open")
    assert said.startswith("Ƀááŕŕ {bar:.1f}: <b>ťýƥéééé</b> `p i m`, ") and "](a.md) &O" in said
    text = "Two plucks of the thumb, one of the index finger"
    assert 1.35 * len(text) < len(translations.disguised(text)) < 1.6 * len(text)


def test_a_language_is_added_by_its_walk(tmp_path: Path, monkeypatch) -> None:
    """Written with every text, translated, carried on when a text comes, compiled and spoken."""
    monkeypatch.setattr(translations, "LOCALE", tmp_path / "data" / "gingham" / "locale")
    monkeypatch.setattr(translations, "ROOT", tmp_path)
    monkeypatch.setattr(language, "_spoken", None)
    monkeypatch.setattr(language, "_name", "")
    path = translations.update("de")
    text = path.read_text(encoding="utf-8")
    assert text.count("msgid ") > 2500
    path.write_text(
        text.replace('msgid "Export"\nmsgstr ""', 'msgid "Export"\nmsgstr "Ausgeben"'), encoding="utf-8"
    )
    more = translations.extracted()
    more.add("A text that came later")
    monkeypatch.setattr(translations, "extracted", lambda: more)
    carried = translations.update("de").read_text(encoding="utf-8")
    assert 'msgstr "Ausgeben"' in carried and "A text that came later" in carried
    assert translations.build() == []
    language.speak({"LANGUAGE": "de"})
    assert language.tr("Export") == "Ausgeben"
