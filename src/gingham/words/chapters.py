"""The chapters of the help: texts that ship with the program, and the keys as they are now."""

from __future__ import annotations

import re

import msgspec

from gingham.data import FOLDER

_PICTURE = re.compile(r"^!\[[^]]*\]\([^)]*\)\n\n", re.MULTILINE)
FIRST = "The first minutes"
HANDS = "Your hands"
"""The title of the chapter on the hands."""
_PATTERNS, _THUMB, _FILES = "Patterns: typing and saying them", "How the thumb is chosen", "Sheets and files"
CHAPTER_OF = {
    "bench": _PATTERNS, "form": "Form and words", "practise": "Practising", "takes": "Hearing yourself",
    "sheet": _FILES, "record": "Practising", "way": "My way of playing", "reading": _FILES,
    "why": _THUMB, "shapes": "The fretting hand", "change": "Changes", "capo": "Capo and tunings",
    "tune": "Capo and tunings", "setup": _THUMB, "hand": "My way of playing", "versions": _FILES,
    "conflicts": "Signs in the pictures", "cards": "The fretting hand", "strings": _THUMB,
    "result": "Signs in the pictures", "pattern": _PATTERNS, "words": _PATTERNS,
}  # fmt: skip
"""The chapter on each place, part of the drawer and picture of Build."""


class Chapter(msgspec.Struct, frozen=True):
    """A title, and its text as Markdown."""

    title: str
    text: str

    def paragraphs(self) -> list[str]:
        """Its parts between empty lines, each on one line."""
        return [" ".join(part.split()) for part in self.text.split("\n\n") if part.strip()]

    def holding(self, words: list[str]) -> list[str]:
        """The paragraphs in which every word stands, the title left out."""
        return [part for part in self.paragraphs()[1:] if all(word in part.lower() for word in words)]


def chapters(keys: str, *, pictures: bool = False) -> tuple[Chapter, ...]:
    """All chapters in order; `keys` is the last one's table as Markdown.

    The manual is made of the same texts, with `pictures`; the window has the real thing beside it.
    """
    files = sorted((FOLDER / "help").iterdir(), key=lambda each: each.name)
    texts = [file.read_text(encoding="utf-8") for file in files if file.name.endswith(".md")]
    if not pictures:
        texts = [_PICTURE.sub("", text) for text in texts]
    texts.append(f"# Every key\n\n{keys}")
    return tuple(Chapter(text.splitlines()[0].lstrip("# "), text) for text in texts)


def search(known: tuple[Chapter, ...], query: str) -> list[tuple[Chapter, list[str]]]:
    """The chapters that answer a query with the paragraphs that do; all of them without one."""
    words = query.lower().split()
    if not words:
        return [(each, []) for each in known]
    found = [(each, each.holding(words)) for each in known]
    hits = [(each, parts) for each, parts in found if parts or all(w in each.title.lower() for w in words)]
    return sorted(hits, key=lambda hit: -len(hit[1]))
