"""Alternatives tried on the player's own chords and compared: capo positions, stand-ins, call sheets."""
