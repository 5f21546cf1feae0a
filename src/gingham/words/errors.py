"""One message for each fault: what is wrong and what to do."""

from __future__ import annotations

from gingham.core.errors import GinghamError

_TEXTS = {
    "note": "“{text}” is not a note. Write a letter A to G, with # or b if needed.",
    "pitch": "“{text}” is not a pitch. Write a note and an octave, such as E2 or F#3.",
    "chord-root": "“{text}” does not begin with a note A to G.",
    "chord-tail": "“{part}” in “{text}” means nothing in a chord symbol. Try m, 7, maj7, sus4, add9, or /B for a bass.",
    "meter": "“{text}” is not a meter. Write 2/4 to 12/8 (the lower number 2, 4 or 8).",
    "slots-per-beat": "{meter} has {beats} counted beats: write one number after x, or {beats} of them.",
    "slot-count": "{given} pluck places in a beat cannot be counted. Use 1, 2, 3, 4 or 6.",
    "instrument": "“{text}” is not an instrument here. Use {known}.",
    "tuning-pitch": "“{text}” is not a pitch. Write a note and an octave, such as D2.",
    "tuning-range": "“{text}” is too low or too high for a string. C1 to E6 can be.",
    "tuning-strings": "A tuning needs 3 to 10 strings, highest string number first; this one has {given}.",
    "capo": "The capo can go to fret {most} at most on this neck; {given} leaves too little.",
    "shape": "“{part}” cannot be in a shape. Write one fret or x for each string, such as x32010 or x,10,12,12,11,x.",
    "shape-silent": "No string sounds in the shape “{text}”.",
    "shape-length": "The shape {text} has {given} places, but there are {strings} strings.",
    "shape-neck": "The shape {text} needs fret {fret}, but the neck ends at {most} above the capo.",
    "line-long": "This line is longer than {most} characters.",
    "line-empty": "Write chords between bar lines, such as | Am7 | D/F# | G |.",
    "line-bar-first": "A chord line begins with a bar line: | G | C |.",
    "bar-empty": "This bar is empty. Write a chord, % to repeat the bar before, or N.C. for silence.",
    "bar-places": "{given} places do not fit {beats} beats. Hold chords with /: {example}",
    "hold-first": "/ holds the chord before it, and there is none yet. Begin with a chord.",
    "repeat-first": "% repeats the bar before, and there is none yet. Begin with a chord.",
    "repeat-alone": "% stands alone in its bar.",
    "place": "“{text}” is not a chord. Write a symbol, and a shape in braces if you want: C{{x32010}}.",
    "pickup": "A pick-up is written as (1/4 D) before the first bar line.",
    "pickup-length": "A pick-up is shorter than a bar of {meter}, and a plain fraction such as 1/4 or 3/8.",
    "pattern-long": "This pattern is longer than {most} characters.",
    "pattern-grid": "“{text}” says the order but not the beats. Begin with them, such as 4/4 x2: or press F3 to see how it can sit.",
    "pattern-head": "“{text}” should be a meter and places per beat, such as 4/4 x2",
    "pattern-token": "“{text}” means nothing here. Write p i m a c, a string number, . for a rest, or join with + for a pinch.",
    "pattern-mark-first": "“{text}” cannot stand first: it comes after a pluck.",
    "pattern-mark-last": "“{text}” cannot stand last: something has to follow it.",
    "pattern-bar-line": "A bar line does not fall here: the plucks before it do not fill bars of {meter}.",
    "pattern-empty": "This pattern has no plucks yet. Write p i m a, and . for a rest.",
    "pattern-variant": "“{text}” should begin with “when 6:” or “when D:”.",
    "variant-length": "This variant has {given} places, the pattern has {needed}. They must agree.",
    "thumb-plan": "“{text}” is not a thumb plan. Use {known}.",
    "finger-policy": "“{text}” is not a way to place the fingers. Use {known}.",
    "first-rule": "“{text}” is not a rule for the first bass. Use {known}.",
    "align": "“{text}” is not an alignment. Use {known}.",
    "muddy": "“{text}” is not a way to treat muddy basses. Use {known}.",
    "accents": "“{text}” is not a way to accent. Use {known}.",
    "clicks": "“{text}” is not a kind of clicks. Use {known}.",
    "count-in": "“{text}” is not a count-in. Use {known}.",
    "touch": "“{text}” is nothing to pluck with. Use {known}.",
    "voice": "“{text}” is no kind of strings. Use {known}.",
    "hand": "“{text}” is not a picking hand. Use {known}.",
    "spoken-empty": "Say the pattern: fingers or strings in order, with – for each rest, such as thumb index middle index or 6 3 4 2.",
    "spoken-long": "That is more than {most} words. Say one round of the pattern.",
    "spoken-word": "“{text}” means nothing in this naming. Choose another naming, or write a rest as –.",
    "figure-strokes": "A figure has 1 to {most} plucks; this one has {given}.",
    "line-strings": "Only string numbers here, such as 4/4 x2: 6 3 4 2 3 . 4 1.",
    "line-no-string": "There is no string {string} on this instrument; it has {strings}.",
    "tap-none": "Nothing was tapped. Start again, and tap P, I, M, A or C (D U K for brush and chuck) while the click runs.",
    "tap-many": "That is more than {most} taps. Tap one round of the pattern.",
    "no-half": "This pattern has no two equal halves.",
    "pattern-full": "A pattern can have {most} places at most.",
    "pattern-bare": "One place has to stay. Make it a rest instead.",
    "no-break": "The pattern cannot be cut before its first place.",
    "no-sweep": "There is no brush or chuck at this place.",
    "mix-bars": "A mix has 1 to {most} bars; this one has {given}.",
    "mix-meters": "These patterns are in different meters. Choose patterns of one meter.",
    "mix-grid": "These patterns divide the beat in ways that no common count holds.",
    "hold": "“{text}” is not a way to hold chords. Use {known}.",
    "shapes": "“{text}” is not a way to choose shapes. Use {known}.",
    "level": "“{text}” is not a level. Use {known}.",
    "number": "“{text}” is not a whole number.",
    "tempo": "The tempo {given} is outside {least} to {most} beats a minute.",
    "swing": "“{text}” is not a swing. Write the first half’s share of the beat, from 1/2 (straight) to 3/4.",
    "no-pattern": "There is no pattern called “{name}” in this piece.",
    "name-taken": "There is already one called “{name}”. Choose another name.",
    "name-empty": "Give it a name.",
    "last-section": "A piece needs one section at least.",
    "no-stroke": "There is no pluck at this place.",
    "fill-length": "A bar of its own has to add up: this pattern is {length} of a whole note long, the bar {bar}.",
    "no-bar": "There is no bar {bar} here; the section has {bars}.",
    "no-section": "There is no section called “{name}” in this piece.",
    "times": "A section is played 1 to {most} times in a row, not {given}.",
    "turns-many": "That is more than {most} turns.",
    "ending": "“{text}” is not an ending. Use {known}.",
    "words-many": "{given} syllables in one bar are more than the {most} that can be counted. Put a bar line between them.",
    "tune-note": "“{text}” is not a note of a tune. Write a pitch such as E4, or string and fret such as 2@1; . goes on.",
    "tune-grid": "A note of the tune lies off every grid.",
    "meter-differs": "The pattern is in {pattern}, the piece in {piece}. Choose a pattern in {piece}.",
    "file-missing": "There is no file {path}.",
    "file-open": "{path} cannot be opened: {why}.",
    "file-write": "{path} cannot be written: {why}.",
    "file-large": "{path} is larger than a piece can be ({most} MB).",
    "file-format": "{path} is not a Gingham piece.",
    "pattern-file-large": "{path} is larger than a pattern can be ({most} kB).",
    "pattern-file-format": "{path} is not a Gingham pattern.",
    "file-newer": "{path} was made by a newer Gingham (file version {version}). This one reads up to {known}.",
    "file-damaged": "{path} is damaged at {place}: {why}",
    "export-cancelled": "{path} was not written: you stopped it.",
    "no-flac": "FLAC cannot be written here: {why}. Choose .wav instead.",
    "export-suffix": "{path}: Gingham writes {known}.",
}


def say(error: GinghamError) -> str:
    """The fault as one sentence or two, without a line break."""
    template = _TEXTS.get(error.code)
    if template is None:
        return str(error)
    shown = {name: _shown(value) for name, value in error.values.items()}
    return template.format(**shown).replace("\n", " ")


def known_codes() -> frozenset[str]:
    """Every error code that has words."""
    return frozenset(_TEXTS)


def _shown(value: object) -> object:
    if isinstance(value, GinghamError):
        return say(value)
    return ", ".join(map(str, value)) if isinstance(value, tuple) else value
