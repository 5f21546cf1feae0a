"""How much of the machine Gingham takes for itself."""

from __future__ import annotations

import os


def leave_a_core() -> None:
    """Have NumPy's sums of products keep to their own thread, unless the player's system says otherwise.

    Spread over all cores, a note that is computed while music goes on leaves none for the window; and where
    another program has a core, threads that wait for each other make a take's answer several times slower.
    """
    os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")  # read once, when NumPy is loaded
