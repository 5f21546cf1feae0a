"""Bad words on the command line: one line on standard error, exit 2, no traceback."""

from __future__ import annotations

import subprocess
import sys
from collections import Counter
from concurrent.futures import ThreadPoolExecutor
from itertools import product

NUMBERS = ("", "²", "٣", "1e9", "9" * 5_000, "-", "0x10", "1_000", "NaN", "7.5", "--", "\n")
LINES = (
    "", "|", "||", "| H |", "C", "| / |", "| % |", "| C{zzzzzz} |", "| C{x3201} |", "(1e9/4 C) | C |",
    "(1/0 C) | C |", "(٣/4 C) | C |", "| " + "C" * 5_000 + " |", "| C{99,99,99,99,99,99} |", "| C | | D |",
)  # fmt: skip
PATTERNS = (
    "", ":", "4/4 x2:", "4/4 x9: p", "²/4 x2: p", "4/4 x2: z", "4/4 x2: p@99", "4/4 x2: i/99", "x2: p",
    "4/4 x2: ; p", "4/4 x2: p |", "4/4 x" + "2," * 3_000 + ": p", "4/4 x2: d9-99", "4/4 x2: p\nwhen",
)  # fmt: skip
RULES = ("", "named:99", "named:", "named:0", "named:٣", "pairs", "named:" + "6," * 2_000 + "6")
FIT = ("fit", "--chords", "| C |", "--pattern", "4/4 x2: p i m i")


def cases() -> list[tuple[str, ...]]:
    """Every bad word where it can stand."""
    out: list[tuple[str, ...]] = [("spell", text) for text in ("", "H", "C" * 100, "Cx", "²", "C/", "C/H")]
    out += [("name", text) for text in ("", "zzzzzz", "xxxxxx", "1", "9" * 400, "٣٣٣٣٣٣")]
    out += [(*FIT, f"{option}={text}") for option, text in product(("--capo", "--tempo"), NUMBERS)]
    out += [(*FIT, f"--swing={text}") for text in (*NUMBERS, "1e-999999999", "1/0", "9/8")]
    out += [("figure", f"--strokes={text}") for text in NUMBERS]
    out += [("capo", "--chords", "| C |", f"--at={text}") for text in NUMBERS]
    out += [("fit", f"--chords={text}", "--pattern", "4/4 x2: p i") for text in LINES if text != "C"]
    out += [("fit", "--chords", "| C |", f"--pattern={text}") for text in PATTERNS]
    out += [
        (*FIT, f"{option}={text}") for option, text in product(("--thumb", "--fingers", "--first"), RULES)
    ]
    out += [(*FIT, f"--tuning={text}") for text in ("", "E", "E2 " * 40, "E2 A2 D3 G3 B3 E99", "٣")]
    out += [
        ("export", text, "out.mid") for text in ("nowhere", "/dev/zero", "/", "/proc/self/mem", "a" * 5_000)
    ]
    out += [("read", text) for text in ("nowhere.mid", "/dev/zero", "x.doc", "\udcff.mid")]
    out += [
        ("export", text, "out.tab") for text in ("nowhere.musicxml", "/", "/dev/null", "x", "\udcff.tab", "")
    ]
    out += [("spell", f"--{option}=x", "C") for option in ("tuning", "nothing", "capo")]
    out += [("nonsense",), ("--nonsense",), ("fit",), ("spell",), ("fit", "--chords")]
    return out


def fault_of(case: tuple[str, ...]) -> str:
    """What is wrong with how a case ends; empty if it is as it should be."""
    run = subprocess.run(
        [sys.executable, "-m", "gingham", *case], capture_output=True, text=True, errors="replace", timeout=60
    )
    lines = run.stderr.strip("\n").split("\n")
    if run.returncode == 2 and len(lines) == 1 and lines[0].startswith("gingham:") and not run.stdout:
        return ""
    return f"exit {run.returncode}, {len(lines)} lines: {run.stderr[-300:]}"


def main(most: int | None = None) -> Counter[str]:
    """Try them all, or the first ones; what went wrong."""
    out: Counter[str] = Counter()
    wanted = cases()[:most]
    with ThreadPoolExecutor(2) as pool:
        for case, fault in zip(wanted, pool.map(fault_of, wanted), strict=True):
            out["inputs"] += 1
            if fault:
                out["not one line with exit 2"] += 1
                print("  ", [word[:50] for word in case], fault)
    return out
