"""One message for each fault: what is wrong and what to do."""

from __future__ import annotations

from gingham.core.errors import GinghamError
from gingham.language import tr

_TEXTS = {
    "note": tr("“{text}” is not a note. Write a letter A to G, with # or b if needed."),
    "singer-range": tr(
        "“{text}” is no singer’s range. Write the lowest and the highest note, such as A3 D5."
    ),
    "pitch": tr("“{text}” is not a pitch. Write a note and an octave, such as E2 or F#3."),
    "chord-root": tr("“{text}” does not begin with a note A to G."),
    "chord-tail": tr(
        "“{part}” in “{text}” means nothing in a chord symbol. Try m, 7, maj7, sus4, add9, or /B for a bass."
    ),
    "chord-long": tr("A chord symbol has {most} characters at most."),
    "meter": tr("“{text}” is not a meter. Write 2/4 to 12/8 (the lower number 2, 4 or 8)."),
    "slots-per-beat": tr("{meter} has {beats} counted beats: write one number after x, or {beats} of them."),
    "slot-count": tr("{given} pluck places in a beat cannot be counted. Use 1, 2, 3, 4 or 6."),
    "instrument": tr("“{text}” is not an instrument here. Use {known}."),
    "tuning-pitch": tr("“{text}” is not a pitch. Write a note and an octave, such as D2."),
    "tuning-range": tr("“{text}” is too low or too high for a string. C1 to E6 can be."),
    "tuning-strings": tr(
        "A tuning needs 3 to 10 strings, highest string number first; this one has {given}."
    ),
    "capo": tr("The capo can go to fret {most} at most on this neck; {given} leaves too little."),
    "shape": tr(
        "“{part}” cannot be in a shape. Write one fret or x for each string, such as x32010 or x,10,12,12,11,x."
    ),
    "own-shape": tr("Write “{text}” with its shape in braces: F{{xx3211}}."),
    "support": tr("“{text}” is nothing a hand leans on. Use {known}."),
    "tones": tr("“{text}” does not say what a chord must sound. Use {known}."),
    "strict": tr("“{text}” is no strictness. Use {known}."),
    "stand-ins": tr("“{text}” does not say which easier chords. Use {known}."),
    "shape-silent": tr("No string sounds in the shape “{text}”."),
    "shape-length": tr("The shape {text} has {given} places, but there are {strings} strings."),
    "shape-neck": tr("The shape {text} needs fret {fret}, but the neck ends at {most} above the capo."),
    "line-long": tr("This line is longer than {most} characters."),
    "line-empty": tr("Write chords between bar lines, such as | Am7 | D/F# | G |."),
    "line-bar-first": tr("A chord line begins with a bar line: | G | C |."),
    "bar-empty": tr("This bar is empty. Write a chord, % to repeat the bar before, or N.C. for silence."),
    "bar-places": tr("{given} places do not fit {beats} beats. Hold chords with /: {example}"),
    "hold-first": tr("/ holds the chord before it, and there is none yet. Begin with a chord."),
    "repeat-first": tr("% repeats the bar before, and there is none yet. Begin with a chord."),
    "repeat-alone": tr("% stands alone in its bar."),
    "fingers": tr(
        "“{part}” is no fretting finger. Write 1 2 3 4 or T for each string, 0 for none: C{{x32010:032010}}."
    ),
    "fingers-length": tr("The fingers {text} are {given}, but there are {strings} strings."),
    "finger-idle": tr("Finger {finger} has nothing to hold on string {string} of {shape}: write 0 there."),
    "finger-missing": tr(
        "String {string} of {shape} is held, but no finger is given: write 1 2 3 4 or T there."
    ),
    "finger-two-frets": tr(
        "Finger {finger} cannot be on two frets at once. Give one of them another finger."
    ),
    "barre-over": tr(
        "Finger {finger} cannot lie across string {string}, which sounds below it. Use two fingers."
    ),
    "thumb-far": tr(
        "The thumb does not reach string {string}, fret {fret}, over the neck. Use another finger."
    ),
    "fingers-crossed": tr("Finger {finger} lies below finger {other}: change them round."),
    "place": tr("“{text}” is not a chord. Write a symbol, and a shape in braces if you want: C{{x32010}}."),
    "pickup": tr("A pick-up is written as (1/4 D) before the first bar line."),
    "pickup-length": tr(
        "A pick-up is shorter than a bar of {meter}, and a plain fraction such as 1/4 or 3/8."
    ),
    "pattern-long": tr("This pattern is longer than {most} characters."),
    "pattern-grid": tr(
        "“{text}” says the order but not the beats. Begin with them, such as 4/4 x2: or press F3 to see how it can sit."
    ),
    "pattern-head": tr("“{text}” should be a meter and places per beat, such as 4/4 x2"),
    "pattern-token": tr(
        "“{text}” means nothing here. Write p i m a c, a string number, . for a rest, or join with + for a pinch."
    ),
    "pattern-mark-first": tr("“{text}” cannot stand first: it comes after a pluck."),
    "pattern-mark-last": tr("“{text}” cannot stand last: something has to follow it."),
    "pattern-bar-line": tr(
        "A bar line does not fall here: the plucks before it do not fill bars of {meter}."
    ),
    "pattern-empty": tr("This pattern has no plucks yet. Write p i m a, and . for a rest."),
    "pattern-variant": tr("“{text}” should begin with “when 6:” or “when D:”."),
    "variant-breaks": tr("Break points are the pattern’s: leave ; out of its variants."),
    "variant-length": tr("This variant has {given} places, the pattern has {needed}. They must agree."),
    "thumb-plan": tr("“{text}” is not a thumb plan. Use {known}."),
    "thumb-strings": tr("“{text}” names no strings for the thumb. Write them in order, such as 6,4."),
    "finger-strings": tr(
        "“{text}” names no strings for the fingers. Write each finger and its string, such as i3,m2,a1."
    ),
    "finger-policy": tr("“{text}” is not a way to place the fingers. Use {known}."),
    "first-rule": tr("“{text}” is not a rule for the first bass. Use {known}."),
    "align": tr("“{text}” is not an alignment. Use {known}."),
    "muddy": tr("“{text}” is not a way to treat muddy basses. Use {known}."),
    "accents": tr("“{text}” is not a way to accent. Use {known}."),
    "own-stage-long": tr("A stage has {most} characters at most."),
    "own-stage-text": tr(
        "Write a section, a colon and what to practise, such as Verse 3-4 pi @60: the thumb leads."
    ),
    "own-stage-section": tr("A stage begins with a section of this piece: {known}."),
    "own-stage-word": tr(
        "“{word}” means nothing before the colon. Write bars (3-4), fingers (pi) or a tempo (@60)."
    ),
    "own-stage-many": tr("A piece has {most} stages of its own at most."),
    "own-stage-bars": tr("Bars {first}-{last} run backwards."),
    "piece-id": tr("The identity of a piece is plain letters and digits, 64 at most."),
    "log-newer": tr(
        "The record {path} was made by a newer Gingham (version {version}, known are up to {known}). It is left as it is; what you practise now is kept beside it."
    ),
    "log-locked": tr(
        "The record {path} is in use by another program. What you practise is kept and written when it is free."
    ),
    "log-open": tr(
        "The record {path} cannot be opened: {why}. What you practise is kept as long as Gingham runs."
    ),
    "log-write": tr(
        "The record {path} cannot be written: {why}. What you practise is kept and written when that is mended."
    ),
    "date": tr("“{text}” is not a day. Write year, month and day, such as 2026-11-30."),
    "minutes": tr("A session has {least} to {most} minutes."),
    "clicks": tr("“{text}” is not a kind of clicks. Use {known}."),
    "count-in": tr("“{text}” is not a count-in. Use {known}."),
    "touch": tr("“{text}” is nothing to pluck with. Use {known}."),
    "voice": tr("“{text}” is no kind of strings. Use {known}."),
    "hand": tr("“{text}” is not a picking hand. Use {known}."),
    "spoken-empty": tr(
        "Say the pattern: fingers or strings in order, with – for each rest, such as thumb index middle index or 6 3 4 2."
    ),
    "spoken-long": tr("That is more than {most} words. Say one round of the pattern."),
    "spoken-word": tr(
        "“{text}” means nothing here. Say thumb, index, middle, ring, little, string numbers, down, up, or – for a rest."
    ),
    "spoken-word-near": tr("“{text}” means nothing here. Did you mean {offered}?"),
    "spoken-word-without": tr("“{text}” means nothing here. Without it this reads {offered}."),
    "spoken-finger": tr("A hand has a thumb and four fingers; there is no {text}."),
    "spoken-same": tr("“{text}” names one of them twice. {offered} is left without that."),
    "spoken-ornament": tr("“{text}” needs a pluck before it: index hammer, for example."),
    "spoken-count": tr(
        "The count has {counts} places to pluck, the words have {strokes}. Say a pluck for each, or put the counts of rests in brackets."
    ),
    "figure-strokes": tr("A figure has 1 to {most} plucks; this one has {given}."),
    "line-strings": tr("Only string numbers here, such as 4/4 x2: 6 3 4 2 3 . 4 1."),
    "line-no-string": tr("There is no string {string} on this instrument; it has {strings}."),
    "tap-none": tr(
        "Nothing was tapped. Start again, and tap P, I, M, A or C (D U K for brush and chuck) while the click runs."
    ),
    "tap-many": tr("That is more than {most} taps. Tap one round of the pattern."),
    "no-half": tr("This pattern has no two equal halves."),
    "pattern-full": tr("A pattern can have {most} places at most."),
    "pattern-bare": tr("One place has to stay. Make it a rest instead."),
    "no-break": tr("The pattern cannot be cut before its first place."),
    "no-sweep": tr("There is no brush or chuck at this place."),
    "mix-bars": tr("A mix has 1 to {most} bars; this one has {given}."),
    "mix-meters": tr("These patterns are in different meters. Choose patterns of one meter."),
    "mix-grid": tr("These patterns divide the beat in ways that no common count holds."),
    "pick": tr("“{text}” is not a way for a flat pick. Use {known}."),
    "four-string": tr("“{text}” is not a way to treat chords of four strings. Use {known}."),
    "hold": tr("“{text}” is not a way to hold chords. Use {known}."),
    "sheet": tr("“{text}” is no kind of sheet. Use {known}."),
    "paper": tr("“{text}” is no size of paper here. Use {known}."),
    "shapes": tr("“{text}” is not a way to choose shapes. Use {known}."),
    "level": tr("“{text}” is not a level. Use {known}."),
    "number": tr("“{text}” is not a whole number."),
    "number-range": tr("“{text}” is outside {least} to {most}."),
    "number-share": tr("“{text}” is not a number here. Write a fraction such as 3/8."),
    "rule-string": tr("There is no string {string} on this instrument; it has {strings}."),
    "tempo": tr("The tempo {given} is outside {least} to {most} beats a minute."),
    "swing": tr(
        "“{text}” is not a swing. Write the first half’s share of the beat, from 1/2 (straight) to 3/4."
    ),
    "no-pattern": tr("There is no pattern called “{name}” in this piece."),
    "name-taken": tr("There is already one called “{name}”. Choose another name."),
    "name-empty": tr("Give it a name."),
    "last-section": tr("A piece needs one section at least."),
    "no-stroke": tr("There is no pluck at this place."),
    "fill-length": tr(
        "A bar of its own has to add up: this pattern is {length} of a whole note long, the bar {bar}."
    ),
    "tune-no-string": tr("No string near {chord} has this note: sing it, or take another shape."),
    "tune-pickup": tr("A pick-up has no strokes of its own: give its note to the first bar, or sing it."),
    "tune-between": tr("This note lies between all places that can be counted."),
    "no-bar": tr("There is no bar {bar} here; the section has {bars}."),
    "no-section": tr("There is no section called “{name}” in this piece."),
    "times": tr("A section is played 1 to {most} times in a row, not {given}."),
    "turns-many": tr("That is more than {most} turns."),
    "versions-many": tr("A piece keeps {most} versions. Remove one that you no longer need."),
    "version-same": tr("Nothing has changed since the newest version."),
    "stay": tr("“{text}” says no stay. Write a chord and its bars, or passages with x: G 2, D 3x."),
    "stay-disagrees": tr("They disagree: {bars} in bars is {passages} × the pattern."),
    "stay-beat": tr(
        "{text} would enter after {bars} bars, between counted beats. Change the stay before it."
    ),
    "stay-bar": tr("That makes {bars} bars: the last bar is not full. Change one of the stays."),
    "stays-long": tr("A section has {most} bars at most."),
    "ending-bars": tr("An ending of {given} bars needs a longer section: {most} at most."),
    "ending": tr("“{text}” is not an ending. Use {known}."),
    "words-many": tr(
        "{given} syllables in one bar are more than the {most} that can be counted. Put a bar line between them."
    ),
    "tune-note": tr(
        "“{text}” is not a note of a tune. Write a pitch such as E4, or string and fret such as 2@1; . goes on."
    ),
    "tune-grid": tr("A note of the tune lies off every grid."),
    "meter-differs": tr("The pattern is in {pattern}, the piece in {piece}. Choose a pattern in {piece}."),
    "no-sound-files": tr("Recordings cannot be read here: {why}. Install the system package libsndfile1."),
    "take-rate": tr("{path} has {rate} samples a second. Record with 8,000 to 192,000."),
    "take-format": tr("{path} cannot be read as sound ({why}). Use WAV or FLAC."),
    "take-long": tr("{path} is longer than {minutes} minutes. Cut it, or record a part."),
    "take-silent": tr("There is no sound in {path}. Is the right microphone chosen, and its level up?"),
    "take-broken": tr("Many samples of {path} are no numbers: the file is damaged. Record it again."),
    "take-shifted": tr(
        "This take sounds {count} {tones} {way} than the piece. Tune, move the capo, or give the piece the tuning you play in."
    ),
    "take-nothing": tr("There is nothing to play yet: type chords and put a finger into the pattern."),
    "take-section": tr(
        "The piece has no section “{name}” any more: what this take was held against is gone."
    ),
    "take-given-up": tr("Hearing the take was stopped."),
    "no-microphone": tr(
        "No microphone can be had ({why}). Plug one in, choose another, or use the simulated player."
    ),
    "take-other": tr(
        "This does not sound like the piece: too few of its plucks are found in their order. Is it another piece or section?"
    ),
    "fault-kind": tr("“{text}” is no fault of the simulated player. Use {known}."),
    "fault-value": tr("{kind} goes from {low} to {high}."),
    "plan-format": tr("{path} is no plan of a take ({why}). Use what gingham fit --json prints."),
    "plan-is-piece": tr("{path} is a piece, not the plan of a take. Give it as --piece {path}."),
    "plan-empty": tr("There is no pluck in {path}."),
    "file-missing": tr("There is no file {path}."),
    "file-open": tr("{path} cannot be opened: {why}."),
    "file-write": tr("{path} cannot be written: {why}."),
    "file-protected": tr("{path} is write-protected."),
    "why-no-file": tr("it is a folder or a device"),
    "why-full": tr("there is no space left on the disk"),
    "why-read-only": tr("that disk can only be read"),
    "why-parent": tr("what should be its folder is a file"),
    "why-no-folder": tr("its folder is not there"),
    "why-denied": tr("you may not write there"),
    "why-long": tr("its name is too long"),
    "why-folder": tr("there is a folder of that name"),
    "why-disk": tr("the disk reports an error"),
    "why-name": tr("no file can have that name"),
    "file-large": tr("{path} is larger than such a file can be ({most} MB)."),
    "file-many": tr("{path} holds {given} {what}; a piece can have {most}."),
    "file-format": tr("{path} is not a Gingham piece."),
    "pattern-file-large": tr("{path} is larger than a pattern can be ({most} kB)."),
    "pattern-file-format": tr("{path} is not a Gingham pattern."),
    "file-newer": tr(
        "{path} was made by a newer Gingham (file version {version}). This one reads up to {known}."
    ),
    "file-damaged": tr("{path} is damaged at {place}: {why}"),
    "export-cancelled": tr("{path} was not written: you stopped it."),
    "export-empty": tr("There is nothing to write yet: type chords first."),
    "export-pages": tr("The sheet has {pages} pages; a picture holds {most}. Choose .pdf or .svg instead."),
    "import-suffix": tr("{path}: Gingham reads {known}."),
    "bug": tr("Something went wrong in Gingham itself. Your work is not touched; the log says more."),
    "reading-stopped": tr("The reading was stopped; nothing has changed."),
    "part-empty": tr("There are no notes in it to read."),
    "part-long": tr("{path} has more than {most} bars."),
    "part-notes": tr("{path} has {given} notes; a part here has {most} at most."),
    "part-string": tr("{path} names string {string}, but the instrument has {strings}."),
    "part-strings": tr("{path} needs {strings} strings; an instrument here has 3 to 10."),
    "part-tuning": tr("{path} is tuned {tuning}, which no plucked instrument here can be: {why}"),
    "part-meter": tr("{path} is in {meter}, which cannot be counted here."),
    "xml-broken": tr("{path} cannot be read as MusicXML (line {line}): {why}"),
    "xml-hostile": tr("{path} defines entities of its own, as hostile files do. It was not read."),
    "xml-kind": tr("{path} is not a score by parts (its first element is {tag})."),
    "xml-large": tr("{path} has more than {most} elements. Leave out other instruments, or split it."),
    "xml-no-part": tr("{path} has no part with notes."),
    "xml-value": tr("{path} cannot be read at {place}: {why}."),
    "midi-broken": tr("{path} cannot be read as MIDI: {why}."),
    "tab-none": tr("{path} has no tablature: no lines of dashes in it."),
    "tab-lines": tr("{path}, line {line}: a block of {given} lines, but there are {wanted} strings."),
    "tab-ragged": tr("{path}, line {line}: its bar lines do not stand under those of the line above."),
    "tab-wide": tr("{path}, line {line}: a line of tablature has {most} columns at most."),
    "tab-capo": tr("{path}: a capo at fret {capo} leaves too little of the neck."),
    "text-binary": tr("{path} is not a text."),
    "chart-none": tr("There is no chord in it. Write chords between bar lines, or above the words."),
    "chart-long": tr("A chart can have {most} characters at most."),
    "no-flac": tr("FLAC cannot be written here: {why}. Choose .wav instead."),
    "export-suffix": tr("{path}: Gingham writes {known}."),
}


def say(error: GinghamError) -> str:
    """The fault as one sentence or two, without a line break."""
    template = _TEXTS.get(error.code)
    if template is None:
        return printable(error)
    shown = {name: _shown(value) for name, value in error.values.items()}
    return printable(template.format(**shown)).replace("\n", " ")


def printable(text: object) -> str:
    """A text that every screen and pipe can take: bytes of a path that are no text are shown as �."""
    return str(text).encode("utf-8", "replace").decode("utf-8")


def known_codes() -> frozenset[str]:
    """Every error code that has words."""
    return frozenset(_TEXTS)


def _shown(value: object) -> object:
    if isinstance(value, GinghamError):
        return say(value)
    return ", ".join(map(str, value)) if isinstance(value, tuple) else value
