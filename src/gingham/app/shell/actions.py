"""The one table of actions: menus, buttons, tooltips and the key help read it."""

from __future__ import annotations

import msgspec

from gingham.app.shell.places import PLACES
from gingham.core.pieces.plans import PICKING_PLANS
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


MENUS = ("&Piece", "&Edit", "&Chord", "&Thumb and fingers", "Patte&rn", "P&lay", "&View", "&Help")
_PIECE, _EDIT, _CHORD, _HAND, _PATTERN, _PLAY, _VIEW, _HELP = MENUS

_PLAN_KEYS = {
    "root": "Alt+1", "pair": "Alt+2", "string-4": "Alt+3", "root-fifth": "Alt+Shift+1",
    "up-and-back": "Alt+Shift+2", "rise": "Alt+Shift+3", "tour": "Alt+Shift+4", "named": "Alt+6",
}  # fmt: skip


def _thumb_action(plan: str) -> ActionSpec:
    words = PLAN_WORDS[plan]
    key = _PLAN_KEYS.get(plan, "")  # a plan may go without one
    return ActionSpec(f"thumb-{plan}", _HAND, f"Thumb: {words.name}", key, words.tip, True, "thumb")


_THUMB_ACTIONS = tuple(_thumb_action(plan) for plan in PICKING_PLANS)

