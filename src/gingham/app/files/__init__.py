"""Files of the player: kept, watched, recent, exported."""
