"""Fonts, built-in patterns and demo pieces that ship with Gingham."""
