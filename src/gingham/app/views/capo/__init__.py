"""Capo, key and tuning: what would be easier, and what to call out to others."""
