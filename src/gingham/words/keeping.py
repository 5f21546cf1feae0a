"""What was found again after an end that nobody wished, in words."""

from __future__ import annotations

from gingham.words.errors import printable

NOTHING_SENT = "Gingham sends nothing anywhere; the log is a file of yours."


def found_text(newer: list[str], older: list[str], broken: tuple[str, ...]) -> str:
    """Titles that were found, titles older than their files, files that cannot be read; empty for none."""
    parts = []
    if newer:
        parts.append(f"Found again, not saved when Gingham ended: {_quoted(newer)}. Save or close.")
    if older:
        parts.append(
            f"An unsaved copy of {_quoted(older)} is older than its file: it is open beside it, without a file."
        )
    if broken:
        names = ", ".join(map(printable, broken))
        parts.append(f"Unsaved work that cannot be read was set aside: {names}.")
    return " ".join(parts)


def log_mended(aside: str, rescued: int) -> str:
    """A damaged record has been put aside, and what could be read of it is in the new one."""
    return (
        f"The record of practising was damaged. It was put aside as {printable(aside)}; "
        f"{rescued} entries could be read and are in the new one."
    )


def _quoted(titles: list[str]) -> str:
    return ", ".join(f"“{title}”" for title in titles)
