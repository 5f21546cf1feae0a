"""What each action is called, its usual key, and what it does; the keys of the pictures."""

from __future__ import annotations

import msgspec

from gingham.language import tr


class ActionWords(msgspec.Struct, frozen=True):
    """The text of a menu entry, its default key ("" for none), and a tip."""

    text: str
    key: str = ""
    tip: str = ""


ACTION_WORDS: dict[str, ActionWords] = {
    "new": ActionWords(tr("New piece"), "Ctrl+N", tr("Start an empty piece")),
    "open": ActionWords(tr("Open…"), "Ctrl+O", tr("Open a piece file")),
    "read": ActionWords(tr("Read a part…"), "", tr("MusicXML, MIDI, tablature, a chart in a file")),
    "chart": ActionWords(tr("Paste a chart…"), "", tr("A chord chart becomes sections")),
    "reload": ActionWords(
        tr("Read the file again"), "Ctrl+Shift+O", tr("What another program has made of it")
    ),
    "save": ActionWords(tr("Save"), "Ctrl+S", tr("Save the piece to its file")),
    "save-as": ActionWords(tr("Save as…"), "Ctrl+Shift+S", tr("Save the piece to another file")),
    "versions": ActionWords(
        tr("Versions"), "", tr("Keep the piece as it is now, with a note; go back to an older one")
    ),
    "export": ActionWords(tr("Export…"), "Ctrl+E", tr("Sheet, MusicXML, MIDI, tablature, table, sound")),
    "stop-export": ActionWords(tr("Stop the export"), "Ctrl+Shift+E", tr("Leave the file unwritten")),
    "save-sheet": ActionWords(tr("Save the sheet…"), "", tr("As it is shown: PDF, SVG, PNG")),
    "print": ActionWords(tr("Print the sheet…"), "Ctrl+P", tr("As it is shown")),
    "close": ActionWords(tr("Close piece"), "Ctrl+W", tr("Close this piece")),
    "next-piece": ActionWords(tr("Next piece"), "Ctrl+Tab", tr("Show the next open piece")),
    "setup": ActionWords(tr("Set-up"), "F4", tr("Instrument, tuning, capo, meter and swing")),
    "way": ActionWords(
        tr("My way of playing"), "Shift+F4", tr("Thumb, fingers, names and orders, once for all pieces")
    ),
    "moves": ActionWords(tr("Capo and key"), "F6", tr("Easier positions, another key, call sheet")),
    "tune": ActionWords(
        tr("Tune the strings"),
        "F2",
        tr("Each string’s tone in this tuning, a tuner that listens, whether the chord rings"),
    ),
    "quit": ActionWords(tr("Quit"), "Ctrl+Q", tr("Leave Gingham")),
    "undo": ActionWords(tr("Undo"), "Ctrl+Z", tr("Take back the last edit")),
    "redo": ActionWords(tr("Redo"), "Ctrl+Shift+Z", tr("Do it again")),
    "all-rules": ActionWords(
        tr("All back to the rules"), "Ctrl+Shift+Backspace", tr("Remove every exception")
    ),
    "add-section": ActionWords(tr("Add section"), "Ctrl+Shift+N", tr("Add a copy of this section behind it")),
    "remove-section": ActionWords(tr("Remove section"), "Ctrl+Shift+Delete", tr("Remove this section")),
    "next-section": ActionWords(tr("Next section"), "Ctrl+PgDown", tr("Show the next section")),
    "previous-section": ActionWords(tr("Previous section"), "Ctrl+PgUp", tr("Show the section before")),
    "go-chords": ActionWords(tr("Type chords"), "Ctrl+L", tr("Put the cursor in the chord line")),
    "go-cards": ActionWords(tr("Choose a chord"), "Ctrl+1", tr("Go to the chord cards")),
    "go-strings": ActionWords(
        tr("Strings for the chord"), "Ctrl+2", tr("Move a bass or a finger for this chord")
    ),
    "go-result": ActionWords(tr("What you play"), "Ctrl+3", tr("Go to the strings over beats")),
    "go-pattern": ActionWords(tr("Pattern"), "Ctrl+4", tr("Go to the fingers over beats")),
    "go-words": ActionWords(tr("Pattern in words"), "Ctrl+5", tr("Type the pattern")),
    "next-chord": ActionWords(tr("Next chord"), "Alt+Right", tr("Select the next chord")),
    "previous-chord": ActionWords(tr("Previous chord"), "Alt+Left", tr("Select the chord before")),
    "standins": ActionWords(tr("Easier chords for this one…"), "F8", tr("Stand-ins, with what they lose")),
    "go-reasons": ActionWords(tr("Reasons"), "Ctrl+6", tr("Go to the reasons, to read on")),
    "chord-rule": ActionWords(
        tr("Chord back to the rule"), "Ctrl+Backspace", tr("Remove the exceptions of this chord")
    ),
    "chord-thumb": ActionWords(tr("Thumb on this chord"), "", tr("A thumb of this chord’s own")),
    "chord-walk": ActionWords(tr("Walk out of this chord"), "", tr("Into the next bass, or not")),
    "fingers-shift": ActionWords(tr("Fingers move over for the thumb"), "Alt+4", ""),
    "fingers-home": ActionWords(tr("Fingers stay at home"), "Alt+5", ""),
    "fingers-named": ActionWords(tr("Fingers: strings of my own"), "Alt+7", tr("Type them")),
    "fingers-follow:0": ActionWords(tr("Fingers follow the bass"), "Alt+8", tr("Beside it")),
    "fingers-follow:1": ActionWords(tr("Fingers follow, one string off"), "Alt+9", tr("One between")),
    "next-pattern": ActionWords(tr("Next pattern"), "Ctrl+Down", tr("Take the next pattern of the list")),
    "previous-pattern": ActionWords(tr("Previous pattern"), "Ctrl+Up", tr("Take the pattern before")),
    "copy-places": ActionWords(tr("Copy places"), "", tr("The chosen places (Ctrl+C there)")),
    "cut-places": ActionWords(tr("Cut places"), "", tr("Copy them and make them rests")),
    "paste-places": ActionWords(tr("Paste places"), "", tr("Over the places from the cursor on")),
    "insert-places": ActionWords(tr("Insert places"), "", tr("Rests before the cursor")),
    "delete-places": ActionWords(tr("Delete places"), "", tr("The pattern gets shorter")),
    "later": ActionWords(tr("All one place later"), "", tr("The end comes to the start")),
    "earlier": ActionWords(tr("All one place earlier"), "", tr("The start goes to the end")),
    "turn-round": ActionWords(tr("Turn round"), "", tr("Chosen places in reverse order")),
    "half-again": ActionWords(tr("First half again"), "", tr("The second half as the first")),
    "swap-halves": ActionWords(tr("Swap halves"), "", tr("The second half first")),
    "twice": ActionWords(tr("Twice as long"), "", tr("The pattern two times, as one")),
    "places-1": ActionWords(tr("One place to a beat"), "", tr("Or to the chosen one")),
    "places-2": ActionWords(tr("Eighths (1 &)"), "", tr("Two places to a beat, or to the chosen one")),
    "places-3": ActionWords(
        tr("Triplets (1 trip let)"), "", tr("Three places to a beat, or to the chosen one")
    ),
    "places-4": ActionWords(
        tr("Sixteenths (1 e & a)"), "", tr("Four places to a beat, or to the chosen one")
    ),
    "places-6": ActionWords(tr("Six to a beat"), "", tr("Or to the chosen one")),
    "accent-places": ActionWords(tr("Accent"), "", tr("One accent more on the chosen places")),
    "brush": ActionWords(tr("Brush"), "", tr("Down over the strings, or none")),
    "up-brush": ActionWords(tr("Up-brush"), "", tr("Up over the strings, or none")),
    "thumb-brush": ActionWords(tr("Thumb brush"), "", tr("The thumb over the strings, or none")),
    "chuck": ActionWords(tr("Chuck"), "", tr("A brush that stops the strings, or none")),
    "hammer": ActionWords(tr("Hammer-on"), "", tr("After the finger’s pluck, or none")),
    "pull": ActionWords(tr("Pull-off"), "", tr("After the finger’s pluck, or none")),
    "slide": ActionWords(tr("Slide"), "", tr("After the finger’s pluck, or none")),
    "break-point": ActionWords(tr("Cut here"), "", tr("The pattern may be cut before this place")),
    "faster-hand": ActionWords(tr("Make it easier"), "", tr("What raises the top speed most")),
    "version": ActionWords(tr("Version for this bass string"), "", tr("For chords like this one")),
    "chord-version": ActionWords(tr("Version for this chord"), "", tr("Other plucks on this chord")),
    "own-bar": ActionWords(tr("A bar of its own"), "", tr("A fill in this bar, or the pattern again")),
    "play": ActionWords(
        tr("Play or stop"), "Ctrl+Space", tr("Play the loop, or stop (Space in the pictures)")
    ),
    "play-bar": ActionWords(tr("Play this bar"), "Ctrl+Return", tr("Loop the bar that the cursor is in")),
    "faster": ActionWords(tr("Faster"), "Ctrl+]", tr("Four beats a minute more")),
    "slower": ActionWords(tr("Slower"), "Ctrl+[", tr("Four beats a minute less")),
    "go-tempo": ActionWords(tr("Type the tempo"), "Ctrl+M", tr("Put the cursor into the tempo")),
    "thumb-alone": ActionWords(tr("Thumb alone"), "Ctrl+T", tr("Hear the thumb only")),
    "count-in": ActionWords(tr("Count-in"), "Ctrl+I", tr("One bar of clicks before the music")),
    "click": ActionWords(tr("Click"), "Ctrl+K", tr("Clicks on the beats")),
    "other-count-in": ActionWords(
        tr("Next kind of count-in"), "Ctrl+Shift+I", tr("A bar, divided, two beats, tone")
    ),
    "other-click": ActionWords(
        tr("Next kind of click"), "Ctrl+Shift+K", tr("On beats, between them too, or none")
    ),
    "cue": ActionWords(tr("Call each change"), "Ctrl+Shift+U", tr("A soft tone a pattern ahead")),
    "ahead": ActionWords(tr("How far ahead changes are called"), "", tr("A pattern, one, two or four beats")),
    "voice": ActionWords(tr("Say each change"), "", tr("The system’s own voice names the next chord")),
    "speed": ActionWords(tr("Next speed"), "Ctrl+Shift+M", tr("All of the tempo, 50, 70, 85 in a hundred")),
    "rest": ActionWords(
        tr("Rest between rounds"), "Ctrl+Shift+T", tr("No beats, one, two, a shrinking four")
    ),
    "hear-p": ActionWords(tr("Thumb silent or heard"), "Ctrl+Shift+1", tr("One finger out of the sound")),
    "hear-i": ActionWords(tr("Index silent or heard"), "Ctrl+Shift+2", tr("One finger out of the sound")),
    "hear-m": ActionWords(tr("Middle silent or heard"), "Ctrl+Shift+3", tr("One finger out of the sound")),
    "hear-a": ActionWords(tr("Ring silent or heard"), "Ctrl+Shift+4", tr("One finger out of the sound")),
    "solo": ActionWords(tr("This finger alone"), "Ctrl+Shift+0", tr("The one under the pattern’s cursor")),
    "hear-fret": ActionWords(tr("Fretting hand silent or heard"), "Ctrl+Shift+5", tr("Hammer-ons and such")),
    "device": ActionWords(tr("Sound card…"), "", tr("Choose where the sound goes")),
    "loop-places": ActionWords(tr("Loop the chosen places"), "", tr("A part of a bar")),
    "loop-change": ActionWords(tr("Loop this change"), "Ctrl+Shift+Return", tr("Into the cursor’s chord")),
    "practice-form": ActionWords(tr("Practice form"), "", tr("Play the piece as it is practised")),
    "loop": ActionWords(tr("Loop"), "Ctrl+R", tr("Go round and round")),
    "loop-start": ActionWords(tr("Loop begins here"), "Ctrl+B", tr("The loop begins with the cursor’s bar")),
    "loop-end": ActionWords(tr("Loop ends here"), "Ctrl+Shift+B", tr("The loop ends with the cursor’s bar")),
    "loop-all": ActionWords(tr("Loop the whole piece"), "Ctrl+Shift+R", tr("No selected bars")),
    "build": ActionWords(tr("Build"), "Alt+Home", tr("Chords, pattern, strings and reasons")),
    "bench": ActionWords(tr("Patterns"), "F3", tr("Patterns to try, say, vary, fit and judge")),
    "form": ActionWords(tr("Form and words"), "F5", tr("Order, endings, words, tune, sums")),
    "takes": ActionWords(tr("Takes"), "Shift+F3", tr("Record yourself: what was heard over what was meant")),
    "practise": ActionWords(tr("Practise"), "F10", tr("Stages, and a picture to follow")),
    "sheet": ActionWords(tr("Sheet"), "F11", tr("The pages as they are printed")),
    "record": ActionWords(tr("Log"), "Shift+F5", tr("What was practised, what is due, the plan for today")),
    "overview": ActionWords(
        tr("The change here"), "F7", tr("Into this chord and out of it, and how to ease it")
    ),
    "plucking": ActionWords(
        tr("The plucking hand"), "Shift+F9", tr("Its place, strings at once, beats, what rings on, barres")
    ),
    "inspect": ActionWords(
        tr("Shapes of this chord"), "F9", tr("To hear, to take, and a neck to finger your own")
    ),
    "names-fingers": ActionWords(tr("Next names for fingers"), "Ctrl+Shift+F", "p i m a, T I M R, T 1 2 3"),
    "names-strings": ActionWords(tr("Next names for strings"), "Ctrl+Shift+G", tr("Numbers, letters, both")),
    "names-frets": ActionWords(tr("Next way of counting frets"), "", tr("From the capo, from the nut, both")),
    "names-counts": ActionWords(
        tr("Next way of counting"), "Ctrl+Shift+H", tr("la li, trip let, plain places")
    ),
    "mirror": ActionWords(
        tr("Left-handed shapes"), "Ctrl+Shift+L", tr("Shapes and strings mirrored, everywhere and on paper")
    ),
    "lowest-on-top": ActionWords(
        tr("Lowest string on top"),
        "",
        tr("Strings over beats as they lie when you look down on the instrument, here and on paper"),
    ),
    "night": ActionWords(tr("Night cloth"), "Ctrl+D", tr("Dark colours")),
    "cloth-desktop": ActionWords(tr("Day or night as the desktop"), "", tr("Until you choose again")),
    "larger": ActionWords(tr("Everything larger"), "Ctrl++", tr("From the next start of Gingham on")),
    "smaller": ActionWords(tr("Everything smaller"), "Ctrl+-", tr("From the next start of Gingham on")),
    "usual-size": ActionWords(tr("As large as the desktop’s text"), "Ctrl+0", tr("From the next start on")),
    "find": ActionWords(tr("Find an action…"), "F12", tr("Type what you want to do")),
    "help": ActionWords(
        tr("Help"), "F1", tr("Chapters to search: first minutes, words, thumb, pages, signs, keys")
    ),
    "breaks": ActionWords(tr("Remind me of breaks"), "Shift+F2", tr("After 22 minutes of playing")),
    "log": ActionWords(tr("Open the log"), "", tr("What went wrong, in a file of yours; nothing is sent")),
    "hurts": ActionWords(
        tr("It hurts: stop"), "Shift+F8", tr("All stops; ladder and barre rest until you say so")
    ),
    "hand": ActionWords(tr("Your hands"), "Shift+F1", tr("Cautions for the hand")),
}

