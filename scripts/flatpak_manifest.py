"""Writes packaging/org.gingham.Gingham.json from the lock: what a Flatpak is built from, without a network.

Every wheel stands there with its address and its hash, and only with a hash that the lock has. PyPI is asked
for the addresses; nothing is installed. Run it after `scripts/lock`.
"""

from __future__ import annotations

import json
import re
import sys
import urllib.request
from pathlib import Path
from typing import Any

ROOT = Path(__file__).parents[1]
APP_ID = "org.gingham.Gingham"
MANIFEST = ROOT / "packaging" / f"{APP_ID}.json"
RUNTIME, PYTHON = "24.08", "3.12"  # this runtime's own Python
MACHINES = ("x86_64", "aarch64")
_PORTAUDIO = {
    "type": "archive",
    "url": "http://deb.debian.org/debian/pool/main/p/portaudio19/portaudio19_19.6.0.orig.tar.gz",
    "sha256": "f5a21d7dcd6ee84397446fa1fa1a0675bb2e8a4a6dceb4305a8404698d8d1513",
}


def locked(text: str) -> dict[str, tuple[str, set[str]]]:
    """Of each package of a lock that this Python takes: its version and hashes."""
    out: dict[str, tuple[str, set[str]]] = {}
    for entry in re.split(r"\n(?=[a-z0-9])", text):
        head = re.match(r"([a-z0-9.-]+)==(\S+)(?: ; (.*?))?(?: \\)?\n", entry)
        if head is None or (head[3] or "").endswith(f"< '{PYTHON}'"):
            continue
        out[head[1]] = (head[2], set(re.findall(r"sha256:([0-9a-f]{64})", entry)))
    return out


def suits(name: str, machine: str) -> bool:
    """Whether a wheel of that file name runs on this Python and machine."""
    tags = re.fullmatch(r".+-([^-]+)-([^-]+)-([^-]+)\.whl", name)
    if tags is None:
        return False
    python, abi, platform = tags.groups()
    number = PYTHON.replace(".", "")
    stable = abi == "abi3" and re.fullmatch(r"cp3\d+", python) and int(python[3:]) <= int(number[1:])
    fits = (
        bool(stable)
        or (python == f"cp{number}" and abi == f"cp{number}")
        or (abi == "none" and "py3" in python.split("."))
    )
    return fits and (platform == "any" or ("manylinux" in platform and platform.endswith(machine)))


def sources(package: str, hashes: set[str]) -> list[dict[str, Any]]:
    """The wheels of one package: one for any machine, or one for each."""
    asked = urllib.request.Request(
        f"https://pypi.org/simple/{package}/", headers={"Accept": "application/vnd.pypi.simple.v1+json"}
    )
    with urllib.request.urlopen(asked, timeout=60) as answer:
        files = json.load(answer)["files"]
    known = [each for each in files if each["hashes"].get("sha256") in hashes]
    out: list[dict[str, Any]] = []
    for machine in MACHINES:
        fit = [each for each in known if suits(each["filename"], machine)]
        if not fit:
            raise SystemExit(f"{package}: the lock has no wheel for {machine}")
        best = max(
            fit, key=lambda each: (f"cp{PYTHON.replace('.', '')}" in each["filename"], each["filename"])
        )
        source = {"type": "file", "url": best["url"], "sha256": best["hashes"]["sha256"]}
        if not best["filename"].endswith("-any.whl"):
            source["only-arches"] = [machine]
        if source not in out:
            out.append(source)
    return out


def manifest(wheels: list[dict[str, Any]]) -> dict[str, Any]:
    """The whole manifest; files and print go through the desktop's portals, so no folder is opened to it."""
    pip = "pip3 install --no-index --no-build-isolation --prefix=${FLATPAK_DEST}"
    return {
        "id": APP_ID,
        "runtime": "org.freedesktop.Platform",
        "runtime-version": RUNTIME,
        "sdk": "org.freedesktop.Sdk",
        "command": "gingham",
        "finish-args": [
            "--share=ipc",
            "--socket=fallback-x11",
            "--socket=wayland",
            "--device=dri",
            "--socket=pulseaudio",
            "--env=QT_QPA_PLATFORMTHEME=xdgdesktopportal",
        ],
        "modules": [
            {"name": "portaudio", "config-opts": ["--disable-static"], "sources": [_PORTAUDIO]},
            {
                "name": "libraries",
                "buildsystem": "simple",
                "build-commands": [f"{pip} --no-deps *.whl"],
                "sources": wheels,
            },
            {
                "name": "gingham",
                "buildsystem": "simple",
                "build-commands": [
                    f"{pip} --no-deps .",
                    "gingham desktop --into ${FLATPAK_DEST}/share",
                    "install -Dm644 docs/man/gingham.1 ${FLATPAK_DEST}/share/man/man1/gingham.1",
                ],
                "sources": [{"type": "dir", "path": ".."}],
            },
        ],
    }


def main() -> int:
    """Ask, and write."""
    packages = locked((ROOT / "requirements" / "run.txt").read_text(encoding="utf-8"))
    wheels = [source for name, (_, hashes) in packages.items() for source in sources(name, hashes)]
    MANIFEST.parent.mkdir(exist_ok=True)
    MANIFEST.write_text(json.dumps(manifest(wheels), indent=2) + "\n", encoding="utf-8")
    print(f"{MANIFEST.relative_to(ROOT)}: {len(packages)} packages, {len(wheels)} wheels")
    return 0


if __name__ == "__main__":
    sys.exit(main())
