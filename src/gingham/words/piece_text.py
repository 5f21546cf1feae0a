"""A piece in one line."""

from __future__ import annotations

from gingham.core.pieces.piece import Piece
from gingham.words.names import INSTRUMENT_NAMES, signs


def tempo_text(piece: Piece) -> str:
    """In meters of three eighths a beat: the same tempo in eighths, `= 162 eighths`."""
    eighths = piece.meter.tempo_beat * 8
    return f"= {piece.tempo * eighths} eighths" if eighths == 3 else ""


def about_text(piece: Piece) -> str:
    """`Guitar · E A D G B E · capo 2 · 4/4 · shapes in G, sounds in A`."""
    tuning = " ".join(signs(str(pitch.note)) for pitch in piece.instrument.tuning)
    parts = [INSTRUMENT_NAMES[piece.instrument.id], tuning]
    key = piece.shape_key()
    if piece.capo:
        parts += [f"capo {piece.capo}", str(piece.meter)]
        parts.append(f"shapes in {signs(str(key))}, sounds in {signs(str(key.up(piece.capo)))}")
    else:
        parts += [str(piece.meter), f"in {signs(str(key))}"]
    return "  ·  ".join(parts)
