"""Paths as texts that survive: a path is bytes, and may hold line breaks or bytes that are no text."""

from __future__ import annotations

import os
from pathlib import Path

_PLAIN = "/ !'()*+,:;=@&$~"


def exists(path: Path) -> bool:
    """Whether something is there; false also for what may not be looked at or cannot be a path."""
    return os.path.exists(path)  # noqa: PTH110  # Path.exists raises for some of these


def path_or_url(text: str) -> Path:
    """The path of an argument: a plain one, or a `file://` address as desktops hand it over."""
    if not text.startswith("file:"):
        return Path(text)
    plain = text.removeprefix("file:")
    if plain.startswith("//"):
        plain = "/" + plain.removeprefix("//").partition("/")[2]  # the host is this machine, named or not
    found = path_of(plain)
    return found if found is not None else Path(text)


def path_text(path: Path) -> str:
    """A path in plain letters, the rest as %xx."""
    from urllib.parse import quote_from_bytes  # not before a file is open

    return quote_from_bytes(os.fsencode(path), safe=_PLAIN)


def path_of(text: str) -> Path | None:
    """The path of a text; None if there is none, or none that can be."""
    if not text:
        return None
    from urllib.parse import unquote_to_bytes

    raw = unquote_to_bytes(text)
    return Path(os.fsdecode(raw)) if b"\0" not in raw else None
