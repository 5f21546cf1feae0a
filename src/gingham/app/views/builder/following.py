"""The Build view while something plays: buttons, the playhead in the pictures, what is looped."""

from __future__ import annotations

from PySide6.QtCore import QObject

from gingham.app.sound.lining import Loop
from gingham.app.sound.playing import Playing
from gingham.app.sound.transport import OF_THE_PIECE, Owner
from gingham.app.views.builder.controller import BuildController
from gingham.app.widgets.geometry import Column
from gingham.language import tr


class Following(QObject):
    """Joins the Build view with what is played."""

    def __init__(self, build: BuildController, playing: Playing, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._build, self._playing = build, playing
        view = build.view
        view.bar.play_wanted.connect(playing.toggle)
        view.bar.tempo_chosen.connect(playing.choose_tempo)
        view.bar.layer_chosen.connect(playing.set_muted)
        for canvas in (view.result, view.pattern):
            canvas.play_wanted.connect(playing.toggle)
        playing.layer_changed.connect(view.bar.show_layer)
        playing.loop_changed.connect(view.result.set_loop)
        playing.said.connect(view.bar.show_status)
        playing.transport.silenced.connect(view.bar.show_silence)
        playing.counted_in.connect(view.bar.count.show_count_in)
        playing.moved.connect(build.show_playhead)
        playing.transport.moved.connect(self._moved)
        playing.state_changed.connect(self._state)
        playing.say_loop()

    def _state(self, playing: bool) -> None:
        self._build.view.bar.show_playing(playing)
        if not playing:
            self._build.hide_playhead()
            self._build.mapping.hide_playhead()

    def _moved(self, owner: Owner, section: int, bar: int, inside: float) -> None:
        if owner in OF_THE_PIECE:
            self._build.mapping.show_playhead(section, bar, inside)

    def loop_places(self) -> None:
        """Loop the chosen places of the pattern where they lie."""
        canvas, build = self._build.view.pattern, self._build
        chosen = [place for place in map(build.place, canvas.chosen()) if place is not None]
        result = build.shown.result
        if not chosen or result is None or not result.bars:
            return
        begin = result.time_of(chosen[0].bar, chosen[0].at)
        after = build.place(canvas.chosen()[-1] + 1)
        end = result.time_of(after.bar, after.at) if after is not None else result.length()
        self._playing.set_stretch(Loop("places", float(begin), float(end), _places_words(chosen)))

    def solo(self) -> None:
        """The finger under the pattern's cursor alone, or all again."""
        self._playing.solo(self._build.view.pattern.finger)


def _places_words(chosen: list[Column]) -> str:
    first, last = chosen[0], chosen[-1]
    if first is last:
        return tr("place {syllable} of bar {bar}", syllable=first.syllable, bar=first.bar)
    return tr(
        "{first} to {last}, bar {bar}",
        first=first.syllable,
        last=last.syllable,
        bar=first.bar,
    )
