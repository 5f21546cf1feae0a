"""Reasons, problems and errors as text, all in one place."""
