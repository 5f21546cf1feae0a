"""Tuning: each string's tone in the actual tuning and capo."""
