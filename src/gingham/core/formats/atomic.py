"""Writing a file all or nothing: a new file beside it, then one rename."""

from __future__ import annotations

import os
import secrets
from pathlib import Path

from gingham.core.errors import FileError


def write_atomically(path: Path, data: bytes) -> None:
    """Write `data` to `path`; whatever was there stays until the new bytes are safely on disk.

    Raises
    ------
    FileError
        `file-write`, with the system's reason; nothing half-written is left behind.
    """
    beside = path.with_name(f".{path.name}.{secrets.token_hex(4)}.part")
    try:
        descriptor = os.open(beside, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o666)
        with os.fdopen(descriptor, "wb") as file:
            file.write(data)
            file.flush()
            os.fsync(file.fileno())
        beside.replace(path)
    except OSError as error:
        beside.unlink(missing_ok=True)
        raise FileError("file-write", path=str(path), why=error.strerror or str(error)) from error
