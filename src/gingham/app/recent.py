"""The pieces that were opened last, remembered between runs."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path

from PySide6.QtWidgets import QMenu

from gingham.app.settings import Settings

MOST = 10
_NAME = "recent"


class Recent:
    """The list, and the menu that shows it."""

    def __init__(self, settings: Settings, open_file: Callable[[Path], object]) -> None:
        self._settings, self._open = settings, open_file

    def paths(self) -> list[Path]:
        """The files that are still there, the last one first."""
        lines = self._settings.text(_NAME, "").split("\n")
        return [path for line in lines if line and (path := Path(line)).exists()]

    def add(self, path: Path) -> None:
        """Put a file in front."""
        whole = path.absolute()
        others = [each for each in self.paths() if each != whole]
        self._settings.set_text(_NAME, "\n".join(map(str, [whole, *others][:MOST])))

    def fill(self, menu: QMenu) -> None:
        """Show the list as it is now; keys 1 to 9 choose."""
        menu.clear()
        for number, path in enumerate(self.paths(), 1):
            action = menu.addAction(f"&{number}  {path.name}" if number < 10 else path.name)
            action.setToolTip(str(path))
            action.setStatusTip(str(path))
            action.triggered.connect(partial(self._chosen, path))
        if menu.isEmpty():
            menu.addAction("Nothing has been opened or saved yet").setEnabled(False)

    def _chosen(self, path: Path, _on: bool = False) -> None:
        self._open(path)
