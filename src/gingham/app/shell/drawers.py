"""The parts of Build's drawer: the one table of tabs, each made when it is first opened."""

from __future__ import annotations

from typing import TYPE_CHECKING, cast

from PySide6.QtWidgets import QWidget

from gingham.app.shell.frame import Frame
from gingham.app.widgets.drawer import DrawerPart
from gingham.language import tr
from gingham.words.actions import ACTION_WORDS, with_keys

if TYPE_CHECKING:
    from gingham.app.shell.pages import Pages
    from gingham.app.views.capo.panel import CapoPanel
    from gingham.app.views.change.panel import ChangePanel
    from gingham.app.views.hand.panel import HandPanel
    from gingham.app.views.shapes.panel import ShapesPanel
    from gingham.app.views.tuning.panel import TuningPanel

WHY, SETUP, HAND, VERSIONS = "why", "setup", "hand", "versions"


class Drawers:
    """Fills the drawer. What a tab needs is imported when it is opened: the window starts without it."""

    def __init__(self, window: Frame, pages: Pages) -> None:
        self._window, self._pages = window, pages
        self._drawer = drawer = window.view.drawer
        for name, title, action, make in (
            ("shapes", tr("Shapes"), "inspect", self._shapes),
            ("change", tr("Change"), "overview", self._change),
            ("capo", tr("Capo"), "moves", self._capo),
            ("tune", tr("Tune"), "tune", self._tuning),
            (SETUP, tr("Set-up"), "setup", self._setup),
            (HAND, tr("Hand"), "plucking", self._hand),
            (VERSIONS, tr("Versions"), "versions", self._versions),
        ):
            tip = with_keys(ACTION_WORDS[action].tip, action)
            drawer.add(DrawerPart(name, title, tip, make, standing=name not in (SETUP, HAND, VERSIONS)))
        drawer.add(window.build.mapping.part)
        drawer.left.connect(window.view.result.setFocus)

    # What has been opened.

    @property
    def shapes(self) -> ShapesPanel | None:
        """The shapes, once they have been opened."""
        return cast("ShapesPanel | None", self._drawer.part("shapes"))

    @property
    def change(self) -> ChangePanel | None:
        """The changes, once they have been opened."""
        return cast("ChangePanel | None", self._drawer.part("change"))

    @property
    def capo(self) -> CapoPanel | None:
        """Capo and key, once they have been opened."""
        return cast("CapoPanel | None", self._drawer.part("capo"))

    @property
    def tuning(self) -> TuningPanel | None:
        """The strings' tones, once they have been opened."""
        return cast("TuningPanel | None", self._drawer.part("tune"))

    @property
    def hand(self) -> HandPanel | None:
        """The plucking hand, once it has been opened."""
        return cast("HandPanel | None", self._drawer.part(HAND))

    def open(self, name: str) -> None:
        """Bring a part in sight, the keyboard in it."""
        self._pages.go_build()
        part = self._drawer.open(name)
        part.setFocus()

    def toggle(self, name: str) -> None:
        """Open a part; if it is open and has the keyboard, go back to the picture and the reasons."""
        now = self._window.focusWidget()
        inside = now is not None and self._drawer.isAncestorOf(now)
        if self._drawer.current == name and inside:
            self._drawer.open(WHY)
            self._window.view.result.setFocus()
        else:
            self.open(name)

    def show_near(self) -> None:
        """Easier chords for the one under the cursor."""
        self.open("shapes")
        if self.shapes is not None:
            self.shapes.go_near()

    # Making.

    def _shapes(self) -> QWidget:
        from gingham.app.views.shapes.panel import ShapesPanel

        window = self._window
        return ShapesPanel(window.appearance, window.shown, window.transport)

    def _change(self) -> QWidget:
        from gingham.app.views.change.panel import ChangePanel

        return ChangePanel(self._window.appearance, self._window.shown)

    def _capo(self) -> QWidget:
        from gingham.app.views.capo.panel import CapoPanel

        return CapoPanel(self._window.appearance, self._window.shown, self._window.settings)

    def _tuning(self) -> QWidget:
        from gingham.app.views.tuning.panel import TuningPanel

        window = self._window
        return TuningPanel(
            window.appearance,
            window.shown,
            window.transport,
            window.settings,
            window.logbook.add,
            lambda: [document.piece for document in window.documents],
        )

    def _hand(self) -> QWidget:
        from gingham.app.views.hand.panel import HandPanel

        return HandPanel(self._window.shown)

    def _versions(self) -> QWidget:
        from gingham.app.views.versions.panel import VersionsPanel

        return VersionsPanel(self._window.shown, self._window.open_piece)

    def _setup(self) -> QWidget:
        panel, settings = self._window.view.setup, self._window.settings
        panel.way.clicked.connect(self._window.actions_by_id["way"].trigger)
        panel.learned = lambda: settings.text("learned-hand", "")
        for name, field in panel.care.items():
            field.setValue(self._window.care.setting(name))
            field.valueChanged.connect(lambda value, name=name: settings.set_text(name, str(value)))
        return panel

    def end(self) -> None:
        """End every thread that one of them has."""
        if self.capo is not None:
            self.capo.job.close()
        if self.tuning is not None:
            self.tuning.end()
        if self.change is not None:
            self.change.helper.close()
        if self.hand is not None:
            self.hand.helper.close()
