"""Where Gingham starts: the command line, or the window when no command is given."""

from __future__ import annotations

import sys

from gingham.arguments import COMMANDS


def main() -> int:
    """Run the command line or the window; the exit status."""
    arguments = sys.argv[1:]
    if arguments and (arguments[0] in COMMANDS or arguments[0] in ("-h", "--help")):
        from gingham.cli.main import main as run_command

        return run_command(arguments)
    from gingham.app.start import start  # Qt is loaded only when a window is wanted

    return start(arguments)


if __name__ == "__main__":
    sys.exit(main())
