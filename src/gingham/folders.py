"""Where Gingham keeps what: the XDG folders."""

from __future__ import annotations

import os
from pathlib import Path

import msgspec

_KINDS = {
    "config": ("XDG_CONFIG_HOME", (".config",)),
    "data": ("XDG_DATA_HOME", (".local", "share")),
    "state": ("XDG_STATE_HOME", (".local", "state")),
    "cache": ("XDG_CACHE_HOME", (".cache",)),
}


def home(kind: str) -> Path:
    """The user's folder for `config`, `data`, `state` or `cache`, of all programs, as the XDG rules say."""
    name, usual = _KINDS[kind]
    given = os.environ.get(name, "")
    return Path(given) if os.path.isabs(given) else Path.home().joinpath(*usual)  # noqa: PTH117  # a text, not a path


class Folders(msgspec.Struct, frozen=True):
    """`config` for settings, `data` for the player's own things, `state` for the log, `runtime` to meet."""

    config: Path
    data: Path
    state: Path
    runtime: Path

    @classmethod
    def of_this_user(cls) -> Folders:
        """As the environment names them; a relative path there counts as none, as the XDG rules say."""
        state = home("state") / "gingham"
        runtime = os.environ.get("XDG_RUNTIME_DIR", "")
        return cls(
            home("config") / "gingham",
            home("data") / "gingham",
            state,
            Path(runtime) / "gingham" if os.path.isabs(runtime) else state,  # noqa: PTH117
        )

    @property
    def unsaved(self) -> Path:
        """Copies of unsaved work."""
        return self.data / "unsaved"

    @property
    def rescued(self) -> Path:
        """Copies made when Gingham itself went wrong."""
        return self.data / "rescued"
