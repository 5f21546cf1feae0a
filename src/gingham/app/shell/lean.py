"""Keeps a start from loading and reading what nobody asked for (docs/decisions.md has the counts).

Each of these stands aside where the other package is not as it was when this was written.
"""

from __future__ import annotations

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


def leave_sources_unread() -> None:
    """Keep PySide from reading the source of every module that is loaded from now on.

    It looks for the word PySide6 there, to know whether names in snake case might be wanted. Every module is
    now taken for one that says the word and wants none, as ours are.
    """
    import PySide6.QtCore  # noqa: F401  # brings the hook

    feature = sys.modules.get("shibokensupport.feature")
    if hasattr(feature, "_mod_uses_pyside"):
        setattr(feature, "_mod_uses_pyside", lambda _module: True)  # noqa: B010  # a module without types
