"""The pieces that were opened last, remembered between runs."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path

from PySide6.QtWidgets import QMenu

from gingham.app.files.paths import exists, path_of, path_text
from gingham.app.look.settings import Settings
from gingham.language import tr
from gingham.words.errors import printable

MOST = 10
_NAME = "recent-files"


class Recent:
    """The list, and the menu that shows it."""

    def __init__(self, settings: Settings, open_file: Callable[[Path], object]) -> None:
        self._settings, self._open = settings, open_file

    def paths(self) -> list[Path]:
        """The files that are still there, the last one first."""
        lines = self._settings.text(_NAME, "").split("\n")
        return [path for line in lines if (path := path_of(line)) is not None and exists(path)]

    def add(self, path: Path) -> None:
        """Put a file in front."""
        whole = path.absolute()
        others = [each for each in self.paths() if each != whole]
        self._settings.set_text(_NAME, "\n".join(map(path_text, [whole, *others][:MOST])))

    def fill(self, menu: QMenu) -> None:
        """Show the list as it is now; keys 1 to 9 choose."""
        menu.clear()
        for number, path in enumerate(self.paths(), 1):
            name = printable(path.name).replace("\n", " ").replace("&", "&&")
            action = menu.addAction(f"&{number}  {name}" if number < 10 else name)
            action.setToolTip(printable(path))
            action.setStatusTip(printable(path))
            action.triggered.connect(partial(self._chosen, path))
        if menu.isEmpty():
            menu.addAction(tr("Nothing has been opened or saved yet")).setEnabled(False)

    def _chosen(self, path: Path, _on: bool = False) -> None:
        self._open(path)
