"""Where Gingham starts: the command line, or the window when no command is given."""

from __future__ import annotations

import os
import sys

from gingham.arguments import COMMANDS


def main() -> int:
    """Run the command line or the window; the exit status."""
    arguments = sys.argv[1:]
    if arguments and (arguments[0] in COMMANDS or arguments[0] in ("-h", "--help")):
        return _run_command(arguments)
    from gingham.app.shell.start import start  # Qt is loaded only when a window is wanted

    return start(arguments)


def _run_command(arguments: list[str]) -> int:
    """A sub-command; whoever reads its output may stop reading whenever it likes."""
    from gingham.cli.main import main as run

    try:
        status = run(arguments)
        sys.stdout.flush()
    except BrokenPipeError:
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())  # where the last flush can go
        return 0
    return status


if __name__ == "__main__":
    sys.exit(main())
