"""What was found again after an end that nobody wished, in words."""

from __future__ import annotations

from gingham.language import tr
from gingham.words.errors import printable

NOTHING_SENT = tr("Gingham sends nothing anywhere; the log is a file of yours.")


def found_text(newer: list[str], older: list[str], broken: tuple[str, ...]) -> str:
    """Titles that were found, titles older than their files, files that cannot be read; empty for none."""
    parts = []
    if newer:
        parts.append(
            tr("Found again, not saved when Gingham ended: {quoted}. Save or close.", quoted=_quoted(newer))
        )
    if older:
        parts.append(
            tr(
                "An unsaved copy of {quoted} is older than its file: it is open beside it, without a file.",
                quoted=_quoted(older),
            )
        )
    if broken:
        names = ", ".join(map(printable, broken))
        parts.append(tr("Unsaved work that cannot be read was set aside: {names}.", names=names))
    return " ".join(parts)


def log_mended(aside: str, rescued: int) -> str:
    """A damaged record has been put aside, and what could be read of it is in the new one."""
    return tr(
        "The record of practising was damaged. It was put aside as {printable}; {rescued} "
        "entries could be read and are in the new one.",
        printable=printable(aside),
        rescued=rescued,
    )


def _quoted(titles: list[str]) -> str:
    return ", ".join(f"“{title}”" for title in titles)
