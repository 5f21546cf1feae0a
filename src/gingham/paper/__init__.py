"""The sheet: what stands on it, where it lies on the page, how it is drawn on screen and in files."""
