"""My way of playing."""
