"""What each action is called, its usual key, and what it does; the keys of the pictures."""

from __future__ import annotations

import msgspec


class ActionWords(msgspec.Struct, frozen=True):
    """The text of a menu entry, its default key ("" for none), and a tip."""

    text: str
    key: str = ""
    tip: str = ""


ACTION_WORDS: dict[str, ActionWords] = {
    "new": ActionWords("New piece", "Ctrl+N", "Start an empty piece"),
    "open": ActionWords("Open…", "Ctrl+O", "Open a piece file"),
    "read": ActionWords("Read a part…", "", "MusicXML, MIDI, tablature, a chart in a file"),
    "chart": ActionWords("Paste a chart…", "", "A chord chart becomes sections"),
    "reload": ActionWords("Read the file again", "Ctrl+Shift+O", "What another program has made of it"),
    "save": ActionWords("Save", "Ctrl+S", "Save the piece to its file"),
    "save-as": ActionWords("Save as…", "Ctrl+Shift+S", "Save the piece to another file"),
    "versions": ActionWords(
        "Versions", "", "Keep the piece as it is now, with a note; go back to an older one"
    ),
    "export": ActionWords("Export…", "Ctrl+E", "Sheet, MusicXML, MIDI, tablature, table, sound"),
    "stop-export": ActionWords("Stop the export", "Ctrl+Shift+E", "Leave the file unwritten"),
    "save-sheet": ActionWords("Save the sheet…", "", "As it is shown: PDF, SVG, PNG"),
    "print": ActionWords("Print the sheet…", "Ctrl+P", "As it is shown"),
    "close": ActionWords("Close piece", "Ctrl+W", "Close this piece"),
    "next-piece": ActionWords("Next piece", "Ctrl+Tab", "Show the next open piece"),
    "setup": ActionWords("Set-up", "F4", "Instrument, tuning, capo, meter and swing"),
    "way": ActionWords(
        "My way of playing", "Shift+F4", "Thumb, fingers, names and orders, once for all pieces"
    ),
    "moves": ActionWords("Capo and key", "F6", "Easier positions, another key, call sheet"),
    "tune": ActionWords(
        "Tune the strings",
        "F2",
        "Each string’s tone in this tuning, a tuner that listens, whether the chord rings",
    ),
    "quit": ActionWords("Quit", "Ctrl+Q", "Leave Gingham"),
    "undo": ActionWords("Undo", "Ctrl+Z", "Take back the last edit"),
    "redo": ActionWords("Redo", "Ctrl+Shift+Z", "Do it again"),
    "all-rules": ActionWords("All back to the rules", "Ctrl+Shift+Backspace", "Remove every exception"),
    "add-section": ActionWords("Add section", "Ctrl+Shift+N", "Add a copy of this section behind it"),
    "remove-section": ActionWords("Remove section", "Ctrl+Shift+Delete", "Remove this section"),
    "next-section": ActionWords("Next section", "Ctrl+PgDown", "Show the next section"),
    "previous-section": ActionWords("Previous section", "Ctrl+PgUp", "Show the section before"),
    "go-chords": ActionWords("Type chords", "Ctrl+L", "Put the cursor in the chord line"),
    "go-cards": ActionWords("Choose a chord", "Ctrl+1", "Go to the chord cards"),
    "go-strings": ActionWords("Strings for the chord", "Ctrl+2", "Move a bass or a finger for this chord"),
    "go-result": ActionWords("What you play", "Ctrl+3", "Go to the strings over beats"),
    "go-pattern": ActionWords("Pattern", "Ctrl+4", "Go to the fingers over beats"),
    "go-words": ActionWords("Pattern in words", "Ctrl+5", "Type the pattern"),
    "next-chord": ActionWords("Next chord", "Alt+Right", "Select the next chord"),
    "previous-chord": ActionWords("Previous chord", "Alt+Left", "Select the chord before"),
    "standins": ActionWords("Easier chords for this one…", "F8", "Stand-ins, with what they lose"),
    "go-reasons": ActionWords("Reasons", "Ctrl+6", "Go to the reasons, to read on"),
    "chord-rule": ActionWords(
        "Chord back to the rule", "Ctrl+Backspace", "Remove the exceptions of this chord"
    ),
    "chord-thumb": ActionWords("Thumb on this chord", "", "A thumb of this chord’s own"),
    "chord-walk": ActionWords("Walk out of this chord", "", "Into the next bass, or not"),
    "fingers-shift": ActionWords("Fingers move over for the thumb", "Alt+4", ""),
    "fingers-home": ActionWords("Fingers stay at home", "Alt+5", ""),
    "fingers-named": ActionWords("Fingers: strings of my own", "Alt+7", "Type them"),
    "fingers-follow:0": ActionWords("Fingers follow the bass", "Alt+8", "Beside it"),
    "fingers-follow:1": ActionWords("Fingers follow, one string off", "Alt+9", "One between"),
    "next-pattern": ActionWords("Next pattern", "Ctrl+Down", "Take the next pattern of the list"),
    "previous-pattern": ActionWords("Previous pattern", "Ctrl+Up", "Take the pattern before"),
    "copy-places": ActionWords("Copy places", "", "The chosen places (Ctrl+C there)"),
    "cut-places": ActionWords("Cut places", "", "Copy them and make them rests"),
    "paste-places": ActionWords("Paste places", "", "Over the places from the cursor on"),
    "insert-places": ActionWords("Insert places", "", "Rests before the cursor"),
    "delete-places": ActionWords("Delete places", "", "The pattern gets shorter"),
    "later": ActionWords("All one place later", "", "The end comes to the start"),
    "earlier": ActionWords("All one place earlier", "", "The start goes to the end"),
    "turn-round": ActionWords("Turn round", "", "Chosen places in reverse order"),
    "half-again": ActionWords("First half again", "", "The second half as the first"),
    "swap-halves": ActionWords("Swap halves", "", "The second half first"),
    "twice": ActionWords("Twice as long", "", "The pattern two times, as one"),
    "places-1": ActionWords("One place to a beat", "", "Or to the chosen one"),
    "places-2": ActionWords("Eighths (1 &)", "", "Two places to a beat, or to the chosen one"),
    "places-3": ActionWords("Triplets (1 trip let)", "", "Three places to a beat, or to the chosen one"),
    "places-4": ActionWords("Sixteenths (1 e & a)", "", "Four places to a beat, or to the chosen one"),
    "places-6": ActionWords("Six to a beat", "", "Or to the chosen one"),
    "accent-places": ActionWords("Accent", "", "One accent more on the chosen places"),
    "brush": ActionWords("Brush", "", "Down over the strings, or none"),
    "up-brush": ActionWords("Up-brush", "", "Up over the strings, or none"),
    "thumb-brush": ActionWords("Thumb brush", "", "The thumb over the strings, or none"),
    "chuck": ActionWords("Chuck", "", "A brush that stops the strings, or none"),
    "hammer": ActionWords("Hammer-on", "", "After the finger’s pluck, or none"),
    "pull": ActionWords("Pull-off", "", "After the finger’s pluck, or none"),
    "slide": ActionWords("Slide", "", "After the finger’s pluck, or none"),
    "break-point": ActionWords("Cut here", "", "The pattern may be cut before this place"),
    "faster-hand": ActionWords("Make it easier", "", "What raises the top speed most"),
    "version": ActionWords("Version for this bass string", "", "For chords like this one"),
    "chord-version": ActionWords("Version for this chord", "", "Other plucks on this chord"),
    "own-bar": ActionWords("A bar of its own", "", "A fill in this bar, or the pattern again"),
    "play": ActionWords("Play or stop", "Ctrl+Space", "Play the loop, or stop (Space in the pictures)"),
    "play-bar": ActionWords("Play this bar", "Ctrl+Return", "Loop the bar that the cursor is in"),
    "faster": ActionWords("Faster", "Ctrl+]", "Four beats a minute more"),
    "slower": ActionWords("Slower", "Ctrl+[", "Four beats a minute less"),
    "go-tempo": ActionWords("Type the tempo", "Ctrl+M", "Put the cursor into the tempo"),
    "thumb-alone": ActionWords("Thumb alone", "Ctrl+T", "Hear the thumb only"),
    "count-in": ActionWords("Count-in", "Ctrl+I", "One bar of clicks before the music"),
    "click": ActionWords("Click", "Ctrl+K", "Clicks on the beats"),
    "other-count-in": ActionWords("Next kind of count-in", "Ctrl+Shift+I", "A bar, divided, two beats, tone"),
    "other-click": ActionWords("Next kind of click", "Ctrl+Shift+K", "On beats, between them too, or none"),
    "cue": ActionWords("Call each change", "Ctrl+Shift+U", "A soft tone a pattern ahead"),
    "ahead": ActionWords("How far ahead changes are called", "", "A pattern, one, two or four beats"),
    "voice": ActionWords("Say each change", "", "The system’s own voice names the next chord"),
    "speed": ActionWords("Next speed", "Ctrl+Shift+M", "All of the tempo, 50, 70, 85 in a hundred"),
    "rest": ActionWords("Rest between rounds", "Ctrl+Shift+T", "No beats, one, two, a shrinking four"),
    "hear-p": ActionWords("Thumb silent or heard", "Ctrl+Shift+1", "One finger out of the sound"),
    "hear-i": ActionWords("Index silent or heard", "Ctrl+Shift+2", "One finger out of the sound"),
    "hear-m": ActionWords("Middle silent or heard", "Ctrl+Shift+3", "One finger out of the sound"),
    "hear-a": ActionWords("Ring silent or heard", "Ctrl+Shift+4", "One finger out of the sound"),
    "solo": ActionWords("This finger alone", "Ctrl+Shift+0", "The one under the pattern’s cursor"),
    "hear-fret": ActionWords("Fretting hand silent or heard", "Ctrl+Shift+5", "Hammer-ons and such"),
    "device": ActionWords("Sound card…", "", "Choose where the sound goes"),
    "loop-places": ActionWords("Loop the chosen places", "", "A part of a bar"),
    "loop-change": ActionWords("Loop this change", "Ctrl+Shift+Return", "Into the cursor’s chord"),
    "practice-form": ActionWords("Practice form", "", "Play the piece as it is practised"),
    "loop": ActionWords("Loop", "Ctrl+R", "Go round and round"),
    "loop-start": ActionWords("Loop begins here", "Ctrl+B", "The loop begins with the cursor’s bar"),
    "loop-end": ActionWords("Loop ends here", "Ctrl+Shift+B", "The loop ends with the cursor’s bar"),
    "loop-all": ActionWords("Loop the whole piece", "Ctrl+Shift+R", "No selected bars"),
    "build": ActionWords("Build", "Alt+Home", "Chords, pattern, strings and reasons"),
    "bench": ActionWords("Patterns", "F3", "Patterns to try, say, vary, fit and judge"),
    "form": ActionWords("Form and words", "F5", "Order, endings, words, tune, sums"),
    "takes": ActionWords("Takes", "Shift+F3", "Record yourself: what was heard over what was meant"),
    "practise": ActionWords("Practise", "F10", "Stages, and a picture to follow"),
    "sheet": ActionWords("Sheet", "F11", "The pages as they are printed"),
    "record": ActionWords("Log", "Shift+F5", "What was practised, what is due, the plan for today"),
    "overview": ActionWords("The change here", "F7", "Into this chord and out of it, and how to ease it"),
    "plucking": ActionWords(
        "The plucking hand", "Shift+F9", "Its place, strings at once, beats, what rings on, barres"
    ),
    "inspect": ActionWords("Shapes of this chord", "F9", "To hear, to take, and a neck to finger your own"),
    "names-fingers": ActionWords("Next names for fingers", "Ctrl+Shift+F", "p i m a, T I M R, T 1 2 3"),
    "names-strings": ActionWords("Next names for strings", "Ctrl+Shift+G", "Numbers, letters, both"),
    "names-frets": ActionWords("Next way of counting frets", "", "From the capo, from the nut, both"),
    "names-counts": ActionWords("Next way of counting", "Ctrl+Shift+H", "la li, trip let, plain places"),
    "mirror": ActionWords(
        "Left-handed shapes", "Ctrl+Shift+L", "Shapes and strings mirrored, everywhere and on paper"
    ),
    "lowest-on-top": ActionWords(
        "Lowest string on top",
        "",
        "Strings over beats as they lie when you look down on the instrument, here and on paper",
    ),
    "night": ActionWords("Night cloth", "Ctrl+D", "Dark colours"),
    "cloth-desktop": ActionWords("Day or night as the desktop", "", "Until you choose again"),
    "larger": ActionWords("Everything larger", "Ctrl++", "From the next start of Gingham on"),
    "smaller": ActionWords("Everything smaller", "Ctrl+-", "From the next start of Gingham on"),
    "usual-size": ActionWords("As large as the desktop’s text", "Ctrl+0", "From the next start on"),
    "find": ActionWords("Find an action…", "F12", "Type what you want to do"),
    "help": ActionWords("Help", "F1", "Chapters to search: first minutes, words, thumb, pages, signs, keys"),
    "breaks": ActionWords("Remind me of breaks", "Shift+F2", "After 22 minutes of playing"),
    "log": ActionWords("Open the log", "", "What went wrong, in a file of yours; nothing is sent"),
    "hurts": ActionWords("It hurts: stop", "Shift+F8", "All stops; ladder and barre rest until you say so"),
    "hand": ActionWords("Your hands", "Shift+F1", "Cautions for the hand"),
}

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
    ("R on Takes", "record, and stop"),
    ("1 2 3 on Takes", "hear the plan, the take, both"),
    ("C B on Takes", "against the take before; mark the place"),
    ("P I M A C and Space on Takes", "tap a take, where keys are chosen as its source"),
    ("L R in Tune", "listen and tune; check whether the chord rings"),
    ("C N on Practise", "keep the rounds as clean, or as not clean"),
    ("E S K on Practise", "not clean: uneven, other strings, late change"),
    ("H on Practise", "it hurts: all stops; ladder and barre rest"),
    ("L R on Practise", "hear the stage and judge it; a run of the piece without a stop"),
    ("A Delete on Practise", "write a stage of the piece's own; take the chosen one out"),
    ("T D on Practise", "start test; the stage is done"),
    ("Enter on Practise", "start the session, go on in it; Page Down too, or the pedal's key"),
    ("P on Practise", "choose the pedal's key: press it next"),
    ("O M on Practise", "another stage instead; two minutes longer"),
    ("Space", "play or stop"),
    ("Tab", "go to the next part of the window"),
)


def key_of(action: str) -> str:
    """The default key of an action."""
    return ACTION_WORDS[action].key


def with_keys(text: str, *actions: str) -> str:
    """A tip with the keys of the actions that do the same."""
    keys = [key for key in map(key_of, actions) if key]
    return f"{text} ({', '.join(keys)})" if keys else text


def keyed(text: str, action: str) -> str:
    """The words of a button with the key of its action behind them."""
    return f"{text}   {key_of(action)}".rstrip()


def key_lines(rows: list[tuple[str, str]]) -> str:
    """All keys as Markdown: those of the actions in `rows` (key, text), then those of the pictures."""
    return "\n\n".join(f"**{key}**: {text.replace('&&', '&')}" for key, text in (*rows, *KEYS_IN_PICTURES))
