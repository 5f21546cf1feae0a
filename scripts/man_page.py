"""Writes the man page from the parsers themselves: every command, every option."""

from __future__ import annotations

import argparse
from importlib import import_module
from pathlib import Path

from gingham import __version__
from gingham.arguments import COMMANDS, OneLineParser
from gingham.cli.command import Command

PAGE = Path(__file__).parents[1] / "docs" / "man" / "gingham.1"
_HEAD = f""".\\" Made by scripts/man_page.py from the program's own options.
.TH GINGHAM 1 "" "Gingham {__version__}" "User Commands"
.SH NAME
gingham \\- picking patterns for guitar and ukulele
.SH SYNOPSIS
.B gingham
[\\fB\\-\\-new\\fR] [\\fB\\-\\-practise\\fR] [\\fB\\-\\-demo\\fR] [\\fB\\-\\-new\\-window\\fR]
[\\fIPIECE\\fR ...]
.br
.B gingham
\\fICOMMAND\\fR [\\fIOPTION\\fR ...]
.br
.B gingham
\\fB\\-\\-version\\fR | \\fB\\-\\-help\\fR
.SH DESCRIPTION
Without a command the window opens, with the pieces that are named (paths or file:// addresses); a window
that is open already takes them. \\fB\\-\\-new\\fR begins a new piece, \\fB\\-\\-practise\\fR shows the
Practise page, \\fB\\-\\-demo\\fR opens the demo pieces,
\\fB\\-\\-picture\\fR \\fIPNG\\fR saves a picture of the window and ends.
.PP
Every command takes \\fB\\-\\-json\\fR. Bad input ends with status 2 and one line on standard error.
.SH COMMANDS
"""
_FOOT = """.SH FILES
.TP
.I ~/.config/gingham
Settings, and the ways of playing. (XDG_CONFIG_HOME)
.TP
.I ~/.local/share/gingham
The record of practising, takes, patterns of one's own, copies of unsaved work. (XDG_DATA_HOME)
.TP
.I ~/.local/state/gingham
The log, and where the window stood. (XDG_STATE_HOME)
.SH EXIT STATUS
0 if all went well, 1 if the program could not start, 2 on bad input, 3 if system libraries are missing.
"""


def page() -> str:
    """The whole page as roff."""
    return _HEAD + "".join(map(_command, COMMANDS)) + _FOOT


def _command(name: str) -> str:
    module, attribute, text = COMMANDS[name]
    command: Command = getattr(import_module(f"gingham.cli.{module}"), attribute)
    parser = OneLineParser(prog=f"gingham {name}", add_help=False)
    command.define(parser)
    usage = " ".join(parser.format_usage().removeprefix("usage: ").split())
    lines = [f".SS {name}", f"{_plain(text[:1].upper() + text[1:])}.", ".PP", f".I {_plain(usage)}"]
    for action in parser._actions:
        if action.help and action.help != argparse.SUPPRESS:
            names = ", ".join(action.option_strings) or action.metavar or action.dest
            lines += [".TP", f".B {_plain(str(names))}", f"{_plain(action.help)}."]
    return "\n".join(lines) + "\n"


def _plain(text: str) -> str:
    """Text that roff takes as it stands."""
    safe = text.replace("\\", "\\e").replace("-", "\\-")
    safe = "".join(sign if sign.isascii() else f"\\[u{ord(sign):04X}]" for sign in safe)
    return f"\\&{safe}" if safe[:1] in ".'" else safe


if __name__ == "__main__":
    PAGE.parent.mkdir(parents=True, exist_ok=True)
    PAGE.write_text(page(), encoding="utf-8")
