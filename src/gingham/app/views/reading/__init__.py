"""Reading what others have written: chord charts, and parts whose pattern is found."""
