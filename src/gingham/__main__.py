"""Where Gingham starts: the command line, or the window when no command is given."""

from __future__ import annotations

import gc
import os
import sys

from gingham.arguments import COMMANDS
from gingham.cores import leave_a_core
from gingham.language import speak


def main() -> int:
    """Run the command line or the window; the exit status."""
    arguments = sys.argv[1:]
    if arguments[:1] == ["--version"]:
        from gingham import __version__

        print(f"Gingham {__version__}")
        return 0
    leave_a_core()
    if arguments and (arguments[0] in COMMANDS or arguments[0] in ("-h", "--help")):
        return _run_command(arguments)
    from gingham.standing_on import missing_line  # what the window stands on, before Qt is loaded

    missing = missing_line()
    if missing:
        print(missing, file=sys.stderr)
        return 3
    speak()  # before any table of words is loaded
    gc.disable()  # nothing of a start is rubbish; app/shell/sweeping.py collects once the window is there
    from gingham.app.shell import lean

    lean.load_msgspec()
    import gingham.app.shell.ahead  # noqa: F401  # before Qt
    from gingham.app.shell.compiled import compiled_once
    from gingham.folders import home

    with compiled_once(home("cache") / "gingham"):
        lean.load_qt()
    from gingham.app.shell.start import start  # Qt is loaded only when a window is wanted

    try:
        return start(arguments)
    except Exception as error:  # noqa: BLE001  # whatever it is, it has to be said
        from gingham.app.shell.failing import report_text, tell

        tell("Gingham could not start.", report_text(error))
        return 1


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
