"""PySide's own modules, compiled once for all starts.

PySide carries fourteen modules as source text inside its library and compiles them anew whenever it is
loaded (a twelfth of a start). What they were compiled to is kept in the cache folder, as Python keeps what it
compiles beside its modules. One of them, which writes PySide's stub files, stays empty: a window needs none,
and the expressions at its top take another twelfth.
"""

from __future__ import annotations

import builtins
import importlib.util
import marshal
import os
import sys
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from pathlib import Path
from types import CodeType
from typing import Any

_FORMAT = importlib.util.MAGIC_NUMBER.hex()
"""What Python's compiled code looks like changes with this number."""
_SEAL = 8
"""Bytes of checksum before the kept code: damaged code must not be run."""

_NOT_RUN = "shibokensupport/signature/lib/pyi_generator.py"

Kept = dict[tuple[str, bytes], CodeType]
"""Code by the name and the hash of its source."""


@contextmanager
def compiled_once(folder: Path) -> Iterator[None]:
    """While this lasts, text that is compiled is taken from `folder`, or kept there for the next start."""
    path = folder / f"compiled-{sys.implementation.cache_tag}-{_FORMAT}.bin"
    kept, used, compile_now = _read(path), Kept(), builtins.compile

    def taken_or_compiled(source: Any, filename: Any, mode: Any, *rest: Any, **named: Any) -> Any:
        if mode != "exec" or rest or named or not isinstance(source, bytes) or not isinstance(filename, str):
            return compile_now(source, filename, mode, *rest, **named)
        key = (filename, importlib.util.source_hash(source))
        used[key] = (
            kept[key] if key in kept else compile_now(source if filename != _NOT_RUN else "", filename, mode)
        )
        return used[key]

    builtins.compile = taken_or_compiled
    try:
        yield
    finally:
        builtins.compile = compile_now
    if used.keys() - kept.keys():
        _write(path, used)


def _read(path: Path) -> Kept:
    """What was kept; nothing where there is none, someone else wrote it, or it is not as it was written."""
    try:
        raw = path.read_bytes() if path.stat().st_uid == os.getuid() else b""
    except OSError:
        return {}
    code = raw[_SEAL:]
    if not code or raw[:_SEAL] != importlib.util.source_hash(code):
        return {}
    kept: Kept = marshal.loads(code)  # the player's own cache, sealed against damage
    return kept


def _write(path: Path, used: Kept) -> None:
    """Keep what this start used; where nothing can be written the next start compiles again."""
    from gingham.core.errors import FileError  # at a first start only
    from gingham.core.formats.atomic import write_atomically

    code = marshal.dumps(used)
    with suppress(OSError, FileError):
        path.parent.mkdir(parents=True, exist_ok=True)
        write_atomically(path, importlib.util.source_hash(code) + code)
