"""Every colour, size and short name of the screen in one table, for day and for night cloth."""

from __future__ import annotations

from string import Template

import msgspec
from PySide6.QtCore import Qt
from PySide6.QtGui import QColor, QFont, QFontDatabase, QGuiApplication, QPalette
from PySide6.QtWidgets import QApplication

from gingham.app.look.settings import Settings
from gingham.data import FOLDER
from gingham.paper.inks import FINGER_INKS
from gingham.words.naming import USUAL, Naming

FAMILY = "Andika"
STYLE = ("-style", "Fusion")
"""For the command line of QApplication: a call would have PySide make all enums of QStyle at every start."""


class Theme(msgspec.Struct, frozen=True):
    """Colours by what they mean. Text colours keep 4.5:1 against `ground`, `panel` and `field`."""

    name: str
    ground: str
    panel: str
    field: str
    edge: str
    ink: str
    quiet: str
    accent: str
    on_accent: str
    fault: str
    selected: str
    string: str
    light: str  # what lies behind the place that sounds now, where nothing else moves
    check: str  # the shade of a counted beat, laid over the panel
    check_thumb: str  # the shade of a thumb string
    fingers: tuple[tuple[str, str], ...]  # dye of each finger
    on_finger: str  # text in a finger's mark
    naming: Naming = USUAL  # how fingers, strings and counts are named
    lowest_on_top: bool = False  # strings over beats as one looks down on the instrument

    def finger(self, name: str) -> QColor:
        """The dye of a finger."""
        return QColor(dict(self.fingers).get(name, self.quiet))


LINEN = Theme(
    name="linen",
    ground="#F3EEE4",
    panel="#FBF8F1",
    field="#FFFFFF",
    edge="#D9CFBE",
    ink="#22201C",
    quiet="#655D50",
    accent="#2C4A7C",
    on_accent="#FFFFFF",
    fault="#A3271B",
    selected="#EBE2D2",
    string="#A7987F",
    light="#F3DFAE",
    check="#14000000",
    check_thumb="#0E2C4A7C",
    fingers=FINGER_INKS,
    on_finger="#FFFFFF",
)
NIGHT = Theme(
    name="night",
    ground="#1B1D22",
    panel="#24272D",
    field="#1F2227",
    edge="#3D424B",
    ink="#EFE9DC",
    quiet="#B4AC9C",
    accent="#9DB9EA",
    on_accent="#14171C",
    fault="#FF9C8C",
    selected="#333842",
    string="#7D7565",
    light="#57491F",
    check="#16FFFFFF",
    check_thumb="#1A9DB9EA",
    fingers=(("p", "#9DB9EA"), ("i", "#F2A093"), ("m", "#E2C05F"), ("a", "#7CCDB4"), ("c", "#D3A8D8")),
    on_finger="#14171C",
)
THEMES = {theme.name: theme for theme in (LINEN, NIGHT)}


class Sizes(msgspec.Struct, frozen=True):
    """Lengths in device-independent pixels."""

    gap: int = 8
    pad: int = 12
    radius: int = 6
    slot: float = 30.0
    mark_width: float = 27.0
    mark_height: float = 22.0
    row: float = 34.0
    lane: float = 27.0
    card_width: float = 202.0
    card_height: float = 100.0
    card_low: float = 66.0
    map_height: int = 56
    map_low: int = 42
    side: int = 284
    drawer: int = 290
    drawer_most: int = 380


SIZES = Sizes()


def chosen(settings: Settings) -> Theme:
    """The cloth that the player has chosen; until then the desktop's, linen where it has none."""
    return THEMES[settings.choice("theme", THEMES, of_desktop().name)]


def of_desktop() -> Theme:
    """Night where the desktop is dark."""
    dark = QGuiApplication.styleHints().colorScheme() == Qt.ColorScheme.Dark
    return NIGHT if dark else LINEN


def load_fonts() -> None:
    """Make the font that ships with Gingham known to Qt."""
    folder = FOLDER / "fonts"
    for name in ("Andika-Regular.ttf", "Andika-Bold.ttf"):
        QFontDatabase.addApplicationFontFromData((folder / name).read_bytes())


def font(size_px: float, *, bold: bool = False) -> QFont:
    """The application's font at a size in pixels."""
    out = QFont(FAMILY)
    out.setPixelSize(round(size_px))
    out.setBold(bold)
    return out


def apply(theme: Theme, app: QApplication) -> None:
    """Give the whole application the theme's palette, font and widget style."""
    colour(theme, app)
    style(theme, app)


def colour(theme: Theme, app: QApplication) -> None:
    """The palette and the font alone: what a window must have while it is built."""
    app.setFont(font(13))
    palette = QPalette()
    roles = QPalette.ColorRole
    for role, colour in (
        (roles.Window, theme.ground),
        (roles.WindowText, theme.ink),
        (roles.Base, theme.field),
        (roles.AlternateBase, theme.panel),
        (roles.Text, theme.ink),
        (roles.Button, theme.panel),
        (roles.ButtonText, theme.ink),
        (roles.ToolTipBase, theme.panel),
        (roles.ToolTipText, theme.ink),
        (roles.Highlight, theme.accent),
        (roles.HighlightedText, theme.on_accent),
        (roles.PlaceholderText, theme.quiet),
    ):
        palette.setColor(role, QColor(colour))
    for role in (roles.WindowText, roles.Text, roles.ButtonText):
        palette.setColor(QPalette.ColorGroup.Disabled, role, QColor(theme.quiet))
    app.setPalette(palette)


def style(theme: Theme, app: QApplication) -> None:
    """The widget style. Set before a window is built, it styles each widget anew that is given a parent."""
    app.setStyleSheet(_style_sheet(theme))


def _style_sheet(theme: Theme) -> str:
    text = (FOLDER / "style.qss").read_text(encoding="utf-8")
    tokens = {name: str(getattr(theme, name)) for name in theme.__struct_fields__}
    return Template(text).substitute(tokens, radius=SIZES.radius)
