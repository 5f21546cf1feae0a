"""Keeps a start from loading and reading what nobody asked for (docs/decisions.md has the counts).

Each of these stands aside where the other package is not as it was when this was written.
"""

from __future__ import annotations

import builtins
import sys

_BACKPORT = "typing_extensions"


def load_msgspec() -> None:
    """Load msgspec with Python's own types; it would take a package that adds nothing to them since 3.11."""
    if {_BACKPORT, "msgspec"} & set(sys.modules):
        return
    sys.modules[_BACKPORT] = None  # type: ignore[assignment]  # to Python: there is none
    try:
        import msgspec  # noqa: F401
    finally:
        del sys.modules[_BACKPORT]


def load_qt() -> None:
    """Load PySide without its watch over imports.

    PySide looks at each import for a wish to have names in snake case, and reads the source of each module
    loaded from then on for the word PySide6. Nothing here has that wish: the import it put aside is put back.
    """
    import PySide6.QtCore  # noqa: F401

    kept = getattr(builtins, "__orig_import__", None)
    if kept is not None:
        builtins.__import__ = kept
