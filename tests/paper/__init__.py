"""The sheet: what is on it, where it lies, and the files it becomes."""
