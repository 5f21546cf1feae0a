"""How large everything is: the desktop's text size, or what the player has chosen.

Qt takes the scale when it starts, so a new one holds from the next start on.
"""

from __future__ import annotations

import os

from gingham.app.look.settings import Settings

STEPS = (0.8, 0.9, 1.0, 1.1, 1.25, 1.5, 1.75, 2.0)
_NAME, _SCALE, _SET = "zoom", "QT_SCALE_FACTOR", "GINGHAM_SCALED"
_USUAL_DPI = 96.0
_FELT = 0.15  # less is what a display says of itself, not what somebody has chosen


def chosen(settings: Settings) -> float | None:
    """The player's zoom; None follows the desktop."""
    try:
        value = float(settings.text(_NAME, ""))
    except ValueError:
        return None
    return min(max(STEPS[0], value), STEPS[-1])


def choose(settings: Settings, zoom: float | None) -> None:
    """Keep a zoom for the next start; None for the desktop's."""
    settings.set_text(_NAME, "" if zoom is None else f"{zoom:g}")


def stepped(now: float, by: int) -> float:
    """The next larger or smaller step."""
    nearest = min(range(len(STEPS)), key=lambda index: abs(STEPS[index] - now))
    return STEPS[min(max(0, nearest + by), len(STEPS) - 1)]


def prepare(settings: Settings) -> None:
    """Tell Qt the player's zoom. Before the application is made; a scale from outside is left alone."""
    zoom = chosen(settings)
    if zoom is not None and (_SCALE not in os.environ or _SET in os.environ):
        os.environ[_SCALE], os.environ[_SET] = f"{zoom:g}", "1"


def now() -> float:
    """The zoom that holds."""
    try:
        return float(os.environ.get(_SCALE, "1"))
    except ValueError:
        return 1.0


def of_desktop(settings: Settings, dots_per_inch: float) -> float | None:
    """The scale that the desktop's text size asks for and Qt has not been told yet; None if all is well."""
    share = round(dots_per_inch / _USUAL_DPI, 2)
    asked = chosen(settings) is None and _SCALE not in os.environ
    return share if asked and abs(share - 1.0) >= _FELT else None


def restart_with(scale: float) -> None:
    """What a fresh start has to find in its surroundings to be scaled so."""
    os.environ[_SCALE], os.environ[_SET] = f"{scale:g}", "1"
