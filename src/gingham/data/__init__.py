"""Fonts, built-in patterns and demo pieces that ship with Gingham."""

from pathlib import Path

FOLDER = Path(__file__).parent
"""Where they lie. Gingham is installed as plain files; `importlib.resources` would cost 50 ms of start-up."""
