"""Command-line arguments with one-line faults, for the window's start and the sub-commands alike."""

from __future__ import annotations

import argparse
from typing import NoReturn

COMMANDS = ("spell", "shapes", "name", "capo", "fit", "changes", "export", "finger", "figure", "read")
"""The sub-commands' names, apart from their code, so that the window starts without it."""


class OneLineParser(argparse.ArgumentParser):
    """argparse prints its usage before an error; here a fault is one line."""

    def read(self, arguments: list[str]) -> argparse.Namespace:
        """The options; `--option=--`, which argparse takes for nothing at all, is a fault too."""
        options = self.parse_args(arguments)
        for name, value in vars(options).items():
            if value == [] and name != "pieces":
                self.error(f"argument --{name.replace('_', '-')}: expected one argument")
        return options

    def error(self, message: str) -> NoReturn:
        """End with one line on standard error and status 2."""
        self.exit(2, f"gingham: {message}\n")