KEYS_IN_PICTURES = (
    (tr("Arrows"), tr("move the cell cursor")),
    (tr("P I M A C"), tr("put a finger in, or take it out")),
    ("1 2 3", tr("first, second, third bass for the thumb")),
    ("!", tr("accent: one, two, none")),
    (".", tr("make the place a rest")),
    (tr("Shift+arrows in the pattern"), tr("choose places; Ctrl+A all; Ctrl+C, Ctrl+X, Ctrl+V")),
    (tr("Insert, Shift+Delete in the pattern"), tr("insert rests, delete places")),
    (tr("D U ~ K in the pattern"), tr("brush, up-brush, thumb brush, chuck")),
    (tr("^ _ > in the pattern"), tr("hammer-on, pull-off, slide after the finger’s pluck")),
    (tr("; in the pattern"), tr("the pattern may be cut here")),
    (tr("Shift+Up, Shift+Down in the pattern"), tr("the finger, or a brush’s far end, one string over")),
    ("Enter", tr("toggle the finger under the cursor")),
    (tr("Shift+Up, Shift+Down"), tr("move a pluck to another string (asks how far)")),
    ("Delete", tr("leave a pluck out (asks how far)")),
    (tr("Backspace in “Strings for”"), tr("back to the rule")),
    (tr("R on Takes"), tr("record, and stop")),
    (tr("1 2 3 on Takes"), tr("hear the plan, the take, both")),
    (tr("C B on Takes"), tr("against the take before; mark the place")),
    (tr("P I M A C and Space on Takes"), tr("tap a take, where keys are chosen as its source")),
    (tr("L R in Tune"), tr("listen and tune; check whether the chord rings")),
    (tr("C N on Practise"), tr("keep the rounds as clean, or as not clean")),
    (tr("E S K on Practise"), tr("not clean: uneven, other strings, late change")),
    (tr("H on Practise"), tr("it hurts: all stops; ladder and barre rest")),
    (tr("L R on Practise"), tr("hear the stage and judge it; a run of the piece without a stop")),
    (tr("A Delete on Practise"), tr("write a stage of the piece's own; take the chosen one out")),
    (tr("T D on Practise"), tr("start test; the stage is done")),
    (tr("Enter on Practise"), tr("start the session, go on in it; Page Down too, or the pedal's key")),
    (tr("P on Practise"), tr("choose the pedal's key: press it next")),
    (tr("O M on Practise"), tr("another stage instead; two minutes longer")),
    ("Space", tr("play or stop")),
    ("Tab", tr("go to the next part of the window")),
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
