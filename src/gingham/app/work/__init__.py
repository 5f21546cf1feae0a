"""Work off the interface thread."""
