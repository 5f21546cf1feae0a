"""What the window says quietly, by code: one table, so that it can be translated as a whole."""

from __future__ import annotations

NOTICES = {
    "bug": "Something went wrong in Gingham ({kind}).{where}",
    "copies-stopped": "Copies of unsaved work have stopped: {why} Save elsewhere.",
    "copies-again": "Copies of unsaved work are being kept again.",
    "saved": "Saved in {path}",
    "file-deleted": "{name} has been deleted. Your piece is still open: {save} writes it anew.",
    "file-changed": "{name} was changed by another program. {take} takes it; undo brings yours back.",
    "file-read-again": "{name} was changed by another program and has been read again.",
    "no-file-yet": "This piece has no file yet.",
    "taken-again": "Read again from {name}; undo brings back what was here.",
    "written": "Written to {path}",
    "export-stopped": "The export was stopped; nothing was written.",
    "named-now": "{what} are now named {names}",
    "log-is": "{nothing_sent} It is {path}.",
    "settings-lost": "Settings cannot be kept in {folder}; they last until you quit.",
    "count-in": "Count-in: {name}",
    "finger-silent": "The {who} is silent.",
    "finger-heard": "The {who} is heard.",
    "finger-alone": "The {who} alone is heard.",
    "all-heard": "Every finger is heard.",
    "click-0": "No click",
    "click-1": "Click on the beats",
    "click-2": "Click on beats and between",
    "rest-none": "After each round no rest.",
    "rest": "After each round {beats} of rest.",
    "rest-shrinking": "After each round {beats} of rest, fewer each time.",
    "change-two": "A change needs two chords.",
    "nothing-to-play": "There is nothing to play yet: type chords and put a finger into the pattern.",
    "zoom-now": "{percent} % from the next start on: leave ({quit}) and open Gingham again. Nothing is lost.",
    "zoom-desktop": "As large as the desktop’s text, from the next start on.",
    "card-stopped": "The sound card stopped ({why}): playing goes on silently. Play again to retry.",
    "said-as": "Read as {pattern}. Count {count}",
    "section-plays": "The section plays it now. {undo} in the main window takes it back.",
    "no-chords-to-hear": "There are no chords to hear it on: type some in the chord line.",
    "kept-in": "Kept in {path}",
    "removed": "Removed {name}",
    "name-built-in": "A built-in pattern has that name. Choose another one.",
    "copied": "Copied.",
    "strings-as-numbers": "Write the strings as numbers from 1 to {most}, such as 2 1.",
    "pluck-walks": "This pluck walks into the next chord; {walk} or the set-up ends that.",
    "brush-whole": "A brush is moved as a whole: change it in the pattern.",
    "copied-words": "Copied: {words}",
    "moved-before": "On the new beats {words}; they moved to the place before.",
    "pick-up-no-bar": "A pick-up plays the end of the pattern; choose a whole bar.",
    "printing": "Printing: {pages} more to come",
    "no-printer": "The printer cannot be reached. Save the sheet as PDF and print that.",
    "printed": "The sheet has gone to the printer.",
}


def notice(code: str, **values: object) -> str:
    """The words of a notice with its values in their places; KeyError for a code or a value that is missing."""
    return NOTICES[code].format_map(values)
