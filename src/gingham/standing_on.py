"""The system libraries that Qt needs for a window; where some are missing, one line names Debian packages.

Qt itself ends the program with a page of text, or without any, when one of them cannot be loaded.
"""

from __future__ import annotations

import ctypes
import os
from collections.abc import Callable

_ALWAYS = {
    "libEGL.so.1": "libegl1",
    "libGL.so.1": "libgl1",
    "libxkbcommon.so.0": "libxkbcommon0",
    "libdbus-1.so.3": "libdbus-1-3",
    "libfontconfig.so.1": "libfontconfig1",
    "libglib-2.0.so.0": "libglib2.0-0",
}
_ON_X = {
    "libxcb-cursor.so.0": "libxcb-cursor0",
    "libxcb-icccm.so.4": "libxcb-icccm4",
    "libxcb-image.so.0": "libxcb-image0",
    "libxcb-keysyms.so.1": "libxcb-keysyms1",
    "libxcb-randr.so.0": "libxcb-randr0",
    "libxcb-render-util.so.0": "libxcb-render-util0",
    "libxcb-shape.so.0": "libxcb-shape0",
    "libxcb-xkb.so.1": "libxcb-xkb1",
    "libxkbcommon-x11.so.0": "libxkbcommon-x11-0",
}
_WITHOUT_X = ("offscreen", "minimal", "wayland", "vnc", "eglfs", "linuxfb")


def wanted(platform: str) -> dict[str, str]:
    """Library and Debian package of all that a window needs on a Qt platform (empty: X11)."""
    return _ALWAYS if platform.startswith(_WITHOUT_X) else {**_ALWAYS, **_ON_X}


def missing(platform: str, load: Callable[[str], object] = ctypes.CDLL) -> list[str]:
    """The Debian packages of the libraries that cannot be loaded."""
    out = []
    for library, package in wanted(platform).items():
        try:
            load(library)
        except OSError:
            out.append(package)
    return out


def missing_line() -> str:
    """What to install, as one line; empty if all is there."""
    platform = os.environ.get("QT_QPA_PLATFORM", "")
    if not platform and os.environ.get("WAYLAND_DISPLAY") and not os.environ.get("DISPLAY"):
        platform = "wayland"
    packages = missing(platform)
    if not packages:
        return ""
    return f"gingham: system libraries are missing. Install them: sudo apt install {' '.join(packages)}"
