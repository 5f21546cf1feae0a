"""The window: its actions, its places, its start and end."""
