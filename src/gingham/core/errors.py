"""Typed errors for what a player can get wrong: the fields that a message needs, not the message.

The words are made from `code` and `values` in `gingham.words.errors`, so that the window and the
command line say the same.
"""

from __future__ import annotations


class GinghamError(Exception):
    """Base of every fault that Gingham knows and can explain."""

    def __init__(self, code: str, **values: object) -> None:
        self.code = code
        self.values = values
        super().__init__(code, values)

    def __str__(self) -> str:
        shown = ", ".join(f"{key}={value!r}" for key, value in self.values.items())
        return f"{self.code}({shown})"


class InputError(GinghamError, ValueError):
    """Something typed that cannot be read.

    `start` and `end` (character offsets, end exclusive) mark the faulty token in the text as typed,
    once the error has passed through a parser that knows the whole line.
    """

    def __init__(self, code: str, *, start: int = 0, end: int | None = None, **values: object) -> None:
        super().__init__(code, **values)
        self.start = start
        self.end = end

    def shifted(self, offset: int, length: int) -> InputError:
        """The same error placed in a longer text: `offset` is where the inner text of `length` begins."""
        end = self.end if self.end is not None else length
        return type(self)(self.code, start=offset + self.start, end=offset + end, **self.values)

    def marked(self, start: int, end: int) -> InputError:
        """The same error on other characters."""
        return type(self)(self.code, start=start, end=end, **self.values)


class NumberError(InputError):
    """A number that cannot be read, or one outside its bounds."""


class PitchError(InputError):
    """A note or pitch name that cannot be read."""


class ChordSymbolError(InputError):
    """A chord symbol that cannot be read."""


class MeterError(InputError):
    """A meter, or a slot count that does not suit it."""


class TuningError(InputError):
    """A tuning or an instrument that cannot be."""


class ShapeError(InputError):
    """A chord shape that cannot be read or does not suit the instrument."""


class ChordLineError(InputError):
    """A chord line with a wrong token or bar."""


class PatternError(InputError):
    """A pattern line with a wrong token."""


class RuleError(InputError):
    """An unknown thumb plan, finger policy, alignment, level or rule for the first bass."""


class WordsError(InputError):
    """Words or a tune that cannot lie on their bars; `line` in its values is the line of the words."""


class EditError(GinghamError, ValueError):
    """An edit that the current piece does not allow."""


class FileError(GinghamError):
    """A file that cannot be read or written: damaged, newer than this program, or no permission."""


class TakeError(GinghamError):
    """A recording that cannot be judged: other music, another tuning."""
