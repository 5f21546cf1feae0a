"""Alternatives tried on the player's own chords and compared: capo positions for now."""
