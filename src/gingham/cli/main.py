"""The command line: one sub-command a run, and only its own modules are loaded."""

from __future__ import annotations

import sys
from importlib import import_module

import msgspec

from gingham.arguments import COMMANDS, OneLineParser
from gingham.cli.command import Command, OptionError
from gingham.core.errors import GinghamError
from gingham.words.errors import printable, say


def main(arguments: list[str]) -> int:
    """Run one sub-command; the exit status (2 on bad input, with one line on standard error)."""
    if arguments[0] not in COMMANDS:
        return _help(arguments)
    module, name, text = COMMANDS[arguments[0]]
    command: Command = getattr(import_module(f"gingham.cli.{module}"), name)
    parser = OneLineParser(prog=f"gingham {arguments[0]}", description=text)
    parser.add_argument("--json", action="store_true", help="the answer as JSON (schemas in docs/cli.md)")
    command.define(parser)
    options = parser.read(arguments[1:])
    try:
        answer, plain = command.run(options)
    except OptionError as fault:
        print(f"gingham: {fault.line()}", file=sys.stderr)
        return 2
    except GinghamError as fault:
        print(f"gingham: {say(fault)}", file=sys.stderr)
        return 2
    print(msgspec.json.encode(answer).decode() if options.json else printable(plain))
    return 0


def _help(arguments: list[str]) -> int:
    """`gingham --help`: every command in a line, and how the window is opened."""
    parser = OneLineParser(prog="gingham", description="Picking patterns, chords and thumbs.")
    commands = parser.add_subparsers(metavar="COMMAND")
    for name, (_, _, text) in COMMANDS.items():
        commands.add_parser(name, help=text)
    parser.add_argument("pieces", nargs="*", help="without a command: the window, with these pieces")
    parser.add_argument("--demo", action="store_true", help="the window with the demo pieces")
    parser.add_argument("--new", action="store_true", help="the window with a new piece")
    parser.add_argument("--practise", action="store_true", help="the window on its Practise page")
    parser.add_argument("--new-window", action="store_true", help="another window beside one that is open")
    parser.add_argument("--picture", metavar="PNG", help="save a picture of the window and end")
    parser.add_argument("--version", action="store_true", help="the version, and end")
    parser.read(arguments)
    return 0
