"""Running programs told apart: a number is used again, the moment of a start is not."""

from __future__ import annotations

import os
from functools import lru_cache
from pathlib import Path

from gingham.core.numbers import is_whole


def program_of(pid: int) -> str:
    """A running program as `number:start`; empty for one that has ended."""
    try:
        stat = Path(f"/proc/{pid}/stat").read_text()
    except OSError:
        return ""
    return f"{pid}:{stat.rpartition(')')[2].split()[19]}"


@lru_cache(maxsize=1)
def _own(pid: int) -> str:
    return program_of(pid)


def program_id() -> str:
    """This program as `number:start`."""
    return _own(os.getpid())


def is_running(program: str) -> bool:
    """Whether the program that calls itself so is still there."""
    pid = program.partition(":")[0]
    return is_whole(pid) and program != "" and program_of(int(pid)) == program
