"""What a page is made of: plain marks in points (1/72 inch), drawn alike on screen, paper and in files.

No Qt here: pages can be laid out in any thread and tested without a picture. `ink` is a name of `inks.INKS`.
"""

from __future__ import annotations

import msgspec

from gingham.core.values import replace


class Text(msgspec.Struct, frozen=True):
    """A line of text; `x`, `y` is the left end of its baseline, or its middle or right end by `align`."""

    x: float
    y: float
    text: str
    size: float
    bold: bool = False
    align: str = "left"
    ink: str = "ink"

    def moved(self, x: float, y: float) -> Text:
        """The same further right and down."""
        return replace(self, x=self.x + x, y=self.y + y)


class Line(msgspec.Struct, frozen=True):
    """A straight line."""

    x1: float
    y1: float
    x2: float
    y2: float
    width: float = 0.6
    ink: str = "ink"

    def moved(self, x: float, y: float) -> Line:
        """The same further right and down."""
        return replace(self, x1=self.x1 + x, y1=self.y1 + y, x2=self.x2 + x, y2=self.y2 + y)


class Box(msgspec.Struct, frozen=True):
    """A filled or outlined rectangle with rounded corners; an empty ink leaves it out."""

    x: float
    y: float
    width: float
    height: float
    fill: str = ""
    edge: str = ""
    radius: float = 0.0

    def moved(self, x: float, y: float) -> Box:
        """The same further right and down."""
        return replace(self, x=self.x + x, y=self.y + y)


class Ring(msgspec.Struct, frozen=True):
    """A circle, filled or hollow."""

    x: float
    y: float
    radius: float
    fill: str = ""
    edge: str = ""
    width: float = 0.8

    def moved(self, x: float, y: float) -> Ring:
        """The same further right and down."""
        return replace(self, x=self.x + x, y=self.y + y)


class Ribbon(msgspec.Struct, frozen=True):
    """A broad soft line through points: the thumb's way over its strings."""

    points: tuple[tuple[float, float], ...]
    width: float
    ink: str

    def moved(self, x: float, y: float) -> Ribbon:
        """The same further right and down."""
        return replace(self, points=tuple((px + x, py + y) for px, py in self.points))


Op = Text | Line | Box | Ring | Ribbon


class Block(msgspec.Struct, frozen=True):
    """Marks that stay together on a page, from its own left and top; `joined` keeps it with the next one."""

    height: float
    ops: tuple[Op, ...]
    joined: bool = False


class Page(msgspec.Struct, frozen=True):
    """A page with everything on it."""

    width: float
    height: float
    ops: tuple[Op, ...]
