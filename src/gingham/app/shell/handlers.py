"""What each action does: the table of actions joined with the window's parts."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import TYPE_CHECKING

from gingham.app.shell.drawers import Drawers
from gingham.app.shell.filing import Files
from gingham.app.shell.frame import Frame
from gingham.app.shell.pages import Pages
from gingham.app.shell.places import PLACES
from gingham.app.widgets.speaking import announce
from gingham.core.music.meter import SLOT_COUNTS
from gingham.core.pieces.plans import PICKING_PLANS
from gingham.core.pieces.rules import FINGER_POLICIES, FingerPolicy, ThumbPlan
from gingham.core.values import replace
from gingham.language import tr
from gingham.words.naming import NAMINGS

if TYPE_CHECKING:
    from gingham.app.views.practice.controller import PracticeController
    from gingham.app.views.sheet.controller import SheetController


_TEMPO_STEP = 4
_Handlers = dict[str, Callable[[], object]]


def handlers(window: Frame, files: Files, pages: Pages, drawers: Drawers) -> _Handlers:
    """What each action does when it is triggered; on/off switches are connected by the window."""
    return {
        **_of_pieces(window, files), **_of_the_places(window, files, pages, drawers),
        **_of_the_view(window, pages), **_of_the_hand(window), **_of_playing(window, pages),
        **_of_the_pattern(window),
    }  # fmt: skip


def _of_pieces(window: Frame, files: Files) -> _Handlers:
    view, shown = window.view, window.shown

    def undo() -> None:
        stack = window.document.stack
        words = (
            tr("undone: {undotext}", undotext=stack.undoText()) if stack.canUndo() else tr("nothing to undo")
        )
        stack.undo()
        announce(window, words)

    def redo() -> None:
        stack = window.document.stack
        words = (
            tr("done again: {redotext}", redotext=stack.redoText())
            if stack.canRedo()
            else tr("nothing to do again")
        )
        stack.redo()
        announce(window, words)

    return {
        "new": window.new,
        "open": files.ask_open,
        "save": files.save,
        "save-as": files.save_as,
        "export": files.ask_export,
        "stop-export": files.exporter.stop,
        "read": files.ask_read,
        "reload": files.reload,
        "next-piece": lambda: view.pieces.setCurrentIndex(
            (view.pieces.currentIndex() + 1) % max(1, view.pieces.count())
        ),
        "quit": window.close,
        "undo": undo,
        "redo": redo,
        "all-rules": lambda: shown.edit(tr("All back to the rules"), replace(shown.piece, overrides=())),
        "add-section": window.add_section,
        "remove-section": window.remove_section,
        "log": window.open_log,
    }


def _of_the_places(window: Frame, files: Files, pages: Pages, drawers: Drawers) -> _Handlers:
    return {
        "build": pages.go_build,
        **{place.id: partial(pages.toggle, place.id) for place in PLACES if place.standing},
        "bench": pages.show_patterns,
        "cloth-desktop": window.appearance.as_desktop,
        "larger": partial(window.zoom, 1),
        "smaller": partial(window.zoom, -1),
        "usual-size": partial(window.zoom, 0),
        "standins": drawers.show_near,
        "inspect": partial(drawers.toggle, "shapes"),
        "overview": partial(drawers.toggle, "change"),
        "moves": partial(drawers.toggle, "capo"),
        "tune": partial(drawers.toggle, "tune"),
        "setup": partial(drawers.toggle, "setup"),
        "versions": partial(drawers.toggle, "versions"),
        "plucking": partial(drawers.toggle, "hand"),
        "save-sheet": lambda: _with_sheet(pages, lambda _sheet: files.save_sheet()),
        "print": lambda: _with_sheet(pages, lambda sheet: sheet.ask_print()),
        "chart": pages.show_chart,
        "way": partial(pages.toggle, "way"),
        "help": pages.show_help,
        "hand": pages.show_hands,
        "hurts": pages.stop_for_the_hand,
    }


def _with_sheet(pages: Pages, do: Callable[[SheetController], object]) -> None:
    """Show the sheet first: what is printed is what is seen."""
    pages.go("sheet")
    if pages.sheet is not None:
        do(pages.sheet)


def _of_the_view(window: Frame, pages: Pages) -> _Handlers:
    view, shown = window.view, window.shown

    def to(show: Callable[[], object]) -> Callable[[], object]:
        """Put the keyboard into a part of Build, from wherever it is."""

        def run() -> None:
            pages.go_build()
            show()

        return run

    return {
        "next-section": lambda: shown.select_section(shown.section + 1),
        "previous-section": lambda: shown.select_section(shown.section - 1),
        "go-chords": to(view.chords.setFocus),
        "go-cards": to(view.cards.setFocus),
        "go-strings": to(view.strings.setFocus),
        "go-result": to(view.result.setFocus),
        "go-pattern": to(view.pattern.setFocus),
        "go-words": to(view.bar.words.setFocus),
        "go-reasons": to(view.show_reasons),
        "next-chord": lambda: shown.step_span(1),
        "previous-chord": lambda: shown.step_span(-1),
        "chord-rule": window.chord_to_rule,
    }


def _of_the_hand(window: Frame) -> _Handlers:
    choices = window.build.choices
    thumb = {f"thumb-{k}": partial(choices.set_thumb, ThumbPlan(k)) for k in PICKING_PLANS}
    fingers = {f"fingers-{k}": partial(choices.set_fingers, FingerPolicy(k)) for k in FINGER_POLICIES[:-1]}
    return {
        **thumb,
        **fingers,
        "thumb-named": choices.name_thumb,
        "chord-thumb": window.view.chord_thumb.showPopup,
        "chord-walk": choices.toggle_chord_walk,
        "fingers-named": choices.name_fingers,
        "next-pattern": lambda: choices.step_pattern(1),
        "previous-pattern": lambda: choices.step_pattern(-1),
    }


def _of_playing(window: Frame, pages: Pages) -> _Handlers:
    """On Practise what plays, and how fast, is the stage's; elsewhere the piece's."""
    playing = window.playing

    def here() -> PracticeController | None:
        return pages.practise if pages.current == "practise" else None

    def play() -> None:
        stage = pages.takes if pages.current == "takes" else here()
        if stage is not None:
            stage.play_or_stop()
        else:
            if not (window.transport.playing or playing.starting):
                window.build.lines.finish()
            playing.toggle()

    def type_tempo() -> None:
        stage = here()
        if stage is not None:
            stage.view.tempo.setFocus()
        else:
            pages.go_build()
            window.view.bar.type_tempo()

    def faster(by: int) -> None:
        (here() or playing).change_tempo(by)
        practise = here()
        tempo = practise.tempo_now if practise is not None else window.shown.piece.tempo
        announce(window, tr("{tempo} beats a minute", tempo=tempo))

    return {
        "play": play,
        "play-bar": playing.play_bar,
        "go-tempo": type_tempo,
        "faster": partial(faster, _TEMPO_STEP),
        "slower": partial(faster, -_TEMPO_STEP),
        "device": window.choose_device,
        "other-count-in": playing.next_count_in,
        "other-click": playing.next_click,
        "rest": playing.next_rest,
        "ahead": playing.next_ahead,
        "speed": playing.next_speed,
        "solo": window.following.solo,
        **{f"hear-{f or 'fret'}": partial(playing.toggle_finger, f) for f in ("p", "i", "m", "a", "")},
        "loop-places": window.following.loop_places,
        "loop-change": playing.loop_change,
        "loop-start": playing.loop_from_here,
        "loop-end": playing.loop_to_here,
        "loop-all": playing.loop_all,
    }


def _of_the_pattern(window: Frame) -> _Handlers:
    edits = window.build.pattern_edits
    signs = {
        "brush": "d", "up-brush": "u", "thumb-brush": "~", "chuck": "k",
        "hammer": "^", "pull": "_", "slide": ">", "break-point": ";",
    }  # fmt: skip
    return {
        "copy-places": edits.copy,
        "cut-places": edits.cut,
        "paste-places": edits.paste,
        "insert-places": edits.insert,
        "delete-places": edits.delete,
        "later": partial(edits.rotate, 1),
        "earlier": partial(edits.rotate, -1),
        "turn-round": edits.turn_round,
        "half-again": edits.half_again,
        "swap-halves": edits.swap_halves,
        "twice": edits.twice,
        "accent-places": edits.accent,
        "version": edits.variant,
        "chord-version": edits.chord_variant,
        "own-bar": edits.own_bar,
        "faster-hand": window.shown.take_fix,
        **{f"places-{count}": partial(edits.set_per_beat, count) for count in SLOT_COUNTS},
        **{name: partial(edits.sign, sign) for name, sign in signs.items()},
        **{f"names-{what}": partial(window.next_names, what) for what in NAMINGS},
    }
