"""Reading a part: from strings over bars and chords back to the pattern, and the bars that break it."""
