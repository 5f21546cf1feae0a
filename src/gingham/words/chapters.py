"""The chapters of the help: texts that ship with the program, and the keys as they are now."""

from __future__ import annotations

import re

import msgspec

from gingham.data import FOLDER
from gingham.language import tr, tr_c

_PICTURE = re.compile(r"^!\[[^]]*\]\([^)]*\)\n\n", re.MULTILINE)
_AS_IT_IS = re.compile(r"!\[|```|    \S|\|")
"""How a paragraph begins that is the same in every language: a picture, what is typed, a table."""
FIRST = tr("The first minutes")
HANDS = tr("Your hands")
"""The title of the chapter on the hands."""
_PATTERNS, _THUMB, _FILES = (
    tr("Patterns: typing and saying them"),
    tr("How the thumb is chosen"),
    tr("Sheets and files"),
)
CHAPTER_OF = {
    "bench": _PATTERNS, "form": tr("Form and words"), "practise": tr_c("chapter of", "Practising"), "takes": tr("Hearing yourself"),
    "sheet": _FILES, "record": tr_c("chapter of", "Practising"), "way": tr("My way of playing"), "reading": _FILES,
    "why": _THUMB, "shapes": tr("The fretting hand"), "change": tr_c("chapter of", "Changes"), "capo": tr("Capo and tunings"),
    "tune": tr("Capo and tunings"), "setup": _THUMB, "hand": tr("My way of playing"), "versions": _FILES,
    "conflicts": tr("Signs in the pictures"), "cards": tr("The fretting hand"), "strings": _THUMB,
    "result": tr("Signs in the pictures"), "pattern": _PATTERNS, "words": _PATTERNS,
}  # fmt: skip
"""The chapter on each place, part of the drawer and picture of Build."""


class Chapter(msgspec.Struct, frozen=True):
    """A title, and its text as Markdown."""

    title: str
    text: str

    @classmethod
    def from_text(cls, text: str) -> Chapter:
        """A chapter whose first line is its title."""
        return cls(text.splitlines()[0].lstrip("# "), text)

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
    known = [in_language(Chapter.from_text(text)) for text in texts]
    title = tr("Every key")
    return (*known, Chapter(title, f"# {title}\n\n{keys}"))


def texts_of(chapter: Chapter) -> list[str]:
    """What is to be translated of a chapter: its headings and its paragraphs; what is to be typed stays."""
    return [block.lstrip("# ") for block in chapter.text.strip().split("\n\n") if not _AS_IT_IS.match(block)]


def in_language(chapter: Chapter) -> Chapter:
    """The chapter in the player's language, paragraph by paragraph; what nobody translated stays English."""
    blocks = [
        block if _AS_IT_IS.match(block) else block[: -len(block.lstrip("# "))] + tr(block.lstrip("# "))
        for block in chapter.text.strip().split("\n\n")
    ]
    return Chapter.from_text("\n\n".join(blocks) + "\n")


def search(known: tuple[Chapter, ...], query: str) -> list[tuple[Chapter, list[str]]]:
    """The chapters that answer a query with the paragraphs that do; all of them without one."""
    words = query.lower().split()
    if not words:
        return [(each, []) for each in known]
    found = [(each, each.holding(words)) for each in known]
    hits = [(each, parts) for each, parts in found if parts or all(w in each.title.lower() for w in words)]
    return sorted(hits, key=lambda hit: -len(hit[1]))
