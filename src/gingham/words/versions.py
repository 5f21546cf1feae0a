"""Versions of a piece in words: when, why, and what has changed since."""

from __future__ import annotations

from gingham.core.formats.versions import Changed
from gingham.core.pieces.piece import Version
from gingham.language import tr, tr_c
from gingham.words.dates import stamp_text
from gingham.words.names import signs
from gingham.words.way import rule_label, rule_text

_FIELDS = {
    "title": tr_c("fields", "Title"), "capo": tr_c("fields", "Capo"), "meter": tr_c("fields", "Meter"), "tempo": tr_c("fields", "Tempo"), "swing": tr_c("fields", "Feel"), "key": tr_c("fields", "Key"),
    "notes": tr_c("fields", "Remarks"), "tuning": tr_c("fields", "Tuning"),
}  # fmt: skip
_WHOLE = {
    "performance": tr("the order or ending of the performance"),
    "practice": tr("the order or ending of the practice form"),
    "overrides": tr_c("whole", "exceptions"),
    "stages": tr("stages of practice"),
}


def version_line(version: Version) -> str:
    """`30 November, 10:15: the bass walks now`."""
    return f"{stamp_text(version.when)}  {version.note or tr('no note')}"


def changed_text(each: Changed) -> str:
    """`Tempo: 72, now 80`, `Verse: chords | G |, now | G | C |`."""
    if each.what in _WHOLE:
        return tr("Changed: {what}.", what=_WHOLE[each.what])
    if each.what in _FIELDS:
        return tr(
            "{what}: {before}, now {after}.",
            what=_FIELDS[each.what],
            before=signs(each.before),
            after=signs(each.after),
        )
    if each.what == "rules":
        words = (rule_text(each.name, each.before), rule_text(each.name, each.after))
        return tr(
            "{rule_label}: {before}, now {now}.",
            rule_label=rule_label(each.name),
            before=words[0],
            now=words[1],
        )
    if each.what == "sections":
        return f"{each.name}: {tr('new') if each.after else tr('gone')}."
    if each.what in ("chords", "pattern"):
        return tr(
            "{name}: {what} {before}, now {after}.",
            name=each.name,
            what=each.what,
            before=each.before,
            after=each.after,
        )
    said = {
        "words": tr("words or tune"),
        "strokes": tr("other plucks"),
        "section": tr("repeats, own rules or own bars"),
    }
    return f"{each.name}: {said[each.what]}."


SAME = tr("Just as it is now.")
EMPTY = tr(
    "No versions yet. Keep one before you try something: it stays in the piece’s own file, with your note of what "
    "changed."
)