ACTIONS: tuple[ActionSpec, ...] = (
    ActionSpec("new", _PIECE, "New piece", "Ctrl+N", "Start an empty piece"),
    ActionSpec("open", _PIECE, "Open…", "Ctrl+O", "Open a piece file"),
    ActionSpec("read", _PIECE, "Read a part…", "Ctrl+Alt+I", "MusicXML, MIDI, tablature, a chart in a file"),
    ActionSpec("chart", _PIECE, "Paste a chart…", "Ctrl+Alt+Q", "A chord chart becomes sections"),
    ActionSpec(
        "reload", _PIECE, "Take the file again", "Ctrl+Shift+O", "What another program has made of it"
    ),
    ActionSpec("save", _PIECE, "Save", "Ctrl+S", "Save the piece to its file"),
    ActionSpec("save-as", _PIECE, "Save as…", "Ctrl+Shift+S", "Save the piece to another file"),
    ActionSpec("export", _PIECE, "Export…", "Ctrl+E", "Sheet, MusicXML, MIDI, tablature, table, sound"),
    ActionSpec("stop-export", _PIECE, "Stop the export", "Ctrl+Shift+E", "Leave the file unwritten"),
    ActionSpec("save-sheet", _PIECE, "Save the sheet…", "Ctrl+Alt+G", "As it is shown: PDF, SVG, PNG"),
    ActionSpec("print", _PIECE, "Print the sheet…", "Ctrl+P", "As it is shown"),
    ActionSpec("close", _PIECE, "Close piece", "Ctrl+W", "Close this piece"),
    ActionSpec("next-piece", _PIECE, "Next piece", "Ctrl+Tab", "Show the next open piece"),
    ActionSpec("form", _PIECE, "Form and words…", "F5", "Order, endings, words, tune, sums"),
    ActionSpec("setup", _PIECE, "Set-up", "F4", "Instrument, tuning, capo, meter and swing", check=True),
    ActionSpec("moves", _PIECE, "Capo, key and tuning…", "F6", "Easier positions, another key, call sheet"),
    ActionSpec("tune", _PIECE, "Tune the strings…", "F2", "Each string’s tone, capo and tuning as they are"),
    ActionSpec("quit", _PIECE, "Quit", "Ctrl+Q", "Leave Gingham"),
    ActionSpec("undo", _EDIT, "Undo", "Ctrl+Z", "Take back the last edit"),
    ActionSpec("redo", _EDIT, "Redo", "Ctrl+Shift+Z", "Do it again"),
    ActionSpec(
        "all-rules",
        _EDIT,
        "All back to the rules",
        "Ctrl+Shift+Backspace",
        "Remove every exception",
    ),
    ActionSpec("add-section", _EDIT, "Add section", "Ctrl+Shift+N", "Add a copy of this section behind it"),
    ActionSpec("remove-section", _EDIT, "Remove section", "Ctrl+Shift+Delete", "Remove this section"),
    ActionSpec("next-section", _EDIT, "Next section", "Ctrl+PgDown", "Show the next section"),
    ActionSpec("previous-section", _EDIT, "Previous section", "Ctrl+PgUp", "Show the section before"),
    ActionSpec("go-chords", _CHORD, "Type chords", "Ctrl+L", "Put the cursor in the chord line"),
    ActionSpec("go-cards", _CHORD, "Choose a chord", "Ctrl+1", "Go to the chord cards"),
    ActionSpec(
        "go-strings", _CHORD, "Strings for the chord", "Ctrl+2", "Move a bass or a finger for this chord"
    ),
    ActionSpec("go-result", _CHORD, "What you play", "Ctrl+3", "Go to the strings over beats"),
    ActionSpec("go-pattern", _CHORD, "Pattern", "Ctrl+4", "Go to the fingers over beats"),
    ActionSpec("go-words", _CHORD, "Pattern in words", "Ctrl+5", "Type the pattern"),
    ActionSpec("next-chord", _CHORD, "Next chord", "Alt+Right", "Select the next chord"),
    ActionSpec("previous-chord", _CHORD, "Previous chord", "Alt+Left", "Select the chord before"),
    ActionSpec("standins", _CHORD, "Easier chords for this one…", "F8", "Stand-ins, with what they lose"),
    ActionSpec("go-reasons", _CHORD, "Reasons", "Ctrl+6", "Go to the reasons, to read on"),
    ActionSpec(
        "chord-rule",
        _CHORD,
        "Chord back to the rule",
        "Ctrl+Backspace",
        "Remove the exceptions of this chord",
    ),
    *_THUMB_ACTIONS,
    ActionSpec("chord-thumb", _HAND, "Thumb on this chord", "Ctrl+Alt+T", "A thumb of this chord’s own"),
    ActionSpec("chord-walk", _HAND, "Walk out of this chord", "Ctrl+Alt+W", "Into the next bass, or not"),
    ActionSpec("fingers-shift", _HAND, "Fingers move over for the thumb", "Alt+4", "", True, "fingers"),
    ActionSpec("fingers-home", _HAND, "Fingers stay at home", "Alt+5", "", True, "fingers"),
    _thumb_action("named"),
    ActionSpec("fingers-named", _HAND, "Fingers: strings of my own", "Alt+7", "Type them", True, "fingers"),
    ActionSpec("fingers-follow:0", _HAND, "Fingers follow the bass", "Alt+8", "Beside it", True, "fingers"),
    ActionSpec(
        "fingers-follow:1", _HAND, "Fingers follow, one string off", "Alt+9", "One between", True, "fingers"
    ),
    ActionSpec("bench", _PATTERN, "Pattern bench…", "F3", "Patterns to try, say, vary, fit and judge"),
    ActionSpec("next-pattern", _PATTERN, "Next pattern", "Ctrl+Down", "Take the next pattern of the list"),
    ActionSpec("previous-pattern", _PATTERN, "Previous pattern", "Ctrl+Up", "Take the pattern before"),
    ActionSpec("copy-places", _PATTERN, "Copy places", "Ctrl+Alt+C", "The chosen places (Ctrl+C there)"),
    ActionSpec("cut-places", _PATTERN, "Cut places", "Ctrl+Alt+X", "Copy them and make them rests"),
    ActionSpec("paste-places", _PATTERN, "Paste places", "Ctrl+Alt+V", "Over the places from the cursor on"),
    ActionSpec("insert-places", _PATTERN, "Insert places", "Ctrl+Alt+Ins", "Rests before the cursor"),
    ActionSpec("delete-places", _PATTERN, "Delete places", "Ctrl+Alt+Del", "The pattern gets shorter"),
    ActionSpec("later", _PATTERN, "All one place later", "Ctrl+Alt+Right", "The end comes to the start"),
    ActionSpec("earlier", _PATTERN, "All one place earlier", "Ctrl+Alt+Left", "The start goes to the end"),
    ActionSpec("turn-round", _PATTERN, "Turn round", "Ctrl+Alt+R", "Chosen places in reverse order"),
    ActionSpec("half-again", _PATTERN, "First half again", "Ctrl+Alt+H", "The second half as the first"),
    ActionSpec("swap-halves", _PATTERN, "Swap halves", "Ctrl+Alt+S", "The second half first"),
    ActionSpec("twice", _PATTERN, "Twice as long", "Ctrl+Alt+D", "The pattern two times, as one"),
    ActionSpec("places-1", _PATTERN, "One place a beat", "Ctrl+Alt+1", "Or of the chosen beat"),
    ActionSpec("places-2", _PATTERN, "Two places a beat", "Ctrl+Alt+2", "Or of the chosen beat"),
    ActionSpec("places-3", _PATTERN, "Three places a beat", "Ctrl+Alt+3", "Or of the chosen beat"),
    ActionSpec("places-4", _PATTERN, "Four places a beat", "Ctrl+Alt+4", "Or of the chosen beat"),
    ActionSpec("places-6", _PATTERN, "Six places a beat", "Ctrl+Alt+6", "Or of the chosen beat"),
    ActionSpec("accent-places", _PATTERN, "Accent", "Ctrl+Alt+A", "One accent more on the chosen places"),
    ActionSpec("brush", _PATTERN, "Brush", "Ctrl+Alt+Down", "Down over the strings, or none"),
    ActionSpec("up-brush", _PATTERN, "Up-brush", "Ctrl+Alt+Up", "Up over the strings, or none"),
    ActionSpec("thumb-brush", _PATTERN, "Thumb brush", "Ctrl+Alt+P", "The thumb over the strings, or none"),
    ActionSpec("chuck", _PATTERN, "Chuck", "Ctrl+Alt+K", "A brush that stops the strings, or none"),
    ActionSpec("hammer", _PATTERN, "Hammer-on", "Ctrl+Alt+O", "After the finger’s pluck, or none"),
    ActionSpec("pull", _PATTERN, "Pull-off", "Ctrl+Alt+F", "After the finger’s pluck, or none"),
    ActionSpec("slide", _PATTERN, "Slide", "Ctrl+Alt+L", "After the finger’s pluck, or none"),
    ActionSpec("break-point", _PATTERN, "Cut here", "Ctrl+Alt+B", "The pattern may be cut before this place"),
    ActionSpec("faster-hand", _PATTERN, "Make it easier", "Ctrl+Alt+J", "What raises the top speed most"),
    ActionSpec("version", _PATTERN, "Version for this bass string", "Ctrl+Alt+Y", "For chords like this one"),
    ActionSpec(
        "chord-version", _PATTERN, "Version for this chord", "Ctrl+Alt+U", "Other plucks on this chord"
    ),
    ActionSpec(
        "own-bar", _PATTERN, "A bar of its own", "Ctrl+Alt+N", "A fill in this bar, or the pattern again"
    ),
    ActionSpec("play", _PLAY, "Play or stop", "Ctrl+Space", "Play the loop, or stop (Space in the pictures)"),
    ActionSpec("play-bar", _PLAY, "Play this bar", "Ctrl+Return", "Loop the bar that the cursor is in"),
    ActionSpec("faster", _PLAY, "Faster", "Ctrl+]", "Four beats a minute more"),
    ActionSpec("slower", _PLAY, "Slower", "Ctrl+[", "Four beats a minute less"),
    ActionSpec("go-tempo", _PLAY, "Type the tempo", "Ctrl+M", "Put the cursor into the tempo"),
    ActionSpec("thumb-alone", _PLAY, "Thumb alone", "Ctrl+T", "Hear the thumb only", check=True),
    ActionSpec("count-in", _PLAY, "Count-in", "Ctrl+I", "One bar of clicks before the music", check=True),
    ActionSpec("click", _PLAY, "Click", "Ctrl+K", "Clicks on the beats", check=True),
    ActionSpec("other-count-in", _PLAY, "Other count-in", "Ctrl+Shift+I", "A bar, divided, two beats, tone"),
    ActionSpec("other-click", _PLAY, "Other click", "Ctrl+Shift+K", "On beats, between them too, or none"),
    ActionSpec("cue", _PLAY, "Call each change", "Ctrl+Shift+U", "A soft tone a pattern ahead", check=True),
    ActionSpec("rest", _PLAY, "Rest between rounds", "Ctrl+Shift+T", "No beats, one, two, a shrinking four"),
    ActionSpec("hear-p", _PLAY, "Thumb silent or heard", "Ctrl+Shift+1", "One finger out of the sound"),
    ActionSpec("hear-i", _PLAY, "Index silent or heard", "Ctrl+Shift+2", "One finger out of the sound"),
    ActionSpec("hear-m", _PLAY, "Middle silent or heard", "Ctrl+Shift+3", "One finger out of the sound"),
    ActionSpec("hear-a", _PLAY, "Ring silent or heard", "Ctrl+Shift+4", "One finger out of the sound"),
    ActionSpec("solo", _PLAY, "This finger alone", "Ctrl+Shift+0", "The one under the pattern’s cursor"),
    ActionSpec("hear-fret", _PLAY, "Fretting hand silent or heard", "Ctrl+Shift+5", "Hammer-ons and such"),
    ActionSpec("device", _PLAY, "Sound card…", "Ctrl+Alt+E", "Choose where the sound goes"),
    ActionSpec("loop-places", _PLAY, "Loop the chosen places", "Ctrl+Alt+Return", "A part of a bar"),
    ActionSpec("loop-change", _PLAY, "Loop this change", "Ctrl+Shift+Return", "Into the cursor’s chord"),
    ActionSpec(
        "practice-form", _PLAY, "Practice form", "Ctrl+Alt+M", "Play the piece as it is practised", check=True
    ),
    ActionSpec("loop", _PLAY, "Loop", "Ctrl+R", "Go round and round", check=True),
    ActionSpec("loop-start", _PLAY, "Loop begins here", "Ctrl+B", "The loop begins with the cursor’s bar"),
    ActionSpec("loop-end", _PLAY, "Loop ends here", "Ctrl+Shift+B", "The loop ends with the cursor’s bar"),
    ActionSpec("loop-all", _PLAY, "Loop the whole piece", "Ctrl+Shift+R", "No selected bars"),
    *(ActionSpec(place.id, _VIEW, place.text, place.key, place.tip) for place in PLACES),
    ActionSpec("overview", _VIEW, "Bass line and changes", "F7", "The thumb’s line and the hardest changes"),
    ActionSpec("inspect", _VIEW, "Look at this chord", "F9", "Other shapes, to hear and to take"),
    ActionSpec("names-fingers", _VIEW, "Other finger names", "Ctrl+Shift+F", "p i m a, T I M R, T 1 2 3"),
    ActionSpec("names-strings", _VIEW, "Other string names", "Ctrl+Shift+G", "Numbers, letters, both"),
    ActionSpec("names-counts", _VIEW, "Other counting", "Ctrl+Shift+H", "la li, trip let, plain places"),
    ActionSpec("mirror", _VIEW, "Left-handed diagrams", "Ctrl+Shift+L", "Shapes mirrored", check=True),
    ActionSpec("night", _VIEW, "Night cloth", "Ctrl+D", "Dark colours", check=True),
    ActionSpec("keys", _HELP, "Keys", "F1", "Every key"),
    ActionSpec("breaks", _HELP, "Remind me of breaks", "Shift+F2", "After 22 minutes of playing", check=True),
    ActionSpec("log", _HELP, "Open the log", "", "What went wrong, in a file of yours; nothing is sent"),
    ActionSpec("hand", _HELP, "Your hands", "Shift+F1", "Cautions for the hand"),
)


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


