"""How the window looks and names things now: one object, one signal, for whatever is painted."""

from __future__ import annotations

from PySide6.QtCore import QObject, Qt, Signal
from PySide6.QtGui import QGuiApplication
from PySide6.QtWidgets import QApplication

from gingham.app.look import theme as themes
from gingham.app.look.settings import Settings
from gingham.app.look.theme import Theme
from gingham.core.values import replace
from gingham.words.naming import NAMINGS, USUAL, Naming


class Appearance(QObject):
    """The theme (with the names of fingers, strings and counts) and the side of the hand."""

    changed = Signal()

    def __init__(self, settings: Settings, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._settings = settings
        names = (settings.choice(f"names-{what}", NAMINGS[what], getattr(USUAL, what)) for what in NAMINGS)
        flipped = settings.flag("lowest-on-top", False)
        self.theme = replace(themes.chosen(settings), naming=Naming(*names), lowest_on_top=flipped)
        # A method of ours, not a lambda: what the application holds must not hold a window that has gone.
        QGuiApplication.styleHints().colorSchemeChanged.connect(self._scheme_changed)
        self.mirrored = settings.flag("mirror", False)
        """Whether shapes are drawn as a left-handed player sees them."""

    @property
    def night(self) -> bool:
        """Whether the dark theme is worn."""
        return self.theme.name == themes.NIGHT.name

    @property
    def follows_desktop(self) -> bool:
        """Whether light or dark is the desktop's affair: until the player has chosen."""
        return not self._settings.text("theme", "")

    def follow_desktop(self) -> None:
        """Light or dark as the desktop is now, unless the player has chosen."""
        wanted = themes.chosen(self._settings)
        if self.follows_desktop and wanted.name != self.theme.name:
            self._dress(wanted)

    def _scheme_changed(self, _scheme: Qt.ColorScheme) -> None:
        self.follow_desktop()

    def as_desktop(self) -> None:
        """Forget the player's choice of cloth."""
        self._settings.set_text("theme", "")
        self.follow_desktop()

    def set_night(self, on: bool) -> None:
        """The dark theme, or the light one, from now on."""
        chosen = themes.NIGHT if on else themes.LINEN
        if chosen.name == self.theme.name:
            return
        self._settings.set_text("theme", chosen.name)
        self._dress(chosen)

    def _dress(self, chosen: Theme) -> None:
        app = QApplication.instance()
        if isinstance(app, QApplication):
            themes.apply(chosen, app)
        self._use(replace(chosen, naming=self.theme.naming, lowest_on_top=self.theme.lowest_on_top))

    def set_naming(self, naming: Naming) -> None:
        """Other names, everywhere and from now on."""
        for what in NAMINGS:
            self._settings.set_text(f"names-{what}", getattr(naming, what))
        self._use(replace(self.theme, naming=naming))

    def set_mirrored(self, on: bool) -> None:
        """Shapes as a left-handed player sees them, or as a right-handed one does."""
        if on != self.mirrored:
            self.mirrored = on
            self._settings.set_flag("mirror", on)
            self.changed.emit()

    def set_lowest_on_top(self, on: bool) -> None:
        """Strings over beats with the lowest on top, as one looks down on them, or with string 1."""
        if on != self.theme.lowest_on_top:
            self._settings.set_flag("lowest-on-top", on)
            self._use(replace(self.theme, lowest_on_top=on))

    def _use(self, theme: Theme) -> None:
        self.theme = theme
        self.changed.emit()


class Dressed:
    """What a widget inherits to wear the window's appearance, and to be painted anew with it."""

    appearance: Appearance

    def wear(self, appearance: Appearance) -> None:
        """Look like this from now on."""
        self.appearance = appearance
        appearance.changed.connect(self.restyle)

    @property
    def theme(self) -> Theme:
        """The colours and names of now."""
        return self.appearance.theme

    def restyle(self) -> None:
        """The appearance has changed."""
        self.update()  # type: ignore[attr-defined]  # every widget has it
