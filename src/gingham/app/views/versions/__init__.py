"""Versions of the piece, in the drawer."""
