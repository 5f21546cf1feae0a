"""Command-line arguments with one-line faults, for the window's start and the sub-commands alike."""

from __future__ import annotations

import argparse
from typing import NoReturn

COMMANDS = {
    "spell": ("spell", "SPELL", "the tones of a chord symbol"),
    "shapes": ("shapes", "SHAPES", "playable shapes of a chord symbol, easiest first"),
    "name": ("shapes", "NAME", "plausible symbols of a shape, best first"),
    "capo": ("capo", "CAPO", "both names under a capo, or the easiest capo"),
    "fit": ("fitting", "FIT", "a pattern fitted to a chord line"),
    "changes": ("fitting", "CHANGES", "what each finger must do at every chord change"),
    "finger": ("bench", "FINGER", "fingers for a line of strings, and how fast it can go"),
    "say": ("saying", "SAY", "a pattern in words, and the ways to sit it"),
    "figure": ("bench", "FIGURE", "the ways to sit a figure of some strokes on the beats"),
    "export": ("exchange", "EXPORT", "a piece file to a sheet, MusicXML, MIDI, tablature, table or sound"),
    "listen": ("listening", "LISTEN", "a recording held against what should have been played"),
    "simulate": ("listening", "SIMULATE", "a take by the simulated player, with chosen faults"),
    "practise": ("practice", "PRACTISE", "the stages of a piece, and a session planned for some minutes"),
    "log": ("practice", "LOG", "the record of practising"),
    "desktop": ("desktop", "DESKTOP", "menu entry, icons and file type for this user, or away with them"),
    "read": ("exchange", "READ", "the patterns of a part in MusicXML, MIDI or tablature"),
}
"""Each sub-command: its module in `cli`, its name there, and what it is for; apart from their code."""


class OneLineParser(argparse.ArgumentParser):
    """argparse prints its usage before an error; here a fault is one line."""

    def read(self, arguments: list[str]) -> argparse.Namespace:
        """The options; `--option=--`, which argparse takes for nothing at all, is a fault too."""
        options = self.parse_args(arguments)
        for name, value in vars(options).items():
            nothing = value == [] and self.get_default(name) != []
            if name != "pieces" and (nothing or (isinstance(value, list) and [] in value)):
                self.error(f"argument --{name.replace('_', '-')}: expected one argument")
        return options

    def error(self, message: str) -> NoReturn:
        """End with one line on standard error and status 2."""
        self.exit(2, f"gingham: {message}\n")
