"""Gingham: picking patterns, chords and thumbs for guitar and ukulele."""

__version__ = "0.2.0"
"""The one place where the version stands: packages, the window and the man page read it here."""
