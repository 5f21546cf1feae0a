"""Pitches, intervals, chord symbols, keys, meters and counts."""
