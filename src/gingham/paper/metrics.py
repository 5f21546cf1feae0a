"""How wide a text is: the advances of the sheet's font, looked up once, so that layout needs no Qt."""

from __future__ import annotations

from collections.abc import Mapping

import msgspec

_SMALLEST, _NEAR = 0.6, 0.01
_UNKNOWN = 0.62  # the width of a sign that was not measured, as a share of the size


class Metrics(msgspec.Struct, frozen=True):
    """Advances at size 1 for the regular and the bold face."""

    regular: Mapping[str, float]
    bold: Mapping[str, float]

    def width(self, text: str, size: float, *, bold: bool = False) -> float:
        """The width of a line of text in points."""
        table = self.bold if bold else self.regular
        return size * sum(table.get(sign, _UNKNOWN) for sign in text)

    def cut(self, text: str, size: float, room: float, *, bold: bool = False) -> str:
        """`text`, cut with an ellipsis where it is wider than `room`."""
        if self.width(text, size, bold=bold) <= room:
            return text
        while text and self.width(text + "…", size, bold=bold) > room:
            text = text[:-1]
        return text.rstrip() + "…"

    def fitted(self, text: str, size: float, room: float, *, bold: bool = False) -> tuple[str, float]:
        """`text` and the size, smaller where it would be wider than `room`; cut only below 60 %."""
        wide = self.width(text, size, bold=bold)
        least = _SMALLEST * size
        fit = size if wide <= room else max(least, size * room / wide)
        return self.cut(text, fit, room + _NEAR, bold=bold), fit

    def wrapped(self, text: str, size: float, room: float) -> list[str]:
        """`text` broken into lines at blanks."""
        lines: list[str] = []
        now = ""
        for word in text.split():
            tried = f"{now} {word}".strip()
            if now and self.width(tried, size) > room:
                lines.append(now)
                now = word
            else:
                now = tried
        return [*lines, now] if now else lines
