"""Texts in the player's language: all that the window says and prints goes through `tr`, `tr_c` or `tr_n`.

Catalogues are gettext's, `locale/LANGUAGE/LC_MESSAGES/gingham.mo`, in this package or, for who translates, in
the folder `locale` beside the player's own data. Until `speak` is called everything is English: so files and
the command line are the same everywhere. Tables of words are filled when their module is loaded, so `speak`
comes before.
"""

from __future__ import annotations

import os
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


def tr(text: str, /, **values: object) -> str:
    """The text in the player's language, with `values` in the places that it names."""
    said = _spoken.gettext(text) if _spoken is not None else text
    return said.format(**values) if values else said


def tr_c(context: str, text: str, /) -> str:
    """A short text that means different things in different places; `context` tells the translator which."""
    return _spoken.pgettext(context, text) if _spoken is not None else text


def tr_n(one: str, many: str, number: int, /, **values: object) -> str:
    """The text for so many; `{n}` in it is the number."""
    if _spoken is None:
        said = one if number == 1 else many
    else:
        said = _spoken.ngettext(one, many, number)
    return said.format(n=number, **values)


def wanted(environment: Mapping[str, str]) -> list[str]:
    """The languages that the desktop asks for, best first; empty where English comes first."""
    value = next((environment[name] for name in _NAMED if environment.get(name)), "")
    languages = [each for each in value.split(":") if each]
    first = languages[0].split(".")[0] if languages else ""
    return [] if first in _OURS or first in ("en_US", "en_GB") else languages


def speak(environment: Mapping[str, str] | None = None) -> None:
    """Take the language that the desktop asks for, if there is a catalogue of it; else English stays."""
    global _spoken
    languages = wanted(os.environ if environment is None else environment)
    if not languages:
        return
    import gettext  # who reads English does not wait for it

    for folder in (Folders.of_this_user().data / "locale", Path(__file__).parent / "locale"):
        try:
            _spoken = gettext.translation(DOMAIN, folder, languages)
        except (OSError, UnicodeDecodeError, ValueError):  # none, or a damaged one: English stays
            continue
        return
