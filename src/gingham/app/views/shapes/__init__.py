"""Looking at one chord: its shapes, to hear and to take."""
