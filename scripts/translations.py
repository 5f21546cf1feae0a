"""Texts of other languages: extracted from the source, carried on, checked and compiled (gettext, by Babel).

    scripts/translations.py extract          # gingham.pot, for a new language
    scripts/translations.py update de        # src/gingham/locale/de/LC_MESSAGES/gingham.po, to be worked on
    scripts/translations.py build            # every .po becomes the .mo that Gingham reads
    scripts/translations.py pseudo FOLDER    # the machine-made language, FOLDER/en_XA/LC_MESSAGES/gingham.mo

(each after `.venv/bin/python`). Who translates can try a catalogue without installing it: its `LC_MESSAGES`
goes into `~/.local/share/gingham/locale/de/`, and Gingham is started as `LANGUAGE=de gingham`.
"""

from __future__ import annotations

import argparse
import re
import string
import sys
from collections.abc import Iterator
from pathlib import Path

from babel.messages.catalog import Catalog, Message
from babel.messages.extract import extract_from_dir
from babel.messages.mofile import write_mo
from babel.messages.pofile import read_po, write_po

from gingham import __version__
from gingham.data import FOLDER
from gingham.words.chapters import Chapter, texts_of

ROOT = Path(__file__).parents[1]
SOURCE = ROOT / "src" / "gingham"
LOCALE = SOURCE / "locale"
PSEUDO = "en_XA"
_KEYWORDS = {"tr": None, "tr_c": ((1, "c"), 2), "tr_n": (1, 2)}
_ACCENTS = str.maketrans(
    "aceghijklnorstuwyzACEGHIJKLNORSTUWYZbdfmpqvxBDFMPQVX",
    "áçéğĥïĵķłñóŕšťúŵýžÁÇÉĞĤÏĴĶŁÑÓŔŠŤÚŴÝŽƀđƒɱƥɋʋẋɃĐƑⱮƤɊƲẊ",
)
_KEPT = re.compile(r"\{[^{}]*\}|<[^<>]*>|`[^`]*`|\]\([^)]*\)|&\w|\\.")
"""What a translation leaves as it is: fields, marks of HTML and Markdown, the letter of a menu."""


def extracted() -> Catalog:
    """Every text of the source and every paragraph of the help."""
    catalog = Catalog(project="Gingham", version=__version__, fuzzy=False)
    for name, line, messages, _, context in extract_from_dir(
        SOURCE, [("**.py", "python")], keywords=_KEYWORDS
    ):
        catalog.add(messages, locations=[(name, line)], context=context)
    for file in sorted((FOLDER / "help").glob("*.md")):
        for text in texts_of(Chapter.from_text(file.read_text(encoding="utf-8"))):
            catalog.add(text, locations=[(f"data/help/{file.name}", 1)])
    return catalog


def fields(text: str) -> set[str]:
    """The names in braces of a text."""
    try:
        return {name for _, name, _, _ in string.Formatter().parse(text) if name is not None}
    except ValueError:
        return {"unreadable"}


def faults(catalog: Catalog) -> Iterator[str]:
    """Translations that would fail where they are used: a field that the text has not, or a broken brace."""
    for message in catalog:
        sources, targets = _both(message)
        known = set().union(*map(fields, sources))
        for target in targets:
            if target and not fields(target) <= known:
                yield f"{message.id!r}: {target!r} has other fields than {sorted(known)}"


def _both(message: Message) -> tuple[tuple[str, ...], tuple[str, ...]]:
    return _each(message.id), _each(message.string)


def _each(text: object) -> tuple[str, ...]:
    return tuple(map(str, text)) if isinstance(text, list | tuple) else (str(text or ""),)


def disguised(text: str) -> str:
    """A text in the machine-made language: accents, vowels and ends of words twice, so some 40 % longer."""
    out, at = [], 0
    for kept in _KEPT.finditer(text):
        out += [_longer(text[at : kept.start()]), kept.group()]
        at = kept.end()
    return "".join([*out, _longer(text[at:])])


def _longer(text: str) -> str:
    words = re.sub(r"[A-Za-z]{3,}", lambda word: word.group() + word.group()[-1].lower(), text)
    return re.sub("[aeiouAEIOU]", lambda vowel: vowel.group() * 2, words).translate(_ACCENTS)


def pseudo() -> Catalog:
    """The catalogue of the machine-made language."""
    catalog = extracted()
    catalog.locale = "en"
    for message in catalog:
        if message.id:
            sources, _ = _both(message)
            told = tuple(map(disguised, sources))
            message.string = told if len(told) > 1 else told[0]
    return catalog


def compile_into(catalog: Catalog, folder: Path, language: str) -> Path:
    """Write the compiled catalogue where gettext looks for it."""
    path = folder / language / "LC_MESSAGES" / "gingham.mo"
    path.parent.mkdir(parents=True, exist_ok=True)
    with path.open("wb") as file:
        write_mo(file, catalog)
    return path


def update(language: str) -> Path:
    """Carry the texts of today into a language's catalogue; what is translated stays."""
    path = LOCALE / language / "LC_MESSAGES" / "gingham.po"
    path.parent.mkdir(parents=True, exist_ok=True)
    catalog = Catalog(locale=language)
    if path.exists():
        with path.open("rb") as file:
            catalog = read_po(file, locale=language)
    catalog.update(extracted(), no_fuzzy_matching=False)
    with path.open("wb") as file:
        write_po(file, catalog, width=100)
    return path


def build() -> list[str]:
    """Compile every catalogue; the faults that were found, those texts left in English."""
    found: list[str] = []
    for path in sorted(LOCALE.glob("*/LC_MESSAGES/gingham.po")):
        language = path.parts[-3]
        with path.open("rb") as file:
            catalog = read_po(file, locale=language)
        wrong = list(faults(catalog))
        found += [f"{language}: {each}" for each in wrong]
        if not wrong:
            print(f"Written {compile_into(catalog, LOCALE, language).relative_to(ROOT)}")
    return found


def main() -> int:
    """One of the four jobs; the exit status."""
    parser = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    jobs = parser.add_subparsers(dest="job", required=True)
    jobs.add_parser("extract")
    jobs.add_parser("update").add_argument("language")
    jobs.add_parser("build")
    jobs.add_parser("pseudo").add_argument("folder", type=Path)
    args = parser.parse_args()
    if args.job == "extract":
        with Path("gingham.pot").open("wb") as file:
            write_po(file, extracted(), width=100)
    elif args.job == "update":
        print(f"Written {update(args.language)}")
    elif args.job == "pseudo":
        print(f"Written {compile_into(pseudo(), args.folder, PSEUDO)}")
    else:
        wrong = build()
        print(*wrong, sep="\n", file=sys.stderr)
        return bool(wrong)
    return 0


if __name__ == "__main__":
    sys.exit(main())
