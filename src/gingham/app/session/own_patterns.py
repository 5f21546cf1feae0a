"""The player's own patterns wherever built-in ones are offered; read again when their folder has changed."""

from __future__ import annotations

from contextlib import suppress
from pathlib import Path

from gingham.core.music.meter import Meter
from gingham.core.patterns.library import for_meter, names_in
from gingham.core.patterns.library import named as built_in
from gingham.core.patterns.pattern import Pattern
from gingham.folders import Folders


def pattern_folder() -> Path:
    """Where the player's own patterns are kept: under the XDG data folder."""
    return Folders.of_this_user().data / "patterns"


class OwnPatterns:
    """Own patterns by name. One that is called as a built-in one stands before it."""

    def __init__(self, folder: Path) -> None:
        self._folder = folder
        self._seen = -1
        self._known: dict[str, Pattern] = {}

    def _read(self) -> dict[str, Pattern]:
        now = 0
        with suppress(OSError):
            now = self._folder.stat().st_mtime_ns
        if now != self._seen:
            self._seen = now
            self._known = {}
            if now:
                from gingham.core.formats.pattern_file import shelf  # many players have none

                self._known = {name: pattern for name, pattern, _ in shelf(self._folder).patterns}
        return self._known

    def all_own(self) -> dict[str, Pattern]:
        """All of the player's own."""
        return self._read()

    def in_meter(self, meter: Meter) -> dict[str, Pattern]:
        """The player's own patterns in one meter."""
        return {name: pattern for name, pattern in self.all_own().items() if pattern.meter == meter}

    def names(self, meter: Meter) -> list[str]:
        """Own ones by name, then the built-in ones of the meter in their order."""
        own = sorted(self.in_meter(meter))
        return [*own, *(name for name in names_in(meter) if name not in own)]

    def all_in(self, meter: Meter) -> dict[str, Pattern]:
        """Every pattern of a meter by its name."""
        return dict(for_meter(meter)) | self.in_meter(meter)

    def named(self, name: str, meter: Meter) -> Pattern:
        """The own pattern of a name, else the built-in one; KeyError if there is none."""
        own = self.in_meter(meter).get(name)
        return own if own is not None else built_in(name)
