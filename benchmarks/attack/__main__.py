"""The whole attack: `python -m benchmarks.attack [share]`; 1 is the campaign of docs/decisions-archive.md.

Ends with status 1 if anything went wrong.
"""

from __future__ import annotations

import os
import sys
from collections import Counter
from collections.abc import Callable

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from benchmarks.attack import disks, fuzz, kills, monkey, soak, words

HARMLESS = frozenset(
    {"kills", "inputs", "events", "edits", "minutes", "disks", "starts", "most threads", "growth MB"}
)
KILLS, INPUTS, EVENTS, MINUTES = 400, 6_000, 20_000, 15.0
_MOST_GROWTH_MB = 20


def main(share: float) -> int:
    """Run it; 1 if anything went wrong."""
    parts: dict[str, Callable[[], Counter[str]]] = {
        "kills": lambda: kills.main(round(KILLS * share)),
        "hostile files": lambda: fuzz.main(round(INPUTS * share)),
        "bad words": lambda: words.main(max(20, round(200 * share))),
        "disks and starts": disks.main,
        "monkey": lambda: monkey.main(round(EVENTS * share)),
        "soak": lambda: soak.main(MINUTES * share),
    }
    bad = 0
    wanted = sys.argv[2:] or list(parts)
    for name in wanted:
        print(f"{name}:", flush=True)
        out = parts[name]()
        wrong = sum(count for what, count in out.items() if what not in HARMLESS)
        wrong += out["growth MB"] > _MOST_GROWTH_MB
        bad += wrong
        print(f"  {dict(out)}: {'all well' if not wrong else f'{wrong} WRONG'}", flush=True)
    return 1 if bad else 0


if __name__ == "__main__":
    sys.exit(main(float(sys.argv[1]) if len(sys.argv) > 1 else 1.0))
