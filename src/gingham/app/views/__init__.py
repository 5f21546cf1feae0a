"""One folder per view."""
