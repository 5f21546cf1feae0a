"""How the window looks and speaks: theme, names, settings, folders."""
