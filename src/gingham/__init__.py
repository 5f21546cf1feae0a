"""Gingham: picking patterns, chords and thumbs for guitar and ukulele."""
