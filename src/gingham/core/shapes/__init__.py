"""Chord shapes: reading, searching, fretting fingers, effort."""
