"""`gingham desktop`: menu entry, icons and file type for this user, put in place or taken away."""

from __future__ import annotations

import argparse
import shutil
import subprocess
import sys
from contextlib import suppress
from pathlib import Path

import msgspec

from gingham.arguments import OneLineParser
from gingham.cli.command import Answer, Command
from gingham.core.errors import FileError
from gingham.core.formats.atomic import why_not, write_atomically
from gingham.data import FOLDER
from gingham.folders import home

APP_ID = "org.gingham.Gingham"
PLACES = {
    f"{APP_ID}.desktop": "applications",
    f"{APP_ID}.metainfo.xml": "metainfo",
    f"{APP_ID}.xml": "mime/packages",
    f"{APP_ID}.svg": "icons/hicolor/scalable/apps",
    f"{APP_ID}-symbolic.svg": "icons/hicolor/symbolic/apps",
    f"{APP_ID}.piece.svg": "icons/hicolor/scalable/mimetypes",
}
"""Each file of `data/desktop` and its folder under a data folder such as /usr/share."""
_AFTER = (
    ("update-mime-database", "mime"),
    ("update-desktop-database", "applications"),
    ("gtk-update-icon-cache", "icons/hicolor"),
)


class DesktopAnswer(msgspec.Struct):
    """`gingham desktop`: the files that were written, or taken away."""

    files: list[str]
    removed: bool


def _define(parser: OneLineParser) -> None:
    what = parser.add_mutually_exclusive_group()
    what.add_argument("--remove", action="store_true", help="take them away again")
    what.add_argument(
        "--into", type=Path, metavar="FOLDER", help="a package's share folder instead, for who packs Gingham"
    )


def _run(options: argparse.Namespace) -> Answer:
    if options.into is not None:
        written = [options.into / folder / name for name, folder in PLACES.items()]
        for path in written:
            _put(path, _ours(path))
        return DesktopAnswer([str(path) for path in written], False), "\n".join(map(str, written))
    base = home("data")
    files = [base / folder / name for name, folder in PLACES.items()]
    if options.remove:
        done = [path for path in files if path.exists()]
        for path in done:
            with suppress(OSError):
                path.unlink()
    else:
        done = files
        for path in files:
            _put(path, _started_here(path))
    _refresh(base)
    if options.remove:
        _clear(base)
    said = "\n".join(map(str, done)) or "Nothing of Gingham's is there."
    return DesktopAnswer([str(path) for path in done], options.remove), said


def _ours(path: Path) -> str:
    return (FOLDER / "desktop" / path.name).read_text(encoding="utf-8")


def _started_here(path: Path) -> str:
    """As `_ours`; the menu entry starts the program that is running now, wherever it is installed."""
    text = _ours(path)
    if path.suffix == ".desktop":
        program = str(Path(shutil.which("gingham") or sys.argv[0]).absolute())
        text = text.replace("Exec=gingham", f"Exec={_quoted(program)}")
        text = text.replace("TryExec=gingham", f"TryExec={program}")
    return text


def _put(path: Path, text: str) -> None:
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise FileError("file-write", path=str(path.parent), why=why_not(error)) from error
    write_atomically(path, text.encode())


def _quoted(program: str) -> str:
    """A program's path as a desktop entry has it: quoted where it is not plain."""
    if not set(program) & set(" \t\"'\\><~|&;$*?#()`"):
        return program
    inner = program.replace("\\", "\\\\").replace('"', '\\"').replace("`", "\\`").replace("$", "\\$")
    return f'"{inner}"'


def _refresh(base: Path) -> None:
    """Tell the desktop's own tools, where they are installed."""
    for tool, folder in _AFTER:
        where = base / folder
        program = shutil.which(tool)
        if program and where.is_dir():
            with suppress(OSError, subprocess.SubprocessError):
                extra = ["-q", "-t", "-f"] if tool.startswith("gtk") else []
                subprocess.run([program, *extra, str(where)], check=False, timeout=30, capture_output=True)


def _clear(base: Path) -> None:
    """What the desktop's tools have made where nothing but ours was, and folders that are empty now."""
    packages = base / "mime" / "packages"
    with suppress(OSError):
        if packages.is_dir() and not any(packages.iterdir()):
            shutil.rmtree(base / "mime")  # without packages all of it is made by update-mime-database
    with suppress(OSError):
        if not any((base / "applications").glob("*.desktop")):
            (base / "applications" / "mimeinfo.cache").unlink(missing_ok=True)
    for folder in sorted({Path(place) for place in PLACES.values()}, key=lambda each: -len(each.parts)):
        for each in (folder, *folder.parents):
            if each != Path():
                with suppress(OSError):
                    (base / each).rmdir()  # only an empty one


DESKTOP = Command(_define, _run)
