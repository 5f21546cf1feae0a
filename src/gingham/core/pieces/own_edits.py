"""Edits of what a section or a chord has of its own: thumb, fingers, first bass, four-string chords, hand."""

from __future__ import annotations

from collections.abc import Callable

from gingham.core.pieces.edits import add_override, override_of, remove_override, with_section
from gingham.core.pieces.piece import Piece, RulesOverride, standing_rules
from gingham.core.pieces.rules import OwnRules, ThumbPlan
from gingham.core.shapes.shape import Shape
from gingham.core.values import replace


def set_section_rules(piece: Piece, index: int, own: OwnRules) -> Piece:
    """What a section has of its own: thumb, fingers, first bass, four-string chords, hand."""
    return with_section(piece, index, lambda section: replace(section, own=own))


def change_thumb(piece: Piece, section: int, change: Callable[[ThumbPlan], ThumbPlan]) -> Piece:
    """The thumb changed for the section if it has one of its own, else for the whole piece."""
    plan = change(standing_rules(piece, section).thumb)
    own = piece.sections[section].own
    if own.thumb is not None:
        return set_section_rules(piece, section, replace(own, thumb=plan))
    return replace(piece, rules=replace(piece.rules, thumb=plan))


def chord_rules(piece: Piece, symbol: str, shape: Shape) -> OwnRules:
    """What a chord (by symbol and shape) has of its own."""
    found = override_of(piece, RulesOverride(symbol, shape, OwnRules()))
    return found.own if isinstance(found, RulesOverride) else OwnRules()


def set_chord_rules(piece: Piece, symbol: str, shape: Shape, own: OwnRules) -> Piece:
    """What a chord has of its own; nothing gives it the section's rules again."""
    if own:
        return add_override(piece, RulesOverride(symbol, shape, own))
    found = override_of(piece, RulesOverride(symbol, shape, own))
    return piece if found is None else remove_override(piece, found)
