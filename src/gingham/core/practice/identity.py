"""By what the record knows a piece, whatever it is called and wherever it is."""

from __future__ import annotations

import os
from pathlib import Path


def new_identity() -> str:
    """For a piece that has no file yet."""
    return os.urandom(8).hex()


def identity_of_file(path: Path) -> str:
    """For a file that holds no identity: always the same one, until the piece is saved with it."""
    import hashlib  # loads OpenSSL: not before a file is open

    whole = os.path.abspath(path)  # noqa: PTH100  # resolve() stumbles over links in a circle
    return hashlib.sha256(whole.encode(errors="surrogateescape")).hexdigest()[:16]