KEYS_IN_PICTURES = (
    ("Arrows", "move the cell cursor"),
    ("P I M A C", "put a finger in, or take it out"),
    ("1 2 3", "first, second, third bass for the thumb"),
    ("!", "accent: one, two, none"),
    (".", "make the place a rest"),
    ("Shift+arrows in the pattern", "choose places; Ctrl+A all; Ctrl+C, Ctrl+X, Ctrl+V"),
    ("Insert, Shift+Delete in the pattern", "insert rests, delete places"),
    ("D U ~ K in the pattern", "brush, up-brush, thumb brush, chuck"),
    ("^ _ > in the pattern", "hammer-on, pull-off, slide after the finger’s pluck"),
    ("; in the pattern", "the pattern may be cut here"),
    ("Shift+Up, Shift+Down in the pattern", "the finger, or a brush’s far end, one string over"),
    ("Enter", "toggle the finger under the cursor"),
    ("Shift+Up, Shift+Down", "move a pluck to another string (asks how far)"),
    ("Delete", "leave a pluck out (asks how far)"),
    ("Backspace in “Strings for”", "back to the rule"),
    ("Space", "play or stop"),
    ("Tab", "go to the next part of the window"),
)


def key_help() -> str:
    """All keys as rich text."""
    rows = [(a.key, a.text) for a in ACTIONS if a.key] + list(KEYS_IN_PICTURES)
    body = "".join(
        f"<tr><td><b>{key}</b></td><td style='padding-left:14px'>{text}</td></tr>" for key, text in rows
    )
    return f"<table>{body}</table>"
