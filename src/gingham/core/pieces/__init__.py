"""Pieces: chord line, sections, overrides and pure edits."""
