"""Texts in the player's language: all that the window says and prints goes through `tr`, `tr_c` or `tr_n`.

Catalogues are gettext's, `locale/LANGUAGE/LC_MESSAGES/gingham.mo`, in this package or, for who translates, in
the folder `locale` beside the player's own data. Until `speak` is called everything is English: so files and
the command line are the same everywhere. Tables of words are filled when their module is loaded, so `speak`
comes before.
"""

from __future__ import annotations

import os
import string
from collections.abc import Mapping
from pathlib import Path
from typing import TYPE_CHECKING

from gingham.folders import Folders

DOMAIN = "gingham"
_NAMED = ("LANGUAGE", "LC_ALL", "LC_MESSAGES", "LANG")
"""Where the desktop says which language it speaks: the first that is set counts, as in gettext."""
_OURS = ("", "C", "POSIX", "en")


if TYPE_CHECKING:
    from gettext import NullTranslations

_spoken: NullTranslations | None = None
_name = ""


def tr(text: str, /, **values: object) -> str:
    """The text in the player's language, with `values` in the places that it names."""
    if _spoken is None:
        return text.format(**values) if values else text
    return _filled(_spoken.gettext(text), text, values)


def tr_c(context: str, text: str, /) -> str:
    """A short text that means different things in different places; `context` tells the translator which."""
    return _spoken.pgettext(context, text) if _spoken is not None else text


def tr_n(one: str, many: str, number: int, /, **values: object) -> str:
    """The text for so many; `{n}` in it is the number."""
    usual = one if number == 1 else many
    if _spoken is None:
        return usual.format(n=number, **values)
    return _filled(_spoken.ngettext(one, many, number), usual, {"n": number, **values})


def figure(value: float, form: str) -> str:
    """A number as the language writes it: `figure(2.5, ".1f")` is `2.5`, or `2,5`."""
    text = format(value, form)
    return text if _spoken is None else text.replace(".", tr_c("decimal point", "."))


class _Filling(string.Formatter):
    """Fields filled as `str.format` does, numbers with the language's decimal point."""

    def format_field(self, value: object, format_spec: str) -> str:
        """One value by its form."""
        return figure(value, format_spec) if isinstance(value, float) else format(value, format_spec)


def _filled(said: str, usual: str, values: Mapping[str, object]) -> str:
    """The values in their places; a translation with a wrong field gives way to English."""
    if not values:
        return said
    try:
        return _Filling().vformat(said, (), values)
    except (KeyError, IndexError, ValueError):
        return usual.format(**values)


def wanted(environment: Mapping[str, str]) -> list[str]:
    """The languages that the desktop asks for, best first; empty where English comes first."""
    value = next((environment[name] for name in _NAMED if environment.get(name)), "")
    languages = [each for each in value.split(":") if each]
    first = languages[0].split(".")[0] if languages else ""
    return [] if first in _OURS or first in ("en_US", "en_GB") else languages


def speak(environment: Mapping[str, str] | None = None) -> None:
    """Take the language that the desktop asks for, if there is a catalogue of it; else English stays."""
    global _spoken, _name
    languages = wanted(os.environ if environment is None else environment)
    if not languages:
        return
    import gettext  # who reads English does not wait for it
    from struct import error as short

    for folder in (Folders.of_this_user().data / "locale", Path(__file__).parent / "locale"):
        path = gettext.find(DOMAIN, folder, languages)
        if path is None:
            continue
        try:
            with Path(path).open("rb") as file:
                _spoken, _name = gettext.GNUTranslations(file), Path(path).parts[-3]
        except (OSError, ValueError, short):  # a damaged one: the next, or English
            continue
        return


def spoken() -> str:
    """The language that is spoken, such as `de`; empty for English."""
    return _name
