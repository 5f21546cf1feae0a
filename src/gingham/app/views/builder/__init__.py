"""The Build view: pattern, strings for a chord and what you play, as one linked picture."""
