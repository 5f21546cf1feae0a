"""Options of a command, each read where it was typed: a fault says in which one, and where in it."""

from __future__ import annotations

import argparse
from collections.abc import Callable
from typing import TypeVar

import msgspec

from gingham.arguments import OneLineParser
from gingham.core.errors import InputError
from gingham.words.errors import printable, say

T = TypeVar("T")
Answer = tuple[msgspec.Struct, str]
"""A record for `--json`, and the same for people."""
_QUOTED = 60


class OptionError(Exception):
    """A fault in one option: which one, and the error with its place."""

    def __init__(self, option: str, text: str, error: InputError) -> None:
        super().__init__(option)
        self.option, self.text, self.error = option, text, error

    def line(self) -> str:
        """The fault in one line."""
        error, part = self.error, self.text[self.error.start : self.error.end]
        short = part if len(part) <= _QUOTED else f"{part[:_QUOTED]}…"
        place = f" at {error.start + 1}, “{printable(short)}”" if error.end else ""
        return f"{self.option}{place}: {say(error)}".replace("\n", " ")


class Command(msgspec.Struct, frozen=True):
    """A sub-command: how its options are defined, and what answers them."""

    define: Callable[[OneLineParser], None]
    run: Callable[[argparse.Namespace], Answer]


def read(option: str, text: str, reader: Callable[[str], T]) -> T:
    """`reader(text)`, its fault named after the option it was typed in."""
    try:
        return reader(text)
    except InputError as error:
        raise OptionError(option, text, error) from error


def table(rows: list[list[str]], head: list[str]) -> str:
    """Columns as wide as their widest cell."""
    widths = [max(len(row[i]) for row in [head, *rows]) for i in range(len(head))]
    lines = [
        "  ".join(cell.ljust(width) for cell, width in zip(row, widths, strict=True)) for row in [head, *rows]
    ]
    return "\n".join(line.rstrip() for line in lines)
