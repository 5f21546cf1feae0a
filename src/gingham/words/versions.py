"""Versions of a piece in words: when, why, and what has changed since."""

from __future__ import annotations

from gingham.core.formats.versions import Changed
from gingham.core.pieces.piece import Version
from gingham.words.names import signs
from gingham.words.way import rule_label, rule_text

_FIELDS = {
    "title": "Title", "capo": "Capo", "meter": "Meter", "tempo": "Tempo", "swing": "Feel", "key": "Key",
    "notes": "Remarks", "tuning": "Tuning",
}  # fmt: skip
_WHOLE = {
    "performance": "the order or ending of the performance",
    "practice": "the order or ending of the practice form",
    "overrides": "exceptions",
    "stages": "stages of practice",
}


def version_line(version: Version) -> str:
    """`30 November, 10:15: the bass walks now`."""
    return f"{version.when.replace('T', ', ')[:17]}  {version.note or 'no note'}"


def changed_text(each: Changed) -> str:
    """`Tempo: 72, now 80`, `Verse: chords | G |, now | G | C |`."""
    if each.what in _WHOLE:
        return f"Changed: {_WHOLE[each.what]}."
    if each.what in _FIELDS:
        return f"{_FIELDS[each.what]}: {signs(each.before)}, now {signs(each.after)}."
    if each.what == "rules":
        words = (rule_text(each.name, each.before), rule_text(each.name, each.after))
        return f"{rule_label(each.name)}: {words[0]}, now {words[1]}."
    if each.what == "sections":
        return f"{each.name}: {'new' if each.after else 'gone'}."
    if each.what in ("chords", "pattern"):
        return f"{each.name}: {each.what} {each.before}, now {each.after}."
    said = {"words": "words or tune", "strokes": "other plucks", "section": "repeats, own rules or own bars"}
    return f"{each.name}: {said[each.what]}."


SAME = "Just as it is now."
EMPTY = (
    "No versions yet. Keep one before you try something: it stays in the piece’s own file, with your note of what "
    "changed."
)
