"""The window: document, actions, theme, views, devices."""
