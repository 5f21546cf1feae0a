"""Listening to takes: a recording held against what should have been played. NumPy only, no trained model."""
