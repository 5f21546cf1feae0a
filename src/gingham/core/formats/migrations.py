"""Older piece files as the present version has them: one step for each version, on plain records."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from gingham.core.pieces.form import stage_id

Plain = dict[str, Any]


def _from_1(plain: Plain) -> Plain:
    """Version 1 had no forms; a bar mark in its words was a plain sign, now it says where the bars are."""
    sections = plain.get("sections")
    for section in sections if isinstance(sections, list) else ():
        words = section.get("words") if isinstance(section, dict) else None
        if isinstance(words, list):
            section["words"] = [w.replace("|", "/") if isinstance(w, str) else w for w in words]
    return plain


def _from_2(plain: Plain) -> Plain:
    """Version 2 marked stages as done without saying of which section; they were made in the first one."""
    sections, done = plain.get("sections"), plain.get("done")
    first = sections[0] if isinstance(sections, list) and sections else None
    name = first.get("name") if isinstance(first, dict) else None
    if isinstance(done, list) and isinstance(name, str):
        plain["done"] = [stage_id(name, d) if isinstance(d, str) else d for d in done]
    return plain


def _from_3(plain: Plain) -> Plain:
    """Version 3 had no fretting fingers behind the shapes of its chord lines; what it had reads as it is."""
    return plain


def _from_4(plain: Plain) -> Plain:
    """Version 4 gave chords a thumb of their own only; bare strings were read on the first chord."""
    overrides = plain.get("overrides")
    for override in overrides if isinstance(overrides, list) else ():
        if isinstance(override, dict) and override.get("kind") == "thumb":
            override["kind"] = "rules"
            override["thumb"] = override.pop("plan", None)
    return plain


def _from_5(plain: Plain) -> Plain:
    """Version 5 marked stages as done without saying what they asked for: they show as done before."""
    return plain


def _from_6(plain: Plain) -> Plain:
    """Version 6 did not say what the hand leans on, nor held or accented single chords; it reads as it is."""
    return plain


_STEPS: dict[int, Callable[[Plain], Plain]] = {
    1: _from_1,
    2: _from_2,
    3: _from_3,
    4: _from_4,
    5: _from_5,
    6: _from_6,
}


def migrated(plain: Any, version: int) -> Any:
    """`plain` (freshly decoded, it is changed in place) as the present version has it."""
    if not isinstance(plain, dict):
        return plain
    while version in _STEPS:
        plain = _STEPS[version](plain)
        version += 1
    plain["version"] = version
    return plain
