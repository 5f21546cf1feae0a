"""How many of what: a number and its noun, each noun with both its forms, so that a language can have its own."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from gingham.language import tr_n
from gingham.words.names import listed

_NOUNS: dict[str, Callable[[int], str]] = {
    "attempt": lambda n: tr_n("one attempt", "{n} attempts", n),
    "bar": lambda n: tr_n("one bar", "{n} bars", n),
    "beat": lambda n: tr_n("one beat", "{n} beats", n),
    "brush": lambda n: tr_n("one brush", "{n} brushes", n),
    "change": lambda n: tr_n("one change", "{n} changes", n),
    "chuck": lambda n: tr_n("one chuck", "{n} chucks", n),
    "conflict": lambda n: tr_n("one conflict", "{n} conflicts", n),
    "day": lambda n: tr_n("one day", "{n} days", n),
    "eighth": lambda n: tr_n("one eighth", "{n} eighths", n),
    "exception": lambda n: tr_n("one exception", "{n} exceptions", n),
    "file": lambda n: tr_n("one file", "{n} files", n),
    "minute": lambda n: tr_n("one minute", "{n} minutes", n),
    "note": lambda n: tr_n("one note", "{n} notes", n),
    "other change": lambda n: tr_n("one other change", "{n} other changes", n),
    "pattern": lambda n: tr_n("one pattern", "{n} patterns", n),
    "pinch": lambda n: tr_n("one pinch", "{n} pinches", n),
    "place": lambda n: tr_n("one place", "{n} places", n),
    "pluck": lambda n: tr_n("one pluck", "{n} plucks", n),
    "rest": lambda n: tr_n("one rest", "{n} rests", n),
    "round": lambda n: tr_n("one round", "{n} rounds", n),
    "syllable": lambda n: tr_n("one syllable", "{n} syllables", n),
    "verse": lambda n: tr_n("one verse", "{n} verses", n),
}


def counted(number: int, noun: str) -> str:
    """`one rest`, `2 rests`."""
    return _NOUNS[noun](number)


def strings_text(strings: Sequence[int]) -> str:
    """`string 5`, `strings 5 and 4`."""
    return tr_n(
        "string {which}", "strings {which}", len(strings), which=listed([str(each) for each in strings])
    )
