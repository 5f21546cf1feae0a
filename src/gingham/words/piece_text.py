"""A piece in one line; its bars one by one."""

from __future__ import annotations

from gingham.core.instruments.instrument import CATALOGUE
from gingham.core.judging.piece_map import Conflict, PieceMap
from gingham.core.music.meter import count_at
from gingham.core.pieces.piece import Piece
from gingham.language import tr, tr_n
from gingham.words.names import INSTRUMENT_NAMES, signs
from gingham.words.reasons import problem_text


def tempo_text(piece: Piece) -> str:
    """In meters of three eighths a beat: the same tempo in eighths, `= 162 eighths`."""
    eighths = piece.meter.tempo_beat * 8
    return tr("= {tempo} eighths", tempo=piece.tempo * eighths) if eighths == 3 else ""


def about_text(piece: Piece) -> str:
    """`Guitar · E A D G B E · capo 2 · 4/4 · shapes in G, sounds in A`."""
    tuning = " ".join(signs(str(pitch.note)) for pitch in piece.instrument.tuning)
    parts = [INSTRUMENT_NAMES[piece.instrument.id], tuning]
    key = piece.shape_key()
    if piece.capo:
        parts += [tr("capo {capo}", capo=piece.capo), str(piece.meter)]
        parts.append(
            tr("shapes in {key}, sounds in {up}", key=signs(str(key)), up=signs(str(key.up(piece.capo))))
        )
    else:
        parts += [str(piece.meter), tr("in {key}", key=signs(str(key)))]
    return "  ·  ".join(parts)


def about_line(piece: Piece) -> str:
    """As `about_text`, what is looked for first in front, for it may be cut: `Guitar · capo 2 · sounds in A · 4/4 · …`."""
    instrument, key = piece.instrument, piece.shape_key()
    tuning = " ".join(signs(str(pitch.note)) for pitch in instrument.tuning)
    usual = instrument.tuning == CATALOGUE[instrument.id].tuning
    if piece.capo:
        sounding, shapes = (
            tr("sounds in {up}", up=signs(str(key.up(piece.capo)))),
            tr("shapes in {key}", key=signs(str(key))),
        )
    else:
        sounding, shapes = tr("in {key}", key=signs(str(key))), ""
    capo = tr("capo {capo}", capo=piece.capo) if piece.capo else ""
    name = INSTRUMENT_NAMES[instrument.id]
    odd, even = ("", tuning) if usual else (tuning, "")
    return "  ·  ".join(part for part in (name, odd, capo, sounding, str(piece.meter), shapes, even) if part)


def map_text(found: PieceMap, index: int | None) -> str:
    """`Verse, bar 2 of 8: a bar of its own, 1 conflict`; the whole piece without an index."""
    if index is None or not 0 <= index < len(found.tiles):
        return tr("{tiles} bars, {problems}", tiles=len(found.tiles), problems=problems_text(found))
    tile = found.tiles[index]
    section = found.piece.sections[tile.section]
    known = (
        (tr("a bar of its own"), tile.own),
        (tr("one of the hardest changes"), tile.hard),
        (conflicts_text(tile.problems), bool(tile.problems)),
        (remarks_text(tile.remarks), bool(tile.remarks)),
    )
    said = ", ".join(words for words, holds in known if holds)
    where = tr("{name}, bar {bar} of {bars}", name=section.name, bar=tile.bar, bars=len(section.chords.bars))
    return f"{where}: {said}" if said else where


def conflicts_text(count: int) -> str:
    """`no conflicts`, `1 conflict`, `3 conflicts`."""
    return tr_n("{n} conflict", "{n} conflicts", count) if count else tr("no conflicts")


def remarks_text(count: int) -> str:
    """`1 remark`, `2 remarks`."""
    return tr_n("{n} remark", "{n} remarks", count)


def problems_text(found: PieceMap) -> str:
    """`no conflicts`, `1 conflict, 2 remarks`: what is in the way, and what is only worth knowing."""
    remarks = sum(each.advice for each in found.conflicts)
    text = conflicts_text(len(found.conflicts) - remarks)
    return f"{text}, {remarks_text(remarks)}" if remarks else text


def conflict_line(found: PieceMap, conflict: Conflict) -> str:
    """`Verse, bar 3 at 2&: …` with what to do."""
    piece = found.piece
    count = count_at(piece.meter, conflict.at % piece.meter.bar)
    name = piece.sections[conflict.section].name
    kind = tr("Remark: ") if conflict.advice else ""
    return tr(
        "{kind}{name}, bar {bar} at {count}. {problem}",
        kind=kind,
        name=name,
        bar=conflict.bar,
        count=count,
        problem=problem_text(conflict.problem),
    )
