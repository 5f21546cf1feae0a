"""Values are frozen `msgspec.Struct`s, and this is the one way to have one with other fields.

mypy checks nothing in `msgspec.structs.replace`. It does check `dataclasses.replace`, for structs too, and so
that is what it sees here: a wrong name or type of a field is an error (a test plants both).

The core's values are not tracked by Python's collector of cycles (`gc=False`): frozen, they can hold none.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from dataclasses import replace
else:
    from msgspec.structs import replace

__all__ = ["replace"]
