"""The one table of actions: menus, buttons and key help read it; words.actions says what they are called."""

from __future__ import annotations

import msgspec

from gingham.app.shell.places import PLACES
from gingham.core.pieces.plans import PICKING_PLANS
from gingham.language import tr
from gingham.words.actions import ACTION_WORDS
from gingham.words.plans import PLAN_WORDS


class ActionSpec(msgspec.Struct, frozen=True):
    """An action: `menu` is where it stands, `key` its default key ("" for none), `tip` what it does.

    `group` names a set of which one is checked; `check` makes it an on/off switch.
    """

    id: str
    menu: str
    text: str
    key: str
    tip: str
    check: bool = False
    group: str = ""


MENUS = (
    tr("&Piece"),
    tr("&Edit"),
    tr("&Chord"),
    tr("&Thumb and fingers"),
    tr("Patte&rn"),
    tr("P&lay"),
    tr("&View"),
    tr("&Help"),
)
_PIECE, _EDIT, _CHORD, _HAND, _PATTERN, _PLAY, _VIEW, _HELP = MENUS

_PLAN_KEYS = {
    "root": "Alt+1", "pair": "Alt+2", "string-4": "Alt+3", "root-fifth": "Alt+Shift+1",
    "up-and-back": "Alt+Shift+2", "rise": "Alt+Shift+3", "tour": "Alt+Shift+4", "named": "Alt+6",
}  # fmt: skip


def _thumb_action(plan: str) -> ActionSpec:
    words = PLAN_WORDS[plan]
    key = _PLAN_KEYS.get(plan, "")  # a plan may go without one
    return ActionSpec(
        f"thumb-{plan}", _HAND, tr("Thumb: {name}", name=words.name), key, words.tip, True, "thumb"
    )


_THUMB_ACTIONS = tuple(_thumb_action(plan) for plan in PICKING_PLANS)


def _action(name: str, menu: str, *, check: bool = False, group: str = "") -> ActionSpec:
    words = ACTION_WORDS[name]
    return ActionSpec(name, menu, words.text, words.key, words.tip, check or bool(group), group)


