"""What a hand can do: gaps, spans and travel."""
