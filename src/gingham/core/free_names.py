"""Names that nothing else of the kind has yet."""

from __future__ import annotations

from collections.abc import Collection

from gingham.core.numbers import is_whole


def free_name(wanted: str, taken: Collection[str]) -> str:
    """`wanted` if it is free, else the next with a number: after `Verse` `Verse 2`, then `Verse 3`."""
    head, _, tail = wanted.rpartition(" ")
    stem, number = (head, int(tail)) if head and is_whole(tail) else (wanted, 1)
    name = wanted
    while name in taken:
        number += 1
        name = f"{stem} {number}"
    return name


def told_apart(written: str, taken: Collection[str]) -> str:
    """`written` if it is free, else with a number behind it: what somebody else wrote stays whole."""
    name, number = written, 2
    while name in taken:
        name, number = f"{written} {number}", number + 1
    return name