ACTIONS: tuple[ActionSpec, ...] = (
    _action("new", _PIECE),
    _action("open", _PIECE),
    _action("read", _PIECE),
    _action("chart", _PIECE),
    _action("reload", _PIECE),
    _action("save", _PIECE),
    _action("save-as", _PIECE),
    _action("versions", _PIECE),
    _action("export", _PIECE),
    _action("stop-export", _PIECE),
    _action("save-sheet", _PIECE),
    _action("print", _PIECE),
    _action("close", _PIECE),
    _action("next-piece", _PIECE),
    _action("setup", _PIECE),
    _action("way", _PIECE),
    _action("moves", _PIECE),
    _action("tune", _PIECE),
    _action("quit", _PIECE),
    _action("undo", _EDIT),
    _action("redo", _EDIT),
    _action("all-rules", _EDIT),
    _action("add-section", _EDIT),
    _action("remove-section", _EDIT),
    _action("next-section", _EDIT),
    _action("previous-section", _EDIT),
    _action("go-chords", _CHORD),
    _action("go-cards", _CHORD),
    _action("go-strings", _CHORD),
    _action("go-result", _CHORD),
    _action("go-pattern", _CHORD),
    _action("go-words", _CHORD),
    _action("next-chord", _CHORD),
    _action("previous-chord", _CHORD),
    _action("standins", _CHORD),
    _action("go-reasons", _CHORD),
    _action("chord-rule", _CHORD),
    *_THUMB_ACTIONS,
    _action("chord-thumb", _HAND),
    _action("chord-walk", _HAND),
    _action("fingers-shift", _HAND, group="fingers"),
    _action("fingers-home", _HAND, group="fingers"),
    _thumb_action("named"),
    _action("fingers-named", _HAND, group="fingers"),
    _action("fingers-follow:0", _HAND, group="fingers"),
    _action("fingers-follow:1", _HAND, group="fingers"),
    _action("next-pattern", _PATTERN),
    _action("previous-pattern", _PATTERN),
    _action("copy-places", _PATTERN),
    _action("cut-places", _PATTERN),
    _action("paste-places", _PATTERN),
    _action("insert-places", _PATTERN),
    _action("delete-places", _PATTERN),
    _action("later", _PATTERN),
    _action("earlier", _PATTERN),
    _action("turn-round", _PATTERN),
    _action("half-again", _PATTERN),
    _action("swap-halves", _PATTERN),
    _action("twice", _PATTERN),
    _action("places-1", _PATTERN),
    _action("places-2", _PATTERN),
    _action("places-3", _PATTERN),
    _action("places-4", _PATTERN),
    _action("places-6", _PATTERN),
    _action("accent-places", _PATTERN),
    _action("brush", _PATTERN),
    _action("up-brush", _PATTERN),
    _action("thumb-brush", _PATTERN),
    _action("chuck", _PATTERN),
    _action("hammer", _PATTERN),
    _action("pull", _PATTERN),
    _action("slide", _PATTERN),
    _action("break-point", _PATTERN),
    _action("faster-hand", _PATTERN),
    _action("version", _PATTERN),
    _action("chord-version", _PATTERN),
    _action("own-bar", _PATTERN),
    _action("play", _PLAY),
    _action("play-bar", _PLAY),
    _action("faster", _PLAY),
    _action("slower", _PLAY),
    _action("go-tempo", _PLAY),
    _action("thumb-alone", _PLAY, check=True),
    _action("count-in", _PLAY, check=True),
    _action("click", _PLAY, check=True),
    _action("other-count-in", _PLAY),
    _action("other-click", _PLAY),
    _action("cue", _PLAY, check=True),
    _action("ahead", _PLAY),
    _action("voice", _PLAY, check=True),
    _action("speed", _PLAY),
    _action("rest", _PLAY),
    _action("hear-p", _PLAY),
    _action("hear-i", _PLAY),
    _action("hear-m", _PLAY),
    _action("hear-a", _PLAY),
    _action("solo", _PLAY),
    _action("hear-fret", _PLAY),
    _action("device", _PLAY),
    _action("loop-places", _PLAY),
    _action("loop-change", _PLAY),
    _action("practice-form", _PLAY, check=True),
    _action("loop", _PLAY, check=True),
    _action("loop-start", _PLAY),
    _action("loop-end", _PLAY),
    _action("loop-all", _PLAY),
    _action("build", _VIEW),
    *(_action(place.id, _VIEW) for place in PLACES if place.standing),
    _action("overview", _VIEW),
    _action("inspect", _VIEW),
    _action("plucking", _VIEW),
    _action("names-fingers", _VIEW),
    _action("names-strings", _VIEW),
    _action("names-counts", _VIEW),
    _action("names-frets", _VIEW),
    _action("mirror", _VIEW, check=True),
    _action("lowest-on-top", _VIEW, check=True),
    _action("night", _VIEW, check=True),
    _action("cloth-desktop", _VIEW),
    _action("larger", _VIEW),
    _action("smaller", _VIEW),
    _action("usual-size", _VIEW),
    _action("find", _HELP),
    _action("help", _HELP),
    _action("breaks", _HELP, check=True),
    _action("log", _HELP),
    _action("hand", _HELP),
    _action("hurts", _HELP),
)


LINES_BEFORE = frozenset(
    {
        "reload", "save", "close", "setup", "quit", "all-rules", "add-section", "next-section",
        "next-chord", "standins", "chord-thumb", "fingers-shift", "copy-places", "later",
        "places-1", "accent-places", "version", "faster", "count-in", "hear-p", "device",
        "loop-places", "build", "overview", "names-fingers", "night", "larger", "breaks",
    }
)  # fmt: skip
"""The actions over which a menu has a line: what belongs together stands together."""


def clashes(actions: tuple[ActionSpec, ...] = ACTIONS) -> list[tuple[str, str]]:
    """Pairs of actions that have the same key."""
    seen: dict[str, str] = {}
    out = []
    for action in actions:
        key = action.key.lower()
        if key and key in seen:
            out.append((seen[key], action.id))
        seen.setdefault(key, action.id)
    return out
