"""The names of the sub-commands, apart from their code, so that the window starts without it."""

COMMANDS = ("spell", "shapes", "fit", "export")
