"""What was put right in a piece file, in words."""

from __future__ import annotations

from html import escape

from gingham.core.reasons import Reason
from gingham.language import tr
from gingham.words.counts import counted

_SHOWN = 12
_REPAIRS = {
    "repair-name": tr("There were two {what}s called “{old}”; the second is now “{new}”."),
    "repair-times": tr("“{section}” was to be played {given} times; it is now {now}."),
    "repair-bars": tr("In “{section}” {patterns} stood twice, or in bars that cannot be; left out."),
    "repair-strings": tr("{exceptions} on strings that are not there; left out."),
    "repair-exceptions": tr("{exceptions} for fingers or bars that cannot be; left out."),
    "repair-twice": tr("{exceptions} stood there twice; kept once."),
    "repair-interrupted": tr("A save was interrupted; the whole text that lay beside the file was read."),
    "asleep-bars": tr("In “{section}” {patterns} for bars beyond its end; kept for when it is longer."),
}


def repair_text(repair: Reason) -> str:
    """One change as a sentence."""
    values: dict[str, object] = dict(repair.values)
    number = values.get("count", 0)
    assert isinstance(number, int)
    values["patterns"] = counted(number, "pattern")
    values["exceptions"] = counted(number, "exception")
    return _REPAIRS[repair.code].format(**values)


def repairs_text(repairs: tuple[Reason, ...]) -> str:
    """All changes, a line each, the first few where there are many; rich text."""
    lines = [escape(repair_text(repair), quote=False) for repair in repairs[:_SHOWN]]
    if len(repairs) > _SHOWN:
        lines.append(tr("… and {repairs} more.", repairs=len(repairs) - _SHOWN))
    return "<br>".join((*lines, tr("Your file is as it was until you save.")))


def known_repair_codes() -> frozenset[str]:
    """Every repair that has words."""
    return frozenset(_REPAIRS)
