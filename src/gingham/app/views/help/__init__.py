"""Help: chapters that ship with the program, searched inside the window."""
