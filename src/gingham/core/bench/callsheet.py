"""The call sheet: what to call out to players without the capo, or with another one."""

from __future__ import annotations

from gingham.core.music.chords import parse_chord
from gingham.core.music.key import Key, sounding
from gingham.core.pieces.chordline import HOLD, REPEAT, SILENCE, Bar
from gingham.core.pieces.piece import Piece, Section


def call_sheet(piece: Piece, other_capo: int = 0) -> str:
    """Every section's chords for this player, as they sound, and for a player with `other_capo`.

    Plain text, one line for each; bars are kept, pinned shapes are left out.
    """
    key = piece.shape_key()
    lines = [piece.title, f"Sounds in {key.up(piece.capo)}"]
    rows = [(f"capo {piece.capo}" if piece.capo else "no capo", 0), ("sounds", piece.capo)]
    if other_capo and other_capo != piece.capo:
        rows.append((f"capo {other_capo}", piece.capo - other_capo))
    width = max(len(name) for name, _ in rows)
    for section in piece.sections:
        lines += ["", f"{section.name}{f' ×{section.repeats}' if section.repeats > 1 else ''}"]
        for name, up in rows:
            bars = " | ".join(names_in(section, up, key))
            lines.append(f"{name:<{width}}  | {bars} |")
    return "\n".join(lines) + "\n"


def names_in(section: Section, up: int, key: Key) -> list[str]:
    """The chord names of each bar of a section, `up` semitones from the shapes' own, spelled by their key."""
    return [_bar(bar, up, key) for bar in section.chords.bars]


def _bar(bar: Bar, up: int, key: Key) -> str:
    marks = (HOLD, REPEAT, SILENCE)
    return " ".join(
        place.symbol if place.symbol in marks else sounding(parse_chord(place.symbol), up % 12, key).text
        for place in bar
    )
