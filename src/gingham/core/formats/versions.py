"""Versions of a piece inside its file: kept with a note, read back, compared."""

from __future__ import annotations

import msgspec

from gingham.core.errors import EditError
from gingham.core.formats.piece_file import piece_from_bytes, piece_to_bytes
from gingham.core.formats.repairs import MOST_VERSIONS
from gingham.core.pieces.chordline import print_chord_line
from gingham.core.pieces.piece import Piece, Version
from gingham.core.values import replace

_LONGEST_NOTE = 300


def with_version(piece: Piece, note: str, when: str) -> Piece:
    """The piece with what it is now kept as a version; `when` is an ISO date and time.

    Raises
    ------
    EditError
        If there are too many, or nothing has changed since the newest one.
    """
    if len(piece.versions) >= MOST_VERSIONS:
        raise EditError("versions-many", most=MOST_VERSIONS)
    plain = msgspec.json.decode(piece_to_bytes(replace(piece, versions=())))
    text = msgspec.json.encode(plain).decode()
    if piece.versions and piece.versions[-1].text == text:
        raise EditError("version-same")
    return replace(piece, versions=(*piece.versions, Version(when, note.strip()[:_LONGEST_NOTE], text)))


def without_version(piece: Piece, index: int) -> Piece:
    """The piece without one of its versions."""
    return replace(piece, versions=tuple(v for i, v in enumerate(piece.versions) if i != index))


def at_version(piece: Piece, index: int) -> Piece:
    """The piece as it was, with all versions that it has now; FileError if that one is damaged."""
    version = piece.versions[index]
    return replace(piece_from_bytes(version.text.encode(), version.when), versions=piece.versions)


class Changed(msgspec.Struct, frozen=True, gc=False):
    """One thing that differs: `what` is a field of the piece, `rules`, or `sections` and the like.

    `name` is the section or pattern, `before` and `after` as they are typed; empty where there is none.
    """

    what: str
    name: str
    before: str
    after: str


def differences(before: Piece, after: Piece) -> tuple[Changed, ...]:
    """What has changed from one piece to another, field by field, section by section."""
    out = [
        Changed(what, "", str(one), str(other))
        for what in ("title", "capo", "meter", "tempo", "swing", "key", "notes")
        if (one := getattr(before, what)) != (other := getattr(after, what))
    ]
    if before.instrument != after.instrument:
        out.append(Changed("tuning", "", before.instrument.tuning_text(), after.instrument.tuning_text()))
    out += [
        Changed("rules", name, str(one), str(other))
        for name in before.rules.__struct_fields__
        if (one := getattr(before.rules, name)) != (other := getattr(after.rules, name))
    ]
    out += _of_lists(before, after)
    for what in ("performance", "practice", "overrides", "stages"):
        if getattr(before, what) != getattr(after, what):
            out.append(Changed(what, "", "", ""))
    return tuple(out)


def _of_lists(before: Piece, after: Piece) -> list[Changed]:
    """Sections and patterns by their names."""
    out: list[Changed] = []
    had, has = ({s.name: s for s in piece.sections} for piece in (before, after))
    for name in dict.fromkeys((*had, *has)):
        one, other = had.get(name), has.get(name)
        if one is None or other is None:
            out.append(Changed("sections", name, name if one else "", name if other else ""))
            continue
        lines = (print_chord_line(one.chords), print_chord_line(other.chords))
        if lines[0] != lines[1]:
            out.append(Changed("chords", name, *lines))
        if one.pattern != other.pattern:
            out.append(Changed("pattern", name, one.pattern, other.pattern))
        if (one.words, one.tune) != (other.words, other.tune):
            out.append(Changed("words", name, "", ""))
        rest = [(s.repeats, s.own, s.bars) for s in (one, other)]
        if rest[0] != rest[1]:
            out.append(Changed("section", name, "", ""))
    had_patterns, has_patterns = ({p.name: p.pattern for p in piece.patterns} for piece in (before, after))
    shared = had_patterns.keys() & has_patterns.keys()
    out += [Changed("strokes", n, "", "") for n in sorted(shared) if had_patterns[n] != has_patterns[n]]
    return out
